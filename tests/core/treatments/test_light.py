"""Halation and leaks: rings of the right form and colour, light that drifts and never jumps."""

from itertools import pairwise

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter

from tests.conftest import RecordingClip, a_look, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.core.treatments.halation import HOLLOW, NEAR, SEES_RED, SHARES, Halation, _ring

SIZE = Size(640, 360)
GAMMA = 2.4


def run(kind, settings, picture, frame=0, size=SIZE):
    pictures = [picture] * (frame + 2)
    path = Evaluator(a_look(step(kind, settings)), RecordingClip(pictures), size, Cache(1 << 28))
    return path.picture(frame)


def lamp(value=1.0):
    picture = np.zeros((3, 360, 640), np.float32)
    picture[:, 176:184, 316:324] = value
    return picture


def test_a_ring_has_an_energy_of_one_and_nothing_at_its_middle():
    assert sum(weight for _, weight in _ring(9.0)) == pytest.approx(1)
    spot = np.zeros((301, 301))
    spot[150, 150] = 1
    ring = sum(w * gaussian_filter(spot, s) for s, w in _ring(9.0))
    assert ring[150, 150] == pytest.approx(0, abs=1e-6)
    assert ring.min() > -1e-7
    assert 6 < np.argmax(ring[150, 150:]) < 14


@pytest.mark.parametrize("spread", [12, 40])
def test_the_returned_light_is_the_exact_sum_of_rings(spread):
    """Against scipy in float64, in light: within 1/500 of full scale, in display-coded values."""
    settings = {"spread": spread, "strength": 1.0, "threshold": 0.5, "wide_light": 1.0}
    found = run("halation", settings, lamp())
    light = (sum(SEES_RED) * lamp()[0]).astype(np.float64)
    halation, exact = Halation(**settings), np.zeros((3, 360, 640))
    for share, part, more in zip(SHARES, (1, NEAR), (0, 18.0), strict=True):
        sigma = spread * part * SIZE.scale
        k = HOLLOW**2
        wide, narrow = (gaussian_filter(light, s, mode="reflect") for s in (sigma, HOLLOW * sigma))
        ring = np.maximum((wide - k * narrow) / (1 - k), 0)
        exact += share * np.array(halation._tint(more))[:, None, None] * ring
    dark = lamp()[0] == 0
    seen = exact > 1e-4
    error = (found.astype(np.float64) ** GAMMA - exact)[:, dark][seen[:, dark]]
    assert np.abs(error).max() < 2e-3


def test_halation_is_red_outside_orange_near_and_leaves_white_white():
    result = run("halation", {"strength": 1.0}, lamp())
    light = result[:, 180].astype(np.float64) ** GAMMA
    np.testing.assert_allclose(result[:, 180, 320], 1, atol=1e-4)
    near, far = light[:, 326], light[:, 340]
    assert near[0] > near[1] > near[2]
    assert far[1] / far[0] < near[1] / near[0]


def test_a_narrow_dark_figure_before_a_wide_sky_is_not_red_all_over():
    """Beside a lamp it is as red as ever; beside a sky by less than a tenth of that light."""
    sky = np.full((3, 360, 640), 0.95, np.float32)
    sky[:, 100:, 310:330] = 0.02
    night = np.full_like(sky, 0.02)
    night[:, 176:184, 336:344] = 1

    def light_returned(picture, **settings):
        found = run("halation", {"strength": 1.0} | settings, picture)[0, 180, 318:322]
        return float((found**GAMMA - 0.02**GAMMA).mean())

    assert light_returned(sky) < 0.1 * light_returned(sky, wide_light=1.0)
    assert light_returned(night) > 0.8 * light_returned(night, wide_light=1.0) > 1e-4


def test_a_clip_below_its_light_has_no_halation():
    dim = np.full((3, 360, 640), 0.5, np.float32)
    np.testing.assert_array_equal(run("halation", {"threshold": 0.6}, dim), dim)
    veiled = run("halation", {"threshold": 0.6, "mid_warmth": 1.0}, dim)
    assert (veiled - dim).mean(axis=(1, 2)) @ [1, -1, 0] > 0.005


