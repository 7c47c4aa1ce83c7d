"""Halftone: dots as large as the tone, where the screen has them, and as still as the picture."""

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter

from tests.conftest import RecordingClip, a_look, step
from yearning.core.cache import Cache
from yearning.core.colour.hues import rgb_of
from yearning.core.engine.evaluator import Evaluator
from yearning.core.halftone.screens import cell_means, place_screen
from yearning.core.halftone.spot_functions import DOTS
from yearning.core.image.filters import area_resized
from yearning.core.picture import Size
from yearning.core.treatments.halftone import ANGLES, Halftone

BLACK_ON_WHITE = {"paper": "#ffffff", "ink": "#000000"}


def run(settings, clip, frame=0, size=None):
    clip = clip if isinstance(clip, list) else [clip] * (frame + 1)
    size = size or Size(clip[0].shape[2], clip[0].shape[1])
    look = a_look(step("halftone", settings))
    return Evaluator(look, RecordingClip(clip), size, Cache(1 << 28)).picture(frame)


def even_picture(colour, side=1080):
    return np.ones((3, side, side), np.float32) * np.array(colour, np.float32)[:, None, None]


def cells(picture, pitch):
    """The middle of it, a whole number of cells of a screen at 45° along each side."""
    side = int(pitch * 2**0.5 * round(700 / (pitch * 2**0.5)))
    return picture[:, 150 : 150 + side, 150 : 150 + side]


@pytest.mark.parametrize("dot", DOTS)
@pytest.mark.parametrize("settings", [{}, {"softness": 6}, {"pitch": 5}, {"roughness": 0.5}])
def test_the_area_of_a_dot_is_the_tone(dot, settings):
    """Murray–Davies: a = (R_paper − R) / (R_paper − R_ink) of the mean, within half a per cent."""
    paper, ink = "#f0e8d0", "#203040"
    pitch = settings.get("pitch", 14)
    white = rgb_of(paper).astype(float)
    black = white * rgb_of(ink)
    within = 0.005 if not settings.get("roughness") else 0.02
    for tone in np.linspace(0, 1, 9):
        how = {"dot": dot, "pitch": pitch, "paper": paper, "ink": ink} | settings
        mean = cells(run(how, even_picture([1 - tone] * 3, 1000)), pitch).mean(
            axis=(1, 2), dtype=float
        )
        np.testing.assert_allclose((white - mean) / (white - black), tone, atol=within)


def test_white_is_the_paper_and_black_the_ink_everywhere():
    for rough in (0, 1):
        how = {"paper": "#f0e8d0", "ink": "#203040", "roughness": rough}
        paper, ink = rgb_of("#f0e8d0"), rgb_of("#203040")
        white, black = (
            run(how, even_picture([1, 1, 1], 200)),
            run(how, even_picture([0, 0, 0], 200)),
        )
        np.testing.assert_allclose(white, paper[:, None, None] * np.ones_like(white), atol=1e-6)
        np.testing.assert_allclose(black, (paper * ink)[:, None, None] + 0 * black, atol=1e-6)


@pytest.mark.parametrize("inks", ["black", "two", "four"])
@pytest.mark.parametrize("turn", [0, 20])
def test_the_spectrum_has_its_peak_at_the_pitch_and_the_angle(inks, turn):
    """Common practice, no source: cyan 15°, magenta 75°, yellow 0°, black 45°."""
    pitch = 16
    lone = {  # a colour that asks for one ink alone, and the channel it is seen in
        ("black", 0): ([0.7] * 3, 1),
        ("two", 0): ([0.7] * 3, 0),
        ("two", 1): ([1.0, 0.6, 0.55], 1),
        ("four", 0): ([0.6, 0.83, 0.96], 0),
        ("four", 1): ([0.95, 0.6, 0.79], 1),
        ("four", 2): ([1.0, 0.96, 0.6], 2),
    }
    for n, angle in enumerate(ANGLES[inks]):
        if (inks, n) not in lone:
            continue
        colour, channel = lone[inks, n]
        found = run({"inks": inks, "pitch": pitch, "turn": turn}, even_picture(colour))[channel]
        window = np.hanning(1080)[:, None] * np.hanning(1080)
        power = np.abs(np.fft.rfft2((found - found.mean()) * window))
        ky, kx = np.unravel_index(power.argmax(), power.shape)
        fy, fx = np.fft.fftfreq(1080)[ky], np.fft.rfftfreq(1080)[kx]
        assert 1 / np.hypot(fx, fy) == pytest.approx(pitch, rel=0.02)
        apart = (np.degrees(np.arctan2(fy, fx)) - angle - turn) % 90
        assert min(apart, 90 - apart) < 1.5


@pytest.mark.parametrize("under", [0.0, 0.5])
def test_four_inks_together_are_the_colour_on_average(under):
    for colour in ([0.3, 0.55, 0.2], [0.8, 0.35, 0.25], [0.5, 0.5, 0.5], [0.15, 0.15, 0.15]):
        how = {"inks": "four", "pitch": 16, "paper": "#ffffff", "ucr": under}
        mean = run(how, even_picture(colour))[:, 100:980, 100:980].mean(axis=(1, 2))
        np.testing.assert_allclose(mean, colour, atol=0.012)


def test_two_inks_are_as_near_as_two_inks_can_be():
    how = {"inks": "two", "pitch": 16, "paper": "#ffffff", "ink": "#000000"}
    grey = run(how, even_picture([0.4] * 3))[:, 100:980, 100:980].mean(axis=(1, 2))
    np.testing.assert_allclose(grey, 0.4, atol=0.01)  # black alone
    spot = rgb_of("#e2452c")
    red = run(how, even_picture(spot))[:, 100:980, 100:980].mean(axis=(1, 2))
    np.testing.assert_allclose(red, spot, atol=0.02)  # the spot ink, everywhere


