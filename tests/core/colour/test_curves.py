"""Curves against scipy's PCHIP (Fritsch & Carlson 1980)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from yearning.core.colour.curves import apply_curve, curve_segments, pchip

POINTS = [
    [(0, 0), (1, 1)],
    [(0, 0.06), (0.25, 0.22), (1, 1)],
    [(0, 1), (0.4, 0.4), (0.6, 0.5), (1, 0)],
    [(0.1, 0.2), (0.3, 0.2), (0.31, 0.9), (0.9, 0.9)],
    [(-0.5, 0.1), (0.2, 0.4), (1.4, 0.8)],
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


@pytest.mark.parametrize("points", POINTS)
def test_its_pieces_are_the_curve_as_finely_as_a_float_can_tell(points):
    x = np.linspace(0, 1, 9001, dtype=np.float32)
    out = np.empty_like(x)
    apply_curve(x, curve_segments(points), out)
    np.testing.assert_allclose(out, pchip(points, x.astype(np.float64)), atol=2e-6)


def test_values_outside_the_range_keep_their_distance_from_its_end():
    x = np.array([-0.3, 1.7], np.float32)
    out = np.empty_like(x)
    apply_curve(x, curve_segments(POINTS[1]), out)
    np.testing.assert_allclose(out, [0.06 - 0.3, 1 + 0.7], atol=1e-6)


def test_points_that_do_not_ascend_are_refused():
    with pytest.raises(ValueError, match="ascending"):
        pchip([(0.5, 0), (0.5, 1)], np.zeros(1))
