"""Feathered coverage by an integral along the outline, for a kernel that is round.

What a kernel k, which depends on the distance alone, weighs of a polygon about a point is by
Green's theorem, in polar coordinates about that point, the sum over its sides of ∫ K(ρ) dθ, with ρ
the distance of the side in direction θ and K(ρ) the integral of k(r) r from 0 to ρ. Beyond the
kernel's rim K is 1/2π, so that with w, the times that the polygon goes round the point, it is w and
the sum of ∫ (K(ρ) − 1/2π) dθ over what of the sides is within the rim. (Sides are summed so, for
other kernels, by T. Duff, Polygon Scan Conversion by Exact Convolution, in: Raster Imaging and
Digital Typography, 1989; the reference is from memory.)
"""

import math
from functools import lru_cache

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.masks.outlines import Polygon
from yearning.core.picture import Plane

PIXEL = 1 / math.sqrt(3)
"""Radius in pixels of a disc that blurs as far as a pixel's square does: its variance is 1/12."""

CELLS = 64
"""Of the table, on each side."""

FINER = 4
"""Steps of the table's integral a cell."""

OFF = 3e-4
"""Of a feather, how far sides may lie off the outline."""

STIR = 1e-6
"""Pixels that corners are moved by, so that no side goes through another's, or a pixel's middle."""

Sides = NDArray[np.float64]


def rim_of(feather: float) -> float:
    """The radius in pixels of a feather's kernel, which has the blur of a pixel in it."""
    return feather / 2 + PIXEL


@lru_cache(maxsize=64)
def side_table(feather: float) -> Plane:
    """What sides weigh: δ ∫ K(√(δ² + s²)) / (δ² + s²) ds from 0 to τ.

    Returns:
        By δ, a side's distance from the point, and τ, how far along it from the foot of the
        perpendicular, both in parts of the rim's radius: shape `(CELLS + 2, CELLS + 2)`, float32,
        from 0 to a cell beyond 1.
    """
    rim = rim_of(feather)
    r = np.linspace(0, rim, 513)
    turn, out = (np.arange(12) + 0.5) * (np.pi / 12), PIXEL * np.sqrt((np.arange(6) + 0.5) / 6)
    aside = (out[:, None] * np.stack([np.cos(turn), np.sin(turn)])[:, None]).reshape(2, -1)
    away = np.hypot(r[:, None] + aside[0], aside[1])
    kernel = np.where(away < feather / 2, 1 + np.cos(2 * np.pi * away / feather), 0).mean(axis=1)
    steps = 0.5 * (kernel[1:] * r[1:] + kernel[:-1] * r[:-1])
    within = np.concatenate([[0.0], np.cumsum(steps)])
    per_area = within[1:] / within[-1] / (2 * np.pi) / (r[1:] / rim) ** 2
    per_area = np.concatenate([[per_area[0]], per_area])  # it is flat in the middle
    delta = np.arange(CELLS + 2)[:, None] / CELLS
    s = np.arange((CELLS + 1) * FINER + 1) / (CELLS * FINER)
    rho = np.hypot(delta, s)
    inner = np.interp(rho, r / rim, per_area)
    line = delta * np.where(rho < 1, inner, 1 / (2 * np.pi * np.maximum(rho, 1) ** 2))
    whole = np.cumsum(0.5 * (line[:, 1:] + line[:, :-1]), axis=1) / (CELLS * FINER)
    return np.concatenate([np.zeros_like(delta), whole[:, FINER - 1 :: FINER]], axis=1).astype(
        np.float32
    )


def fewer_sides(polygon: Polygon, off: float) -> Polygon:
    """Return a polygon without corners that lie very near to its sides.

    Args:
        polygon: shape `(n, 2)`, in pixels.
        off: how near, in pixels.
    """
    kept = np.empty_like(polygon)
    return kept[: _keep_corners(polygon, off, kept)]


@numba.njit(nogil=True, cache=True)
def _keep_corners(polygon: Polygon, off: float, kept: Polygon) -> int:
    """Write the corners that are kept, and return how many they are."""
    count = polygon.shape[0]
    n, start = 0, 0
    while start < count:
        kept[n, 0], kept[n, 1] = polygon[start, 0], polygon[start, 1]
        n += 1
        end = start + 1
        while end < count:
            after = end + 1 if end + 1 < count else 0
            x, y = polygon[start, 0], polygon[start, 1]
            along_x, along_y = polygon[after, 0] - x, polygon[after, 1] - y
            length = math.sqrt(along_x * along_x + along_y * along_y)
            near = length > 0
            for i in range(start + 1, end + 1):
                u, v = polygon[i, 0] - x, polygon[i, 1] - y
                on = u * along_x + v * along_y
                if abs(u * along_y - v * along_x) > off * length or not 0 < on < length * length:
                    near = False
            if not near:
                break
            end += 1
        start = end
    return n


