"""Histograms of pictures, counted on all cores."""

from collections.abc import Callable

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.colour.luma import fill_luma_line
from yearning.core.kernel_arrays import new_line, new_word_line
from yearning.core.picture import Picture

Counts = NDArray[np.uint32]


def histogram(picture: Picture, bins: int = 256) -> Counts:
    """How often each value occurs.

    Args:
        picture: shape `(3, height, width)`.
        bins: evenly spaced over 0..1; values beyond count in the first and the last one.

    Returns:
        Shape `(4, bins)`: counts of luma, R', G', B'.

    >>> histogram(np.full((3, 1, 2), 0.3, np.float32), bins=2)[0].tolist()
    [2, 0]
    """
    counts = np.zeros((parallel.CORES, 4, bins), np.uint32)
    count_in_parts(picture, lambda part, n: _count(part, counts[n]), len(counts))
    return np.asarray(counts.sum(axis=0), np.uint32)


def count_in_parts(picture: Picture, count: Callable[[Picture, int], None], parts: int) -> None:
    """Call `count(rows, n)` for `parts` parts of a picture's rows, side by side.

    Args:
        picture: shape `(planes, height, width)`.
        count: is given some rows and the number of their part.
        parts: how many.
    """
    edges = np.linspace(0, picture.shape[1], parts + 1).astype(int)
    parallel.for_each(lambda n: count(picture[:, edges[n] : edges[n + 1]], n), parts)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _count(picture: Picture, counts: Counts) -> None:
    bins = counts.shape[1]
    zero, most, last = np.float32(0), np.float32(bins), np.float32(bins - 1)
    width = picture.shape[2]
    luma, place = new_line(width), new_word_line(width)
    for y in range(picture.shape[1]):
        fill_luma_line(picture[0, y], picture[1, y], picture[2, y], luma)
        for c in range(4):
            line = luma if c == 0 else picture[c - 1, y]
            for x in range(width):
                place[x] = np.uint32(min(max(line[x] * most, zero), last))
            for x in range(width):
                counts[c, place[x]] += np.uint32(1)
