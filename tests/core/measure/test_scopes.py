"""Readings against the published codes of bars, and numpy's counts."""

import colour
import numpy as np
import pytest

from yearning.core.colour.hues import hue_colour
from yearning.core.image.histogram import histogram
from yearning.core.measure import scopes

RNG = np.random.default_rng(2)


@pytest.fixture(scope="module")
def bars():
    """75 % colour bars: white, then the six colours, as EBU and SMPTE bars have them."""
    colours = [np.ones(3), *(hue_colour(60 * i) for i in range(6))]
    return (
        np.repeat(0.75 * np.stack(colours, 1), 20, axis=1)[:, None].repeat(9, 1).astype(np.float32)
    )


LUMA_CODES = {"white": 180, "R": 51, "Yl": 168, "G": 133, "Cy": 145, "B": 28, "Mg": 63}
"""8-bit Y' of 75 % bars in BT.709, limited range (ITU-R BT.709-6)."""

CHROMA_CODES = {
    "R": (109, 212), "Yl": (44, 136), "G": (63, 52),
    "Cy": (147, 44), "B": (212, 120), "Mg": (193, 204),
}  # fmt: skip
"""8-bit C'B and C'R of the same."""


@pytest.mark.parametrize("name", CHROMA_CODES)
def test_the_codes_of_bars_are_colour_sciences(name):
    turns = {"R": 0, "Yl": 60, "G": 120, "Cy": 180, "B": 240, "Mg": 300}
    how = {"K": colour.WEIGHTS_YCBCR["ITU-R BT.709"], "in_legal": False, "out_bits": 8}
    codes = colour.RGB_to_YCbCr(0.75 * hue_colour(turns[name]), out_int=True, out_legal=True, **how)
    assert (*codes,) == (LUMA_CODES[name], *CHROMA_CODES[name])


def test_the_luma_of_bars_stands_at_its_code_on_the_waveform(bars):
    levels = 1001
    counts = scopes.waveform(bars, 7, levels)
    for column, code in enumerate(LUMA_CODES.values()):
        level = np.argmax(counts[0, :, column])
        value = scopes.LOW + level / (levels - 1) * (scopes.HIGH - scopes.LOW)
        assert abs(16 + 219 * value - code) <= 1
    for channel in range(3):
        assert counts[1 + channel].sum() == bars[0].size
        values = np.unique(np.nonzero(counts[1 + channel])[0])
        assert len(values) == 2


def test_the_targets_are_the_codes_of_bars_and_bars_fall_on_them(bars):
    side = 601
    counts = scopes.vectorscope(bars, side)
    for name, cb, cr in scopes.targets():
        codes = CHROMA_CODES[name]
        assert abs(128 + 224 * cb - codes[0]) <= 1
        assert abs(128 + 224 * cr - codes[1]) <= 1
        row = round((scopes.REACH - cr) * (side - 1) / (2 * scopes.REACH))
        column = round((cb + scopes.REACH) * (side - 1) / (2 * scopes.REACH))
        assert counts[row - 1 : row + 2, column - 1 : column + 2].sum() == 180


def test_a_histogram_counts_as_numpy_does():
    picture = RNG.uniform(-0.2, 1.2, (3, 50, 70)).astype(np.float32)
    counts = histogram(picture, 64)
    for plane, found in zip(picture, counts[1:], strict=True):
        expected = np.bincount(
            np.clip(np.floor(plane * 64), 0, 63).astype(int).ravel(), minlength=64
        )
        np.testing.assert_array_equal(found, expected)
    assert counts[0].sum() == 3500


def test_what_is_beyond_is_told_by_kind():
    picture = np.full((3, 10, 10), 0.5, np.float32)
    picture[:, 0, :2] = 1.2
    picture[:, 1, :3] = -0.1
    picture[0, 2, :4] = 1.3
    marks, parts = scopes.out_of_range(picture)
    assert parts == (0.03, 0.02, 0.04)
    shown = scopes.with_warnings(picture, marks)
    assert (shown[:, 3:] == picture[:, 3:]).all()
    assert (shown[:, 0, :2] != picture[:, 0, :2]).any()


def test_a_place_s_value_and_hue():
    picture = np.zeros((3, 40, 40), np.float32)
    picture[:, 10:20, 10:20] = np.array([0.2, 0.6, 0.4], np.float32)[:, None, None]
    found = scopes.sample_at(picture, 0.37, 0.37)
    assert found[:3] == pytest.approx((0.2, 0.6, 0.4), abs=1e-6)
    assert found.hue == pytest.approx(150, abs=0.01)
    assert scopes.sample_at(picture, 1.0, 1.0).hue is None
