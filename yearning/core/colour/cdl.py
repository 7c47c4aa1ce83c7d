"""Grades by slope, offset, power and saturation: ASC Color Decision List, v1.2."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import fill_luma_line
from yearning.core.colour.power import power
from yearning.core.kernel_arrays import new_lines
from yearning.core.picture import Picture


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def grade(
    picture: Picture,
    values: NDArray[np.float32],
    saturation: np.float32,
    clamped: bool,
    out: Picture,
    out_top: int,
) -> None:
    """Grade rows of a picture by an ASC CDL.

    V' = clamp(V · slope + offset)^power, then clamp(luma + saturation · (V' − luma)), with BT.709's
    luma, which the CDL prescribes.

    Args:
        picture: display-coded, shape `(3, rows, width)`.
        values: shape `(3, 3)`: slopes, offsets and powers of R, G and B.
        saturation: factor.
        clamped: cut to 0..1 after each part; if not, what is negative is not raised.
        out: takes the rows; may be the picture.
        out_top: from which row of it on.
    """
    zero, one = np.float32(0), np.float32(1)
    width = picture.shape[2]
    luma, low, raised = new_lines(3, width)
    for y in range(picture.shape[1]):
        for c in range(3):
            slope, offset, exponent = values[0, c], values[1, c], values[2, c]
            line = out[c, out_top + y]
            for x in range(width):
                line[x] = picture[c, y, x] * slope + offset
            if clamped:
                for x in range(width):
                    line[x] = min(max(line[x], zero), one)
            if exponent != one:
                for x in range(width):
                    low[x] = min(line[x], zero)
                for x in range(width):
                    raised[x] = max(line[x], zero)
                power(raised, exponent, line)
                for x in range(width):
                    line[x] += low[x]
        if saturation != one:
            r, g, b = out[0, out_top + y], out[1, out_top + y], out[2, out_top + y]
            fill_luma_line(r, g, b, luma)
            for c in range(3):
                line = out[c, out_top + y]
                for x in range(width):
                    line[x] = luma[x] + saturation * (line[x] - luma[x])
                if clamped:
                    for x in range(width):
                        line[x] = min(max(line[x], zero), one)
