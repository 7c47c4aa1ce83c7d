"""Keys and bursts: what they say at a frame, and what a look makes of them."""

import json

import numpy as np
import pytest

from tests.conftest import RecordingClip, a_look, lamps
from yearning.core.cache import Cache
from yearning.core.engine.baking import bake
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.graph import RenderGraph
from yearning.core.errors import InvalidLookError
from yearning.core.look.bursts import Burst, burst_weight
from yearning.core.look.document import beyond_end, look_from_json
from yearning.core.look.keyframes import (
    Key,
    ease_progress,
    interpolate,
    next_frame_to_check,
    value_at,
)
from yearning.core.look.step import keyable_settings
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS

KEYS = (Key(frame=10, value=2.0), Key(frame=20, value=6.0, ease="hold"), Key(frame=30, value=1.0))


def test_a_keyed_value_is_level_before_the_first_key_and_after_the_last():
    assert [value_at(KEYS, frame) for frame in (0, 10, 30, 999)] == [2, 2, 1, 1]


def test_a_key_leads_on_to_the_next_by_its_own_ease():
    assert [value_at(KEYS, frame) for frame in (15, 20, 29)] == [4, 6, 6]


def test_eases_begin_at_one_key_and_end_at_the_other():
    for ease in ("straight", "ease", (0.42, 0, 0.58, 1), (0.3, -0.6, 0.7, 1.6), (1, 0, 0, 1)):
        assert ease_progress(ease, 0) == pytest.approx(0, abs=1e-9)
        assert ease_progress(ease, 1) == pytest.approx(1, abs=1e-9)


def test_an_ease_with_its_handles_on_the_diagonal_is_straight():
    for time in np.linspace(0, 1, 21):
        assert ease_progress((0.2, 0.2, 0.7, 0.7), time) == pytest.approx(time, abs=1e-9)


def test_an_ease_that_is_its_own_mirror_is_half_way_at_half_time():
    assert ease_progress((0.42, 0, 0.58, 1), 0.5) == pytest.approx(0.5, abs=1e-9)


BETWEEN = {
    "numbers": (1.0, 3.0, 2.0),
    "whole numbers": (1, 4, 3),
    "colours": ("#000000", "#ff8040", "#804020"),
    "three channels": ((0.0, 1.0, 2.0), (2.0, 1.0, 0.0), (1.0, 1.0, 1.0)),
    "points that move": (
        ((0.0, 0.0), (1.0, 1.0)),
        ((0.2, 0.4), (1.0, 0.0)),
        ((0.1, 0.2), (1, 0.5)),
    ),
    "points where there were fewer": (
        ((0.0, 0.0), (1.0, 1.0)),
        ((0.0, 1.0), (0.5, 1.0), (1.0, 1.0)),
        ((0.0, 0.5), (0.5, 0.75), (1.0, 1.0)),
    ),
    "stops where there were fewer": (
        ((0.0, "#000000"), (1.0, "#ffffff")),
        ((0.0, "#000000"), (0.5, "#000000"), (1.0, "#ffffff")),
        ((0.0, "#000000"), (0.5, "#404040"), (1.0, "#ffffff")),
    ),
    "words": ("fine", "coarse", "fine"),
    "tones there were none of": (None, ((0.0, 1.0),), None),
}


@pytest.mark.parametrize("what", BETWEEN)
def test_half_way_between(what):
    first, second, half = BETWEEN[what]
    assert interpolate(first, second, 0.5) == half
    assert interpolate(first, second, 0) == pytest.approx(first) if what == "numbers" else True


def test_a_burst_comes_and_goes_by_its_ramp():
    bursts = [
        Burst.model_validate({"from": 4, "to": 12, "ramp": 3}),
        Burst.model_validate({"from": 20, "to": 20}),
    ]
    weights = [burst_weight(bursts, frame) for frame in range(22)]
    assert weights[:4] == [0] * 4
    assert weights[4:13] == [0.25, 0.5, 0.75, 1, 1, 1, 0.75, 0.5, 0.25]
    assert weights[13:] == [0] * 7 + [1, 0]


def test_without_bursts_a_step_is_always_active():
    assert burst_weight((), 5) == 1


@pytest.fixture
def footage():
    size = Size(128, 72)
    return RecordingClip(lamps(size))


GLOW = {"id": "g", "treatment": "glow", "settings": {"temporal_smoothing": 0, "keep_midtones": 0}}
EXPOSURE = {"id": "e", "treatment": "exposure"}


