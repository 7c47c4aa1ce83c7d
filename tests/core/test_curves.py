"""Curves against scipy's PCHIP (Fritsch & Carlson 1980)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from yearning.core.colour.curves import curve_table, pchip

POINTS = [
    [(0, 0), (1, 1)],
    [(0, 0.06), (0.25, 0.22), (1, 1)],
    [(0, 1), (0.4, 0.4), (0.6, 0.5), (1, 0)],
    [(0.1, 0.2), (0.3, 0.2), (0.31, 0.9), (0.9, 0.9)],
]


@pytest.mark.parametrize("points", POINTS)
def test_curves_are_scipys_pchip(points):
    x = np.linspace(points[0][0], points[-1][0], 501)
    px, py = zip(*points, strict=True)
    np.testing.assert_allclose(pchip(points, x), PchipInterpolator(px, py)(x), atol=1e-12)


@given(
    st.lists(
        st.tuples(st.integers(0, 1000), st.integers(0, 1000)),
        min_size=2, max_size=9, unique_by=lambda p: p[0],
    )
)  # fmt: skip
def test_any_curve_is_scipys_and_stays_between_its_points(points):
    points = sorted((x / 1000, y / 1000) for x, y in points)
    px, py = zip(*points, strict=True)
    x = np.linspace(0, 1, 301)
    y = pchip(points, x)
    expected = PchipInterpolator(px, py)(np.clip(x, px[0], px[-1]))
    np.testing.assert_allclose(y, expected, atol=1e-9)
    assert y.min() >= min(py) - 1e-12
    assert y.max() <= max(py) + 1e-12


def test_the_table_is_as_fine_as_a_float_can_tell():
    points = POINTS[2]
    x = np.linspace(0, 1, 9001)
    table = curve_table(points)
    looked = np.interp(x, np.linspace(0, 1, len(table)), table)
    np.testing.assert_allclose(looked, pchip(points, x), atol=2e-6)


def test_points_that_do_not_ascend_are_refused():
    with pytest.raises(ValueError, match="ascending"):
        pchip([(0.5, 0), (0.5, 1)], np.zeros(1))
