"""Light added to a picture in linear light, not in display-coded values."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.power import power
from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.image.block_means import EnlargedBlocks
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane

Line = NDArray[np.float32]

CHUNK = 384
"""Pixels of a row that are passed over together where no light falls on them."""

NEGLIGIBLE = np.float32(2e-6)
"""Light too faint to move a 16-bit code value, but in black."""


def add_light(
    light: EnlargedBlocks, picture: Picture, top: int, out: Picture, out_top: int
) -> None:
    """Add light h to rows of a picture in linear light: L + h (1 − L)², by BT.1886.

    What is full of light takes no more, as an exposed film does; what is beyond white is left.

    Args:
        light: h, linear, as reduced blocks.
        picture: the rows, display-coded, shape `(3, rows, width)`.
        top: the number of the first of them.
        out: where the result goes, from its row `out_top` on.
    """
    _lay(*light.taps(top, top + picture.shape[1]), picture, out, out_top)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay(
    wide: Picture,
    start: NDArray[np.int32],
    weights: Plane,
    picture: Picture,
    out: Picture,
    out_top: int,
) -> None:
    zero = np.float32(0)
    last = wide.shape[1] - 1
    width = picture.shape[2]
    light, seen = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        a, b = min(start[y], last), min(start[y] + 1, last)
        c, d = min(start[y] + 2, last), min(start[y] + 3, last)
        w0, w1, w2, w3 = weights[y, 0], weights[y, 1], weights[y, 2], weights[y, 3]
        for p in range(3):
            for x in range(width):
                h = (w0 * wide[p, a, x] + w1 * wide[p, b, x]) + (
                    w2 * wide[p, c, x] + w3 * wide[p, d, x]
                )
                light[x] = max(h - NEGLIGIBLE, zero)
            for left in range(0, width, CHUNK):
                part = slice(left, min(left + CHUNK, width))
                _lay_part(picture[p, y, part], light[part], seen[part], out[p, out_top + y, part])


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
