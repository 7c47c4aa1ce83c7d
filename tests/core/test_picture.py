"""Boxes and sizes of pictures, and the smooth step."""

import numpy as np
import pytest

from yearning.core.picture import Box, Size, new_picture, remove_nan, size_of
from yearning.core.smoothstep import smoothstep, smoothstep_array


@pytest.mark.parametrize(("height", "width"), [(1080, 1920), (540, 960), (1, 2), (270, 480)])
def test_a_size_of_other_lines_has_the_same_shape(height, width):
    assert Size(1920, 1080).with_height(height) == (width, height)


def test_a_box_is_a_view_of_every_pixel_that_it_touches():
    picture = np.zeros((3, 10, 20), np.float32)
    part = Box(2.5, 1.2, 4, 3).of(picture)
    assert size_of(part) == (5, 4)
    part[:] = 1
    assert picture.sum() == 3 * 5 * 4
    assert Box(2, 1, 4, 3).resize(0.5, 2) == (1, 2, 2, 6)


def test_what_is_no_number_becomes_one():
    picture = np.full((3, 1, 4), 0.5, np.float32)
    picture[0, 0] = (np.nan, np.inf, -np.inf, 7.5)
    assert remove_nan(picture) is picture
    assert picture[0, 0].tolist() == [0, 1, 0, 7.5]
    assert (picture[1:] == 0.5).all()


def test_the_smooth_step_is_hermites_cubic_and_level_beyond():
    t = np.linspace(-0.5, 1.5, 201)
    inside = np.clip(t, 0, 1)
    expected = np.polyval([-2, 3, 0, 0], inside)
    np.testing.assert_allclose(smoothstep_array(t), expected, atol=1e-12)
    found = [smoothstep(np.float32(value)) for value in t]
    np.testing.assert_allclose(found, expected, atol=1e-6)


@pytest.mark.parametrize(("height", "scale"), [(1080, 1.0), (540, 0.5), (2160, 2.0)])
def test_a_length_of_px_at_1080_grows_with_the_lines(height, scale):
    assert Size(1920, 1080).with_height(height).scale == scale


def test_a_new_picture_is_planar_float32_without_gaps():
    picture = new_picture(Size(7, 5))
    assert (picture.shape, picture.dtype) == ((3, 5, 7), np.float32)
    assert picture.flags.c_contiguous
    assert size_of(picture) == (7, 5)
