"""Timelines that no editor writes, made by a seeded generator from one that has all of a kind."""

import json
import random
from typing import Any

import opentimelineio as otio

from tests.media.timeline.making import cut_clip, span, time, timeline

SECOND = {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 5}
TWO_RATES = {
    "OTIO_SCHEMA": "TimeRange.1",
    "start_time": SECOND,
    "duration": {"OTIO_SCHEMA": "RationalTime.1", "rate": 30, "value": 0},
}
SCHEMAS = (
    *("Clip.2", "Clip", "Clip.99", "Gap.1", "Track.1", "Stack.1", "Timeline.1", "Transition.1"),
    *("Item.1", "Composition.1", "Composable.1", "SerializableCollection.1", "AnyVector.1"),
    *("FreezeFrame.1", "ImageSequenceReference.1", "Marker.2", "Box2d.1", "V2d.1", "Nope.9"),
)
ODD: list[Any] = [
    *(None, True, 0, -1, 1e18, -1e18, 1e99, 2**63, 10**30, -0.0, 1e-300, "", "x", "é\0"),
    *([], {}, [None], SECOND, TWO_RATES),
    *({"OTIO_SCHEMA": schema} for schema in SCHEMAS),
    *({"OTIO_SCHEMA": "LinearTimeWarp.1", "time_scalar": speed} for speed in (1e300, 0, -1)),
    {"OTIO_SCHEMA": "SerializableObjectRef.1", "id": "A"},
]
"""What is put where something else belongs."""


def sound_timeline() -> dict[str, Any]:
    """A timeline with all that a reel takes or tells of, as its file has it."""
    nested = otio.schema.Track("inside", children=[cut_clip("c", 0, 8)])
    below = [
        cut_clip("a", 0, 10, "/x/a.mov", available=span(0, 100), speed=2.0),
        otio.schema.Transition("t", "SMPTE_Dissolve", time(2), time(2)),
        otio.schema.Gap(duration=time(5)),
        cut_clip("b", 3, 9),
        otio.schema.Stack("nest", children=[nested]),
    ]
    above = [otio.schema.Gap(duration=time(4)), cut_clip("d", 0, 8)]
    made = timeline(below, above, sound=[cut_clip("s", 0, 20, "/x/s.wav")])
    made.global_start_time = time(0)
    made.tracks[0].markers.append(otio.schema.Marker("m", span(1, 2)))
    found: dict[str, Any] = json.loads(otio.adapters.write_to_string(made, "otio_json"))
    return found


def mutated_timeline(seed: int) -> str:
    """A timeline with one to six things wrong: of another kind, gone, twice, referred to."""
    chance = random.Random(seed)
    made = sound_timeline()
    for _ in range(chance.choice([1, 1, 1, 2, 3, 6])):
        places = list(_places(made))
        within, at = chance.choice(places)
        match chance.choice(("odd", "odd", "odd", "gone", "other", "referred to")):
            case "odd":
                within[at] = _copy(chance.choice(ODD))
            case "gone":
                del within[at]
            case "other":
                elsewhere, there = chance.choice(places)
                within[at] = _copy(elsewhere[there])
            case "referred to" if isinstance(within, dict):
                within["OTIO_REF_ID"] = "A"
    return json.dumps(made)


def _copy(value: Any) -> Any:
    return json.loads(json.dumps(value))


def _places(value: Any) -> Any:
    """Every place within: what it is in, and its key or number there."""
    inside = value.items() if isinstance(value, dict) else enumerate(value)
    for at, each in inside:
        yield value, at
        if isinstance(each, dict | list):
            yield from _places(each)


def crafted_timelines() -> dict[str, str]:
    """Timelines that ended a server, or held it, by what is wrong with them."""
    sound = json.dumps(sound_timeline())
    wrapped = '{"OTIO_SCHEMA": "Timeline.1", "metadata": %s}'
    stack = '{"OTIO_SCHEMA": "Stack.1", "children": ['
    cyclic = {
        "OTIO_SCHEMA": "Stack.1",
        "OTIO_REF_ID": "A",
        "children": [{"OTIO_SCHEMA": "SerializableObjectRef.1", "id": "A"}],
    }
    return {
        "no tracks": '{"OTIO_SCHEMA": "Timeline.1", "tracks": null}',
        "deep metadata": wrapped % ('{"a": ' * 50_000 + "1" + "}" * 50_000),
        "deep stacks": stack * 50_000 + "]}" * 50_000,
        "cyclic": json.dumps({"OTIO_SCHEMA": "Timeline.1", "tracks": cyclic}),
        "unclosed": '"' + '\\"' * 500_000,
        "NaN": sound.replace('"value": 10.0', '"value": NaN'),
        "infinite": sound.replace('"value": 10.0', '"value": Infinity'),
        "far": sound.replace('"value": 10.0', '"value": 1e18'),
        "no rate": sound.replace('"rate": 25.0', '"rate": 0'),
        "fast": sound.replace('"rate": 25.0', '"rate": 1e18'),
        "backwards": sound.replace('"value": 10.0', '"value": -10'),
        "own metadata": sound.replace(
            '"metadata": {"editor"', '"metadata": {"cmx_3600": 7, "editor"'
        ),
    }
