"""Rows shifted by fractions of a pixel, against Keys' cubic convolution written out."""

import numpy as np
import pytest

from yearning.core.image.row_shift import mirror, shift_row


def _keys(distance):
    """Keys 1981, eq. 15, with a = -1/2."""
    s = np.abs(distance)
    near = 1.5 * s**3 - 2.5 * s**2 + 1
    far = -0.5 * s**3 + 2.5 * s**2 - 4 * s + 2
    return np.where(s <= 1, near, np.where(s < 2, far, 0))


def _shift_line(line, by):
    wide = np.pad(line, len(line), mode="symmetric").astype(np.float64)
    places = np.arange(len(line)) - by
    samples = np.arange(-len(line), 2 * len(line))
    return _keys(places[:, None] - samples) @ wide


@pytest.fixture
def line():
    return np.random.default_rng(2).random(40).astype(np.float32)


@pytest.mark.parametrize("by", [0.25, -0.5, 3.75, -7.1, 12.5])
def test_a_row_is_moved_by_cubic_convolution_with_mirrored_ends(line, by):
    out = np.empty_like(line)
    shift_row(line, by, 0, len(line), out)
    np.testing.assert_allclose(out, _shift_line(line, by), atol=2e-6)


@pytest.mark.parametrize("by", [0, 5, -11])
def test_whole_pixels_are_moved_exactly(line, by):
    out = np.empty_like(line)
    shift_row(line, float(by), 0, len(line), out)
    wide = np.pad(line, len(line), mode="symmetric")
    np.testing.assert_array_equal(out, wide[len(line) - by : 2 * len(line) - by])


def test_pixels_beside_the_range_are_left(line):
    out = np.full_like(line, -9)
    shift_row(line, 1.5, 10, 20, out)
    assert (out[:10] == -9).all()
    assert (out[20:] == -9).all()
    np.testing.assert_allclose(out[10:20], _shift_line(line, 1.5)[10:20], atol=2e-6)


def test_an_index_is_mirrored_as_numpy_pads():
    padded = np.pad(np.arange(5), 12, mode="symmetric")
    assert [mirror(place, 5) for place in range(-12, 17)] == padded.tolist()
