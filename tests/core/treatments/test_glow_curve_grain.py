"""Each treatment against the facts of its trade."""

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter

from tests.conftest import RecordingClip, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.core.treatments.glow import PARTS
from yearning.core.treatments.grain import CODE_PER_DENSITY, GAUGE_WIDTH, SPEEDS, Grain

LUMA = np.array([0.2126, 0.7152, 0.0722])[:, None, None]


def _run(picture, kind, settings=None, size=None, frame=1, **mix):
    size = size or Size(picture.shape[2], picture.shape[1])
    path = Evaluator(
        a_look(step(kind, settings, **mix)), RecordingClip([picture] * 3), size, Cache(1 << 28)
    )
    return path.picture(frame)


# Glow


@pytest.fixture(scope="module")
def scene():
    return np.clip(lamps(Size(480, 270))[0], 0, 1)


def _mid_mean(picture, of):
    luma = (LUMA * of).sum(axis=0)
    weight = 4 * luma * (1 - luma)
    return (weight * (LUMA * picture).sum(axis=0)).sum() / weight.sum()


def test_glow_lifts_and_hold_light_takes_the_lift_back_from_the_mid_tones(scene):
    free = _mid_mean(_run(scene, "glow", {"keep_midtones": 0, "threshold": 0.3}), scene)
    held = _mid_mean(_run(scene, "glow", {"keep_midtones": 1, "threshold": 0.3}), scene)
    plain = _mid_mean(scene, scene)
    assert free - plain > 0.01
    assert abs(held - plain) < 0.06 * (free - plain)


def test_hold_light_holds_the_clips_mid_tones_within_a_hundredth():
    """Over the clip; a lamp that comes and goes lifts its own frames, and no other sinks for it."""
    size = Size(640, 360)
    pictures = lamps(size, 7)
    for n in (2, 3):
        pictures[n][:, 100:140, 300:340] = 1.0
    glow = step("glow", {"keep_midtones": 1, "threshold": 0.4, "temporal_smoothing": 0})
    path = Evaluator(a_look(glow), RecordingClip(pictures), size, Cache(1 << 28))
    results = [path.picture(n) for n in range(7)]
    before = np.mean([_mid_mean(p, p) for p in pictures])
    after = np.mean([_mid_mean(r, p) for r, p in zip(results, pictures, strict=True)])
    assert after == pytest.approx(before, rel=0.01)
    dim = [0, 1, 4, 5, 6]
    lifts = [_mid_mean(results[n], pictures[n]) - _mid_mean(pictures[n], pictures[n]) for n in dim]
    assert np.ptp(lifts) < 0.15 * np.mean(np.abs(lifts)) + 1e-3


def test_light_beyond_white_glows_as_much_as_it_is():
    picture = np.zeros((3, 180, 320), np.float32)
    picture[:, 85:95, 155:165] = 1.0
    how = {"keep_midtones": 0, "temporal_smoothing": 0, "linear": True, "warmth": 0}
    white = _run(picture, "glow", how, blend="normal", amount=1.0)
    lamp = _run(2 * picture, "glow", how, blend="normal", amount=1.0)
    # twice the code is 2^2.4 times the light, which the blur spreads
    np.testing.assert_allclose(lamp, 2 * white, atol=2e-4)


def test_hold_light_leaves_black_black():
    picture = np.zeros((3, 90, 160), np.float32)
    picture[:, 30:60, 60:90] = 1
    picture[:, :, 100:] = 0.4
    result = _run(picture, "glow", {"keep_midtones": 1})
    assert result[:, :, :100].min() >= -1e-6


def test_nothing_glows_below_its_light(scene):
    dim = scene * 0.3
    np.testing.assert_allclose(_run(dim, "glow", {"threshold": 0.5}), dim, atol=1e-6)


def test_a_glow_has_no_visible_edge():
    picture = np.zeros((3, 540, 960), np.float32)
    picture[:, 262:278, 472:488] = 1
    row = _run(picture, "glow", {"keep_midtones": 0, "temporal_smoothing": 0})[1, 270, 500:900]
    steps = np.diff(row)
    assert steps.max() <= 1e-5  # it only falls
    assert np.abs(np.diff(steps)[10:]).max() < 1 / 1000  # and bends softly


