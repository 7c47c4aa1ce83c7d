"""Looks of older formats: upgraded on reading, with the picture they had.

`format-1/pictures.npz` was rendered by the last version that wrote `yearning-look/1`: frame 3 of
its `footage` through each look of `looks.json`, code values from -1 to 3 as 16 bits.
"""

import copy
import json

import numpy as np
import pytest

from tests.data import DATA
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.image.filters import area_resized
from yearning.core.look.document import parse_look
from yearning.core.look.upgrades import (
    FIRST_FORMAT,
    FORMAT,
    changed_pictures,
    keep_flush,
    keep_levels,
    keep_mix,
    open_vignette,
    rename_pale_colours,
    upgrade_look,
)
from yearning.core.picture import size_of
from yearning.core.treatment.assets import NO_ASSETS

LOOKS = json.loads((DATA / "format-1" / "looks.json").read_text())
THEN = np.load(DATA / "format-1" / "pictures.npz")


class Card:
    """A plate of one picture."""

    frames = 1
    size = size_of(THEN["card"])

    def picture(self, frame, size):
        return THEN["card"] if size == self.size else area_resized(THEN["card"], size)

    def matte(self, frame, size):
        return None


ASSETS = NO_ASSETS._replace(plate=lambda name: Card())


@pytest.mark.parametrize("number", range(len(LOOKS)), ids=[look["name"] for look in LOOKS])
def test_a_look_of_the_first_format_has_the_picture_it_had(number):
    look, clip = parse_look(LOOKS[number]), ArrayClip(THEN["footage"])
    assert look.format == FORMAT
    now = Evaluator(look, clip, clip.size, Cache(1 << 26), assets=ASSETS).picture(3)
    then = THEN["pictures"][number] / np.float32(65535) * 4 - 1
    assert np.abs(np.clip(now, -1, 3) - then).max() < 1 / 500


@pytest.mark.parametrize("look", LOOKS, ids=[look["name"] for look in LOOKS])
def test_upgrading_changes_nothing_of_what_it_is_given_and_is_done_once(look):
    before = copy.deepcopy(look)
    once = upgrade_look(look)
    assert look == before
    assert upgrade_look(once) == once
    assert parse_look(json.loads(parse_look(look).model_dump_json())) == parse_look(look)


def test_what_blended_the_treated_picture_goes_on_doing_so():
    grain = {"treatment": "grain", "mix": {"blend": "overlay", "amount": 0.3}}
    kept = {"layer": "treated", "beyond": "keep", "blend": "overlay", "amount": 0.3}
    assert keep_mix(grain)["mix"] == kept
    assert keep_mix({"treatment": "grain"}) == {"treatment": "grain"}
    assert keep_mix({"treatment": "glow"})["mix"] == {"beyond": "keep"}
    soft = {"treatment": "soften", "mix": {"blend": "screen"}}
    assert keep_mix(soft)["mix"] == {"blend": "screen", "beyond": "keep"}


def test_levels_keep_what_they_crushed_and_no_other_step_is_told_to():
    assert keep_levels({"treatment": "levels"})["settings"] == {"keep_beyond": True}
    assert keep_levels({"treatment": "curve"}) == {"treatment": "curve"}


def test_pale_colours_and_their_keys_have_their_new_name():
    keys = [{"frame": 0, "value": 1}]
    tone = {"treatment": "tone", "settings": {"vibrance": 0.4}, "keys": {"vibrance": keys}}
    found = rename_pale_colours(tone)
    assert found["settings"] == {"pale_colours": 0.4}
    assert found["keys"] == {"pale_colours": keys}


@pytest.mark.parametrize("kind", ["crop", "letterbox", "plate"])
def test_a_place_that_was_counted_from_edge_to_edge_still_is(kind):
    assert keep_flush({"treatment": kind, "settings": {}})["settings"] == {}
    placed = keep_flush({"treatment": kind, "settings": {"place": [0, 1]}})
    assert placed["settings"] == {"flush": True, "place": [0, 1]}
    keyed = keep_flush({"treatment": kind, "keys": {"place": []}})
    assert keyed["settings"] == {"flush": True}


@pytest.mark.parametrize("protect", ["hue", "highlights", "none"])
@pytest.mark.parametrize(("reach", "softness"), [(0.6, 0.75), (1.0, 0.0), (0.0, 1.0), (0.3, 0.01)])
def test_a_vignette_s_edge_is_where_it_was(protect, reach, softness):
    """It began at 1 − reach of half the frame, and was 1.2 softness wide, at least 0.02."""
    given = {"strength": 0.5, "reach": reach, "softness": softness, "protect": protect}
    found = open_vignette({"treatment": "vignette", "settings": given})["settings"]
    soft = found["softness"]
    begins = 2 * found["size"][0] - soft / 2
    assert begins == pytest.approx(1 - reach, abs=1e-9)
    assert soft == pytest.approx(max(1.2 * softness, 0.02))
    assert found["stops"] == 1.5
    assert not set(found) & {"strength", "reach", "protect", "shape"}


@pytest.mark.parametrize(
    ("settings", "place"),
    [
        ({"strength": "much"}, "steps[0].settings.strength"),
        ({"protect": "all"}, "steps[0].settings.protect"),
        ({"reach": None}, "steps[0].settings.reach"),
    ],
)
def test_what_an_old_file_has_wrong_is_named_as_the_file_names_it(settings, place):
    step = {"id": "v", "treatment": "vignette", "settings": settings}
    with pytest.raises(InvalidLookError) as error:
        parse_look({"format": "yearning-look/1", "steps": [step]})
    assert place in str(error.value)


@pytest.mark.parametrize(
    "steps",
    [None, 3, [3, None], [{}], [{"treatment": "vignette", "keys": {"strength": 5}}],
     [{"treatment": "vignette", "keys": {"reach": [{"frame": "x"}]}}],
     [{"treatment": "bundle", "settings": {"steps": 5}}], [{"treatment": [1], "mix": []}],
     [{"treatment": "tone", "settings": [], "keys": []}]],
)  # fmt: skip
def test_a_broken_file_of_an_old_format_is_refused_and_nothing_else_happens(steps):
    with pytest.raises(InvalidLookError):
        parse_look({"format": "yearning-look/1", "steps": steps})


@pytest.mark.parametrize("name", ["yearning-look/0", "yearning-look/4", "look", None, [1], {}])
def test_a_format_that_is_not_known_is_refused_by_its_name(name):
    with pytest.raises(InvalidLookError, match=r"format: .*yearning-look/3"):
        parse_look({"format": name, "steps": []})


def test_what_will_not_look_as_it_did_is_said_of_the_first_format_alone():
    steps = [{"treatment": "leak"}, {"treatment": "vignette", "on": False}, {"treatment": "crop"}]
    said = ["The leak before a crop now fits the frame that is left."]
    assert changed_pictures({"format": FIRST_FORMAT, "steps": steps}) == said
    assert changed_pictures({"format": FIRST_FORMAT, "steps": steps[:2]}) == []  # nothing is cut
    assert changed_pictures({"format": FORMAT, "steps": steps}) == []
    assert changed_pictures([]) == []