def _path(look, footage):
    return Evaluator(look, footage, footage.size, Cache(10**9))


def _same(look, still, footage, frame):
    """Whether a look with keys gives at a frame what one without them gives."""
    seen = _path(look, footage).picture(frame)
    return np.array_equal(seen, _path(still, footage).picture(frame))


def test_a_keyed_setting_is_the_setting_it_is_at_the_frame(footage):
    keyed = EXPOSURE | {"keys": {"stops": [{"frame": 0, "value": -1}, {"frame": 4, "value": 1}]}}
    for frame, stops in enumerate((-1, -0.5, 0, 0.5, 1)):
        still = EXPOSURE | {"settings": {"stops": stops}}
        assert _same(a_look(keyed), a_look(still), footage, frame)


def test_amount_is_mix_times_burst_times_key(footage):
    timed = EXPOSURE | {
        "settings": {"stops": 1},
        "keys": {"amount": [{"frame": 0, "value": 0.8}]},
        "bursts": [{"from": 1, "to": 4, "ramp": 1}],
    }
    for frame, amount in enumerate((0, 0.4, 0.8, 0.8, 0.4)):
        still = EXPOSURE | {"settings": {"stops": 1}, "mix": {"amount": amount}}
        assert _same(a_look(timed), a_look(still), footage, frame)


def test_outside_its_bursts_a_step_does_nothing_at_all(footage):
    look = a_look(GLOW | {"bursts": [{"from": 2, "to": 3}]})
    path = _path(look, footage)
    for frame in (0, 1, 4):
        assert np.array_equal(path.picture(frame), path.picture(frame, "footage"))
    assert not np.array_equal(path.picture(2), path.picture(2, "footage"))


def test_a_step_reads_a_timed_one_as_it_is_at_the_frame(footage):
    """In a bundle, through a plain bundle, and by its id; active or not."""
    burst = EXPOSURE | {"settings": {"stops": 1}, "bursts": [{"from": 2, "to": 3}]}
    reader = {"id": "r", "treatment": "mono", "mix": {"input": "b", "amount": 0.5}}
    held = {"id": "b", "treatment": "bundle", "settings": {"steps": [burst]}}
    look = a_look(held, GLOW, reader)
    for frame in (1, 2):
        plain = EXPOSURE | {"settings": {"stops": 1 if frame == 2 else 0}}
        still = a_look(held | {"settings": {"steps": [plain]}}, GLOW, reader)
        seen, wanted = _path(look, footage), _path(still, footage)
        assert np.allclose(seen.picture(frame), wanted.picture(frame), atol=1e-6)
        assert np.allclose(seen.picture(frame, "b"), wanted.picture(frame, "b"), atol=1e-6)


def test_pictures_have_one_number_at_every_frame():
    timed = GLOW | {"bursts": [{"from": 2, "to": 3}]}
    held = {"id": "b", "treatment": "bundle", "settings": {"steps": [timed]}}
    look = a_look(held, EXPOSURE, {"id": "x", "treatment": "mono", "mix": {"input": "b"}})
    graphs = [RenderGraph(look, frame) for frame in range(5)]
    assert all(graph.after_step == graphs[0].after_step for graph in graphs)
    assert all(graph.results == graphs[0].results for graph in graphs)


def test_frames_between_two_equal_keys_are_known_for_equal():
    keyed = GLOW | {"keys": {"spread": [{"frame": 0, "value": 9}, {"frame": 8, "value": 9}]}}
    assert RenderGraph(a_look(keyed), 1).cache_keys == RenderGraph(a_look(keyed), 7).cache_keys


def test_a_glow_keyed_by_its_settle_reaches_as_far_as_it_then_does(footage):
    look = a_look(
        GLOW
        | {"keys": {"temporal_smoothing": [{"frame": 0, "value": 0}, {"frame": 4, "value": 4}]}}
    )
    path = _path(look, footage)
    assert [path.reach(frame).after for frame in range(5)] == [0, 1, 2, 3, 4]
    assert path.reach(0, 4).before == 4


def test_an_ease_that_overshoots_stays_within_what_can_be():
    keys = [{"frame": 0, "value": 0.9, "ease": [0.3, 0, 0.5, 4]}, {"frame": 10, "value": 1}]
    step = a_look(GLOW | {"keys": {"mix.amount": keys}}).steps[0]
    assert max(step.at(frame).mix.amount for frame in range(11)) == 1


