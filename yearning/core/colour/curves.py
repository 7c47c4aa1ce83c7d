"""Curves through points: monotone piecewise cubics.

Source: F. N. Fritsch and R. E. Carlson, Monotone Piecewise Cubic Interpolation, SIAM J. Numer.
Anal. 17 (1980), with the slopes of F. N. Fritsch and J. Butland, A Method for Constructing Local
Monotone Piecewise Cubic Interpolants, SIAM J. Sci. Stat. Comput. 5 (1984), eq. 5. (From memory; the
tests check them against SciPy's `PchipInterpolator`, whose import takes half a second.)
"""

from collections.abc import Sequence

import numba
import numpy as np
from numpy.typing import NDArray

Points = Sequence[tuple[float, float]]


def _slopes(h: NDArray[np.float64], m: NDArray[np.float64]) -> NDArray[np.float64]:
    """Slopes at the points, of steps `h` wide and `m` steep: harmonic means, 0 where m turns."""
    if len(m) == 1:
        return np.repeat(m, 2)
    before, after = m[:-1], m[1:]
    w1, w2 = 2 * h[1:] + h[:-1], h[1:] + 2 * h[:-1]
    both = np.maximum(before * after, 0)
    inner = (w1 + w2) * both / np.where(both > 0, w1 * after + w2 * before, 1)
    ends = _end_slope(h[0], h[1], m[0], m[1]), _end_slope(h[-1], h[-2], m[-1], m[-2])
    return np.array([ends[0], *inner, ends[1]])


def _end_slope(h0: float, h1: float, m0: float, m1: float) -> float:
    """The slope at an end, by three points, held so that nothing overshoots."""
    d = ((2 * h0 + h1) * m0 - h0 * m1) / (h0 + h1)
    if np.sign(d) != np.sign(m0):
        return 0.0
    return float(3 * m0 if np.sign(m0) != np.sign(m1) and abs(d) > 3 * abs(m0) else d)


def _cubics(x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
    """c0..c3 of each step's cubic in what lies beyond its first point, shape `(steps, 4)`."""
    h = np.diff(x)
    m = np.diff(y) / h
    d = _slopes(h, m)
    d0, d1 = d[:-1], d[1:]
    return np.stack([y[:-1], d0, (3 * m - 2 * d0 - d1) / h, (d0 + d1 - 2 * m) / h**2], axis=1)


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
    at = np.clip(at, x[0], x[-1])
    step = np.clip(np.searchsorted(x, at, side="right") - 1, 0, len(x) - 2)
    c0, c1, c2, c3 = _cubics(x, y)[step].T
    t = at - x[step]
    return np.asarray(c0 + t * (c1 + t * (c2 + t * c3)), np.float64)


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
    segments[1:-1, 1:] = _cubics(x, y)
    segments[-1, 1] = y[-1]
    first = np.count_nonzero(segments[:, 0] <= 0) - 1
    return segments[first : 1 + np.count_nonzero(segments[1:, 0] < 1)].astype(np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def apply_curve(
    line: NDArray[np.float32], segments: NDArray[np.float32], out: NDArray[np.float32]
) -> None:
    """Take a row of values through a curve; beyond 0..1 the change at the end goes on.

    Every segment is computed for every value and the last that holds is kept: no table is indexed,
    so the loops are vectorized.

    Args:
        line: the values.
        segments: of the curve.
        out: another line than `line`.
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
