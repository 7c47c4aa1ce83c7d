"""Slices, lines, static and tape against what they say of themselves."""

import math

import numpy as np
import pytest
from scipy.stats import chi2, kstest

from tests.conftest import RecordingClip, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.filters import area_resized
from yearning.core.picture import Box, Size
from yearning.core.treatment.assets import NO_ASSETS
from yearning.core.treatment.base import FrameContext
from yearning.core.treatments.slices import Slices
from yearning.core.treatments.static import FULL, Static
from yearning.core.treatments.tape import Tape

SIZE = Size(480, 270)
LUMA = np.array([0.2126, 0.7152, 0.0722])[:, None, None]


@pytest.fixture(scope="module")
def shot():
    return lamps(SIZE, 1)[0]


def run(kind, settings, picture, frame=0):
    size = Size(picture.shape[2], picture.shape[1])
    path = Evaluator(
        a_look(step(kind, settings)), RecordingClip([picture] * (frame + 1)), size, Cache(1 << 27)
    )
    return path.picture(frame)


# Slices


def slices_at(frame, size, full=Size(1920, 1080), **settings):
    box = Box(0, 0, *size)
    return Slices(**settings).prepare(FrameContext(frame, size, full, None, box, box, NO_ASSETS))


@pytest.mark.parametrize("shape", ["bands", "blocks"])
def test_slices_of_a_seed_are_the_same_at_any_size(shape):
    full = slices_at(5, Size(1920, 1080), shape=shape, count=30)
    small = slices_at(5, Size(480, 270), shape=shape, count=30)
    np.testing.assert_allclose(small, full / 4)
    assert np.all(full == np.rint(full))


def test_a_pattern_is_held_and_then_another_comes():
    patterns = [slices_at(n, Size(1920, 1080), hold=4) for n in range(12)]
    for n in range(12):
        assert np.array_equal(patterns[n], patterns[n - n % 4])
    assert not np.array_equal(patterns[0], patterns[4])


def test_more_slices_leave_those_that_are_there_where_they_are():
    few, many = (slices_at(3, Size(1920, 1080), count=n) for n in (6, 20))
    np.testing.assert_array_equal(many[:6], few)


def test_slices_lie_evenly_over_the_picture_and_are_thrown_both_ways():
    thrown = np.concatenate([slices_at(n, Size(1920, 1080), count=40, hold=1) for n in range(25)])
    middle = (thrown[:, 1] + thrown[:, 3]) / 2 / 1080
    assert kstest(np.clip(middle, 0, 1), "uniform").statistic < 0.06
    assert abs(np.mean(thrown[:, 5] > 0) - 0.5) < 0.06
    assert np.abs(thrown[:, 5]).max() <= 110


def test_a_thrown_row_is_the_row_moved_by_whole_pixels_and_mirrored(shot):
    settings = {"count": 4, "height": 120, "throw": 400, "channel_throw": 80, "seed": 2}
    found = run("slices", settings, shot)
    _, top, _, bottom, *throws = slices_at(0, SIZE, full=SIZE, **settings)[-1].astype(int)
    wide = np.pad(shot, ((0, 0), (0, 0), (300, 300)), mode="symmetric")
    for c, by in enumerate(throws):
        for y in range(max(top, 0), min(bottom, SIZE.height)):
            line = wide[c, y, 300 - by : 300 - by + SIZE.width]
            np.testing.assert_array_equal(found[c, y], line)


def test_a_placed_block_is_thrown_and_the_rest_stays(shot):
    block = {"left": 0.25, "top": 0.5, "width": 0.25, "height": 0.2, "throw": 160}
    found = run("slices", {"count": 0, "placed": [block]}, shot)
    landed = np.s_[:, 135:189, 160:280]  # 40 pixels on, over what is there
    np.testing.assert_array_equal(found[landed], shot[:, 135:189, 120:240])
    found = found.copy()
    found[landed] = shot[landed]
    np.testing.assert_array_equal(found, shot)


def test_a_block_s_channels_land_apart(shot):
    settings = {"shape": "blocks", "count": 1, "throw": 0, "channel_throw": 100, "seed": 5}
    found = run("slices", settings, shot)
    left, top, right, bottom, *throws = slices_at(0, SIZE, full=SIZE, **settings)[0].astype(int)
    assert throws[0] == -throws[2] != 0
    for c, by in enumerate(throws):
        changed = np.flatnonzero(np.any(found[c] != shot[c], axis=0))
        if by == 0:
            assert len(changed) == 0
        else:
            assert left + by <= changed.min() <= changed.max() < right + by
    rows = np.flatnonzero(np.any(found != shot, axis=(0, 2)))
    assert top <= rows.min() <= rows.max() < bottom


# Lines


