"""Gaussian against scipy in float64; edges and sizes."""

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter

from yearning.core.image.filters import area_resized, gaussian, gaussian_sum
from yearning.core.image.resampling import mirror_indices
from yearning.core.picture import Size


def _hard_picture(height, width):
    """What blurs find hardest: noise, stripes, and a disc's edge near the frame's."""
    rng = np.random.default_rng(height)
    y, x = np.mgrid[0:height, 0:width]
    return np.stack(
        [
            rng.random((height, width)),
            (x + y) // 7 % 2,
            np.hypot(x - width / 3, y - height / 10) < min(height, width) / 3,
        ]
    ).astype(np.float32)


def _exact(picture, sigma):
    return np.stack(
        [gaussian_filter(p.astype(np.float64), sigma, mode="reflect", truncate=8) for p in picture]
    )


@pytest.mark.parametrize("shape", [(271, 482), (180, 320), (97, 300), (17, 40), (1, 1)])
@pytest.mark.parametrize("sigma", [0.5, 1, 2, 3.9, 4, 5.5, 8.7, 13, 26, 52, 100, 200])
def test_a_blur_is_within_a_thousandth_of_the_exact_one(shape, sigma):
    picture = _hard_picture(*shape)
    assert np.abs(gaussian(picture, sigma) - _exact(picture, sigma)).max() < 1e-3


@pytest.mark.parametrize("sigma", [52])
def test_a_full_size_blur_is_too(sigma):
    picture = _hard_picture(1080, 1920)
    one = gaussian(picture, sigma)[:1]  # of three planes that are blurred alike
    assert np.abs(one - _exact(picture[:1], sigma)).max() < 1e-3


def test_a_sum_of_blurs_is_the_sum_of_each():
    picture = _hard_picture(270, 480)
    parts = [(2.0, 0.5), (9.0, 0.3), (31.0, 0.2)]
    expected = sum(w * _exact(picture, s) for s, w in parts)
    assert np.abs(gaussian_sum(picture, parts) - expected).max() < 1e-3


@pytest.mark.parametrize("sigma", [1, 6, 80])
def test_a_flat_picture_stays_flat_up_to_its_edges(sigma):
    flat = np.full((3, 90, 161), 0.37, np.float32)
    np.testing.assert_allclose(gaussian(flat, sigma), flat, atol=2e-6)


def test_mirroring_repeats_the_edge_as_often_as_needed():
    assert mirror_indices(np.arange(-4, 7), 3).tolist() == [2, 2, 1, 0, 0, 1, 2, 2, 1, 0, 0]


def test_making_smaller_averages_areas():
    picture = _hard_picture(60, 80)
    expected = picture.reshape(3, 20, 3, 20, 4).mean(axis=(2, 4))
    np.testing.assert_allclose(area_resized(picture, Size(20, 20)), expected, atol=1e-6)


def test_making_larger_is_refused():
    with pytest.raises(ValueError, match="smaller"):
        area_resized(_hard_picture(10, 10), Size(20, 10))
