"""Looks and fittings from before `yearning-look/3`: the same under the names of now.

`format-2/looks.json` was written by the last version that wrote `yearning-look/2`: a look of every
treatment with none of its settings as made, and the digest that its steps had there.
"""

import json

import pytest

from tests.data import DATA
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import former_steps_digest, parse_look
from yearning.core.look.fitting import (
    FITTING_FORMAT,
    apply_fitting,
    parse_fitting,
    upgrade_fitting,
)
from yearning.core.look.former_names import SETTINGS, rename_setting, rename_value
from yearning.core.look.upgrades import FORMAT, upgrade_look
from yearning.core.look.variants import Place, check_setting
from yearning.core.treatments import TREATMENTS

WRITTEN = json.loads((DATA / "format-2" / "looks.json").read_text())
SECOND = "yearning-look/2"


@pytest.mark.parametrize("kept", WRITTEN, ids=[kept["look"]["name"] for kept in WRITTEN])
def test_a_look_of_the_second_format_has_every_value_it_had(kept):
    look = parse_look(kept["look"])
    assert look.format == FORMAT
    assert former_steps_digest(look) == kept["digest"]
    assert upgrade_look(look.model_dump(mode="json")) == look.model_dump(mode="json")


@pytest.mark.parametrize("treatment", SETTINGS)
def test_former_names_are_no_names_any_more(treatment):
    now = TREATMENTS[treatment].model_fields
    assert set(SETTINGS[treatment].values()) <= set(now)
    assert not set(SETTINGS[treatment]) & set(now)


def test_keys_are_of_the_setting_under_its_new_name():
    keys = {"roll_in": [{"frame": 0, "value": 0.1}], "mix.amount": [{"frame": 3, "value": 0}]}
    glow = {"id": "g", "treatment": "glow", "keys": keys}
    (step,) = parse_look({"format": SECOND, "steps": [glow]}).steps
    assert set(step.keys) == {"knee", "mix.amount"}


def test_a_step_called_as_an_input_is_now_gets_another_id():
    shape = {"id": "t", "kind": "tones", "of": "footage"}
    steps = [
        {"id": "footage", "treatment": "glow", "mix": {"mask": [{"id": "e", "kind": "ellipse"}]}},
        {"id": "footage-step", "treatment": "mono", "mix": {"reads": "footage", "mask": [shape]}},
        {"id": "c", "treatment": "mono", "mix": {"mask": [{"id": "s", "same_as": "footage.e"}]}},
    ]
    first, second, third = parse_look({"format": SECOND, "steps": steps}).steps
    assert (first.id, second.id) == ("footage-step-step", "footage-step")
    assert (second.mix.input, second.mix.mask[0].of) == (first.id, first.id)
    assert third.mix.mask[0].same_as == f"{first.id}.e"


def test_a_package_s_own_settings_stay_and_its_mix_goes_along():
    settings = {"from_light": 1, "steps": [{"treatment": "glow", "settings": {"settle": 2}}]}
    mix = {"reads": "as shot", "beyond": "keep"}
    foreign = {"id": "f", "treatment": "glass.haze", "settings": settings, "mix": mix}
    (step,) = upgrade_look({"format": SECOND, "steps": [foreign]})["steps"]
    assert step["settings"] == settings
    assert step["mix"] == {"input": "footage", "out_of_range": "keep"}


@pytest.mark.parametrize(
    ("settings", "says"),
    [
        ({"from_light": 0.5, "threshold": 0.4}, "from_light: unknown field"),
        ({"from_light": "much"}, "threshold: "),
    ],
)
def test_what_is_wrong_in_an_older_file_is_still_found(settings, says):
    glow = {"id": "g", "treatment": "glow", "settings": settings}
    with pytest.raises(InvalidLookError, match=says):
        parse_look({"format": SECOND, "steps": [glow]})


def test_a_fitting_of_the_first_format_is_upgraded_with_its_look():
    steps = [
        {"id": "previous", "treatment": "glow"},
        {
            "id": "b",
            "treatment": "bundle",
            "settings": {"steps": [{"id": "p", "treatment": "crop"}]},
        },
    ]
    look = parse_look({"format": SECOND, "steps": steps})
    own = {
        "previous": {
            "settings": {"from_light": 0.3},
            "mix": {"reads": "as shot"},
            "keys": {"hold_light": [{"frame": 0, "value": 0.5}]},
        },
        "p": {"settings": {"flush": True}},
        "gone": {"settings": {"settle": 4}},
    }
    former = {"format": "yearning-fitting/1", "steps": own, "reading": {"range": "full"}}
    fitting = parse_fitting(former)
    assert fitting.input == {"range": "full"}
    fitted = apply_fitting(look, fitting)
    glow, bundle = fitted.look.steps
    assert (glow.settings.threshold, glow.mix.input) == (0.3, "footage")
    assert set(glow.keys) == {"keep_midtones"}
    assert bundle.settings.steps[0].settings.align
    assert fitted.notes == ("steps.gone: the look has no such step",)
    newest = upgrade_fitting(look, fitting)
    assert newest.format == FITTING_FORMAT
    assert upgrade_fitting(look, newest) is newest
    assert apply_fitting(look, newest) == fitted


@pytest.mark.parametrize(
    ("treatment", "name", "value", "now"),
    [
        ("glow", "from_light", 0.3, ("threshold", 0.3)),
        ("mono", "from_light", 0.3, ("from_light", 0.3)),
        ("glow", "mix.beyond", "cut", ("mix.out_of_range", "limit")),
        ("glow", "mix.reads", "so far", ("mix.input", "previous")),
        ("glow", "mix.blend", "screen", ("mix.blend", "screen")),
    ],
)
def test_what_a_sheet_varies_is_renamed(treatment, name, value, now):
    renamed = rename_setting(treatment, name)
    assert (renamed, rename_value(renamed, value)) == now


@pytest.mark.parametrize(
    ("step", "says"),
    [
        ({"treatment": "glow", "settings": {"from_light": 0.5}}, "'threshold' now"),
        ({"treatment": "glow", "mix": {"reads": "as shot"}}, "'input' now"),
        ({"treatment": "uncast"}, "'neutralize' now"),
    ],
)
def test_a_former_name_in_a_new_look_is_refused_with_what_it_is_called_now(step, says):
    look = {"format": "yearning-look/3", "steps": [{"id": "g", **step}]}
    with pytest.raises(InvalidLookError, match=says):
        parse_look(look)


@pytest.mark.parametrize(("name", "hint"), [("from_light", "threshold"), ("size", None)])
def test_so_it_is_where_a_setting_is_varied(name, hint):
    look = parse_look({"format": "yearning-look/3", "steps": [{"id": "g", "treatment": "glow"}]})
    with pytest.raises(InvalidLookError) as refused:
        check_setting(look, Place("g", name))
    assert str(refused.value).endswith(f"'{hint}' now") == bool(hint)