@pytest.mark.parametrize("edge", ["left", "right", "top", "bottom", "top left", "bottom right"])
def test_a_leak_comes_from_its_edge_and_drifts_without_a_jump(edge):
    black = np.full((3, 360, 640), 0.1, np.float32)
    settings = {"from_edge": edge, "position": 0.5, "drift": 1, "breathe": 1}
    frames = [run("leak", settings, black, n) for n in range(60)]
    plane = frames[30][0]
    at = {"left": plane[:, :90], "right": plane[:, -90:], "top": plane[:90], "bottom": plane[-90:]}
    sides = edge.split()
    shone = np.mean([at[s].mean() for s in sides])
    dark = {"left": "right", "right": "left", "top": "bottom", "bottom": "top"}
    assert shone > np.mean([at[dark[s]].mean() for s in sides]) + 0.05
    steps = [np.abs(b - a).max() for a, b in pairwise(frames)]
    assert 0 < min(steps) <= max(steps) < 0.03


def test_a_leaks_heart_is_pale_and_its_end_red():
    black = np.zeros((3, 360, 640), np.float32)
    light = run("leak", {"drift": 0, "breathe": 0}, black).astype(np.float64) ** GAMMA
    red = light[0]
    bright, faint = red > 0.7 * red.max(), (red > 0.02 * red.max()) & (red < 0.08 * red.max())
    assert (
        light[1][bright].sum() / red[bright].sum() > 2.5 * light[1][faint].sum() / red[faint].sum()
    )


def hue_and_luma(rgb):
    red, green, blue = np.asarray(rgb, np.float64)
    return np.degrees(np.arctan2(np.sqrt(3) * (green - blue), 2 * red - green - blue)), (
        0.2126 * red + 0.7152 * green + 0.0722 * blue
    )


def test_a_leak_on_a_pale_sky_is_of_its_hue_and_nearly_as_light():
    sky = np.broadcast_to(np.float32([0.84, 0.87, 0.9])[:, None, None], (3, 360, 640)).copy()
    still = {"drift": 0, "breathe": 0, "reach": 0.6}
    plain, tinted = (run("leak", still | {"on_pale": k}, sky) for k in (0, 1))
    at = np.unravel_index(tinted[2].argmin(), tinted[2].shape)
    before, faint, full = (each[:, at[0], at[1]] for each in (sky, plain, tinted))
    assert np.ptp(faint) < 0.12  # without it a sky has no room for light
    assert np.ptp(full) > max(0.3, 2.5 * np.ptp(faint))
    hue, luma = hue_and_luma(full)
    assert 10 < hue < 45  # orange
    assert hue_and_luma(before)[1] * 0.85 < luma <= 1
    assert tinted.max() <= 1
    half = run("leak", still | {"on_pale": 0.5}, sky)
    assert (np.sort([plain, half, tinted], axis=0)[1] == half).mean() > 0.99


def test_a_leak_in_the_dark_is_as_it_was_without_pale_parts():
    black = np.zeros((3, 360, 640), np.float32)
    np.testing.assert_allclose(
        run("leak", {"on_pale": 1}, black), run("leak", {"on_pale": 0}, black), atol=2e-6
    )


@pytest.mark.parametrize("edge", ["left", "right", "top", "bottom", "top left", "bottom right"])
def test_placed_lobes_come_in_where_they_are_placed_and_add_up(edge):
    black = np.zeros((3, 360, 640), np.float32)
    lobe = {"from_edge": edge, "position": 0.3, "reach": 0.3, "width": 0.2, "light": 0.2}
    still = {"lobes": "placed", "drift": 0, "breathe": 0, "on_pale": 0}

    def light(*lobes):
        return run("leak", still | {"placed": list(lobes)}, black)[0].astype(np.float64) ** GAMMA

    one = light(lobe)
    y, x = np.unravel_index(one.argmax(), one.shape)
    foot = {"left": (0, 0.3), "right": (1, 0.3), "top": (0.3, 0), "bottom": (0.3, 1)}.get(
        edge, ("right" in edge, "bottom" in edge)
    )
    assert np.hypot((x / 640 - foot[0]) * 16 / 9, y / 360 - foot[1]) < 0.2
    other = lobe | {"position": 0.7}
    assert light(lobe, lobe | {"light": 0}) == pytest.approx(one, abs=1e-9)
    both, strong = light(lobe, other), light(lobe | {"light": 0.4})
    assert both.sum() > 1.5 * one.sum()
    assert strong.max() > 1.5 * one.max()
    assert not light().any()


def test_a_drift_that_is_keyed_late_in_a_clip_moves_no_more_than_early():
    """What drifts depends on how far, not on how far times how long."""
    black = np.zeros((3, 360, 640), np.float32)
    for frame in (10, 900):
        less, more = (run("leak", {"drift": d, "breathe": 0}, black, frame) for d in (0.4, 0.42))
        assert 0 < np.abs(more - less).max() < 0.06
