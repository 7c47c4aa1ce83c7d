"""Variants of a look: one value changed, as by hand."""

import json

import pytest

from tests.conftest import a_look, step
from yearning.core.compositing.blend import BLENDS
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.look.variants import (
    Place,
    choices_of,
    even_values,
    value_caption,
    with_value,
)

KEYS = {"spread": [{"frame": 0, "value": 5}, {"frame": 9, "value": 50}]}
LOOK = a_look(step("glow") | {"keys": KEYS}, step("soften"), step("grain"))


@pytest.mark.parametrize(
    ("place", "value", "by_hand"),
    [
        ("glow.spread", 33, {"settings": {"spread": 33}, "keys": {}}),
        ("glow.mix.blend", "add", {"mix": {"blend": "add"}}),
        ("glow.mix.amount", 0.25, {"mix": {"amount": 0.25}}),
    ],
)
def test_it_is_the_look_written_out(place, value, by_hand):
    document = LOOK.model_dump(mode="json")
    for field, changes in by_hand.items():
        document["steps"][0][field] = {**document["steps"][0][field], **changes} if changes else {}
    assert with_value(LOOK, Place.parse(place), value) == parse_look(document)


@pytest.mark.parametrize(
    ("place", "value", "said"),
    [
        ("glow", 1, "'glow': write STEP.SETTING"),
        (".spread", 1, "write STEP.SETTING"),
        ("haze.spread", 1, "the look has no step 'haze'; there are glow, soften, grain"),
        ("glow.sprad", 1, "glow has no setting 'sprad'; it has "),
        ("glow.spread", -1, "glow.spread: input should be greater than or equal to 0"),
        ("glow.mix.blend", "mix", "glow.mix.blend: input should be 'normal', "),
        ("glow.mix.sort", 1, "glow.mix.sort: unknown field"),
    ],
)
def test_what_can_not_be_is_told_with_its_place(place, value, said):
    with pytest.raises(InvalidLookError) as told:
        with_value(LOOK, Place.parse(place), value)
    assert said in str(told.value)


def test_choices_are_those_of_the_treatment():
    assert choices_of(LOOK, Place("glow", "mix.blend")) == tuple(BLENDS)
    declared = json.dumps(type(LOOK.steps[1].settings).model_json_schema())
    assert all(f'"{each}"' in declared for each in choices_of(LOOK, Place("soften", "shape")))
    with pytest.raises(InvalidLookError, match=r"glow\.spread: is no choice"):
        choices_of(LOOK, Place("glow", "spread"))


@pytest.mark.parametrize(
    ("place", "value", "caption"),
    [
        ("glow.spread", 12.5, "12.5 px"),
        ("glow.mix.amount", 0.3333, "33.33 %"),
        ("glow.mix.blend", "soft light", "soft light"),
        ("grain.seed", 4, "4"),
    ],
)
def test_a_value_is_said_with_its_unit(place, value, caption):
    assert value_caption(LOOK, Place.parse(place), value) == caption


def test_a_span_has_its_ends():
    assert even_values(10, 80, 6) == [10, 24, 38, 52, 66, 80]
    assert even_values(0, 1, 4) == [0, 0.3333, 0.6667, 1]
