"""Values between samples, and lines moved sideways, against scipy and NumPy."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import map_coordinates

from yearning.core.image.bilinear import add_bilinear, bilinear_coordinates
from yearning.core.image.row_shift import mirror, shift_row

PLANE = np.random.default_rng(6).normal(0, 1, (23, 41)).astype(np.float32)


def draw_bilinear(plane, x, y, share=1.0):
    at = np.empty(len(x), np.int32)
    fx, fy = np.array(x, np.float32), np.array(y, np.float32)
    out = np.zeros(len(x), np.float32)
    bilinear_coordinates(fx, fy, *plane.shape, at)
    add_bilinear(plane.reshape(-1), *plane.shape, at, fx, fy, np.float32(share), out)
    return out


@pytest.mark.parametrize("shape", [(23, 41), (1, 41), (23, 1), (1, 1), (2, 2)])
def test_places_are_drawn_bilinearly_and_beyond_the_edges_from_the_edges(shape):
    plane = np.ascontiguousarray(PLANE[: shape[0], : shape[1]])
    rng = np.random.default_rng(1)
    x, y = rng.uniform(-5, 45, 400), rng.uniform(-5, 27, 400)
    exact = map_coordinates(plane.astype(float), [y, x], order=1, mode="nearest")
    np.testing.assert_allclose(draw_bilinear(plane, x, y), exact, atol=2e-5)


def test_at_samples_they_are_exactly_the_samples():
    """To the last bit, the last row and column too: what does not move must not change."""
    y, x = np.mgrid[:23, :41].reshape(2, -1)
    np.testing.assert_array_equal(draw_bilinear(PLANE, x, y), PLANE.reshape(-1))


def test_shares_add_up():
    x, y = np.linspace(0, 40, 50), np.linspace(0, 22, 50)
    np.testing.assert_allclose(
        draw_bilinear(PLANE, x, y, 0.25), 0.25 * draw_bilinear(PLANE, x, y), atol=1e-6
    )


@given(place=st.integers(-500, 500), count=st.integers(1, 60))
def test_a_place_beyond_the_ends_is_a_mirror_image(place, count):
    line = np.pad(np.arange(count), 600, mode="symmetric")
    assert mirror(place, count) == line[place + 600]


@given(by=st.integers(-150, 150), cut=st.tuples(st.integers(0, 41), st.integers(0, 41)))
def test_a_line_moved_by_whole_pixels_is_exactly_it_and_the_rest_is_left(by, cut):
    left, right = sorted(cut)
    line, out = PLANE[3], np.full(41, 7, np.float32)
    shift_row(line, float(by), left, right, out)
    wide = np.pad(line, 200, mode="symmetric")
    np.testing.assert_array_equal(out[left:right], wide[200 - by + left : 200 - by + right])
    assert np.all(out[:left] == 7)
    assert np.all(out[right:] == 7)


@pytest.mark.parametrize("by", [0.5, -3.25, 12.8, -60.1])
def test_a_line_moved_by_parts_of_pixels_is_keys_cubic(by):
    """Keys 1981, eq. 15 with a = −½, written out in float64."""
    line, out = PLANE[5], np.empty(41, np.float32)
    shift_row(line, by, 0, 41, out)
    wide = np.pad(line.astype(float), 300, mode="symmetric")
    for x in range(41):
        place = x - by
        total = 0.0
        for k in range(int(np.floor(place)) - 1, int(np.floor(place)) + 3):
            s = abs(place - k)
            near, far = 1.5 * s**3 - 2.5 * s**2 + 1, -0.5 * s**3 + 2.5 * s**2 - 4 * s + 2
            total += wide[k + 300] * (near if s <= 1 else far)
        assert out[x] == pytest.approx(total, abs=1e-5)
