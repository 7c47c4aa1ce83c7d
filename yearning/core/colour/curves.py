"""Curves through points: monotone piecewise cubics.

F. N. Fritsch and R. E. Carlson, Monotone Piecewise Cubic Interpolation, SIAM J. Numer. Anal.
17 (1980), with the derivative formula of F. N. Fritsch and J. Butland (1984) as PCHIP uses it.
"""

from collections.abc import Sequence

import numba
import numpy as np
from numpy.typing import NDArray

TABLE_STEPS = 4096
"""Table intervals over 0..1: with linear look-up the error stays below 1e-6 for smooth curves."""

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


def curve_table(points: Points) -> NDArray[np.float32]:
    """The curve sampled at `TABLE_STEPS + 1` even positions of 0..1, float32."""
    return pchip(points, np.linspace(0.0, 1.0, TABLE_STEPS + 1)).astype(np.float32)


@numba.njit(nogil=True, cache=True, inline="always")
def looked_up(table: NDArray[np.float32], value: np.float32) -> np.float32:
    """Linear look-up of `value` in a table over 0..1; outside, the end's offset is carried on.

    Compiled without `fastmath`, and clamped as an integer: no value can index past the table.
    """
    last = np.uint32(table.shape[0] - 1)
    inside = min(max(value, np.float32(0)), np.float32(1))
    position = inside * np.float32(last)
    i = min(np.uint32(np.int32(position)), last - np.uint32(1))
    low = table[i]
    between = (position - np.float32(i)) * (table[i + np.uint32(1)] - low)
    out: np.float32 = low + between + (value - inside)
    return out
