"""Outlines of shapes as polygons, fine enough that what they cover is exact."""

import math

import numpy as np
from numpy.typing import NDArray

from yearning.core.picture import Size

Polygon = NDArray[np.float64]
"""Corners in pixels, shape `(n, 2)`, x then y; the last is joined to the first."""

FINEST = 0.002
"""Pixels by which a polygon's sides may lie off the curve."""

BezierPoint = tuple[float, float, float, float, float, float]
"""A point `x, y` of a path, and its handles towards the point before and the one after, relative to
it; all in fractions of the picture's width and height."""


def ellipse_polygon(
    centre: tuple[float, float], half_axes: tuple[float, float], turn: float, size: Size
) -> Polygon:
    """An ellipse in a picture of `size`, of just its area.

    Args:
        centre: in fractions of width and height.
        half_axes: across and down before it is turned, in the same.
        turn: degrees, clockwise as seen.
        size: of the picture.
    """
    wide, high = half_axes[0] * size.width, half_axes[1] * size.height
    count = _arc_sides(2 * math.pi, max(wide, high))
    angle = np.arange(count) * (2 * math.pi / count)
    # a polygon of n sides in a circle has sin θ / θ of its area, θ = 2π/n
    grown = math.sqrt((2 * math.pi / count) / math.sin(2 * math.pi / count))
    round_it = np.stack([wide * np.cos(angle), high * np.sin(angle)], axis=1) * grown
    return _place_points(round_it, centre, turn, size)


def box_polygon(
    centre: tuple[float, float],
    half_axes: tuple[float, float],
    turn: float,
    roundness: float,
    size: Size,
) -> Polygon:
    """Return the outline of a box in a picture.

    Args:
        centre: in fractions of the picture.
        half_axes: as of `ellipse_polygon`.
        turn: as of `ellipse_polygon`.
        roundness: its corners' radius, 0..1 of the shorter side.
        size: of the picture.
    """
    wide, high = half_axes[0] * size.width, half_axes[1] * size.height
    radius = roundness * min(wide, high)
    corners = np.array([[wide, high], [-wide, high], [-wide, -high], [wide, -high]])
    if radius > FINEST:
        sides = _arc_sides(math.pi / 2, radius)
        angle = np.linspace(0, math.pi / 2, sides + 1)
        arcs = []
        for n, corner in enumerate(corners):
            middle = corner - radius * np.sign(corner)
            turned = angle + n * math.pi / 2
            arcs.append(middle + radius * np.stack([np.cos(turned), np.sin(turned)], axis=1))
        corners = np.concatenate(arcs)
    return _place_points(corners, centre, turn, size)


def bezier_polygon(points: tuple[BezierPoint, ...], size: Size) -> Polygon:
    """Return the outline of a closed path of cubic Bezier curves in a picture.

    Args:
        points: with their handles, in fractions of the picture.
        size: of the picture.
    """
    scale = np.array([size.width, size.height], np.float64)
    given = np.array(points, np.float64).reshape(-1, 3, 2) * scale
    place, before, after = given[:, 0], given[:, 1], given[:, 2]
    ends = np.roll(place, -1, axis=0)
    out = []
    for p0, p1, p2, p3 in zip(
        place, place + after, ends + np.roll(before, -1, axis=0), ends, strict=True
    ):
        bend = max(float(np.hypot(*(p0 - 2 * p1 + p2))), float(np.hypot(*(p1 - 2 * p2 + p3))))
        # a chord over 1/n of a cubic lies at most 6 bend / 8n² off it
        t = (np.arange(max(1, math.ceil(math.sqrt(0.75 * bend / FINEST)))) / 1.0)[:, None]
        t /= len(t)
        s = 1 - t
        out.append(s**3 * p0 + 3 * s**2 * t * p1 + 3 * s * t**2 * p2 + t**3 * p3)
    return np.concatenate(out)


def subdivide(polygon: Polygon, longest: float) -> Polygon:
    """Return the same outline with shorter sides, so that it can be bent.

    Args:
        polygon: shape `(n, 2)`, in pixels.
        longest: side, in pixels.
    """
    ends = np.roll(polygon, -1, axis=0)
    out = []
    for start, end in zip(polygon, ends, strict=True):
        parts = max(1, math.ceil(float(np.hypot(*(end - start))) / longest))
        out.append(start + (np.arange(parts) / parts)[:, None] * (end - start))
    return np.concatenate(out)


def _arc_sides(angle: float, radius: float) -> int:
    """How many sides an arc needs: each lies r (1 − cos ½θ) off it."""
    per_side = math.sqrt(8 * FINEST / max(radius, FINEST))
    return max(8, math.ceil(angle / per_side))


def _place_points(points: Polygon, centre: tuple[float, float], turn: float, size: Size) -> Polygon:
    """Turn points about the origin, and move them to a centre."""
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    turned = points @ np.array([[c, s], [-s, c]])
    return np.asarray(turned + np.array([centre[0] * size.width, centre[1] * size.height]))
