"""The colour treatments against OpenColorIO, colour-science, scipy, and what the trade expects."""

import colorsys

import colour
import numpy as np
import PyOpenColorIO as ocio
import pytest
from scipy.ndimage import gaussian_filter

from tests.conftest import ASSETS, RecordingClip, a_look, another_value, lamps, step, with_hues
from yearning.core.cache import Cache
from yearning.core.colour.hues import hue_colour, rgb_of, tint_of
from yearning.core.colour.power import power
from yearning.core.colour.transfer import mirrored_code, mirrored_light, to_code, to_light
from yearning.core.engine.evaluator import Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.picture import Size
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatments import TREATMENTS
from yearning.core.treatments.balance import ranges

LUMA = np.array([0.2126, 0.7152, 0.0722])
RNG = np.random.default_rng(5)


def run(picture, kind, settings=None, **mix):
    size = Size(picture.shape[2], picture.shape[1])
    look = a_look(step(kind, settings, **mix))
    return Evaluator(
        look, RecordingClip([picture] * 2), size, Cache(1 << 28), assets=ASSETS
    ).picture(1)


def luma(picture):
    return np.tensordot(LUMA, picture, 1)


@pytest.fixture(scope="module")
def colours():
    """Colours inside and outside 0..1."""
    inside = RNG.random((3, 40, 60))
    return np.concatenate([inside, RNG.uniform(-0.5, 1.8, (3, 20, 60))], axis=1).astype(np.float32)


@pytest.mark.parametrize("exponent", [0.1, 1 / 2.4, 1.0, 2.4, 5.0])
def test_powers_of_lines_are_powers(exponent):
    line = np.concatenate([np.linspace(-4, 9, 10_001), 10.0 ** np.linspace(-30, 5, 99)])
    line = line.astype(np.float32)
    found = np.empty_like(line)
    power(line, np.float32(exponent), found)
    exact = np.sign(line) * np.abs(line.astype(np.float64)) ** np.float64(np.float32(exponent))
    kept = (np.abs(exact) > 1e-36) & (np.abs(exact) < 1e38)
    np.testing.assert_allclose(found[kept], exact[kept], rtol=1e-5)
    whole = np.empty(3, np.float32)
    power(np.float32([0, 1, -1]), np.float32(exponent), whole)
    assert whole.tolist() == [0, 1, -1]


def test_light_and_code_are_those_of_the_display():
    """V^2.4 and back (BT.1886), against float64; of what is below black nothing, or mirrored."""
    values = np.concatenate([10.0 ** np.linspace(-7, 1.5, 4001), [0, 1, -0.5]]).astype(np.float32)
    light, code = np.array([[to_light(v), to_code(v)] for v in values]).T
    above = np.maximum(values, 0).astype(np.float64)
    np.testing.assert_allclose(light, above**2.4, rtol=4e-6, atol=1e-37)
    np.testing.assert_allclose(code, above ** (1 / 2.4), rtol=3e-6)
    assert not light[above == 0].any()
    assert not code[above == 0].any()
    mirrored = [(mirrored_light(-v), mirrored_code(-v)) for v in values[:-1]]
    np.testing.assert_array_equal(np.transpose(mirrored), [-light[:-1], -code[:-1]])


NEUTRAL = ["balance", "triad", "levels", "exposure", "hue", "neutralize", "curve", "table"]


@pytest.mark.parametrize("kind", NEUTRAL)
def test_neutral_settings_are_the_identity(kind, colours):
    found = run(colours, kind)
    if kind in ("balance", "triad"):
        np.testing.assert_array_equal(found, colours)
    np.testing.assert_allclose(found, colours, atol=1e-6)


def test_a_neutral_grade_by_cdl_is_the_identity_bit_for_bit(colours):
    np.testing.assert_array_equal(run(colours, "balance", {"mode": "cdl"}), colours)


def test_cdl_is_opencolorio_s(colours):
    """ASC CDL v1.2, by OpenColorIO's CDLTransform in the clamping style."""
    slope, offset, power_, saturation = [1.3, 0.8, 1.1], [-0.05, 0.1, 0.02], [1.4, 0.7, 1.0], 1.6
    said = ocio.CDLTransform(slope, offset, power_, saturation)
    said.setStyle(ocio.CDL_ASC)
    expected = np.ascontiguousarray(colours.transpose(1, 2, 0))
    ocio.Config.CreateRaw().getProcessor(said).getDefaultCPUProcessor().applyRGB(expected)
    settings = {"mode": "cdl", "slope": slope, "offset": offset, "power": power_}
    found = run(colours, "balance", settings | {"saturation": saturation})
    np.testing.assert_allclose(found.transpose(1, 2, 0), expected, atol=2e-5)


def test_a_stop_is_twice_the_light_of_a_display(colours):
    """By colour-science's EOTF of ITU-R BT.1886 with black at 0."""
    inside = np.clip(colours, 0.01, 1)
    lighter = run(inside, "exposure", {"stops": 1.5})
    light = colour.models.eotf_BT1886(inside, L_B=0, L_W=1)
    np.testing.assert_allclose(
        colour.models.eotf_BT1886(lighter, L_B=0, L_W=1), light * 2**1.5, rtol=1e-5
    )


