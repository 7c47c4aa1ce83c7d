"""Curves through points: monotone piecewise cubics.

Source: F. N. Fritsch and R. E. Carlson, Monotone Piecewise Cubic Interpolation, SIAM J. Numer.
Anal. 17 (1980), with the derivatives of F. N. Fritsch and J. Butland (1984), as SciPy's
`PchipInterpolator` has them.
"""

from collections.abc import Sequence
from typing import Any

import numba
import numpy as np
from numpy.typing import NDArray

Points = Sequence[tuple[float, float]]


def _interpolator(x: NDArray[np.float64], y: NDArray[np.float64]) -> Any:
    """SciPy's monotone cubic; its import takes half a second, so it waits for the first curve."""
    from scipy.interpolate import PchipInterpolator

    return PchipInterpolator(x, y)


def pchip(points: Points, at: NDArray[np.float64]) -> NDArray[np.float64]:
    """Values of the monotone cubic through `points`, held flat beyond the end points.

    Args:
        points: (x, y), at least two, x ascending.
        at: where it is evaluated.

    Raises:
        ValueError: fewer than two points, or their x do not ascend.

    >>> pchip([(0, 0), (1, 1)], np.array([-1.0, 0.25, 2.0])).tolist()
    [0.0, 0.25, 1.0]
    """
    x, y = np.array(points, np.float64).reshape(-1, 2).T
    if len(x) < 2 or np.any(np.diff(x) <= 0):
        raise ValueError("a curve needs two or more points with ascending x")
    return np.asarray(_interpolator(x, y)(np.clip(at, x[0], x[-1])), np.float64)


def curve_segments(points: Points) -> NDArray[np.float32]:
    """The monotone cubic through `points` as segments, for `apply_curve`.

    Returns:
        Shape `(n, 5)`: where each segment begins, then c0..c3 of its cubic
        c0 + c1·t + c2·t² + c3·t³, with t counted from there. The first holds the first point's
        value from −∞, the last the last point's. Segments outside 0..1 are left out.
    """
    x, y = np.array(points, np.float64).reshape(-1, 2).T
    segments = np.zeros((len(x) + 1, 5))
    segments[0, :2] = -np.inf, y[0]
    segments[1:, 0] = x
    segments[1:-1, 1:] = _interpolator(x, y).c[::-1].T
    segments[-1, 1] = y[-1]
    first = np.count_nonzero(segments[:, 0] <= 0) - 1
    return segments[first : 1 + np.count_nonzero(segments[1:, 0] < 1)].astype(np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def apply_curve(
    line: NDArray[np.float32], segments: NDArray[np.float32], out: NDArray[np.float32]
) -> None:
    """Take a row of values through a curve; beyond 0..1 the change at the end goes on.

    `out` is another array than `line`. Every segment is computed for every value and the last that
    holds is kept: no table is indexed, so the loops are vectorized.
    """
    zero, one = np.float32(0), np.float32(1)
    start, c0, c1, c2, c3 = segments[0]
    start = start if start > -np.inf else zero  # a level piece: any start will do
    for i in range(line.shape[0]):
        t = min(max(line[i], zero), one) - start
        out[i] = ((c3 * t + c2) * t + c1) * t + c0
    for p in range(1, segments.shape[0]):
        start, c0, c1, c2, c3 = segments[p]
        for i in range(line.shape[0]):
            t = min(max(line[i], zero), one) - start
            value = ((c3 * t + c2) * t + c1) * t + c0
            out[i] = value if t >= zero else out[i]
    for i in range(line.shape[0]):
        out[i] += line[i] - min(max(line[i], zero), one)
