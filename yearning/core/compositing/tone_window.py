"""Tone windows: a weight for each luma, straight between points.

A step's tone window says how strongly it shows from black to white of the picture below; some
treatments have windows of their own.
"""

from functools import lru_cache
from itertools import pairwise
from typing import Annotated

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator

MAX_POINTS = 16

MIN_SPACING = 1e-4
"""Between two points, and between two stops of a ramp, on the scale from black to white."""

TonePoints = tuple[tuple[float, float], ...]
"""Points (luma 0..1, weight 0..1), ascending."""


def _validate_points(points: TonePoints) -> TonePoints:
    if not 1 <= len(points) <= MAX_POINTS:
        raise ValueError(f"a tone window has 1 to {MAX_POINTS} points, not {len(points)}")
    if any(not (0 <= x <= 1 and 0 <= weight <= 1) for x, weight in points):
        raise ValueError("tones and weights of a tone window lie within 0 and 1")
    if any(b[0] - a[0] < MIN_SPACING for a, b in pairwise(points)):
        raise ValueError(
            f"the points of a tone window go from black to white, at least {MIN_SPACING} apart"
        )
    return points


Tones = Annotated[TonePoints, AfterValidator(_validate_points)]
"""A tone window: straight between its points, level beyond the ends."""

FLAT: TonePoints = ((0.0, 1.0), (1.0, 1.0))
"""The window that has weight 1 everywhere."""


@lru_cache(maxsize=256)
def tone_segments(points: TonePoints) -> NDArray[np.float32]:
    """A window as straight segments, as `weigh_tones` takes it.

    Returns:
        Shape `(n, 3)`: the luma at which a segment begins, the weight there, and the slope. The
        first begins at −∞; a window of one weight everywhere is that segment alone.

    >>> tone_segments(((0.0, 0.5),)).tolist()
    [[-inf, 0.5, 0.0]]
    """
    segments = [[-np.inf, points[0][1], 0.0]]
    for (x0, w0), (x1, w1) in pairwise(points):
        segments.append([x0, w0, (w1 - w0) / (x1 - x0)])
    segments.append([points[-1][0], points[-1][1], 0.0])
    if all(weight == points[0][1] for _, weight in points):
        segments = segments[:1]
    return np.array(segments, np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def weigh_tones(
    line: NDArray[np.float32], segments: NDArray[np.float32], out: NDArray[np.float32]
) -> None:
    """Write the weight of each luma of a row.

    Args:
        line: the lumas.
        segments: of the window.
        out: another array than `line`.
    """
    first = segments[0, 1]
    for i in range(line.shape[0]):
        out[i] = first
    for n in range(1, segments.shape[0]):
        start, weight, slope = segments[n]
        for i in range(line.shape[0]):
            t = line[i] - start
            value = weight + slope * t
            out[i] = value if t >= np.float32(0) else out[i]