def test_levels_bend_between_black_and_white():
    grey = np.linspace(0.2, 0.8, 61, dtype=np.float32)[None].repeat(3, 0)[:, None].copy()
    how = {"black": 0.2, "white": 0.8, "gamma": 2.0, "out_black": 0.1, "out_white": 0.9}
    expected = 0.1 + 0.8 * np.linspace(0, 1, 61) ** 0.5
    np.testing.assert_allclose(run(grey, "levels", how)[0, 0], expected, atol=2e-4)
    with pytest.raises(InvalidLookError, match=r"steps\[0\]\.settings: white lies above black"):
        a_look(step("levels", {"black": 0.5, "white": 0.5}))


def test_the_three_ranges_are_smooth_and_sum_to_one():
    parts = ranges(np.linspace(-0.5, 1.5, 2001))
    np.testing.assert_allclose(parts.sum(axis=0), 1, atol=1e-12)
    assert parts.min() >= 0
    assert np.abs(np.diff(parts)).max() < 0.004
    assert (parts[0, 0], parts[2, -1]) == (1, 1)


def test_balance_adds_each_range_s_colour_without_its_luma(colours):
    inside = np.clip(colours, 0, 1)
    how = {"shadows_hue": 210, "shadows_strength": 0.6, "highlights_hue": 40}
    how |= {"highlights_strength": 0.4, "mids_lightness": 0.3}
    low, mid, high = ranges(luma(inside))
    tints = [0.25 * 0.6 * tint_of(210), 0.25 * 0.3 * np.ones(3), 0.25 * 0.4 * tint_of(40)]
    expected = inside + sum(
        t[:, None, None] * part for t, part in zip(tints, (low, mid, high), strict=True)
    )
    found = run(inside, "balance", how)
    np.testing.assert_allclose(found, expected, atol=2e-6)
    np.testing.assert_allclose(luma(found), luma(inside) + 0.25 * 0.3 * mid, atol=2e-6)


def test_contrast_holds_black_white_and_the_pivot_and_is_steeper_there():
    grey = np.linspace(0, 1, 1001, dtype=np.float32)[None].repeat(3, 0)[:, None].copy()
    found = run(grey, "tone", {"contrast": 0.8, "pivot": 0.4})[0, 0]
    np.testing.assert_allclose(found[[0, 400, 1000]], [0, 0.4, 1], atol=1e-5)
    assert (found[405] - found[395]) / 0.01 == pytest.approx(2**0.8, rel=0.02)
    assert np.diff(found).min() >= -1e-6


@pytest.mark.parametrize("name", ["contrast", "blacks", "shadows", "highlights"])
@pytest.mark.parametrize("value", [-1, 1])
def test_tones_stay_in_order(name, value):
    grey = np.linspace(0, 1, 1001, dtype=np.float32)[None].repeat(3, 0)[:, None].copy()
    assert np.diff(run(grey, "tone", {name: value})[1, 0]).min() >= -1e-6


def test_saturation_keeps_luma_and_pale_colours_are_moved_most_by_their_own_setting(colours):
    inside = np.clip(colours, 0, 1)
    np.testing.assert_allclose(
        run(inside, "tone", {"saturation": 0}), luma(inside)[None].repeat(3, 0), atol=1e-6
    )
    found = run(inside, "tone", {"pale_colours": 0.8})
    np.testing.assert_allclose(luma(found), luma(inside), atol=2e-6)
    spread = np.ptp(inside, axis=0)
    more = np.ptp(found, axis=0) / np.maximum(spread, 1e-6)
    assert more[(spread > 0.05) & (spread < 0.3)].min() > more[spread > 0.7].max()


def test_mono_is_luma_until_a_hue_is_lightened(colours):
    inside = np.clip(colours, 0, 1)
    np.testing.assert_allclose(run(inside, "mono"), luma(inside)[None].repeat(3, 0), atol=1e-6)
    for i, name in enumerate(("red", "yellow", "green", "cyan", "blue", "magenta")):
        pure = hue_colour(60 * i)[:, None, None].repeat(2, 1)
        grey = np.full((3, 2, 1), 0.5, np.float32)
        for other in ("red", "yellow", "green", "cyan", "blue", "magenta"):
            lift = run(pure, "mono", {other: 0.5}) - luma(pure)
            np.testing.assert_allclose(lift, 0.5 if other == name else 0, atol=1e-6)
            np.testing.assert_allclose(run(grey, "mono", {other: 0.5}), 0.5, atol=1e-6)


def test_a_ramp_is_straight_between_its_stops():
    grey = np.linspace(-0.2, 1.2, 141, dtype=np.float32)[None].repeat(3, 0)[:, None].copy()
    stops = [[0.1, "#102030"], [0.4, "#a08060"], [0.9, "#ffffee"]]
    found = run(grey, "ramp", {"stops": stops})[:, 0]
    for c in range(3):
        expected = np.interp(grey[c, 0], [0.1, 0.4, 0.9], [rgb_of(s)[c] for _, s in stops])
        np.testing.assert_allclose(found[c], expected, atol=1e-5)


