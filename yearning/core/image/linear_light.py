"""Light laid on a picture as light, not as display-coded values."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.power import power
from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.image.block_means import EnlargedBlocks
from yearning.core.picture import Picture, Plane
from yearning.core.treatment.base import Band

Line = NDArray[np.float32]

PART = 384
"""Pixels of a row that are left at once where no light falls on them."""

LEAST = np.float32(2e-6)
"""Light that is too little to move a code of 16 bits, but in black."""


def add_light(light: EnlargedBlocks, band: Band) -> None:
    """The band's picture with light laid on it: L + h (1 − L)², on a display as of BT.1886.

    What is full of light takes no more, as an exposed film does; what is beyond white is left.
    """
    _lay(*light.taps(*band.rows), band.picture, band.out, band.into)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay(
    wide: Picture,
    start: NDArray[np.int32],
    weights: Plane,
    picture: Picture,
    out: Picture,
    into: int,
) -> None:
    zero = np.float32(0)
    last = wide.shape[1] - 1
    width = picture.shape[2]
    light, seen = np.empty(width, np.float32), np.empty(width, np.float32)
    for y in range(picture.shape[1]):
        a, b = min(start[y], last), min(start[y] + 1, last)
        c, d = min(start[y] + 2, last), min(start[y] + 3, last)
        w0, w1, w2, w3 = weights[y, 0], weights[y, 1], weights[y, 2], weights[y, 3]
        for p in range(3):
            for x in range(width):
                h = (w0 * wide[p, a, x] + w1 * wide[p, b, x]) + (
                    w2 * wide[p, c, x] + w3 * wide[p, d, x]
                )
                light[x] = max(h - LEAST, zero)
            for left in range(0, width, PART):
                part = slice(left, min(left + PART, width))
                _lay_part(picture[p, y, part], light[part], seen[part], out[p, into + y, part])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay_part(picture: Line, light: Line, seen: Line, out: Line) -> None:
    zero, one = np.float32(0), np.float32(1)
    total = zero
    for x in range(light.shape[0]):
        total += light[x]
    if total <= zero:
        for x in range(light.shape[0]):
            out[x] = picture[x]
        return
    power(picture, DISPLAY_GAMMA, seen)
    for x in range(light.shape[0]):
        room = one - min(max(seen[x], zero), one)
        light[x] = seen[x] + light[x] * room * room
    power(light, one / DISPLAY_GAMMA, out)
