"""How much of each pixel a polygon covers: its area over the pixel, exact.

Each side adds to a row what it covers to its right, as a change from pixel to pixel; the running
sum along the row is then how much is covered, counted with the polygon's turns. Where it goes round
more than once, even and odd turns count as outside and inside (even-odd).
"""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.masks.outlines import Polygon
from yearning.core.picture import Plane

Line = NDArray[np.float32]

EXACT = 1e-5
"""What a row's running sum may be off by, on a whole number: it is that number."""


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def fill_coverage(polygon: Polygon, left: float, top: float, step: float, out: Plane) -> None:
    """Write the coverage of pixels `step` wide, the first one's corner at (`left`, `top`).

    Args:
        polygon: its corners.
        left: in the polygon's pixels, as `top` and `step` are.
        top: see `left`.
        step: see `left`.
        out: shape `(rows, columns)`, 0..1.
    """
    rows, width = out.shape
    for y in range(rows):
        for x in range(width):
            out[y, x] = 0.0
    per = 1.0 / step
    count = polygon.shape[0]
    for i in range(count):
        j = i + 1 if i + 1 < count else 0
        y0, y1 = (polygon[i, 1] - top) * per, (polygon[j, 1] - top) * per
        if y0 == y1 or max(y0, y1) <= 0 or min(y0, y1) >= rows:
            continue
        x0, x1 = (polygon[i, 0] - left) * per, (polygon[j, 0] - left) * per
        if min(x0, x1) < width:
            _add_side(x0, y0, x1, y1, out)
    for y in range(rows):
        _running_sum(out[y])


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _add_side(x0: float, y0: float, x1: float, y1: float, out: Plane) -> None:
    """Add a polygon's side to each row it passes."""
    sign = 1.0
    if y0 > y1:
        x0, y0, x1, y1, sign = x1, y1, x0, y0, -1.0
    slope = (x1 - x0) / (y1 - y0)
    first, last = max(y0, 0.0), min(y1, float(out.shape[0]))
    y = int(first)
    x = x0 + (first - y0) * slope
    while y < last:
        low = max(first, float(y))
        high = min(last, y + 1.0)
        at_end = x0 + (high - y0) * slope
        _add_piece(min(x, at_end), max(x, at_end), sign * (high - low), out[y])
        x = at_end
        y += 1


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _add_piece(a: float, b: float, rise: float, line: Line) -> None:
    """Add a side from x = `a` to `b` that passes `rise` of a row to the row's changes."""
    width = line.shape[0]
    if b <= 0:
        line[0] += rise
        return
    if a >= width:
        return
    if a < 0:
        outside = -a / (b - a)
        line[0] += rise * outside
        rise, a = rise * (1 - outside), 0.0
    if b > width:
        rise, b = rise * (width - a) / (b - a), float(width)
    n = int(a)
    if b <= n + 1:
        middle = 0.5 * (a + b) - n
        line[n] += rise * (1 - middle)
        if n + 1 < width:
            line[n + 1] += rise * middle
        return
    per = rise / (b - a)
    while n < b:
        low = max(a, float(n))
        high = min(b, n + 1.0)
        middle, part = 0.5 * (low + high) - n, per * (high - low)
        line[n] += part * (1 - middle)
        if n + 1 < width:
            line[n + 1] += part * middle
        n += 1


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"}, inline="always")
def _running_sum(line: Line) -> None:
    """Sum a row's changes up, and fold the sums to 0..1 by even and odd."""
    total = 0.0
    covered = np.float32(0)
    width = line.shape[0]
    left = 0
    while left < width:
        right = min(left + 8, width)
        changes = np.float32(0)
        for x in range(left, right):
            changes += abs(line[x])
        for x in range(left, right):
            if changes == 0:
                line[x] = covered
                continue
            total += line[x]
            near = np.rint(total)
            if abs(total - near) < EXACT:
                total = near
            covered = np.float32(abs(total - 2 * np.rint(0.5 * total)))
            line[x] = covered
        left = right