def test_warmth_tints_without_changing_luma():
    picture = np.full((3, 60, 100), 0.9, np.float32)
    how = {"keep_midtones": 0, "threshold": 0.2}
    cool = _run(picture, "glow", how | {"warmth": 0}, blend="normal", amount=1.0)
    warm = _run(picture, "glow", how | {"warmth": 1}, blend="normal", amount=1.0)
    assert warm[0].mean() > cool[0].mean() > warm[2].mean()
    np.testing.assert_allclose((LUMA * warm).sum(axis=0), (LUMA * cool).sum(axis=0), atol=1e-5)


@pytest.mark.parametrize("spread", [3, 12, 52, 140])
def test_the_glow_is_the_exact_sum_of_three_gaussians(spread):
    """Against scipy in float64, on what a soft knee lets through of lamps: error under 1/1000."""
    size = Size(640, 360)
    picture = np.clip(lamps(size)[0], 0, 1.2)
    luma = (LUMA * picture).sum(axis=0)
    t = np.clip((luma - 0.55) / 0.3, 0, 1)
    bright = (t * t * (3 - 2 * t) * picture).astype(np.float64)
    sigma = spread * size.scale
    exact = sum(
        weight * np.stack([gaussian_filter(p, sigma * part, mode="reflect") for p in bright])
        for part, weight in PARTS
    )
    how = {"spread": spread, "keep_midtones": 0, "temporal_smoothing": 0, "warmth": 0}
    found = _run(picture, "glow", how, blend="normal", amount=1.0)
    assert np.abs(found - exact).max() < 1e-3


def test_the_glow_spreads_light_and_adds_none():
    assert sum(weight for _, weight in PARTS) == pytest.approx(1)
    picture = np.zeros((3, 540, 960), np.float32)
    picture[:, 265:275, 475:485] = 1
    how = {"spread": 20, "keep_midtones": 0, "temporal_smoothing": 0, "warmth": 0}
    glow = _run(picture, "glow", how, blend="normal", amount=1.0)
    assert glow.sum() == pytest.approx(picture.sum(), rel=1e-3)


@pytest.mark.parametrize("linear", [False, True])
def test_gain_makes_a_small_lamp_s_haze_wide_and_has_no_edge(linear):
    """Each of the three gaussians as 1 − (1 − h)ⁿ, n = gain to the 1.5th, 3rd and 4.5th power."""
    picture = np.zeros((3, 540, 960), np.float32)
    picture[:, 264:276, 474:486] = 1
    how = {
        "spread": 200,
        "keep_midtones": 0,
        "temporal_smoothing": 0,
        "warmth": 0,
        "linear": linear,
    }
    plain, strong = (
        _run(picture, "glow", how | {"gain": gain}, blend="normal", amount=1.0)[1]
        for gain in (1.0, 4.0)
    )
    exact = sum(
        weight * (1 - (1 - gaussian_filter(picture[1].astype(float), 100 * part)) ** 4.0**power)
        for (part, weight), power in zip(PARTS, (1.5, 3.0, 4.5), strict=True)
    )
    found = strong**2.4 if linear else strong
    assert np.abs(found - exact).max() < 0.01  # where the narrowest is steep; else under 1e-3
    assert np.median(np.abs(found - exact)) < 1e-3
    assert strong[270, 580] > max(0.03, 3 * plain[270, 580])  # one spread away
    assert strong.max() <= 1
    steps = np.abs(np.diff(strong[270]))
    assert steps.max() < 0.02
    assert not _run(picture, "glow", how | {"gain": 0}, blend="normal", amount=1.0).any()


def test_gain_on_light_far_beyond_white_stays_within_it():
    picture = np.full((3, 90, 160), 3.0, np.float32)
    how = {"gain": 4, "keep_midtones": 0, "temporal_smoothing": 0, "warmth": 0}
    np.testing.assert_allclose(_run(picture, "glow", how, blend="normal", amount=1.0), 3, rtol=1e-3)


