"""Look files: what is taken, and what is refused with its place."""

import json

import jsonschema
import pytest

from tests.conftest import THREE_STEPS, a_look
from yearning.core.engine.graph import RenderGraph
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import (
    former_steps_digest,
    look_from_json,
    look_schema,
    parse_look,
    steps_digest,
)
from yearning.starters import starters

GOOD = {"format": "yearning-look/3", "name": "Good", "steps": THREE_STEPS}


def _bad_step(**changes):
    bad = json.loads(json.dumps(GOOD))
    bad["steps"][0] |= changes
    return bad


KEY = {"frame": 12, "value": 1}


def _bad_key(**key):
    return _bad_step(keys={"spread": [KEY, key]})


def test_a_look_survives_its_file():
    look = parse_look(GOOD)
    assert look_from_json(look.model_dump_json()) == look


def test_an_empty_look_is_the_footage():
    assert parse_look({"format": "yearning-look/3", "steps": []}).steps == ()


def test_what_the_mix_leaves_out_is_as_the_treatment_has_it():
    glow = a_look({"id": "a", "treatment": "glow", "mix": {"amount": 0.5}}).steps[0]
    assert (glow.mix.blend, glow.mix.amount) == ("screen", 0.5)


REFUSED = {
    "an unknown treatment": (
        _bad_step(treatment="glo"),
        "steps[0].treatment: unknown treatment 'glo'",
    ),
    "an unknown setting": (_bad_step(settings={"sprd": 3}), "steps[0].settings.sprd: unknown"),
    "a word for a number": (_bad_step(settings={"spread": "wide"}), "steps[0].settings.spread:"),
    "a number that is none": (_bad_step(settings={"spread": float("nan")}), "settings.spread:"),
    "an unknown blend": (_bad_step(mix={"blend": "foo"}), "steps[0].mix.blend: "),
    "an amount over 1": (_bad_step(mix={"amount": 2}), "steps[0].mix.amount: "),
    "tones that go back": (_bad_step(mix={"tones": [[1, 0], [0, 1]]}), "steps[0].mix.tones: "),
    "tones beyond white": (_bad_step(mix={"tones": [[0, 0], [2, 1]]}), "steps[0].mix.tones: "),
    "a shape of no kind": (_bad_step(mix={"mask": [{}]}), "steps[0].mix.mask[0].kind: missing"),
    "a step that reads itself": (
        _bad_step(mix={"input": "g"}),
        "steps[0].mix.input: 'g' comes later",
    ),
    "a step that reads a later": (
        _bad_step(mix={"input": "n"}),
        "steps[0].mix.input: 'n' comes later",
    ),
    "a step that reads none": (_bad_step(mix={"input": "x"}), "steps[0].mix.input: 'x' is no step"),
    "an id of what is read": (_bad_step(id="footage"), "steps[0].id: 'footage'"),
    "a key of no value": (_bad_key(frame=0), "steps[0].keys.spread[1].value: missing"),
    "a key of a word": (_bad_key(frame=0, value="wide"), "steps[0].keys.spread[1].value: input"),
    "a key beyond what can be": (
        _bad_key(frame=0, value=0),
        "steps[0].keys.spread[1].value: input",
    ),
    "a key before the clip": (_bad_key(frame=-1, value=9), "steps[0].keys.spread[1].frame: "),
    "two keys at a frame": (_bad_key(frame=12, value=9), "steps[0].keys.spread[1]: there are two"),
    "an ease unheard of": (
        _bad_key(frame=0, value=9, ease="boing"),
        "steps[0].keys.spread[1].ease",
    ),
    "an ease that goes back": (
        _bad_key(frame=0, value=9, ease=[1.2, 0, 0, 1]),
        "steps[0].keys.spread[1].ease",
    ),
    "keys of nothing": (_bad_step(keys={"spred": []}), "steps[0].keys.spred: no such thing"),
    "keys of a seed": (
        _bad_step(treatment="grain", settings={}, keys={"seed": [KEY]}),
        "steps[0].keys.seed: no such thing",
    ),
    "an amount keyed beyond 1": (
        _bad_step(keys={"mix.amount": [{"frame": 0, "value": 2}]}),
        "steps[0].keys.mix.amount[0].value: ",
    ),
    "an amount keyed twice": (
        _bad_step(keys={"mix.amount": [KEY], "amount": [KEY]}),
        "steps[0].keys: the mix's amount",
    ),
    "keys that do not go together": (
        _bad_step(
            treatment="levels",
            settings={"white": 0.5},
            keys={"black": [{"frame": 0, "value": 0.1}, {"frame": 9, "value": 0.9}]},
        ),
        "steps[0].keys.black[1]: white lies above black",
    ),
    "a burst that goes back": (
        _bad_step(bursts=[{"from": 9, "to": 4}]),
        "steps[0].bursts[0]: a burst",
    ),
    "bursts that cross": (
        _bad_step(bursts=[{"from": 0, "to": 9}, {"from": 9, "to": 12}]),
        "steps[0].bursts[1]: it begins at frame 9",
    ),
    "a burst before the clip": (
        _bad_step(bursts=[{"from": -4, "to": 4}]),
        "steps[0].bursts[0].from",
    ),
    "an unknown field": (_bad_step(colour="red"), "steps[0].colour: unknown field"),
    "two steps of one id": (_bad_step(id="n"), "two steps have the id 'n'"),
    "another format": ({"format": "other"}, "format: "),
    "no object": ([], "format: "),
}


