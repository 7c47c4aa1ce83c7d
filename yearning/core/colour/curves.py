"""Curves through points: monotone piecewise cubics.

F. N. Fritsch and R. E. Carlson, Monotone Piecewise Cubic Interpolation, SIAM J. Numer. Anal.
17 (1980), with the derivative formula of F. N. Fritsch and J. Butland (1984) as PCHIP uses it.
"""

from collections.abc import Sequence

import numba
import numpy as np
from numpy.typing import NDArray

Points = Sequence[tuple[float, float]]


def pchip_slopes(x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
    """Slopes at the points `x` (ascending), `y` that keep the cubic between them monotone.

    Inside: the weighted harmonic mean of the neighbouring secants where they agree in sign, else
    0. At the ends: the three-point formula, limited to keep the shape.
    """
    h = np.diff(x)
    delta = np.diff(y) / h
    if len(x) == 2:
        return np.array([delta[0], delta[0]])
    slopes = np.zeros_like(x)
    w1 = 2 * h[1:] + h[:-1]
    w2 = h[1:] + 2 * h[:-1]
    agree = delta[:-1] * delta[1:] > 0
    with np.errstate(divide="ignore", invalid="ignore"):
        harmonic = (w1 + w2) / (w1 / delta[:-1] + w2 / delta[1:])
    slopes[1:-1] = np.where(agree, harmonic, 0.0)
    slopes[0] = _end_slope(h[0], h[1], delta[0], delta[1])
    slopes[-1] = _end_slope(h[-1], h[-2], delta[-1], delta[-2])
    return slopes


def _end_slope(h0: float, h1: float, d0: float, d1: float) -> float:
    slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1)
    if slope * d0 <= 0:
        return 0.0
    if d0 * d1 <= 0 and abs(slope) > 3 * abs(d0):
        return 3 * d0
    return float(slope)


def pchip(points: Points, at: NDArray[np.float64]) -> NDArray[np.float64]:
    """Values at `at` of the monotone cubic through `points`, held flat outside the end points.

    Raises:
        ValueError: fewer than two points, or their x do not ascend.
    """
    x, y = np.array(points, np.float64).reshape(-1, 2).T
    if len(x) < 2 or np.any(np.diff(x) <= 0):
        raise ValueError("a curve needs two or more points with ascending x")
    slopes = pchip_slopes(x, y)
    clipped = np.clip(at, x[0], x[-1])
    i = np.clip(np.searchsorted(x, clipped, side="right") - 1, 0, len(x) - 2)
    h = x[i + 1] - x[i]
    t = (clipped - x[i]) / h
    values: NDArray[np.float64] = (
        (1 + 2 * t) * (1 - t) ** 2 * y[i]
        + t * (1 - t) ** 2 * h * slopes[i]
        + t**2 * (3 - 2 * t) * y[i + 1]
        + t**2 * (t - 1) * h * slopes[i + 1]
    )
    return values


def curve_cubics(points: Points) -> NDArray[np.float32]:
    """The curve as pieces, shape `(n, 5)`: from where each holds, then c0..c3 of its cubic.

    A piece's value is c0 + c1·t + c2·t² + c3·t³ for t measured from where it begins. The first
    holds the first point's value from −∞, the last the last point's; pieces that hold nowhere
    within 0..1 are left out.
    """
    x, y = np.array(points, np.float64).reshape(-1, 2).T
    slopes = pchip_slopes(x, y)
    h, delta = np.diff(x), np.diff(y) / np.diff(x)
    pieces = np.zeros((len(x) + 1, 5))
    pieces[0, :2] = -np.inf, y[0]
    pieces[1:, 0], pieces[1:, 1] = x, y
    pieces[1:-1, 2] = slopes[:-1]
    pieces[1:-1, 3] = (3 * delta - 2 * slopes[:-1] - slopes[1:]) / h
    pieces[1:-1, 4] = (slopes[:-1] + slopes[1:] - 2 * delta) / h**2
    first = np.count_nonzero(pieces[:, 0] <= 0) - 1
    return pieces[first : 1 + np.count_nonzero(pieces[1:, 0] < 1)].astype(np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def draw_through(
    line: NDArray[np.float32], pieces: NDArray[np.float32], out: NDArray[np.float32]
) -> None:
    """Take a line of values through a curve's pieces; outside 0..1 the end's offset is carried on.

    `out` is another line than `line`. Every piece is computed for every value and the last that
    holds is kept: no table is indexed, so the loops run on whole vectors.
    """
    zero, one = np.float32(0), np.float32(1)
    start, c0, c1, c2, c3 = pieces[0]
    start = start if start > -np.inf else zero  # a level piece: any start will do
    for i in range(line.shape[0]):
        t = min(max(line[i], zero), one) - start
        out[i] = ((c3 * t + c2) * t + c1) * t + c0
    for p in range(1, pieces.shape[0]):
        start, c0, c1, c2, c3 = pieces[p]
        for i in range(line.shape[0]):
            t = min(max(line[i], zero), one) - start
            value = ((c3 * t + c2) * t + c1) * t + c0
            out[i] = value if t >= zero else out[i]
    for i in range(line.shape[0]):
        out[i] += line[i] - min(max(line[i], zero), one)