@pytest.mark.parametrize("softness", [0.0, 0.4, 1.0])
@pytest.mark.parametrize("pitch", [7.0, 40.0])
def test_lines_darken_by_half_of_their_darkness_and_no_pitch_aliases(pitch, softness):
    picture = np.full((3, 1080, 8), 0.8, np.float32)
    found = run("lines", {"pitch": pitch, "darkness": 0.5, "softness": softness}, picture)
    rows = found[0, :, 0] / 0.8
    assert rows[: int(1080 // pitch * pitch)].mean() == pytest.approx(0.75, abs=1e-3)
    assert rows.min() >= 0.5 - 1e-6
    small = run("lines", {"pitch": pitch, "darkness": 0.5, "softness": softness}, picture[:, ::4])
    np.testing.assert_allclose(area_resized(found, Size(8, 270)), small, atol=1e-5)


def test_lines_roll_by_their_number_in_24_frames():
    picture = np.full((3, 1080, 4), 0.8, np.float32)
    settings = {"pitch": 40, "roll": 3}
    still, half, whole = (run("lines", settings, picture, n)[0, :, 0] for n in (0, 4, 8))
    np.testing.assert_allclose(whole, still, atol=1e-5)
    np.testing.assert_allclose(half[20:], still[:-20], atol=1e-5)


# Static


@pytest.mark.parametrize("colour", [0.0, 0.4, 1.0])
def test_static_is_as_loud_as_it_says_and_has_the_colour_it_says(colour):
    grey = np.full((3, 540, 960), 0.5, np.float32)
    settings = {"strength": 0.3, "size": 1, "colour": colour, "dropouts": 0}
    noise = run("static", settings, grey) - grey
    at_1080 = run("static", settings, np.full((3, 1080, 400), 0.5, np.float32)) - 0.5
    assert at_1080.std() == pytest.approx(0.3 * FULL, rel=0.03)
    shared = np.corrcoef(noise[0].ravel(), noise[1].ravel())[0, 1]
    assert shared == pytest.approx((1 - colour) ** 2 / (colour**2 + (1 - colour) ** 2), abs=0.02)


def test_dropouts_come_as_poisson_has_it():
    counts = [len(Static(dropouts=72)._dropouts(n, SIZE)) for n in range(600)]
    assert np.mean(counts) == pytest.approx(3, abs=0.25)
    assert chi2.cdf(np.var(counts) / np.mean(counts) * 599, 599) < 0.999


def test_a_dropout_is_there_at_once_and_fades_along_its_line():
    """To e⁻³ over its length, as large as it is bright and high, and nothing before it."""
    settings = {"strength": 0, "dropouts": 24}
    alone = [Static(**settings)._dropouts(n, SIZE) for n in range(60)]
    tried = [(n, found[0]) for n, found in enumerate(alone) if len(found) == 1]
    assert len(tried) > 10
    grey = np.full((3, SIZE.height, SIZE.width), 0.5, np.float32)
    for pattern, (left, top, bottom, long, bright) in tried:
        more = (run("static", settings, grey, pattern) - grey).astype(float)
        assert (more == more[0]).all()
        x = np.arange(math.ceil(left), min(int(left + 2 * long), SIZE.width))
        faded = bright * (min(bottom, SIZE.height) - top) * np.exp(-3 * (x + 0.5 - left) / long)
        np.testing.assert_allclose(more[0].sum(axis=0)[x], faded, atol=1e-5)
        assert not more[0][:, : int(left)].any()
        assert not more[0][: int(top)].any()


def test_static_holds_its_pattern():
    grey = np.full((3, 54, 96), 0.5, np.float32)
    first, second, third = (run("static", {"hold": 2}, grey, n) for n in (0, 1, 2))
    np.testing.assert_array_equal(first, second)
    assert np.abs(third - first).max() > 0.05


# Tape


def test_tape_smears_colour_and_leaves_luma(shot):
    found = run("tape", {"jitter": 0, "head_switch": 0, "smear": 60}, shot)
    np.testing.assert_allclose((LUMA * found).sum(axis=0), (LUMA * shot).sum(axis=0), atol=1e-5)


def test_colour_runs_to_the_right_as_an_exponential():
    picture = np.full((3, 1080, 400), 0.4, np.float32)
    picture[0, :, 200:] = 0.9
    found = run("tape", {"jitter": 0, "head_switch": 0, "smear": 20}, picture)
    apart = (found[0] - (LUMA * found).sum(axis=0))[500]
    full = 0.5 * (1 - 0.2126)
    x = np.arange(120)
    np.testing.assert_allclose(apart[200:320], full * (1 - np.exp(-(x + 1) / 20)), atol=1e-4)
    np.testing.assert_allclose(apart[:200], 0, atol=1e-6)


def test_lines_tremble_no_further_than_they_may_and_the_heads_switch_below():
    def rows_moved(**settings):
        box = Box(0, 0, 1920, 1080)
        at = FrameContext(7, Size(1920, 1080), Size(1920, 1080), None, box, box, NO_ASSETS)
        return Tape(**settings).prepare(at).moved

    trembling = rows_moved(jitter=5, head_switch=0)
    assert 1 < trembling.std() < np.abs(trembling).max() <= 5
    skewed = rows_moved(jitter=0, head_switch=40, skew=100)
    assert np.all(skewed[:1020] == 0)
    assert np.all(np.abs(skewed[1075:]) > 50)