def outline_sides(polygon: Polygon) -> Sides:
    """The sides of what a polygon covers by even and odd turns, which lies to the right of each.

    Where the polygon crosses itself sides are cut in two: from there on its other side is covered.

    Returns:
        Their beginnings and ends, x to the right and y down, shape `(n, 4)`.
    """
    number = np.arange(len(polygon))
    stirred = polygon + STIR * np.column_stack([np.sin(1.7 * number), np.cos(2.9 * number)])
    found = np.empty(8 * len(polygon))
    places = np.sort(found[: _crossings(stirred, found)])
    at = np.sort(np.concatenate([number, places]))
    closed = np.concatenate([stirred, stirred[:1]])
    first = at.astype(int)
    begin = closed[first] + (at - first)[:, None] * (closed[first + 1] - closed[first])
    end = np.roll(begin, -1, axis=0)
    turned = np.searchsorted(places, at, side="right") % 2 == 1
    if not _covers_right(stirred, begin[0], end[0]):
        turned = ~turned
    return np.where(
        turned[:, None], np.concatenate([end, begin], axis=1), np.concatenate([begin, end], axis=1)
    )


def _covers_right(polygon: Polygon, begin: NDArray[np.float64], end: NDArray[np.float64]) -> bool:
    """Whether an odd number of turns goes round what is just to the right of a side."""
    along = end - begin
    aside = STIR / 1000  # others may lie along it, as far off as corners are moved
    x, y = (begin + end) / 2 + aside * np.array([-along[1], along[0]]) / max(np.hypot(*along), STIR)
    (ax, ay), (bx, by) = polygon.T, np.roll(polygon, -1, axis=0).T
    passes = (ay <= y) != (by <= y)
    with np.errstate(divide="ignore", invalid="ignore"):
        right = ax + (y - ay) * (bx - ax) / (by - ay) > x
    return bool(np.count_nonzero(passes & right) % 2)


@numba.njit(nogil=True, cache=True)
def _crossings(polygon: Polygon, found: NDArray[np.float64]) -> int:
    """Write where sides cross, each as its number and how far along it, and return how many."""
    count, n = polygon.shape[0], 0
    for i in range(count):
        k = i + 1 if i + 1 < count else 0
        ax, ay, bx, by = polygon[i, 0], polygon[i, 1], polygon[k, 0], polygon[k, 1]
        left, right, top, bottom = min(ax, bx), max(ax, bx), min(ay, by), max(ay, by)
        u, v = bx - ax, by - ay
        cx, cy = polygon[k, 0], polygon[k, 1]
        for j in range(i + 1, count):
            k = j + 1 if j + 1 < count else 0
            dx, dy = polygon[k, 0], polygon[k, 1]
            x, y, cx, cy = cx, cy, dx, dy
            if (x < left and dx < left) or (x > right and dx > right):
                continue
            if (y < top and dy < top) or (y > bottom and dy > bottom):
                continue
            before, after = u * (y - ay) - v * (x - ax), u * (dy - ay) - v * (dx - ax)
            if before * after >= 0:
                continue
            p, q = dx - x, dy - y
            here, there = p * (ay - y) - q * (ax - x), p * (by - y) - q * (bx - x)
            if here * there < 0 and n + 2 <= found.shape[0]:
                found[n], found[n + 1] = i + here / (here - there), j + before / (before - after)
                n += 2
    return n


@numba.njit(nogil=True, cache=True)
def fill_by_edge(sides: Sides, rim: float, top: float, table: Plane, out: Plane) -> None:
    """Write feathered coverage of the pixels of the rows from `top` on.

    Args:
        sides: of `outline_sides`.
        rim: the kernel's radius.
        top: the first row.
        table: of `side_table`.
        out: shape `(rows, columns)`, 0..1.
    """
    rows, width = out.shape
    for y in range(rows):
        for x in range(width):
            out[y, x] = 0.0
    for i in range(sides.shape[0]):
        _add_turns(sides[i, 0], sides[i, 1] - top, sides[i, 2], sides[i, 3] - top, out)
    for y in range(rows):
        turns = np.float32(0)
        for x in range(width):
            turns += out[y, x]
            out[y, x] = turns
    for i in range(sides.shape[0]):
        _add_near(sides[i, 0], sides[i, 1] - top, sides[i, 2], sides[i, 3] - top, rim, table, out)


