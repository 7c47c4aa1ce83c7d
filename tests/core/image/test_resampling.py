"""Resampling: every kernel against the sum it stands for, written out in NumPy and OpenCV."""

import cv2
import numpy as np
import pytest
from scipy.interpolate import BSpline

from yearning.core.image.resampling import (
    SPLINE_SIGMA,
    Taps,
    area_taps,
    gaussian_taps,
    resample_columns,
    resample_evenly,
    resample_rows,
    spline,
    spline_taps,
    spline_weights,
    spread_columns,
)


def _plane(rows, columns, seed=3):
    return np.random.default_rng(seed).random((rows, columns), np.float32)


def _sum_taps(plane, taps):
    """Σ_t weights[i, t] · row[start[i] + t] in float64; rows beyond the end weigh nothing."""
    beyond = np.zeros((taps.weights.shape[1], plane.shape[1]))
    rows = np.concatenate([plane.astype(np.float64), beyond])
    return np.stack(
        [w @ rows[s : s + len(w)] for s, w in zip(taps.start, taps.weights, strict=True)]
    )


RESAMPLINGS = [
    area_taps(61, 20),
    area_taps(48, 48),
    gaussian_taps(50, 23, 2.6),
    gaussian_taps(9, 9, 30.0),
    spline_taps(16, 70),
    spline_taps(3, 41),
]


@pytest.mark.parametrize("taps", RESAMPLINGS)
@pytest.mark.parametrize("lines", [1, 7, 8, 19])
def test_rows_and_columns_are_weighed_as_the_taps_say(taps, lines):
    count = int(taps.start.max() + np.flatnonzero(taps.weights.any(axis=0))[-1] + 1)
    plane = _plane(count, lines)
    expected = _sum_taps(plane, taps)
    down = np.empty((len(taps.start), lines), np.float32)
    resample_rows(plane, taps.start, taps.weights, down)
    np.testing.assert_allclose(down, expected, atol=2e-6)
    across = np.empty((lines, len(taps.start)), np.float32)
    resample_columns(np.ascontiguousarray(plane.T), taps.start, taps.weights, across)
    np.testing.assert_allclose(across, expected.T, atol=2e-6)


@pytest.mark.parametrize("taps", RESAMPLINGS)
def test_weights_sum_to_one_so_flat_stays_flat(taps):
    np.testing.assert_allclose(taps.weights.sum(axis=1), 1, atol=1e-6)


@pytest.mark.parametrize("step", [1, 2])
@pytest.mark.parametrize("count", [4, 8, 12])
def test_even_taps_weigh_a_line_as_a_correlation_does(step, count):
    src, weights = _plane(5, 211), _plane(1, count)[0]
    out = np.empty((5, (211 - count) // step + 1), np.float32)
    resample_evenly(src, step, weights, out)
    for line, found in zip(src, out, strict=True):
        expected = np.correlate(line.astype(np.float64), weights.astype(np.float64), "valid")
        np.testing.assert_allclose(found, expected[::step], atol=3e-6)


def test_taps_know_whether_they_are_even():
    weights = np.ones((6, 4))
    assert Taps.of(np.arange(6), weights).step() == 1
    assert Taps.of(2 * np.arange(6), weights).step() == 2
    assert Taps.of(3 * np.arange(6), weights).step() == 0
    assert Taps.of(np.array([0, 1, 2, 3, 4, 4]), weights).step() == 0
    assert Taps.of(np.arange(6), np.arange(24.0).reshape(6, 4)).step() == 0


@pytest.mark.parametrize(("count", "to"), [(1080, 540), (1080, 360), (1080, 393), (77, 76)])
def test_averages_are_opencvs(count, to):
    plane = _plane(count, 5)
    # INTER_AREA, in both directions at once, the second of them kept
    expected = cv2.resize(plane, (5, to), interpolation=cv2.INTER_AREA)
    np.testing.assert_allclose(area_taps(count, to).resample_vertically(plane), expected, atol=2e-5)


def test_the_spline_is_the_cubic_b_spline():
    x = np.linspace(-2.5, 2.5, 101)
    expected = BSpline.basis_element([-2, -1, 0, 1, 2], extrapolate=False)(x)
    np.testing.assert_allclose(spline(x), np.nan_to_num(expected), atol=1e-12)
    fine = np.linspace(-2, 2, 40001)
    variance = np.trapezoid(fine**2 * spline(fine), fine)
    assert variance == pytest.approx(SPLINE_SIGMA**2, rel=1e-6)


@pytest.mark.parametrize("block", [2, 3, 4, 6, 8, 12, 16, 48])
@pytest.mark.parametrize("columns", [1, 2, 9])
def test_spreading_blocks_is_resampling_by_b_splines(block, columns):
    src = _plane(4, columns)
    width = columns * block
    expected = spline_taps(columns, width).resample_horizontally(src)
    out = np.empty((4, width), np.float32)
    spread_columns(src, block, spline_weights(block, width), out)
    np.testing.assert_allclose(out, expected, atol=2e-6)


def test_a_cut_off_last_block_is_the_beginning_of_the_whole():
    src = _plane(4, 9)
    whole, part = np.empty((4, 54), np.float32), np.empty((4, 50), np.float32)
    spread_columns(src, 6, spline_weights(6, 54), whole)
    spread_columns(src, 6, spline_weights(6, 50), part)
    np.testing.assert_array_equal(part, whole[:, :50])
