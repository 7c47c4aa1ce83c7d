"""A fitting over a look is the look written out by hand for that clip."""

import copy
import json
from pathlib import Path

import jsonschema
import pytest

from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.look.fitting import (
    FITTING_FORMAT,
    MAX_TRIED,
    ClipOverrides,
    apply_fitting,
    fitting_from_json,
    fitting_schema,
    parse_fitting,
)
from yearning.core.masks.shapes import Ellipse

OF_THE_PAGE = Path(__file__).parents[2] / "data/fittings.json"

FACE = {"id": "face", "kind": "ellipse", "centre": [0.5, 0.4], "size": [0.1, 0.2]}
SHARED = {
    "format": "yearning-look/3",
    "name": "Shared",
    "steps": [
        {
            "id": "bloom",
            "treatment": "glow",
            "settings": {"threshold": 0.6},
            "mix": {"blend": "screen", "amount": 0.75, "mask": [FACE]},
            "keys": {
                "spread": [{"frame": 0, "value": 20}, {"frame": 9, "value": 60}],
                "mix.mask.face.feather": [{"frame": 0, "value": 5}],
            },
        },
        {
            "id": "old",
            "treatment": "bundle",
            "settings": {"steps": [{"id": "dirt", "treatment": "dust", "settings": {"seed": 1}}]},
        },
        {"id": "split", "treatment": "split", "bursts": [{"from": 24, "to": 36, "ramp": 4}]},
    ],
}


def with_fitting(**steps):
    found = apply_fitting(
        parse_look(SHARED), parse_fitting({"format": FITTING_FORMAT, "steps": steps})
    )
    return found.look.model_dump(mode="json"), list(found.notes)


def by_hand(change):
    """The shared look with `change` made in its document."""
    document = copy.deepcopy(SHARED)
    change(document["steps"])
    return parse_look(document).model_dump(mode="json")


LAMP = Ellipse(**FACE | {"id": "lamp", "centre": [0.1, 0.1]}).model_dump(mode="json")
BURST = {"from": 2, "to": 5, "ramp": 1}
KEY = {"frame": 3, "value": 12.0, "ease": "hold"}

CASES = {
    "a value": (
        {"bloom": {"settings": {"threshold": 0.3}}},
        lambda steps: steps[0]["settings"].update(threshold=0.3),
    ),
    "a value that the look keys is keyed no more": (
        {"bloom": {"settings": {"spread": 33}}},
        lambda steps: (steps[0]["settings"].update(spread=33), steps[0]["keys"].pop("spread")),
    ),
    "keys in the place of the look's": (
        {"bloom": {"keys": {"spread": [KEY]}}},
        lambda steps: steps[0]["keys"].update(spread=[KEY]),
    ),
    "a value and its keys": (
        {"bloom": {"settings": {"spread": 33}, "keys": {"spread": [KEY]}}},
        lambda steps: (
            steps[0]["settings"].update(spread=33),
            steps[0]["keys"].update(spread=[KEY]),
        ),
    ),
    "no keys": (
        {"bloom": {"keys": {"spread": []}}},
        lambda steps: steps[0]["keys"].pop("spread"),
    ),
    "the mix": (
        {"bloom": {"mix": {"amount": 0.2, "blend": "add"}}},
        lambda steps: steps[0]["mix"].update(amount=0.2, blend="add"),
    ),
    "a mask in the place of the look's, with its keys": (
        {"bloom": {"mix": {"mask": [LAMP]}, "keys": {"mix.mask.lamp.feather": [KEY]}}},
        lambda steps: (
            steps[0]["mix"].update(mask=[LAMP]),
            steps[0]["keys"].pop("mix.mask.face.feather"),
            steps[0]["keys"].update({"mix.mask.lamp.feather": [KEY]}),
        ),
    ),
    "a step within a bundle": (
        {"dirt": {"settings": {"seed": 8}, "on": False}},
        lambda steps: steps[1]["settings"]["steps"][0].update(settings={"seed": 8}, on=False),
    ),
    "bursts": ({"split": {"bursts": [BURST]}}, lambda steps: steps[2].update(bursts=[BURST])),
    "no bursts": ({"split": {"bursts": []}}, lambda steps: steps[2].update(bursts=[])),
    "a step switched off": ({"split": {"on": False}}, lambda steps: steps[2].update(on=False)),
    "nothing": ({}, lambda steps: None),
}


@pytest.mark.parametrize("case", CASES)
def test_it_is_the_look_written_out_by_hand(case):
    steps, change = CASES[case]
    assert with_fitting(**steps) == (by_hand(change), [])


