"""The starter looks: whole, of their own, and steady."""

import json

import numpy as np
import pytest

import yearning as yn
from tests.conftest import BARGE, GLASSHOUSE, SIGNAL_TOWER, RecordingClip, lamps, lively
from yearning import starters as package
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import parse_look, walk_steps
from yearning.core.measure.flash_check import FlashAnalysis
from yearning.core.picture import Size
from yearning.core.treatment.base import Treatment
from yearning.media.decode.footage import Footage
from yearning.starters import starters

LOOKS = {starter.look.name: starter.look for starter in starters()}
SIZE = Size(192, 108)


def test_there_are_the_looks_that_are_asked_for_most_each_with_its_words():
    assert len(LOOKS) == len(starters()) >= 5
    words = " ".join(LOOKS).lower()
    for asked in ("mist", "monochrome", "cold shadows", "pop", "print"):
        assert asked in words
    assert all(10 < len(starter.summary) < 90 for starter in starters())


@pytest.mark.parametrize("name", LOOKS)
def test_a_starter_s_settings_lie_where_the_interface_offers_them(name):
    for here, _, made in walk_steps(LOOKS[name].steps):
        assert isinstance(made.settings, Treatment)
        for field, info in type(made.settings).model_fields.items():
            extra = info.json_schema_extra
            value = getattr(made.settings, field)
            if isinstance(value, float) and "soft_minimum" in extra:
                assert extra["soft_minimum"] <= value <= extra["soft_maximum"], f"{here}.{field}"


@pytest.mark.parametrize("name", LOOKS)
def test_a_still_clip_stays_still_but_for_what_is_lively(name):
    look = LOOKS[name].model_dump(mode="json")
    look["steps"] = [s for s in look["steps"] if not lively(s["treatment"])]
    picture = lamps(SIZE, 1)[0]
    path = Evaluator(parse_look(look), RecordingClip([picture] * 4), SIZE, Cache(1 << 26))
    np.testing.assert_array_equal(path.picture(0), path.picture(3))


@pytest.fixture(scope="module")
def glasshouse():
    """The clip, and what is found of the whole of it, once for all looks."""
    with Footage(GLASSHOUSE) as footage:
        yield footage, Cache(1 << 26)


@pytest.mark.parametrize("name", LOOKS)
def test_a_starter_keeps_detail_and_neither_crushes_nor_blows(name, glasshouse):
    footage, of_clip = glasshouse
    size = footage.size.with_height(270)
    evaluator = Evaluator(LOOKS[name], footage, size, Cache(1 << 28), clip_cache=of_clip)
    result = evaluator.picture(60)
    assert (result < -0.01).mean() < 0.03
    assert (result > 1.01).mean() < 0.03
    assert result.std() > 0.08


def test_a_starter_file_says_no_more_than_it_must():
    files = set(package.FOLDER.glob("*.json")) - {package.FOLDER / "index.json"}
    for file in files:
        assert set(json.loads(file.read_text())) == {"format", "name", "steps"}
    index = json.loads((package.FOLDER / "index.json").read_text())
    assert {package.FOLDER / entry["file"] for entry in index} == files
    for entry in index:
        assert {"file", "summary"} <= set(entry) <= {"file", "summary", "bursts"}


def _starter_on(footage: Footage, name: str):
    """A starter as it is begun with on a clip."""
    begun = yn.starter(name, footage)
    for step in package.starter_named(name).bursts:
        assert 4 < len(begun[step].bursts) < 20
    return begun.document


GLITCHES = [
    name
    for name, look in LOOKS.items()
    if {"split", "slices", "static", "tape"} & {made.treatment for made in look.steps}
]


@pytest.mark.parametrize("clip", [BARGE, SIGNAL_TOWER], ids=lambda clip: clip.stem)
@pytest.mark.parametrize("name", GLITCHES)
def test_a_starter_that_breaks_the_picture_passes_the_flash_check(name, clip):
    with Footage(clip) as footage:
        check = FlashAnalysis(_starter_on(footage, name), footage, 24.0)
        for _ in check.run():
            pass
    assert check.report()["passes"]
    assert check.report()["footage"]["passes"]


def test_the_starters_of_ink_and_signal_are_there():
    asked = ("split hits", "broken signal", "news print", "comic", "photocopied", "painted")
    assert all(any(word in name.lower() for name in LOOKS) for word in asked)
    bursting = [starter for starter in starters() if starter.bursts]
    for starter in bursting:
        assert set(starter.bursts) <= {made.id for made in starter.look.steps}
    assert len(bursting) == 2
