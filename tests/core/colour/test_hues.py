"""Colours and hues against the standard library's colorsys and colour-science."""

import colorsys

import colour
import numpy as np
import pytest
from pydantic import TypeAdapter, ValidationError

from yearning.core.colour.hues import (
    HUE_BANDS,
    Colour,
    hue_colour,
    hue_sector,
    rgb_of,
    tint_of,
)
from yearning.core.colour.luma import luma_of_rgb

HEX = TypeAdapter(Colour)


def test_colours_are_read_as_they_are_written():
    assert HEX.validate_python("#A0B1C2") == "#a0b1c2"
    np.testing.assert_allclose(rgb_of("#a0b1c2") * 255, [160, 177, 194], atol=1e-4)


@pytest.mark.parametrize("text", ["", "red", "#fff", "#12345", "#1234567", "a0b1c2", "#gggggg"])
def test_what_is_no_colour_is_refused_by_its_words(text):
    with pytest.raises(ValidationError, match="write it as #rrggbb"):
        HEX.validate_python(text)


@pytest.mark.parametrize("degrees", range(-60, 421, 15))
def test_a_hue_s_colour_is_colorsys_s(degrees):
    expected = colorsys.hls_to_rgb(degrees / 360 % 1, 0.5, 1)
    np.testing.assert_allclose(hue_colour(degrees), expected, atol=1e-6)


def test_hues_are_those_of_colour_science():
    """HSV's hue, a turn for 1 (Smith 1978, as colour-science has it)."""
    rng = np.random.default_rng(4)
    colours = rng.random((500, 3)).astype(np.float32)
    expected = colour.RGB_to_HSV(colours)[:, 0] * 6
    for rgb, sector in zip(colours, expected, strict=True):
        found = hue_sector(*rgb, np.float32(np.ptp(rgb)))
        assert abs((found - sector + 3) % 6 - 3) < 1e-3


@pytest.mark.parametrize(("i", "name"), list(enumerate(HUE_BANDS)))
def test_the_bands_are_a_sixth_of_a_turn_apart(i, name):
    corner = hue_colour(60 * i)
    assert set(corner.tolist()) == {0.0, 1.0}
    assert hue_sector(*corner, np.float32(1)) == i
    named = {"red": (1, 0, 0), "cyan": (0, 1, 1), "blue": (0, 0, 1), "yellow": (1, 1, 0)}
    if name in named:
        assert tuple(corner) == named[name]


@pytest.mark.parametrize("degrees", range(0, 360, 45))
def test_a_tint_has_no_luma_and_keeps_its_hue(degrees):
    tint = tint_of(degrees)
    assert luma_of_rgb(tint) == pytest.approx(0, abs=1e-6)
    tinted = 0.5 + 0.2 * tint
    assert 60 * hue_sector(*tinted, np.float32(np.ptp(tinted))) == pytest.approx(degrees, abs=0.01)
