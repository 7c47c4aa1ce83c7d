"""Counter-based randomness (Salmon et al., SC11): published answers, and tests of the fields."""

import numba
import numpy as np
import pytest
from scipy import stats

from yearning.core.image.filters import area_resized
from yearning.core.noise.fields import fill_noise, noise_kernel, threefry, white_noise
from yearning.core.picture import Size

FULL = Size(1920, 1080)


def smooth_noise(seed, layer, frame, size, full, band, sigma, soft):
    weave = noise_kernel(size, full, sigma, soft)
    out = np.empty((band[1] - band[0], size.width), np.float32)
    fill_noise(*weave, seed, layer, frame, band[0], out)
    return out


@numba.njit
def _threefry_20(c, k0, k1):
    return threefry(c, c, c, c, k0, k1, 2)


def test_twenty_rounds_give_the_published_answer():
    # threefry4x32 20, all zero, of the authors' known-answer file; the ThreeFry of the package
    # randomgen 2.5 gave the same words (number=4, width=32, counter 0), compared by hand
    zero = np.uint32(0)
    words = [int(word) for word in _threefry_20(zero, zero, zero)]
    assert words == [0x9C6CA96A, 0xE17EAE66, 0xFC10ECD4, 0x5256A7D8]


def test_white_noise_is_even_and_of_unit_variance():
    noise = white_noise(7, 0, 3, 0, 0, (512, 512)).ravel()
    edges = np.linspace(-np.sqrt(3), np.sqrt(3), 65)
    expected = np.full(64, noise.size / 64)
    counts, _ = np.histogram(noise, bins=edges)
    assert stats.chisquare(counts, expected).pvalue > 1e-3
    assert abs(noise.mean()) < 0.01
    assert noise.var() == pytest.approx(1, abs=0.01)


@pytest.mark.parametrize("other", [(8, 0, 3), (7, 1, 3), (7, 0, 4)])
def test_seeds_layers_and_frames_are_independent(other):
    a, b = white_noise(7, 0, 3, 0, 0, (256, 256)), white_noise(*other, 0, 0, (256, 256))
    assert stats.pearsonr(a.ravel(), b.ravel()).pvalue > 1e-3


@pytest.mark.parametrize("lag", [(0, 1), (1, 0), (1, 1), (0, 64), (0, 512), (7, 3)])
def test_white_noise_is_uncorrelated_at_every_lag(lag):
    noise = white_noise(5, 0, 0, 0, 0, (600, 1200))
    dy, dx = lag
    a, b = noise[: 600 - dy, : 1200 - dx], noise[dy:, dx:]
    assert abs(np.mean(a * b)) < 5 / np.sqrt(a.size)


def test_the_window_does_not_change_the_values():
    whole = white_noise(5, 2, 1, -40, -700, (80, 1600))
    np.testing.assert_array_equal(white_noise(5, 2, 1, -3, 17, (9, 55)), whole[37:46, 717:772])


@pytest.mark.parametrize("sigma", [0.35, 1.3, 3.2])
def test_smooth_noise_has_the_same_variance_everywhere_and_a_gaussian_shape(sigma):
    noise = smooth_noise(1, 0, 5, FULL, FULL, (0, 1080), sigma, 0.0)
    assert noise.std() == pytest.approx(1, abs=0.02)
    tiles = noise[:1080, :1920].reshape(9, 120, 16, 120).std(axis=(1, 3))
    assert tiles.std() < 0.08 * max(1, sigma)
    assert abs(stats.kurtosis(noise[::7, ::7].ravel())) < (1.2 if sigma < 1 else 0.3)


@pytest.mark.parametrize("lines", [540, 720, 360, 393])
@pytest.mark.parametrize("sigma", [0.35, 1.3, 3.2])
def test_a_smaller_size_shows_the_full_field_averaged(lines, sigma):
    full = smooth_noise(1, 0, 5, FULL, FULL, (0, 1080), sigma, 0.0)
    size = FULL.with_height(lines)
    small = smooth_noise(1, 0, 5, size, FULL, (0, lines), sigma, 0.0)
    averaged = area_resized(np.stack([full] * 3), size)[0]
    assert np.abs(small - averaged).max() < 5e-4


def test_bands_are_parts_of_the_whole():
    whole = smooth_noise(1, 0, 5, FULL, FULL, (0, 1080), 1.3, 0.4)
    np.testing.assert_array_equal(
        smooth_noise(1, 0, 5, FULL, FULL, (100, 148), 1.3, 0.4), whole[100:148]
    )


def test_softness_weakens_noise_as_a_blur_does():
    hard = smooth_noise(1, 0, 5, FULL, FULL, (0, 300), 1.0, 0.0).std()
    soft = smooth_noise(1, 0, 5, FULL, FULL, (0, 300), 1.0, 2.0).std()
    # white noise under gaussians: σ ∝ 1 / width
    assert soft / hard == pytest.approx(np.sqrt((1 + 1 / 12) / (1 + 4 + 1 / 12)), rel=0.05)
