"""A grade found for a clip: known grades are found again, and what is held stays."""

import numpy as np
import pytest

from yearning.core.engine.baking import apply_to_colours
from yearning.core.look.document import Look, parse_look
from yearning.core.measure.colour_match import HELD, colours_of, match_colours


def colours(seed=1, count=2400):
    """Colours of a scene: warm to cool, some of them greys, some skin."""
    rng = np.random.default_rng(seed)
    grey = np.repeat(rng.uniform(0.15, 0.8, (1, count // 3)), 3, axis=0)
    skin = np.array([[0.75], [0.55], [0.45]]) * rng.uniform(0.5, 1.1, count // 3)
    rest = rng.uniform(0.1, 0.8, (3, count - 2 * (count // 3)))
    return np.ascontiguousarray(np.concatenate([grey, skin, rest], axis=1), np.float32)


def grade_colours(seen, kind, **settings):
    step = {"id": "s", "treatment": kind, "settings": settings}
    look = parse_look({"format": "yearning-look/3", "name": "Known", "steps": [step]})
    return apply_to_colours(look, seen[:, None])[:, 0]


KNOWN = {
    "colder and darker": {"slope": [0.7, 0.8, 0.95], "offset": [0.02, 0.0, 0.03]},
    "lifted and pale": {"slope": [0.7, 0.7, 0.7], "offset": [0.15, 0.14, 0.12], "saturation": 0.6},
    "warmer": {"slope": [1.1, 1.0, 0.8], "power": [1.0, 1.0, 1.1]},
}


@pytest.mark.parametrize("name", KNOWN)
def test_a_grade_that_is_known_is_found_again(name):
    seen = colours()
    match = match_colours(seen, grade_colours(seen, "balance", mode="cdl", **KNOWN[name]))
    assert match.before > 12 / 255
    assert match.after < 1.5 / 255


@pytest.mark.parametrize("kind", HELD)
def test_what_is_held_keeps_its_hue_and_saturation(kind):
    """The grade takes the rest to the picture as far as one that is the same for all can."""
    like = grade_colours(colours(seed=2), "balance", mode="cdl", slope=[0.6, 0.8, 1.1])
    match = match_colours(colours(), like, [kind])
    [held] = match.held
    assert held.kind == kind
    assert held.share > 0.25
    assert held.off < 0.35 * held.unheld
    assert match.after < 0.8 * match.before


def test_skin_is_what_a_face_is_and_greys_are_not():
    """Chai and Ngan 1999: of a face, and of none of the six corners of the colour cube."""
    face = np.repeat(np.array([[0.78], [0.57], [0.47]], np.float32), 50, axis=1)
    corners = np.array([[1, 0, 0, 1, 1, 0], [0, 1, 0, 1, 0, 1], [0, 0, 1, 0, 1, 1]], np.float32)
    greys = np.repeat(np.linspace(0, 1, 50, dtype=np.float32)[None], 3, axis=0)
    like = colours(seed=3)
    for seen, share in ((face, 1), (corners, 0), (greys, 0)):
        assert match_colours(seen, like, ["skin"]).held[0].share == share
    assert match_colours(greys, like, ["greys"]).held[0].share == 1


@pytest.mark.parametrize("seen", ["one colour", "black", "white"])
def test_clips_without_contrast_get_a_grade_of_finite_settings(seen):
    level = {"one colour": [0.5, 0.4, 0.3], "black": [0, 0, 0], "white": [1, 1, 1]}[seen]
    flat = np.repeat(np.array(level, np.float32)[:, None], 500, axis=1)
    match = match_colours(flat, colours(), HELD)
    assert match.after <= match.before
    assert match_colours(colours(), flat).after < 0.05


def test_the_same_colours_get_a_grade_that_changes_nothing_to_speak_of():
    seen = colours()
    match = match_colours(seen, seen)
    look = Look.model_validate(
        {"format": "yearning-look/3", "name": "Same", "steps": [match.step.model_dump(mode="json")]}
    )
    assert np.abs(apply_to_colours(look, seen[:, None])[:, 0] - seen).max() < 4 / 255
    assert match == match_colours(seen, seen)


def test_colours_of_a_small_picture_are_all_of_them():
    picture = np.random.default_rng(0).random((3, 4, 5), np.float32)
    np.testing.assert_array_equal(colours_of(picture), picture.reshape(3, -1))
