"""Rows shifted sideways by fractions of a pixel, with mirrored edges."""

import math

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.kernel_arrays import Integer, copy_line

Line = NDArray[np.float32]


@numba.njit(nogil=True, cache=True, inline="always")
def mirror(place: int, count: int) -> int:
    """Return an index beyond the ends mirrored back into 0..count − 1.

    Args:
        place: any integer.
        count: samples of the line.
    """
    folded = place % (2 * count)
    return min(folded, 2 * count - 1 - folded)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def shift_row(line: Line, by: float, left: Integer, right: int, out: Line) -> None:
    """Draw pixels `left` to `right` (exclusive) of a line moved to the right by `by` pixels.

    By cubic convolution, beyond its ends mirrored; by whole pixels exactly.

    R. G. Keys, Cubic Convolution Interpolation for Digital Image Processing, IEEE Transactions on
    Acoustics, Speech, and Signal Processing 29 (1981), eq. 15, with a = −½.

    Args:
        line: the row's samples.
        by: pixels to the right; to the left below 0.
        left: the first pixel that is drawn.
        right: the one after the last.
        out: takes the row.
    """
    width = line.shape[0]
    first = math.floor(-by)
    s = np.float32(-by - first)
    one, two = np.float32(1), np.float32(2)
    half = np.float32(0.5)
    w0 = half * s * (s * (two - s) - one)
    w1 = half * (s * s * (np.float32(3) * s - np.float32(5)) + two)
    w2 = half * s * (s * (np.float32(4) - np.float32(3) * s) + one)
    w3 = half * s * s * (s - one)
    begin = min(max(1 - first, left), right)
    end = max(min(width - 2 - first, right), begin)
    for x in range(left, begin):
        out[x] = _sample_mirrored(line, x + first, w0, w1, w2, w3)
    for x in range(end, right):
        out[x] = _sample_mirrored(line, x + first, w0, w1, w2, w3)
    if begin == end:
        return
    inner, at = out[begin:end], begin + first
    if s == 0:
        copy_line(line[at:], inner)
        return
    a, b, c, d = line[at - 1 :], line[at:], line[at + 1 :], line[at + 2 :]
    for x in range(inner.shape[0]):
        inner[x] = (w0 * a[x] + w1 * b[x]) + (w2 * c[x] + w3 * d[x])


@numba.njit(nogil=True, cache=True)
def _sample_mirrored(
    line: Line, at: int, w0: np.float32, w1: np.float32, w2: np.float32, w3: np.float32
) -> np.float32:
    width = line.shape[0]
    a, b = line[mirror(at - 1, width)], line[mirror(at, width)]
    c, d = line[mirror(at + 1, width)], line[mirror(at + 2, width)]
    return np.float32((w0 * a + w1 * b) + (w2 * c + w3 * d))