def in_full():
    """The cases as documents written out in full, as the page has them: its tests read them too."""
    return {
        "shared": by_hand(lambda steps: None),
        "cases": {
            case: {
                "own": parse_fitting({"format": FITTING_FORMAT, "steps": steps}).model_dump(
                    mode="json", by_alias=True
                ),
                "stands": by_hand(change),
            }
            for case, (steps, change) in CASES.items()
        },
    }


def test_the_page_is_held_to_the_same_cases():
    """`python -m tests.core.look.test_fitting` writes them anew."""
    assert json.loads(OF_THE_PAGE.read_text()) == json.loads(json.dumps(in_full()))


def test_the_shared_look_stays_as_it_is():
    look = parse_look(SHARED)
    before = look.model_dump(mode="json")
    apply_fitting(look, ClipOverrides(steps={"bloom": {"settings": {"spread": 5}, "on": False}}))
    assert look.model_dump(mode="json") == before


@pytest.mark.parametrize(
    ("steps", "place", "says"),
    [
        ({"gone": {"on": False}}, "steps.gone", "the look has no such step"),
        ({"bloom": {"settings": {"warm": 1}}}, "steps.bloom.settings.warm", "unknown field"),
        ({"bloom": {"settings": {"spread": "wide"}}}, "steps.bloom.settings.spread", "number"),
        ({"bloom": {"mix": {"input": "later"}}}, "steps.bloom.mix.input", "later"),
        ({"bloom": {"keys": {"linear": [KEY]}}}, "steps.bloom.keys.linear", "no such thing to key"),
        ({"split": {"bursts": [BURST, BURST]}}, "steps.split.bursts", "do not cross"),
    ],
)
def test_what_does_not_hold_any_more_is_told_and_the_rest_holds(steps, place, says):
    steps = {**steps, "dirt": {"settings": {"seed": 8}}}
    look, notes = with_fitting(**steps)
    assert look == by_hand(lambda of: of[1]["settings"]["steps"][0].update(settings={"seed": 8}))
    (note,) = notes
    assert note.startswith(f"{place}: ")
    assert says in note


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ([], "format: not a fitting"),
        ({"format": "yearning-look/3"}, "format: not a fitting"),
        ({"format": "yearning-fitting/3"}, "is of a later version"),
        ({"format": FITTING_FORMAT, "step": {}}, "step: unknown field"),
        ({"format": FITTING_FORMAT, "steps": {"a": {"setting": {}}}}, "steps.a.setting: unknown"),
        ({"format": FITTING_FORMAT, "steps": {"a": {"on": "perhaps"}}}, "steps.a.on: input"),
        ({"format": FITTING_FORMAT, "steps": {"a": {"bursts": [{"from": 1}]}}}, "bursts[0].to: mi"),
    ],
)
def test_what_is_no_fitting_is_refused_by_place(data, says):
    with pytest.raises(InvalidLookError, match=says.replace("[", r"\[")):
        parse_fitting(data)
    with pytest.raises(InvalidLookError, match="not JSON"):
        fitting_from_json("{")


@pytest.mark.parametrize(("wrong", "told", "more"), [(5, 5, ""), (6, 5, "; and 1 more")])
def test_five_places_that_are_wrong_are_named_and_the_others_counted(wrong, told, more):
    steps = {f"s{number}": {"on": "maybe"} for number in range(wrong)}
    with pytest.raises(InvalidLookError) as refused:
        parse_fitting({"format": FITTING_FORMAT, "steps": steps})
    assert str(refused.value).count("steps.s") == told
    assert str(refused.value).endswith(f"unable to interpret input{more}")


def test_the_schema_takes_what_is_written_and_refuses_what_is_not():
    schema = fitting_schema()
    for steps, _ in CASES.values():
        own = parse_fitting({"format": FITTING_FORMAT, "steps": steps})
        jsonschema.validate(own.model_dump(mode="json"), schema)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({"format": FITTING_FORMAT, "step": {}}, schema)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({"steps": {}}, schema)


if __name__ == "__main__":
    OF_THE_PAGE.write_text(json.dumps(in_full(), indent=1) + "\n")


def test_of_a_fitting_that_is_all_wrong_so_much_is_tried_and_the_rest_told():
    glow = {"id": "g", "treatment": "glow"}
    shared = parse_look({"format": "yearning-look/3", "steps": [glow]})
    names = {f"no{n}": 1 for n in range(256)}
    own = ClipOverrides(steps={"g": {"settings": names, "mix": names}})
    found = apply_fitting(shared, own)
    assert found.look == shared
    assert len(found.notes) == MAX_TRIED + 1
    assert found.notes[-1].endswith(f"left out, with {512 - MAX_TRIED - 1} more after it")
