"""Outlines of shapes: against their areas, and against fontTools' cubic Beziers."""

import math

import numpy as np
import pytest
from fontTools.misc import bezierTools
from shapely.geometry import Polygon

from yearning.core.masks.outlines import (
    bezier_polygon,
    box_polygon,
    ellipse_polygon,
    subdivide,
)
from yearning.core.picture import Size

SIZE = Size(640, 360)
LEAF = (
    (0.2, 0.5, 0.0, 0.2, 0.1, -0.3),
    (0.8, 0.4, -0.2, -0.1, 0.05, 0.2),
    (0.5, 0.8, 0.1, 0.1, -0.1, 0.0),
)


@pytest.mark.parametrize("turn", [0, 30, -75])
@pytest.mark.parametrize("half", [(0.004, 0.3), (0.25, 0.1), (0.9, 0.9)])
def test_an_ellipse_has_its_area(half, turn):
    polygon = ellipse_polygon((0.4, 0.6), half, turn, SIZE)
    expected = math.pi * half[0] * SIZE.width * half[1] * SIZE.height
    assert Polygon(polygon).area == pytest.approx(expected, rel=1e-9)
    assert polygon.mean(axis=0) == pytest.approx((0.4 * 640, 0.6 * 360), abs=1e-6)


@pytest.mark.parametrize("roundness", [0, 0.3, 1])
def test_a_box_has_its_area_and_round_corners(roundness):
    polygon = box_polygon((0.5, 0.5), (0.2, 0.3), 25, roundness, SIZE)
    wide, high = 2 * 0.2 * SIZE.width, 2 * 0.3 * SIZE.height
    radius = roundness * min(wide, high) / 2
    expected = wide * high - (4 - math.pi) * radius**2
    assert Polygon(polygon).area == pytest.approx(expected, rel=1e-4)
    assert Polygon(polygon).is_valid


def test_a_turn_is_clockwise_as_seen():
    lying = ellipse_polygon((0.5, 0.5), (0.3, 0.02), 30, SIZE)
    right = lying[lying[:, 0].argmax()]
    assert right[1] > 0.5 * SIZE.height  # y grows downwards


def test_a_path_runs_along_its_beziers():
    polygon = bezier_polygon(LEAF, SIZE)
    edge = Polygon(polygon).exterior
    scale = np.array([SIZE.width, SIZE.height])
    for first, second in zip(LEAF, LEAF[1:] + LEAF[:1], strict=True):
        a, b = np.array(first).reshape(3, 2), np.array(second).reshape(3, 2)
        curve = [a[0] * scale, (a[0] + a[2]) * scale, (b[0] + b[1]) * scale, b[0] * scale]
        for t in np.linspace(0, 1, 23):
            x, y = bezierTools.cubicPointAtT(*map(tuple, curve), t)
            assert edge.distance(_point(x, y)) < 0.005


def _point(x, y):
    from shapely.geometry import Point

    return Point(x, y)


def test_divided_sides_are_short_and_leave_the_area():
    polygon = np.array([[0, 0], [100, 0], [100, 50], [0, 50]], np.float64)
    fine = subdivide(polygon, 7)
    sides = np.hypot(*(np.roll(fine, -1, axis=0) - fine).T)
    assert sides.max() <= 7
    assert Polygon(fine).area == pytest.approx(5000)
