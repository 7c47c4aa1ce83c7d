"""The starter looks: whole, of their own, and steady."""

import json

import numpy as np
import pytest

from tests.conftest import GLASSHOUSE, Pictures, lamps
from yearning import starters as package
from yearning.core.cache import PictureCache
from yearning.core.look import each_step, look_of
from yearning.core.path import Path
from yearning.core.picture import Size
from yearning.core.treatment import Treatment
from yearning.core.treatments import TREATMENTS
from yearning.media.footage import Footage
from yearning.starters import starters

LOOKS = {starter.look.name: starter.look for starter in starters()}
SIZE = Size(192, 108)


def test_there_are_the_looks_that_are_asked_for_most_each_with_its_words():
    assert len(LOOKS) == len(starters()) >= 5
    words = " ".join(LOOKS).lower()
    for asked in ("mist", "monochrome", "cold shadows", "pop", "print"):
        assert asked in words
    assert all(10 < len(starter.says) < 90 for starter in starters())


@pytest.mark.parametrize("name", LOOKS)
def test_a_starter_s_settings_lie_where_the_interface_offers_them(name):
    for here, _, made in each_step(LOOKS[name].steps):
        assert isinstance(made.settings, Treatment)
        for field, info in type(made.settings).model_fields.items():
            extra = info.json_schema_extra
            value = getattr(made.settings, field)
            if isinstance(value, float) and "low" in extra:
                assert extra["low"] <= value <= extra["high"], f"{here}.{field}"


@pytest.mark.parametrize("name", LOOKS)
def test_a_still_clip_stays_still_but_for_what_is_lively(name):
    look = LOOKS[name].model_dump(mode="json")
    look["steps"] = [s for s in look["steps"] if not TREATMENTS[s["treatment"]].lively]
    picture = lamps(SIZE, 1)[0]
    path = Path(look_of(look), Pictures([picture] * 4), SIZE, PictureCache(1 << 26))
    np.testing.assert_array_equal(path.picture(0), path.picture(3))


@pytest.mark.parametrize("name", LOOKS)
def test_a_starter_keeps_detail_and_neither_crushes_nor_blows(name):
    with Footage(GLASSHOUSE) as footage:
        size = footage.size.with_height(270)
        result = Path(LOOKS[name], footage, size, PictureCache(1 << 28)).picture(60)
    assert (result < -0.01).mean() < 0.03
    assert (result > 1.01).mean() < 0.03
    assert result.std() > 0.08


def test_a_starter_file_says_no_more_than_it_must():
    from pathlib import Path as File

    for file in File(package.__file__).parent.glob("*.json"):
        data = json.loads(file.read_text())
        assert set(data) == {"says", "look"}
        assert set(data["look"]) == {"format", "name", "steps"}