def test_the_triad_adds_coloured_channels(colours):
    how = {"red_colour": "#ff8000", "green_weight": 0.5, "blue_tones": [[0.2, 0], [0.8, 1]]}
    r, g, b = colours.astype(np.float64)
    windowed = b * np.interp(b, [0.2, 0.8], [0, 1])
    expected = [r, r * 128 / 255 + 0.5 * g, windowed]
    np.testing.assert_allclose(run(colours, "triad", how), expected, atol=2e-6)


def test_what_was_picked_becomes_grey_at_its_luma():
    picked = rgb_of("#b09870")
    found = run(picked[:, None, None].repeat(2, 1), "neutralize", {"colour": "#b09870"})
    np.testing.assert_allclose(found, LUMA @ picked, atol=1e-6)


def test_a_hue_turns_alone_and_greys_stay():
    """Hues by the standard library's colorsys."""
    for i in range(6):
        pale = (0.5 + 0.2 * hue_colour(60 * i))[:, None, None].repeat(2, 1).astype(np.float32)
        turn = [0.0] * 6
        turn[i] = 25.0
        found = run(pale, "hue", {"turn": turn})
        before, after = (colorsys.rgb_to_hls(*p[:, 0, 0].astype(float))[0] for p in (pale, found))
        assert 0.02 < (after - before) % 1 < 0.16  # onward, as hues are counted
        np.testing.assert_allclose(luma(found), luma(pale), atol=1e-6)
        others = [25.0] * 6
        others[i] = 0.0
        np.testing.assert_allclose(run(pale, "hue", {"turn": others}), pale, atol=1e-6)
    grey = np.full((3, 4, 4), 0.4, np.float32)
    how = {"turn": [90] * 6, "saturation": [1] * 6, "lightness": [1] * 6}
    np.testing.assert_allclose(run(grey, "hue", how), grey, atol=1e-6)


def test_turning_all_hues_round_is_the_identity(colours):
    np.testing.assert_allclose(run(colours, "hue", {"turn": [360] * 6}), colours, atol=1e-5)


COLOUR_ONLY = [kind for kind, treatment in TREATMENTS.items() if issubclass(treatment, ColourOnly)]


@pytest.mark.parametrize("kind", COLOUR_ONLY)
def test_colour_only_means_that_places_do_not_count(kind, colours):
    settings = {name: another_value(kind, name) for name in TREATMENTS[kind].model_fields}
    settings |= {"black": 0.2} if kind == "levels" else {}
    order = RNG.permutation(60)
    np.testing.assert_array_equal(
        run(np.ascontiguousarray(colours[:, :, order]), kind, settings),
        run(colours, kind, settings)[:, :, order],
    )


@pytest.mark.parametrize("sigma", [1.5, 6.0, 25.0])
def test_soften_is_a_gaussian(sigma):
    """Against scipy in float64; wide ones run on blocks."""
    picture = np.clip(lamps(Size(480, 270))[0], 0, 1)
    found = run(picture, "soften", {"radius": sigma * 4})
    exact = [gaussian_filter(p.astype(np.float64), sigma, mode="reflect") for p in picture]
    assert np.abs(found - exact).max() < 1 / 1000


def test_a_point_of_light_softened_by_a_disc_is_an_even_disc():
    picture = np.zeros((3, 540, 540), np.float32)
    picture[:, 268:272, 268:272] = 1
    found = run(picture, "soften", {"radius": 80, "shape": "disc"})[1] * np.pi * 40**2 / 16
    y, x = np.mgrid[:540, :540] - 269.5
    away = np.hypot(x, y)
    assert np.abs(found[away < 30] - 1).max() < 0.09
    assert np.abs(found[away > 50]).max() < 0.02
    assert found.sum() == pytest.approx(np.pi * 40**2, rel=1e-3)


@pytest.mark.parametrize(("radius", "within"), [(8, 1e-4), (40, 5e-4)])
def test_sharpen_adds_what_the_blur_takes_and_leaves_noise_alone(radius, within):
    """Against scipy in float64: a narrow blur, row by row, and a wide one, on a reduced picture."""
    picture = np.clip(with_hues(lamps(Size(480, 270))[0]), 0, 1)
    how = {"radius": radius, "strength": 0.9, "floor": 0.02}
    light = luma(picture.astype(np.float64))
    detail = light - gaussian_filter(light, radius / 4, mode="reflect")
    more = 0.9 * np.sign(detail) * np.maximum(np.abs(detail) - 0.02, 0)
    np.testing.assert_allclose(run(picture, "sharpen", how), picture + more, atol=within)
    noise = (0.5 + RNG.normal(0, 0.003, (3, 90, 120))).astype(np.float32)
    np.testing.assert_array_equal(run(noise, "sharpen", how), noise)
