"""Boxes of a ratio, crops of previews, and points seen in windows."""

import os
import subprocess
import sys

import numpy as np
import pytest

from yearning.core.image.window import (
    crop_box_at,
    draw_window,
    map_to_window,
    ratio_box,
    scale_box,
)
from yearning.core.picture import Box, Size

FULL = Size(1920, 1080)


@pytest.mark.parametrize("ratio", [0.5625, 1, 4 / 3, 16 / 9, 1.85, 2.39])
@pytest.mark.parametrize("size", [FULL, Size(3840, 2160), Size(720, 576), Size(1080, 1920)])
def test_a_ratio_s_box_is_as_large_as_it_can_be_even_and_in_the_middle(ratio, size):
    box = ratio_box(ratio, size)
    assert box.width == size.width or box.height == size.height
    assert box.width % 2 == box.height % 2 == 0
    assert abs(box.left - (size.width - box.width) / 2) < 1
    assert abs(box.top - (size.height - box.height) / 2) < 1
    # within a pixel of the ratio on the side that was cut
    assert abs(box.width - box.height * ratio) <= max(1, ratio) + 1e-9


@pytest.mark.parametrize("height", [1080, 720, 540, 333])
def test_a_preview_s_crop_lies_within_the_full_one_and_is_even(height):
    size = FULL.with_height(height)
    full, small = ratio_box(2.39, FULL), crop_box_at(2.39, FULL, size)
    scaled = scale_box(full, FULL, size)
    assert small.width % 2 == small.height % 2 == 0
    assert small.left >= scaled.left - 1e-6
    assert small.top >= scaled.top - 1e-6
    assert small.left + small.width <= scaled.left + scaled.width + 1e-6
    assert small.top + small.height <= scaled.top + scaled.height + 1e-6
    assert scaled.height - small.height < 4


def test_a_window_of_all_of_a_picture_is_the_picture():
    picture = np.random.default_rng(1).random((3, 40, 60), np.float32)
    out = np.empty_like(picture)
    draw_window(
        picture, Box(0, 0, 60, 40), 1.0, (0.0, 0.0), (0.0, 0.0, 0.0), 0, out, 0, len(out[0])
    )
    np.testing.assert_allclose(out, picture, atol=1e-6)


def test_what_lies_around_a_window_is_the_surround():
    picture = np.full((3, 40, 60), 0.7, np.float32)
    out = np.empty_like(picture)
    draw_window(
        picture, Box(0, 10, 60, 20), 1.0, (0.0, 10.0), (0.1, 0.2, 0.3), 0, out, 0, len(out[0])
    )
    inside = out[:, 10:30]
    np.testing.assert_allclose(inside, 0.7, atol=1e-6)
    for rows in (out[:, :10], out[:, 30:]):
        assert np.ptp(rows, axis=(1, 2)).max() < 1e-6
        np.testing.assert_allclose(rows[:, 0, 0], (0.1, 0.2, 0.3), atol=1e-6)


WINDOW_TO_THE_EDGES = """
import numpy as np
from yearning.core.image.window import draw_window
from yearning.core.picture import Box
picture = np.ones((3, 40, 60), np.float32)
box = Box(2, 2, 56, 36)
draw_window(picture, box, 60 / 56, (0.0, 0.0), (0.0, 0.0, 0.0), 0, np.empty_like(picture), 0, 40)
"""


def test_taps_that_are_padded_read_nothing_beyond_a_line(tmp_path):
    checked = {"NUMBA_BOUNDSCHECK": "1", "NUMBA_CACHE_DIR": str(tmp_path)}
    ended = subprocess.run(
        [sys.executable, "-c", WINDOW_TO_THE_EDGES],
        env=os.environ | checked,
        capture_output=True,
        text=True,
        check=False,
    )
    assert ended.returncode == 0, ended.stderr


@pytest.mark.parametrize("offset", [(0.0, 0.0), (24.0, 22.0), (48.0, 6.0)])
@pytest.mark.parametrize("part", [1.0, 0.6])
def test_a_bright_place_is_seen_where_its_point_is_mapped(offset, part):
    box = Box(0, 10, 120, 60)
    y, x = np.mgrid[0:80, 0:120]
    picture = np.exp(-((x + 0.5 - 60) ** 2 + (y + 0.5 - 40) ** 2) / 50).astype(np.float32)
    out = np.empty((3, 80, 120), np.float32)
    draw_window(np.stack([picture] * 3), box, part, offset, (0.0, 0.0, 0.0), 0, out, 0, len(out[0]))
    (at,) = map_to_window(np.array([[60.0, 40.0]]), box, part, offset)
    if not (5 < at[0] < 115 and 15 < at[1] < 65):
        return  # the window does not show it
    weight = np.maximum(out[0] - 0.3 * out[0].max(), 0)
    middle = [(weight * (grid + 0.5)).sum() / weight.sum() for grid in (x, y)]
    np.testing.assert_allclose(middle, at, atol=0.6)