@pytest.mark.parametrize("degrees", [0.0, 15.0, 45.0])
def test_a_cell_takes_the_average_of_the_picture_over_it(degrees):
    """Against the mean of all pixels whose centres lie in the cell."""
    size, pitch = Size(960, 540), 64.0
    y, x = np.mgrid[:540, :960] + 0.5
    plane = (0.5 + 0.3 * np.sin(x / 37) * np.cos(y / 29) + 0.1 * np.sin(x / 9)).astype(np.float32)
    block = 4
    means = plane.reshape(135, 4, 240, 4).mean(axis=(1, 3))
    found = cell_means(means, block, size, pitch, degrees)
    screen, _ = place_screen(pitch, degrees, size, 1)
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    across, down = (x - 480) / 32, (y - 270) / 32
    u, v = np.rint(c * across + s * down), np.rint(c * down - s * across)
    for i, j in ((0, 0), (3, -2), (-5, 4), (7, 2)):
        exact = plane[(u == i) & (v == j)].mean()
        assert found[j - screen.top, i - screen.left] == pytest.approx(exact, abs=0.004)


def test_the_screen_is_fixed_to_the_frame_however_the_picture_moves():
    """Its phase in a pan is that of the still: the spectrum's peak has the same angle."""
    y, x = np.mgrid[:540, :960].astype(np.float32)
    clip = [
        np.stack([0.5 + 0.15 * np.sin((x + 9 * n) / 60)] * 3).astype(np.float32) for n in range(3)
    ]
    pitch = 24
    along = (x + y) / 2**0.5 / (pitch / 2)
    phases = []
    for n in range(3):
        found = run({"pitch": pitch, "temporal_smoothing": 1}, clip, n)[1]
        phases.append(np.angle(np.sum((found - found.mean()) * np.exp(-2j * np.pi * along))))
    assert np.ptp(np.unwrap(phases)) < 0.05


def test_settled_dots_are_stiller_on_noisy_footage():
    rng = np.random.default_rng(2)
    shot = np.stack([np.tile(np.linspace(0.1, 0.9, 480, dtype=np.float32), (270, 1))] * 3)
    clip = [(shot + rng.normal(0, 0.03, shot.shape)).astype(np.float32) for _ in range(6)]

    def change(settle):
        a, b = (run({"temporal_smoothing": settle, "pitch": 20}, clip, n) for n in (2, 3))
        return np.abs(a - b).mean()

    assert change(2) < 0.5 * change(0)


@pytest.mark.parametrize("lines", [270, 360, 581])
@pytest.mark.parametrize("inks", ["black", "four"])
def test_a_smaller_picture_shows_the_full_dots_averaged(lines, inks):
    y, x = np.mgrid[:1080, :1920].astype(np.float32) / 1080
    light = 0.5 + 0.4 * np.sin(2 * x + 1) * np.cos(3 * y)
    shot = np.stack([light, 0.9 * light, 0.1 + 0.7 * light])
    size = Size(1920, 1080).with_height(lines)
    how = {"inks": inks, "pitch": 10}
    small = run(how, shot, size=size)
    error = small - area_resized(run(how, shot), size)
    assert np.sqrt(np.mean(error**2)) < (0.02 if 1080 % lines == 0 else 0.03)
    assert np.abs(error.mean(axis=(1, 2))).max() < 0.001


def test_a_worn_edge_is_held_and_an_even_one_is_not_worn():
    shot = even_picture([0.5] * 3, 300)
    plain = run({"pitch": 20}, shot)
    worn, again = (run({"roughness": 1, "pitch": 20}, shot, n) for n in (0, 3))
    np.testing.assert_array_equal(worn, again)
    assert np.abs(worn - plain).mean() > 0.02


def test_halftone_reaches_for_the_frames_it_is_settled_over():
    assert Halftone(temporal_smoothing=3).neighbours() == (3, 3)


def local(values):
    """Means about each place, over more than a dot, without the picture's edges."""
    return gaussian_filter(values, 6)[24:-24, 24:-24]


@pytest.mark.parametrize("pixels", [0.6, 1.0, 1.48, 2.0, 2.7, 3.0, 3.5, 4.0])
@pytest.mark.parametrize("inks", ["black", "four"])
@pytest.mark.parametrize("dot", ["round", "line"])
def test_dots_too_fine_for_the_footage_do_not_beat_with_its_pixels(pixels, inks, dot):
    """A flat tone is as light everywhere, and its dots as strong, within 1 % of white."""
    size = Size(320, 272)
    for level in (0.25, 0.6):
        flat = np.full((3, size.height, size.width), level, np.float32)
        how = {
            "pitch": max(pixels / size.scale, 1.5),
            "inks": inks,
            "dot": dot,
            "softness": 0,
            "turn": 7,
        }
        light = run(how, flat)[1].astype(float)
        means = local(light)
        assert np.ptp(means) < 0.01
        assert np.ptp(np.sqrt(local((light - means.mean()) ** 2))) < 0.015
        white = rgb_of("#f5f1e6")[1]
        if inks == "black":
            printed = white * (level + (1 - level) * rgb_of("#1f1c1a")[1])
            assert means.mean() == pytest.approx(printed, abs=0.01)


def test_dots_of_four_pixels_are_seen_whole():
    flat = np.full((3, 272, 320), 0.5, np.float32)
    contrast = [
        run({"pitch": n * 1080 / 272, "softness": 0}, flat)[1].std() for n in (2.5, 3.2, 4, 8)
    ]
    assert contrast[0] < 1e-6
    assert 0.05 < contrast[1] < contrast[2]
    assert contrast[2] > 0.75 * contrast[3]
