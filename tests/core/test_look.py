"""Look files: what is taken, and what is refused with its place."""

import json

import jsonschema
import pytest

from tests.conftest import THREE_STEPS, a_look
from yearning.core.look import LookError, look_from_json, look_of, look_schema

GOOD = {"format": "yearning-look/1", "name": "Good", "steps": THREE_STEPS}


def _with(**changes):
    bad = json.loads(json.dumps(GOOD))
    bad["steps"][0] |= changes
    return bad


def test_a_look_survives_its_file():
    look = look_of(GOOD)
    assert look_from_json(look.model_dump_json()) == look


def test_an_empty_look_is_the_footage():
    assert look_of({"format": "yearning-look/1", "steps": []}).steps == ()


def test_what_the_mix_leaves_out_is_as_the_treatment_has_it():
    glow = a_look({"id": "a", "treatment": "glow", "mix": {"amount": 0.5}}).steps[0]
    assert (glow.mix.blend, glow.mix.amount) == ("screen", 0.5)


REFUSED = {
    "an unknown treatment": (_with(treatment="glo"), "steps[0].treatment: unknown treatment 'glo'"),
    "an unknown setting": (_with(settings={"sprd": 3}), "steps[0].settings.sprd: unknown"),
    "a word for a number": (_with(settings={"spread": "wide"}), "steps[0].settings.spread:"),
    "a number that is none": (_with(settings={"spread": float("nan")}), "settings.spread:"),
    "an unknown blend": (_with(mix={"blend": "foo"}), "steps[0].mix.blend: "),
    "an amount over 1": (_with(mix={"amount": 2}), "steps[0].mix.amount: "),
    "tones, for now": (_with(mix={"tones": [[0, 0], [1, 1]]}), "steps[0].mix.tones: is not in"),
    "a mask, for now": (_with(mix={"mask": [{}]}), "steps[0].mix.mask: is not in"),
    "reads, for now": (_with(mix={"reads": "as shot"}), "steps[0].mix.reads: "),
    "keys, for now": (_with(keys={"spread": [{"frame": 0}]}), "steps[0].keys: is not in"),
    "bursts, for now": (_with(bursts=[{"from": 1}]), "steps[0].bursts: is not in"),
    "an unknown field": (_with(colour="red"), "steps[0].colour: unknown field"),
    "two steps of one id": (_with(id="n"), "two steps have the id 'n'"),
    "another format": ({"format": "other"}, "format: "),
    "no object": ([], "format: "),
}


@pytest.mark.parametrize("what", REFUSED)
def test_refused_with_its_place(what):
    data, says = REFUSED[what]
    with pytest.raises(LookError) as refusal:
        look_of(data)
    assert says in str(refusal.value)
    assert "\n" not in str(refusal.value)


@pytest.mark.parametrize("points", [[[0, 0]], [[0, 0], [0, 1]], [[1, 0], [0, 1]], [[0, 0]] * 99])
def test_a_curve_that_goes_back_is_refused(points):
    with pytest.raises(LookError, match=r"steps\[0\]\.settings\.red"):
        a_look({"id": "a", "treatment": "curve", "settings": {"red": points}})


@pytest.mark.parametrize("text", ["", "{", '{"a": }', "[" * 99999])
def test_text_that_is_no_json_is_refused_with_its_place(text):
    with pytest.raises(LookError, match="not JSON"):
        look_from_json(text)


def test_the_published_schema_takes_what_the_reader_takes():
    schema = look_schema()
    jsonschema.validate(GOOD, schema)
    for data in (_with(settings={"sprd": 3}), _with(mix={"blend": "foo"}), {"format": "x"}):
        with pytest.raises(jsonschema.ValidationError):
            jsonschema.validate(data, schema)


def test_equal_paths_have_equal_keys_whatever_the_names():
    a = a_look({"id": "a", "treatment": "glow"})
    b = a_look({"id": "b", "treatment": "glow", "settings": {"spread": 52}})
    off = a_look({"id": "c", "treatment": "curve", "on": False}, {"id": "b", "treatment": "glow"})
    assert a.path_keys()[-1] == b.path_keys()[-1] == off.path_keys()[-1]