@pytest.mark.parametrize("move", [0.25, 0.5, 0.75])
def test_a_lamp_that_moves_by_parts_of_a_pixel_glows_evenly(move):
    """The reduced picture's blocks must not show when a small lamp crosses them."""
    y, x = np.mgrid[0:270, 0:480]

    def light_of(at):
        spot = np.exp(-((x - 240 - at) ** 2 + (y - 135) ** 2) / 6).astype(np.float32)
        how = {"spread": 80, "keep_midtones": 0, "temporal_smoothing": 0, "threshold": 0.2}
        return _run(np.stack([spot] * 3), "glow", how, blend="normal", amount=1.0)

    peaks = [light_of(8 * n + move).max() for n in range(4)]
    assert max(peaks) - min(peaks) < 0.01 * max(peaks)


@pytest.mark.parametrize("linear", [False, True])
@pytest.mark.parametrize("size", [Size(321, 181), Size(322, 183), Size(97, 51)])
def test_a_glow_reaches_edges_no_block_divides(linear, size):
    flat = np.full((3, size.height, size.width), 0.9, np.float32)
    how = {
        "spread": 200,
        "keep_midtones": 0,
        "temporal_smoothing": 0,
        "linear": linear,
        "warmth": 0,
    }
    glow = _run(flat, "glow", how, size, blend="normal", amount=1.0)
    np.testing.assert_allclose(glow, 0.9, atol=2e-4)


def test_settle_spreads_a_flash_over_its_neighbours():
    dark, flash = np.full((2, 3, 60, 100), 0.2, np.float32)
    flash = flash + 0.75
    pictures = RecordingClip([dark, dark, flash, dark, dark])
    lift = {}
    for settle in (0, 1, 2):
        path = Evaluator(
            a_look(step("glow", {"temporal_smoothing": settle, "keep_midtones": 0})),
            pictures, Size(100, 60), Cache(1 << 26),
        )  # fmt: skip
        lift[settle] = [float((path.picture(n) - pictures.pictures[n]).mean()) for n in range(5)]
    assert lift[0][1] == pytest.approx(0, abs=1e-6)
    # binomial weights 1 2 1: a quarter of the glow one frame away
    assert lift[1][1] > 0.02
    assert lift[1][0] == pytest.approx(0, abs=1e-6)
    assert lift[2][0] > 0.002


# Curve


def test_a_straight_curve_changes_nothing(scene):
    np.testing.assert_array_equal(_run(scene, "curve"), scene)


def test_the_luma_curve_keeps_colour_differences(scene):
    result = _run(scene, "curve", {"luma": [[0, 0.1], [0.5, 0.6], [1, 0.9]]})
    before, after = scene[0] - scene[2], result[0] - result[2]
    np.testing.assert_allclose(before, after, atol=1e-5)


def test_raising_the_black_end_fades_black():
    black = np.zeros((3, 4, 4), np.float32)
    result = _run(black, "curve", {"luma": [[0, 0.06], [0.25, 0.22], [1, 1]]})
    np.testing.assert_allclose(result, 0.06, atol=1e-5)


def test_channel_curves_move_their_channel_alone(scene):
    result = _run(scene, "curve", {"green": [[0, 0], [0.5, 0.7], [1, 1]]})
    np.testing.assert_array_equal(result[[0, 2]], scene[[0, 2]])
    assert (result[1] - scene[1]).max() > 0.1


# Grain


def _grain(settings, level=0.5, size=Size(1920, 1080), frame=1):
    flat = np.full((3, size.height, size.width), level, np.float32)
    return _run(flat, "grain", settings, size, frame) - level


def test_grain_keeps_the_mean_and_is_strongest_in_mid_tones():
    rms = {level: _grain({}, level).std() for level in (0.02, 0.5, 0.98)}
    assert abs(_grain({}).mean()) < 2e-4
    assert rms[0.5] > 2 * rms[0.02] > 0
    assert rms[0.5] > 2 * rms[0.98] > 0


RMS = {8: 0.0177, 16: 0.0172, 35: 0.0153}
"""Of mono grain in middle grey by gauge, as first measured here."""


@pytest.mark.parametrize("gauge", RMS)
def test_mono_grain_is_as_strong_as_a_print_s(gauge):
    # common practice, no source: 2 to 5 % of noise, then a blur of less than a pixel, here 0.7;
    # a Gaussian of that sigma leaves 1 / (2 sqrt(pi) sigma) of the noise
    softened = 1 / (2 * np.sqrt(np.pi) * 0.7)
    rms = _grain({"gauge": gauge, "colour": 0}).std()
    assert 0.02 * softened < rms < 0.05 * softened
    assert rms == pytest.approx(RMS[gauge], rel=0.03)


