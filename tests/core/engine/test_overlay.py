"""What a look lays over its footage, taken alone, is laid back as the look itself would be."""

import numpy as np
import pytest

from tests.conftest import RecordingClip, a_look, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.overlay import overlay_sequence, triangulation_matte
from yearning.core.picture import Size

SIZE = Size(160, 90)


def test_colour_and_alpha_of_a_known_layer_are_found():
    """T. Porter and T. Duff, Compositing Digital Images, SIGGRAPH 1984: `over`."""
    noise = np.random.default_rng(4)
    colour = noise.random((3, 40, 60), np.float32)
    alpha = noise.random((40, 60), np.float32)
    alpha[:10] = 0
    found, cover = triangulation_matte(alpha * colour, alpha * colour + (1 - alpha))
    np.testing.assert_allclose(cover, alpha, atol=1e-6)
    np.testing.assert_allclose(cover * found, alpha * colour, atol=1e-6)
    assert not found[:, :10].any()


def test_what_is_lighter_than_white_is_cut_before():
    found, cover = triangulation_matte(
        np.full((3, 1, 1), 0.25, np.float32), np.full((3, 1, 1), 1.25, np.float32)
    )
    assert (cover[0, 0], found[0, 0, 0]) == (0.25, 1)


@pytest.mark.parametrize(
    "steps",
    [
        [step("dust", {"specks": 200})],
        [step("flurry", {})],
        [step("vignette", {"stops": -2})],
        [step("dust", {"specks": 200}), step("vignette", {})],
    ],
    ids=["dust", "flurry", "vignette", "two steps"],
)
def test_laid_over_a_clip_it_is_what_the_look_makes_of_it(steps):
    noise = np.random.default_rng(9)
    clip = RecordingClip([noise.random((3, *SIZE[::-1]), np.float32) for _ in range(4)])
    look = a_look(*steps)
    one_by_one = Evaluator(look, clip, SIZE, Cache(0), keep="nothing")
    touched = 0.0
    for frame, colour, alpha in overlay_sequence(look, clip, SIZE, range(1, 4), 2):
        below, expected = clip.picture(frame, SIZE), one_by_one.picture(frame)
        laid = alpha * colour + (1 - alpha) * below
        np.testing.assert_allclose(laid, expected.clip(0, 1), atol=2e-5)
        touched += float(alpha.max())
    assert touched > 0.3


def test_nothing_is_laid_over_where_the_look_is_empty():
    clip = RecordingClip([np.full((3, *SIZE[::-1]), 0.4, np.float32)])
    ((_, colour, alpha),) = overlay_sequence(a_look(), clip, SIZE, range(1), 1)
    assert not colour.any()
    assert not alpha.any()
