"""Tone windows: how strongly something counts from black to white."""

from functools import lru_cache
from itertools import pairwise
from typing import Annotated

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator

MOST_POINTS = 16
LEAST_APART = 1e-4


def _window(points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    if not 1 <= len(points) <= MOST_POINTS:
        raise ValueError(f"a tone window has 1 to {MOST_POINTS} points, not {len(points)}")
    if any(not (0 <= x <= 1 and 0 <= weight <= 1) for x, weight in points):
        raise ValueError("tones and weights of a tone window lie within 0 and 1")
    if any(b[0] - a[0] < LEAST_APART for a, b in pairwise(points)):
        raise ValueError(
            f"the points of a tone window go from black to white, at least {LEAST_APART} apart"
        )
    return points


Tones = Annotated[tuple[tuple[float, float], ...], AfterValidator(_window)]
"""Points (tone 0..1, weight 0..1), ascending; straight between them, level beyond the ends."""

FLAT: tuple[tuple[float, float], ...] = ((0.0, 1.0), (1.0, 1.0))
"""The window that leaves nothing out."""


@lru_cache(maxsize=256)
def tone_pieces(points: tuple[tuple[float, float], ...]) -> NDArray[np.float32]:
    """The window as straight pieces, shape `(n, 3)`: from which tone on, weight there, and slope.

    The first holds from −∞; a window of one weight is that piece alone.
    """
    pieces = [[-np.inf, points[0][1], 0.0]]
    for (x0, w0), (x1, w1) in pairwise(points):
        pieces.append([x0, w0, (w1 - w0) / (x1 - x0)])
    pieces.append([points[-1][0], points[-1][1], 0.0])
    if all(weight == points[0][1] for _, weight in points):
        pieces = pieces[:1]
    return np.array(pieces, np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def weigh(line: NDArray[np.float32], pieces: NDArray[np.float32], out: NDArray[np.float32]) -> None:
    """The weights of a line of tones, by a window's pieces; `out` is another line than `line`."""
    first = pieces[0, 1]
    for i in range(line.shape[0]):
        out[i] = first
    for p in range(1, pieces.shape[0]):
        start, weight, slope = pieces[p]
        for i in range(line.shape[0]):
            t = line[i] - start
            value = weight + slope * t
            out[i] = value if t >= np.float32(0) else out[i]