@numba.njit(nogil=True, cache=True, inline="always")
def _add_turns(ax: float, ay: float, bx: float, by: float, out: Plane) -> None:
    """Add to each row, where a side passes it, how the times change that are gone round a pixel."""
    if ay == by:
        return
    change = np.float32(-1) if by > ay else np.float32(1)
    low, high = min(ay, by), max(ay, by)
    slope = (bx - ax) / (by - ay)
    for y in range(max(math.ceil(low - 0.5), 0), min(math.ceil(high - 0.5), out.shape[0])):
        x = math.ceil(ax + (y + 0.5 - ay) * slope - 0.5)
        if x < out.shape[1]:
            out[y, max(x, 0)] += change


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _add_near(
    ax: float,
    ay: float,
    bx: float,
    by: float,
    rim: float,
    table: Plane,
    out: Plane,
) -> None:
    """Add ∫ (K − 1/2π) dθ of one side to the pixels within the kernel's radius of it."""
    length = math.sqrt((bx - ax) ** 2 + (by - ay) ** 2)
    if length == 0:
        return
    along_x, along_y = (bx - ax) / length, (by - ay) / length
    per = 1 / rim
    end = length * per
    one = np.float32(1)
    step_t, step_d = -along_x * per, -along_y * per
    for y in range(
        max(math.ceil(min(ay, by) - rim - 0.5), 0),
        min(math.floor(max(ay, by) + rim - 0.5) + 1, out.shape[0]),
    ):
        down = y + 0.5 - ay
        # what of the side is within the radius above or below this row
        first, last = 0.0, length
        if along_y != 0:
            p, q = (down - rim) / along_y, (down + rim) / along_y
            first, last = max(first, min(p, q)), min(last, max(p, q))
        p, q = ax + first * along_x, ax + last * along_x
        low, high = min(p, q) - rim, max(p, q) + rim
        if along_y != 0:  # and within the radius of the line that it lies on
            p, q = ax + (down * along_x - rim) / along_y, ax + (down * along_x + rim) / along_y
            low, high = max(low, min(p, q)), min(high, max(p, q))
        left = max(math.ceil(low - 0.5), 0)
        right = max(min(math.floor(high - 0.5) + 1, out.shape[1]), left)
        # from the pixel to the side's beginning: along it, and across
        begin_t = ((ax - left - 0.5) * along_x - down * along_y) * per
        begin_d = ((ax - left - 0.5) * along_y + down * along_x) * per
        line = out[y, left:right]
        for x in range(line.shape[0]):
            across = begin_d + x * step_d  # in double precision, as for the signs
            d = np.float32(abs(across))
            if d >= one:
                continue
            half = np.float32(math.sqrt(one - d * d))
            start = begin_t + x * step_t
            t0, t1 = max(np.float32(start), -half), min(np.float32(start + end), half)
            if t0 >= t1:
                continue
            turn = _angle(d * (t1 - t0), d * d + t0 * t1)
            weight = _looked_up(table, d, t1) - _looked_up(table, d, t0)
            weight -= np.float32(0.5 / math.pi) * turn
            line[x] += weight if across > 0 else -weight


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"}, inline="always")
def _looked_up(table: Plane, d: np.float32, t: np.float32) -> np.float32:
    """Return what the table has for a distance and a place along the side, odd in the latter."""
    u, v = d * np.float32(CELLS), abs(t) * np.float32(CELLS)
    i, j = np.int32(u), np.int32(v)
    a, b = u - np.float32(i), v - np.float32(j)
    upper, lower, k = table[np.uint32(i)], table[np.uint32(i + 1)], np.uint32(j)
    p = upper[k] + b * (upper[k + 1] - upper[k])
    q = lower[k] + b * (lower[k + 1] - lower[k])
    found = p + a * (q - p)
    return np.float32(found if t > 0 else -found)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"}, inline="always")
def _angle(high: np.float32, wide: np.float32) -> np.float32:
    """Return the angle from 0 to π whose tangent is high / wide; `high` is not below 0.

    By Abramowitz and Stegun, Handbook of Mathematical Functions, 4.4.49, to 1e-5.
    """
    away = abs(wide)
    larger = max(max(high, away), np.float32(1e-20))
    q = min(high, away) / larger
    s = q * q
    found = q * (
        np.float32(0.9998660)
        + s
        * (
            np.float32(-0.3302995)
            + s * (np.float32(0.1801410) + s * (np.float32(-0.0851330) + s * np.float32(0.0208351)))
        )
    )
    if high > away:
        found = np.float32(math.pi / 2) - found
    return np.float32(found if wide >= 0 else np.float32(math.pi) - found)
