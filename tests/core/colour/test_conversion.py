"""Wide and bright footage as BT.709: transfer functions, gamut and BT.2446 method C."""

import colour
import numpy as np
import pytest

from yearning.core.colour import hdr
from yearning.core.colour.conversion import conversion
from yearning.core.colour.primaries import BT709, BT2020, primaries_matrix, to_xyz

CODES = np.linspace(0, 1, 33)


def test_pq_is_colour_sciences():
    np.testing.assert_allclose(hdr.pq_light(CODES), colour.models.eotf_ST2084(CODES), rtol=1e-9)


def test_hlgs_scene_light_is_colour_sciences():
    expected = colour.models.oetf_inverse_ARIBSTDB67(CODES * 1.0)  # HLG's curve, unscaled
    ours = hdr.hlg_scene(CODES)
    # ARIB STD-B67 scales scene light to 0..12; BT.2100 to 0..1
    np.testing.assert_allclose(ours, expected / expected.max(), rtol=2e-6, atol=1e-9)


def test_hlgs_display_light_is_colour_sciences():
    rgb = np.random.default_rng(4).random((3, 50))
    expected = colour.models.eotf_BT2100_HLG(rgb.T, L_W=1000, L_B=0, gamma=1.2).T
    np.testing.assert_allclose(hdr.hlg_light(hdr.hlg_scene(rgb)), expected, rtol=1e-5, atol=1e-6)


@pytest.mark.parametrize(("ours", "name"), [(BT709, "ITU-R BT.709"), (BT2020, "ITU-R BT.2020")])
def test_matrices_to_xyz_are_colour_sciences(ours, name):
    expected = colour.RGB_COLOURSPACES[name].matrix_RGB_to_XYZ
    np.testing.assert_allclose(to_xyz(ours), expected, atol=5e-4)


def test_the_gamut_matrix_is_bt_2407s():
    # ITU-R BT.2407-0, annex 2, section 2.3: BT.2020 to BT.709, of four digits
    expected = colour.matrix_RGB_to_RGB("ITU-R BT.2020", "ITU-R BT.709").round(4)
    np.testing.assert_allclose(primaries_matrix(BT2020, BT709), expected, atol=2e-4)


def test_method_c_keeps_black_and_order_and_its_parts_join():
    light = np.linspace(0, 1000, 20001)
    sdr = hdr.tone_map(light)
    assert sdr[0] == 0
    slopes = np.diff(sdr)
    assert np.all(slopes > 0)
    assert np.all(np.diff(slopes) < 0.04)  # it bends down; the published join is 0.035 cd/m² high
    below, above = hdr.tone_map(np.array([hdr.INFLECTION * (1 - 1e-9), hdr.INFLECTION]))
    assert above == pytest.approx(below, abs=0.05)


def test_reference_white_comes_near_white_and_the_peak_a_little_above():
    # ITU-R BT.2408: HDR reference white is 203 cd/m²
    assert hdr.tone_map(np.array(203.0)) == pytest.approx(90.7, abs=0.2)
    # BT.2446-1 lets the brightest light use the codes above white, up to 109 %
    assert 1.05 < (hdr.tone_map(np.array(1000.0)) / 100) ** (1 / 2.4) < 1.09


@pytest.mark.parametrize("light", ["HLG", "PQ"])
def test_grey_stays_grey_and_in_order(light):
    ramp = np.broadcast_to(np.linspace(0, 1, 300, dtype=np.float32), (3, 2, 300)).copy()
    out = conversion(light, True).convert(ramp)
    assert np.abs(out - out[:1]).max() < 2e-3
    assert np.diff(out[1, 0]).min() > -1e-4
    assert out[1, 0, 0] == pytest.approx(0, abs=1e-3)


def test_hlgs_reference_white_is_75_per_cent():
    # ITU-R BT.2408, table 1: 75 % HLG shows 203 cd/m²
    white = np.full((3, 1, 1), 0.75, np.float32)
    shown = hdr.hlg_light(hdr.hlg_scene(white.astype(np.float64)))
    assert shown[1] == pytest.approx(203, abs=1)
    expected = (hdr.tone_map(np.array(203.0)) / 100) ** (1 / 2.4)
    assert conversion("HLG", True).convert(white)[1] == pytest.approx(expected, abs=2e-3)


@pytest.mark.parametrize("light", ["HLG", "PQ"])
def test_tables_give_what_the_formulas_do(light):
    codes = np.random.default_rng(5).random((3, 40, 50))
    shown = hdr.pq_light(codes) if light == "PQ" else hdr.hlg_light(hdr.hlg_scene(codes))
    lit = np.tensordot(primaries_matrix(BT2020, BT709), hdr.method_c(shown), 1)
    expected = np.sign(lit) * np.abs(lit) ** (1 / 2.4)
    found = conversion(light, True).convert(codes.astype(np.float32))
    error = np.abs(found - expected)
    assert np.median(error) < 1e-4
    assert error[np.abs(expected) > 0.1].max() < 3e-3


def test_wide_standard_footage_is_taken_to_bt_709_in_light():
    rgb = np.random.default_rng(6).random((3, 30, 40))
    expected = np.tensordot(primaries_matrix(BT2020, BT709), rgb**2.4, 1)
    expected = np.sign(expected) * np.abs(expected) ** (1 / 2.4)
    found = conversion("SDR", True).convert(rgb.astype(np.float32))
    error = np.abs(found - expected)
    assert error[np.abs(expected) > 0.05].max() < 1e-3
    assert np.median(error) < 5e-5


def test_white_and_grey_are_the_same_in_both_gamuts():
    grey = np.full((3, 1, 5), [0, 0.2, 0.5, 1, 1.3], np.float32)
    np.testing.assert_allclose(conversion("SDR", True).convert(grey), grey, atol=1e-3)


def test_bt_709_footage_needs_no_conversion():
    assert conversion("SDR", False) is None


@pytest.mark.parametrize("light", ["SDR", "HLG", "PQ"])
def test_values_beyond_the_codes_stay_finite(light):
    wild = np.array([-4, -1e-6, 0, 1 + 1e-6, 3, 40], np.float32)
    picture = np.broadcast_to(wild, (3, 2, 6)).copy()
    assert np.isfinite(conversion(light, True).convert(picture)).all()
