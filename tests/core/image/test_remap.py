"""Remapping, and histograms, against NumPy and SciPy."""

import numpy as np
import pytest

from yearning.core.image.histogram import histogram
from yearning.core.image.remap import remap_plane

BT709 = (0.2126, 0.7152, 0.0722)
"""Rec. ITU-R BT.709-6, item 3.2."""


def _grid(height, width):
    y, x = np.mgrid[0:height, 0:width]
    return x.astype(np.float32), y.astype(np.float32)


@pytest.fixture
def plane():
    return np.random.default_rng(4).random((30, 44), np.float32)


def test_every_pixel_from_its_own_place_is_the_plane(plane):
    out = np.empty_like(plane)
    remap_plane(plane, *_grid(30, 44), False, out)
    np.testing.assert_allclose(out, plane, atol=1e-6)


@pytest.mark.parametrize(("right", "down"), [(3, 0), (0, -4), (-7, 5)])
def test_whole_pixels_are_drawn_exactly_and_the_edges_mirrored(plane, right, down):
    x, y = _grid(30, 44)
    out = np.empty_like(plane)
    remap_plane(plane, x + right, y + down, False, out)
    wide = np.pad(plane, 10, mode="symmetric")
    expected = wide[10 + down : 40 + down, 10 + right : 54 + right]
    np.testing.assert_allclose(out, expected, atol=1e-6)


def test_beyond_the_plane_it_is_black_where_that_is_asked(plane):
    x, y = _grid(30, 44)
    out = np.empty_like(plane)
    remap_plane(plane, x + 20, y, True, out)
    assert (out[:, 27:] == 0).all()
    np.testing.assert_allclose(out[:, :23], plane[:, 20:43], atol=1e-6)


def test_a_slope_is_drawn_between_its_samples_as_it_is():
    x, y = _grid(20, 50)
    slope = 0.01 * x + 0.02 * y
    out = np.empty_like(slope)
    remap_plane(slope, x + 0.5, y - 0.5, False, out)
    inside = np.s_[4:-4, 4:-4]
    np.testing.assert_allclose(out[inside], (slope + 0.005 - 0.01)[inside], atol=1e-6)


@pytest.mark.parametrize("bins", [2, 64, 256])
def test_a_histogram_is_numpys_of_luma_and_of_each_channel(bins):
    picture = np.random.default_rng(6).normal(0.5, 0.35, (3, 61, 83)).astype(np.float32)
    found = histogram(picture, bins)
    luma = np.tensordot(BT709, picture.astype(np.float64), 1)
    for counts, values in zip(found, [luma, *picture], strict=True):
        places = np.clip(np.floor(np.clip(values, 0, 1) * bins), 0, bins - 1).astype(int)
        expected = np.bincount(places.ravel(), minlength=bins)
        assert counts.sum() == values.size
        assert np.abs(counts.astype(int) - expected).sum() <= 4  # luma at a bin's edge, by rounding
