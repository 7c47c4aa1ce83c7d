"""Rows convolved by half of a gaussian's taps, against scipy's correlation in float64."""

import numpy as np
import pytest
from scipy.ndimage import correlate1d, gaussian_filter1d

from yearning.core.image.convolution import convolve_across, convolve_down, half_gaussian


def _whole(half):
    return np.concatenate([half[:0:-1], [2 * half[0]], half[1:]]).astype(np.float64)


@pytest.mark.parametrize("sigma", [0.0, 0.3, 1.0, 1.6, 3.9])
def test_half_of_a_gaussian_is_a_gaussian(sigma):
    taps = _whole(half_gaussian(sigma))
    impulse = np.zeros(len(taps))
    impulse[len(taps) // 2] = 1
    expected = gaussian_filter1d(impulse, sigma, truncate=9) if sigma else impulse
    np.testing.assert_allclose(taps, expected, atol=3e-5)
    assert taps.sum() == pytest.approx(1, abs=1e-6)
    assert len(half_gaussian(sigma)) % 4 == 0


@pytest.mark.parametrize("shape", [(40, 61), (9, 5), (1, 1)])
@pytest.mark.parametrize("sigma", [0.0, 1.0, 2.5])
def test_rows_are_convolved_across_and_down_mirrored_as_often_as_needed(shape, sigma):
    plane = np.random.default_rng(3).random(shape, np.float32)
    half = half_gaussian(sigma)
    across, down = np.empty_like(plane), np.empty_like(plane)
    for y in range(shape[0]):
        convolve_across(plane[y], half, across[y])
        convolve_down(plane, y, half, down[y])
    for found, axis in ((across, 1), (down, 0)):
        expected = correlate1d(plane.astype(np.float64), _whole(half), axis, mode="reflect")
        np.testing.assert_allclose(found, expected, atol=1e-6)


def test_a_row_may_be_convolved_in_place():
    line, half = np.random.default_rng(4).random(50, np.float32), half_gaussian(1.6)
    out = np.empty_like(line)
    convolve_across(line, half, out)
    convolve_across(line, half, line)
    np.testing.assert_array_equal(line, out)
