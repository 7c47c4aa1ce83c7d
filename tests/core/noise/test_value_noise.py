"""Value noise: smooth, bounded, the same at any place alone."""

import numba
import numpy as np
import pytest

from yearning.core.noise.value_noise import NO_CELL, noise_1d, noise_2d, noise_2d_cached


@numba.njit
def _row(seed, layer, places):
    out = np.empty(len(places))
    for i in range(len(places)):
        out[i] = noise_1d(seed, layer, places[i])
    return out


@numba.njit
def _plane(seed, layer, x, y):
    out = np.empty((len(y), len(x)))
    for i in range(len(y)):
        for j in range(len(x)):
            out[i, j] = noise_2d(seed, layer, x[j], y[i])
    return out


@numba.njit
def _kept_plane(seed, layer, x, y):
    out = np.empty((len(y), len(x)))
    cell, corners = np.full(2, NO_CELL), np.empty(4, np.float32)
    for i in range(len(y)):
        for j in range(len(x)):
            out[i, j] = noise_2d_cached(seed, layer, x[j], y[i], cell, corners)
    return out


T = np.linspace(-40, 40, 16001)


def test_it_stays_within_one_and_uses_most_of_that():
    values = _row(5, 1, T)
    assert np.abs(values).max() <= 1
    assert np.ptp(values) > 1.5
    assert abs(values.mean()) < 0.15


def test_it_is_smooth():
    # Perlin, Improving Noise, 2002: the steepest slope of 6t^5 - 15t^4 + 10t^3 is 15/8, over a
    # difference of 2 at most; both octaves have two thirds of that slope
    assert np.abs(np.diff(_row(5, 1, T))).max() <= 2 * 15 / 8 * 4 / 3 * (T[1] - T[0]) * 1.01


def test_a_plane_is_level_at_lattice_points():
    # as that polynomial's first two derivatives vanish there: it moves by 10t^3 of the difference
    lattice, row = np.arange(-10.0, 10), np.array([2.0])
    near = _plane(5, 1, lattice + 1e-2, row) - _plane(5, 1, lattice, row)
    assert np.abs(near).max() < 2 * 10 * 1e-6 * 1.1


def test_the_last_cell_kept_changes_no_more_than_rounding():
    x, y = np.linspace(-3, 7, 301), np.linspace(2, -5, 37)
    # to the rounding of float32
    np.testing.assert_allclose(_kept_plane(8, 4, x, y), _plane(8, 4, x, y), atol=2e-6)


@pytest.mark.parametrize(("seed", "layer"), [(6, 1), (5, 2)])
def test_seeds_and_layers_are_independent(seed, layer):
    assert abs(np.corrcoef(_row(5, 1, T), _row(seed, layer, T))[0, 1]) < 0.35


def test_a_plane_is_bilinear_in_the_eased_fractions():
    corners = _plane(3, 0, np.array([2.0, 3.0]), np.array([-4.0, -3.0]))
    x, y = np.array([2.25, 2.5, 2.9]), np.array([-3.8, -3.5])
    fx, fy = (6 * t**5 - 15 * t**4 + 10 * t**3 for t in (x - 2, y + 4))
    top = corners[0, 0] + (corners[0, 1] - corners[0, 0]) * fx
    low = corners[1, 0] + (corners[1, 1] - corners[1, 0]) * fx
    expected = top + (low - top) * fy[:, None]
    np.testing.assert_allclose(_plane(3, 0, x, y), expected, atol=1e-5)


def test_a_place_alone_is_the_place_of_the_whole():
    x, y = np.linspace(-3, 7, 41), np.linspace(0, 5, 23)
    whole = _plane(8, 4, x, y)
    for i, j in ((0, 0), (11, 20), (22, 40)):
        assert _plane(8, 4, x[j : j + 1], y[i : i + 1])[0, 0] == whole[i, j]