@pytest.mark.parametrize("what", REFUSED)
def test_refused_with_its_place(what):
    data, says = REFUSED[what]
    with pytest.raises(InvalidLookError) as refusal:
        parse_look(data)
    assert says in str(refusal.value)
    assert "\n" not in str(refusal.value)


@pytest.mark.parametrize("points", [[[0, 0]], [[0, 0], [0, 1]], [[1, 0], [0, 1]], [[0, 0]] * 99])
def test_a_curve_that_goes_back_is_refused(points):
    with pytest.raises(InvalidLookError, match=r"steps\[0\]\.settings\.red"):
        a_look({"id": "a", "treatment": "curve", "settings": {"red": points}})


@pytest.mark.parametrize("text", ["", "{", '{"a": }', "[" * 99999])
def test_text_that_is_no_json_is_refused_with_its_place(text):
    with pytest.raises(InvalidLookError, match="not JSON"):
        look_from_json(text)


def test_the_published_schema_takes_what_the_reader_takes():
    schema = look_schema()
    jsonschema.validate(GOOD, schema)
    for data in (_bad_step(settings={"sprd": 3}), _bad_step(mix={"blend": "foo"}), {"format": "x"}):
        with pytest.raises(jsonschema.ValidationError):
            jsonschema.validate(data, schema)


def _bundle(*steps, **rest):
    return {"id": "b", "treatment": "bundle", "settings": {"steps": list(steps)}} | rest


GLOW, CURVE, GRAIN = THREE_STEPS


def test_a_bundle_survives_its_file_and_names_places_within():
    look = a_look(GRAIN, _bundle(GLOW, CURVE, name="Mist", mix={"amount": 0.5}))
    assert look_from_json(look.model_dump_json()) == look
    jsonschema.validate(look.model_dump(mode="json"), look_schema())
    with pytest.raises(
        InvalidLookError, match=r"^steps\[0\]\.settings\.steps\[1\]\.settings\.spread: "
    ):
        a_look(_bundle(CURVE, GLOW | {"settings": {"spread": "wide"}}))


@pytest.mark.parametrize(
    ("steps", "says"),
    [
        ([_bundle(GLOW | {"mix": {"input": "b"}})], "steps[0].settings.steps[0].mix.input: 'b'"),
        ([_bundle(GLOW, CURVE), GLOW], "two steps have the id 'g'"),
        ([_bundle(*[GRAIN | {"id": str(n)} for n in range(64)])], "at most 64 steps, not 65"),
    ],
)
def test_bundles_that_can_not_be(steps, says):
    with pytest.raises(InvalidLookError) as refusal:
        a_look(*steps)
    assert says in str(refusal.value)


def test_bundles_in_bundles_end_somewhere():
    step = GLOW
    for n in range(6):
        step = _bundle(step, id=f"b{n}")
    with pytest.raises(InvalidLookError, match="at most 4 deep"):
        a_look(step)


def test_a_note_is_kept_and_no_part_of_what_is_seen():
    noted = {"id": "g", "treatment": "glow", "note": "Only the lamps."}
    bundle = {"id": "b", "treatment": "bundle", "settings": {"steps": [noted]}}
    look = a_look(bundle)
    assert look.steps[0].settings.steps[0].note == "Only the lamps."
    plain = a_look({**bundle, "settings": {"steps": [{**noted, "note": ""}]}})
    assert steps_digest(look) == steps_digest(plain)
    assert RenderGraph(look).cache_keys == RenderGraph(plain).cache_keys
    with pytest.raises(InvalidLookError, match="note"):
        a_look({**noted, "note": "a" * 501})


def test_every_step_of_a_starter_look_says_what_it_is_for():
    notes = [step.note for starter in starters() for step in starter.look.steps]
    assert min(map(len, notes)) > 12
    assert all(note.endswith(".") for note in notes)
    assert len(set(notes)) > 60


def test_a_look_of_before_shapes_found_in_pictures_had_feathers_has_the_digest_it_had():
    kinds = {"a": "tones", "b": "hue", "c": "matte", "d": "ellipse"}
    shapes = [{"id": id, "kind": kind} for id, kind in kinds.items()]
    masked = {"id": "m", "treatment": "mono", "mix": {"mask": shapes}}
    look = parse_look({"format": "yearning-look/3", "steps": [masked]})
    digest = "e23feac4f668d50670d6d5a27b23049f889b7a1d457b46a273995dd1ba244173"
    assert former_steps_digest(look) == digest  # as the program before it wrote it
    shapes[0]["feather"] = 20
    feathered = parse_look({"format": "yearning-look/3", "steps": [masked]})
    assert former_steps_digest(feathered) != digest
