"""Colours as files have them, and hues: the six that follow each other round the colour cube."""

import re
from typing import Annotated

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator

from yearning.core.colour.luma import luma_of_rgb

HUE_BANDS = ("red", "yellow", "green", "cyan", "blue", "magenta")
"""Hues 0°, 60°, … 300°: the cube's corners between black and white."""

COLOUR = re.compile(r"#[0-9a-f]{6}")


def _hex(text: str) -> str:
    if not COLOUR.fullmatch(text.lower()):
        raise ValueError(f"'{text}' is no colour; write it as #rrggbb")
    return text.lower()


Colour = Annotated[str, AfterValidator(_hex)]
"""A display-coded colour of 8 bits a channel, as `#rrggbb`."""


def rgb_of(colour: str) -> NDArray[np.float32]:
    """R'G'B' 0..1 of `#rrggbb`, shape `(3,)`.

    >>> rgb_of("#ff0033").round(3).tolist()
    [1.0, 0.0, 0.20000000298023224]
    """
    codes = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
    return np.array(codes, np.float32) / np.float32(255)


def hue_colour(degrees: float) -> NDArray[np.float32]:
    """The fully saturated colour of a hue, R'G'B' 0..1; red is 0°, green 120°, blue 240°.

    >>> hue_colour(60).tolist()
    [1.0, 1.0, 0.0]
    """
    sector = (degrees % 360) / 60
    away = np.abs((sector - np.array([0, 2, 4]) + 3) % 6 - 3)
    return np.asarray(np.clip(2 - away, 0, 1), np.float32)


def tint_of(degrees: float) -> NDArray[np.float32]:
    """A hue's direction away from grey: its colour less its luma, so that adding it keeps luma."""
    colour = hue_colour(degrees)
    colour -= luma_of_rgb(colour)
    return colour


@numba.njit(nogil=True, cache=True, inline="always")
def hue_sector(r: np.float32, g: np.float32, b: np.float32, spread: np.float32) -> np.float32:
    """Return the hue of a colour in sixths of a turn, 0..6.

    Args:
        r: red.
        g: green.
        b: blue.
        spread: from the least of them to the greatest, above 0.
    """
    high = max(r, max(g, b))
    per = np.float32(1) / spread
    of_red, of_green = (g - b) * per, np.float32(2) + (b - r) * per
    sector = of_green if high == g else np.float32(4) + (r - g) * per
    sector = of_red if high == r else sector
    return sector + np.float32(6) if sector < np.float32(0) else sector
