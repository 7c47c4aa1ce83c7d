"""Rows convolved by symmetric taps, edges mirrored (d c b a | a b c d | d c b a)."""

import math
from functools import lru_cache

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.image.resampling import TRUNCATE
from yearning.core.kernel_arrays import Integer, new_line
from yearning.core.picture import Plane

Line = NDArray[np.float32]


@lru_cache(maxsize=64)
def half_gaussian(sigma: float) -> Line:
    """Half of a gaussian's taps, σ in pixels: the middle one, halved, and those on one side of it.

    Cut at `TRUNCATE` σ, and padded with zeros to a multiple of four; for σ = 0 the middle alone.
    """
    count = math.ceil(TRUNCATE * sigma) + 1
    half = np.zeros(-(-count // 4) * 4)
    half[:count] = np.exp(-0.5 * (np.arange(count) / max(sigma, 1e-6)) ** 2)
    half[0] /= 2
    return np.asarray(half / (2 * half.sum()), np.float32)


@numba.njit(nogil=True, cache=True, fastmath=True)
def convolve_across(line: Line, half: Line, out: Line) -> None:
    """Convolve a row by the taps of which `half` is a half; `out` may be `line` itself.

    Args:
        line: the row; its edges are mirrored.
        half: the middle tap and those on one side of it.
        out: takes the result.
    """
    width, reach = line.shape[0], half.shape[0] - 1
    padded = new_line(width + 2 * reach)
    for x in range(width):
        padded[reach + x] = line[x]
    for x in range(reach):
        padded[reach - 1 - x] = line[_mirror_index(x, width)]
        padded[reach + width + x] = line[_mirror_index(width - 1 - x, width)]
    for t in range(0, half.shape[0], 4):
        left, right = reach - t, reach + t
        _weigh_pairs(
            padded[left:],
            padded[right:],
            padded[left - 1 :],
            padded[right + 1 :],
            padded[left - 2 :],
            padded[right + 2 :],
            padded[left - 3 :],
            padded[right + 3 :],
            half[t : t + 4],
            t > 0,
            out,
        )


@numba.njit(nogil=True, cache=True, fastmath=True)
def convolve_down(plane: Plane, y: Integer, half: Line, out: Line) -> None:
    """Convolve row `y` of a plane along its columns, edges mirrored.

    Args:
        plane: the rows.
        y: which of them.
        half: the middle tap and those on one side of it.
        out: takes the row.
    """
    height = plane.shape[0]
    for t in range(0, half.shape[0], 4):
        _weigh_pairs(
            plane[_mirror_index(y - t, height)],
            plane[_mirror_index(y + t, height)],
            plane[_mirror_index(y - t - 1, height)],
            plane[_mirror_index(y + t + 1, height)],
            plane[_mirror_index(y - t - 2, height)],
            plane[_mirror_index(y + t + 2, height)],
            plane[_mirror_index(y - t - 3, height)],
            plane[_mirror_index(y + t + 3, height)],
            half[t : t + 4],
            t > 0,
            out,
        )


@numba.njit(nogil=True, cache=True)
def _mirror_index(i: Integer, count: Integer) -> Integer:
    """Return an index into 0..count−1, mirrored at both ends as often as needed."""
    folded = i % (2 * count)
    return min(folded, 2 * count - 1 - folded)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _weigh_pairs(
    a0: Line,
    b0: Line,
    a1: Line,
    b1: Line,
    a2: Line,
    b2: Line,
    a3: Line,
    b3: Line,
    weights: Line,
    more: bool,
    out: Line,
) -> None:
    """Four pairs of lines, each weighed, summed into `out`, or added to what it has."""
    w0, w1, w2, w3 = weights[0], weights[1], weights[2], weights[3]
    if more:
        for x in range(out.shape[0]):
            out[x] += (w0 * (a0[x] + b0[x]) + w1 * (a1[x] + b1[x])) + (
                w2 * (a2[x] + b2[x]) + w3 * (a3[x] + b3[x])
            )
    else:
        for x in range(out.shape[0]):
            out[x] = (w0 * (a0[x] + b0[x]) + w1 * (a1[x] + b1[x])) + (
                w2 * (a2[x] + b2[x]) + w3 * (a3[x] + b3[x])
            )
