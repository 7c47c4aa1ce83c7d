"""The weight plane: amount × tones × coverage at every pixel."""

import itertools

import numpy as np
import pytest

from yearning.core.compositing.blend import mix
from yearning.core.compositing.weight import weight_plane

BT709 = (0.2126, 0.7152, 0.0722)
"""Luma of R'G'B': Rec. ITU-R BT.709-6, item 3.2."""
TONES = ((0.2, 0.0), (0.5, 1.0), (0.9, 0.3))


def mix_in_float64(backdrop, source, blend, weights):
    out = np.empty_like(backdrop)
    mix(backdrop, source, blend, weights, out)
    return out


@pytest.fixture
def backdrop():
    return np.random.default_rng(5).random((3, 12, 17), np.float32)


@pytest.mark.parametrize(
    ("amount", "tones", "covered"),
    list(itertools.product([0.0, 0.35, 1.0], [None, TONES], [False, True])),
)
def test_a_weight_is_the_product_of_its_parts(backdrop, amount, tones, covered):
    coverage = np.random.default_rng(6).random((12, 17), np.float32) if covered else None
    weight = weight_plane(backdrop, amount, tones, coverage)
    luma = np.tensordot(BT709, backdrop, 1)
    # numpy.interp holds the ends, as a tone window does
    by_tone = np.interp(luma, *zip(*TONES, strict=True)) if tones else np.ones_like(luma)
    expected = amount * by_tone * (coverage if covered else 1)
    assert weight.shape == ((12, 17) if tones or covered else (1, 1))
    np.testing.assert_allclose(np.broadcast_to(weight, expected.shape), expected, atol=2e-6)


@pytest.mark.parametrize("blend", ["normal", "screen", "hue"])
def test_a_plane_of_the_same_weight_mixes_as_the_one_weight_does(backdrop, blend):
    source = backdrop[:, ::-1].copy()
    one = mix_in_float64(backdrop, source, blend, np.full((1, 1), 0.4, np.float32))
    plane = mix_in_float64(backdrop, source, blend, np.full((12, 17), 0.4, np.float32))
    np.testing.assert_array_equal(one, plane)


def test_no_weight_leaves_the_backdrop_and_full_weight_the_source(backdrop):
    source = backdrop[:, ::-1].copy()
    weight = np.zeros((12, 17), np.float32)
    weight[:, 9:] = 1
    out = mix_in_float64(backdrop, source, "normal", weight)
    np.testing.assert_array_equal(out[..., :9], backdrop[..., :9])
    np.testing.assert_allclose(out[..., 9:], source[..., 9:], atol=1e-6)
