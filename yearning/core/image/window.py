"""Frames of another shape: the box that a ratio leaves of a picture, and a window shown in it."""

import math

import numpy as np
from numpy.typing import NDArray

from yearning.core.image.resampling import Taps, cubic_taps, resample_rows
from yearning.core.picture import Box, Picture, Size


def ratio_box(ratio: float, size: Size) -> Box:
    """The largest box of `ratio`, width to height, in the middle of a picture.

    Its sides are even numbers of pixels where the picture's are, as subsampled chroma asks for, and
    so it is within a pixel of the ratio.

    >>> ratio_box(1.0, Size(1920, 1080))
    Box(left=420, top=0, width=1080, height=1080)
    """
    width = min(size.width, _same_parity(size.height * ratio, size.width))
    height = min(size.height, _same_parity(size.width / ratio, size.height))
    return Box((size.width - width) // 2, (size.height - height) // 2, width, height)


def _same_parity(wanted: float, whole: int) -> int:
    """The whole number nearest to `wanted` that is even where `whole` is."""
    return max(2, 2 * round((wanted - whole % 2) / 2) + whole % 2)


def scale_box(box: Box, full_size: Size, size: Size) -> Box:
    """A box of a picture of `full_size`, in pixels of the same picture at `size`.

    >>> scale_box(Box(0, 140, 1920, 800), Size(1920, 1080), Size(960, 540))
    Box(left=0.0, top=70.0, width=960.0, height=400.0)
    """
    return box.scaled(size.width / full_size.width, size.height / full_size.height)


def crop_box_at(ratio: float, full_size: Size, size: Size) -> Box:
    """What a crop leaves of footage of `full_size`, in whole, even pixels of a result of `size`."""
    box = scale_box(ratio_box(ratio, full_size), full_size, size)
    left, top = math.ceil(box.left - 1e-6), math.ceil(box.top - 1e-6)
    width = math.floor(box.left + box.width + 1e-6) - left
    height = math.floor(box.top + box.height + 1e-6) - top
    if size != full_size:
        width, height = width - width % 2, height - height % 2
    return Box(left, top, width, height)


def map_to_window(
    points: NDArray[np.float64],
    box: Box,
    part: float,
    offset: tuple[float, float],
) -> NDArray[np.float64]:
    """Map points of a picture to where they are in a window of it drawn by `draw_window`.

    `points` has shape `(n, 2)`, x then y, in pixels; the other arguments are as there.
    """
    corner = np.array([box.left, box.top])
    return np.asarray((points - np.array(offset)) / part + corner, np.float64)


def centred(box: Box, part: float, size: Size) -> tuple[float, float]:
    """The offset of a window in the middle of a picture of `size`."""
    return 0.5 * (size.width - box.width * part), 0.5 * (size.height - box.height * part)


def draw_window(
    picture: Picture,
    box: Box,
    part: float,
    offset: tuple[float, float],
    surround: tuple[float, float, float],
    top: int,
    out: Picture,
) -> None:
    """Draw rows of a window of the picture, enlarged to fill `box`, with a colour around it.

    Args:
        picture: the whole picture, shape `(3, height, width)`.
        box: where the window is shown; pixels that it covers in part are mixed with the surround.
        part: width and height of the window as a part of the box's.
        offset: where the window begins, x and y in pixels of the picture.
        surround: R', G', B' around the box.
        top: the number of the first row that is drawn.
        out: where the rows go, shape `(3, rows, width)`.
    """
    height, width = picture.shape[1:]
    bottom = top + out.shape[1]
    across, covered_x = _window_taps(box.left, box.width, width, part, offset[0])
    down, covered_y = _window_taps(box.top, box.height, height, part, offset[1])
    down, covered_y = down.rows(top, bottom), covered_y[top:bottom]
    seen = np.flatnonzero(covered_x)
    columns = np.s_[seen[0] : seen[-1] + 1]
    across = across.rows(seen[0], seen[-1] + 1)
    cover = covered_y[:, None] * covered_x[columns]
    low, high = (max(0, min(n, height)) for n in down.window())
    for plane, colour in enumerate(surround):
        out[plane] = colour
        if not cover.any():
            continue
        drawn = out[plane][:, columns]
        lines = across.across(picture[plane, low:high])
        resample_rows(lines, down.start - np.int32(low), down.weights, drawn)
        if cover.min() < 1:
            drawn -= np.float32(colour)
            drawn *= cover
            drawn += np.float32(colour)


def _window_taps(
    left: float, length: float, count: int, part: float, offset: float
) -> tuple[Taps, NDArray[np.float32]]:
    """Compute the taps of one axis of a window, and how much of each pixel its box covers."""
    taps = cubic_taps(count, count, offset - left * part, part)
    edge = np.arange(count)
    covered = np.minimum(edge + 1, left + length) - np.maximum(edge, left)
    return taps, np.clip(covered, 0, 1).astype(np.float32)
