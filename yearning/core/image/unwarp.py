"""Where points were before a warp."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]

ROUNDS = 12

CLOSE = 1e-6
"""Pixels within which a point is found."""


def invert_warp(warp: Callable[[Points], Points], points: Points) -> Points:
    """The points that a warp takes to those given, by Newton's method, its slopes by differences.

    Args:
        warp: maps points in pixels, shape `(n, 2)`; smooth, and one to one near the points.
        points: shape `(n, 2)`.

    >>> import numpy as np
    >>> invert_warp(lambda p: 2 * p + 3, np.array([[5.0, 7.0]])).round(6).tolist()
    [[1.0, 2.0]]
    """
    found = np.array(points, np.float64)
    for _ in range(ROUNDS):
        here = warp(found)
        left = points - here
        if np.abs(left).max(initial=0.0) < CLOSE:
            break
        across, down = (warp(found + step) - here for step in np.eye(2))
        slopes = np.stack([across, down], axis=-1)
        found += np.linalg.solve(slopes, left[..., None])[..., 0]
    return found