def test_a_smaller_gauge_and_a_faster_film_show_more_grain():
    by_gauge = [_grain({"gauge": g, "colour": 0}).std() for g in (35, 16, 8)]
    by_speed = [_grain({"coarseness": s, "colour": 0}).std() for s in ("fine", "medium", "coarse")]
    assert by_gauge == sorted(by_gauge)
    assert by_speed == sorted(by_speed)


def test_a_smaller_gauge_has_larger_grain():
    def neighbour_correlation(gauge):
        noise = _grain({"gauge": gauge, "colour": 0, "clumping": 0})[0]
        return np.corrcoef(noise[:, :-1].ravel(), noise[:, 1:].ravel())[0, 1]

    found = [neighbour_correlation(gauge) for gauge in (35, 16, 8)]
    assert found == sorted(found)
    assert found[2] > 0.5


def _under_square_apertures(noise, side):
    height, width = (n // side * side for n in noise.shape)
    tiles = noise[:height, :width].reshape(height // side, side, width // side, side)
    return tiles.mean(axis=(1, 3)).std()


@pytest.mark.parametrize("speed", ["fine", "medium", "coarse"])
def test_grain_has_the_films_granularity_and_follows_selwyns_law(speed):
    how = {"gauge": 8, "coarseness": speed, "colour": 0, "clumping": 0, "response_mid": 1}
    noise = _grain(how)[0] / CODE_PER_DENSITY
    pixel = 1000 * GAUGE_WIDTH[8] / 1920  # µm
    # ISO 10505's round aperture of 48 µm, as a square of its area: 42.5 µm, 14 pixels
    side = round(np.sqrt(np.pi) * 24 / pixel)
    assert _under_square_apertures(noise, side) == pytest.approx(SPEEDS[speed][0], rel=0.06)
    # Selwyn: σ·√A is constant once apertures are large against the grain
    wide, wider = (_under_square_apertures(noise, n) * n for n in (36, 72))
    assert wider == pytest.approx(wide, rel=0.15)


@pytest.mark.parametrize("gauge", [8, 16, 35])
def test_grain_is_as_fine_across_as_down(gauge):
    noise = _grain({"gauge": gauge, "coarseness": "fine", "colour": 0, "clumping": 0})[0]
    across = np.corrcoef(noise[:, :-1].ravel(), noise[:, 1:].ravel())[0, 1]
    down = np.corrcoef(noise[:-1].ravel(), noise[1:].ravel())[0, 1]
    assert across == pytest.approx(down, abs=0.02)


def test_free_grain_has_the_strength_asked_for():
    assert _grain({"gauge": "free", "strength": 0.04, "size": 2}).std() == pytest.approx(
        0.04, rel=0.05
    )


def test_cadence_holds_grain_for_its_frames():
    path = Evaluator(
        a_look(step("grain", {"interval": 2})),
        RecordingClip([np.full((3, 90, 160), 0.5, np.float32)] * 6),
        Size(160, 90),
        Cache(1 << 26),
    )
    frames = [path.picture(n) for n in range(4)]
    np.testing.assert_array_equal(frames[0], frames[1])
    assert np.abs(frames[1] - frames[2]).max() > 0.01


def test_colour_parts_the_channels():
    def likeness(colour):
        noise = _grain({"colour": colour, "clumping": 0}, size=Size(960, 540))
        return np.corrcoef(noise[0].ravel(), noise[1].ravel())[0, 1]

    assert likeness(0) == pytest.approx(1)
    assert likeness(1) == pytest.approx(0, abs=0.02)
    assert 0.2 < likeness(0.5) < 0.9


def test_grain_looks_the_same_for_ever():
    early, late = _grain({}, frame=0), _grain({}, frame=2)
    assert early.std() == pytest.approx(late.std(), rel=0.01)
    assert abs(np.corrcoef(early.ravel(), late.ravel())[0, 1]) < 0.01


def test_the_gauge_may_be_written_as_a_word_or_a_number():
    assert Grain(gauge="16") == Grain(gauge=16)