def test_keys_are_kept_in_the_order_of_their_frames_and_survive_the_file():
    keys = {"spread": [{"frame": 9, "value": 20, "ease": "hold"}, {"frame": 3, "value": 60}]}
    look = a_look(GLOW | {"keys": keys, "bursts": [{"from": 1, "to": 2}]})
    assert [key.frame for key in look.steps[0].keys["spread"]] == [3, 9]
    text = look.model_dump_json()
    assert look_from_json(text) == look
    assert json.loads(text)["steps"][0]["bursts"] == [{"from": 1, "to": 2, "ramp": 0}]


BEYOND = {
    "steps[0].keys.spread[0]": {"keys": {"spread": [{"frame": 5, "value": 9}]}},
    "steps[0].bursts[0]": {"bursts": [{"from": 3, "to": 5}]},
}


@pytest.mark.parametrize("place", BEYOND)
def test_keys_and_bursts_beyond_the_clip_are_told_with_their_place(place):
    look = a_look(GLOW | BEYOND[place])
    assert beyond_end(look, 6) == []
    (note,) = beyond_end(look, 5)
    assert note.startswith(f"{place}: it names frame 5; the clip has frames 0 to 4")


def test_a_look_that_changes_with_time_is_not_baked():
    look = a_look(EXPOSURE | {"bursts": [{"from": 0, "to": 1}]})
    with pytest.raises(InvalidLookError, match=r"steps\[0\]: it changes with time"):
        bake(look, 17)


@pytest.mark.parametrize("kind", sorted(TREATMENTS))
def test_every_number_colour_and_curve_can_be_keyed(kind, footage):
    """Keyed at its default it changes nothing."""
    treatment = TREATMENTS[kind]
    keys = {
        name: [{"frame": f, "value": treatment.model_fields[name].default} for f in (0, 3)]
        for name in keyable_settings(treatment)
    }
    assert keys or kind == "table"
    still = {"id": "a", "treatment": kind}
    if kind != "table":  # which needs a file
        assert _same(a_look(still | {"keys": keys}), a_look(still), footage, 1)


def _two_values(treatment, name):
    """A setting's default, and a value a little off it that it can have."""
    field = treatment.model_fields[name]
    default, extra = field.default, field.json_schema_extra
    match default:
        case int():
            return default, default + 2
        case float():
            step = 0.05 * (extra["soft_maximum"] - extra["soft_minimum"])
            return default, default + (step if default < extra["soft_maximum"] else -step)
    return default, default


@pytest.mark.parametrize("kind", sorted(set(TREATMENTS) - {"table"}))
def test_frames_asked_for_in_any_order_are_the_same_under_keys_and_bursts(kind, footage):
    treatment = TREATMENTS[kind]
    keys = {}
    for name in keyable_settings(treatment):
        first, last = _two_values(treatment, name)
        keys[name] = [{"frame": 0, "value": first, "ease": "ease"}, {"frame": 5, "value": last}]
    timed = {"id": "a", "treatment": kind, "keys": keys}
    timed["bursts"] = [{"from": 1, "to": 5, "ramp": 2}]
    look = a_look(timed, GLOW | {"settings": {"temporal_smoothing": 1}})
    forward, jumping = _path(look, footage), _path(look, footage)
    order = [5, 0, 3, 1, 4, 2]
    jumped = {frame: jumping.picture(frame) for frame in order}
    for frame in range(6):
        assert np.array_equal(forward.picture(frame), jumped[frame])


@pytest.mark.parametrize(("t", "colour"), [(-0.5, "#000000"), (1.5, "#ffffff")])
def test_a_colour_goes_no_further_than_its_ends_where_handles_lead_beyond(t, colour):
    assert interpolate("#000000", "#ffffff", t) == colour


@pytest.mark.parametrize(("t", "end"), [(-0.5, 0), (1.5, 1)])
def test_a_curve_goes_no_further_than_its_ends_where_handles_lead_beyond(t, end):
    rows = ((0.0, 0.2), (1.0, 0.8)), ((0.0, 0.0), (1.0, 1.0))
    assert interpolate(*rows, t) == rows[end]


@pytest.mark.parametrize(
    ("checked", "told"),
    [
        ([], 0),
        ([0], 99),
        ([0, 99], 49),
        ([0, 49, 99], 74),  # the widest gap begins at 49
        ([0, 10, 40, 99], 69),
        ([0, 40, 99, 250, -3], 69),  # no frames of this clip
        (range(100), None),
    ],
)
def test_the_frame_that_is_checked_next_is_in_the_middle_of_the_widest_gap(checked, told):
    assert next_frame_to_check(100, checked) == told
