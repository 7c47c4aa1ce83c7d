"""Frames of other shapes: the box a ratio leaves of a picture, and the window shown in it."""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yearning.core.image.resampling import Taps, cubic_taps, resample_rows
from yearning.core.picture import Box, Picture, Size
from yearning.core.treatment.base import Band, Place, setting


def ratio_box(ratio: float, size: Size) -> Box:
    """The largest box of `ratio`, width to height, in the middle of a picture.

    Its sides are even numbers of pixels, as subsampled chroma asks for, where the picture's are,
    and so within a pixel of the ratio.
    """
    width = min(size.width, _even(size.height * ratio, size.width))
    height = min(size.height, _even(size.width / ratio, size.height))
    return Box((size.width - width) // 2, (size.height - height) // 2, width, height)


def _even(wanted: float, whole: int) -> int:
    """The number nearest to what is wanted that is as even as the whole."""
    return max(2, 2 * round((wanted - whole % 2) / 2) + whole % 2)


def window_size() -> Any:
    """The setting of how large a window of the picture fills a box."""
    return setting(
        1.0,
        0.2,
        1,
        least=0.02,
        most=1,
        label="Size",
        help="How much of the largest frame's width is shown, enlarged to fill it.",
    )


def window_place() -> Any:
    """The setting of where that window lies."""
    return setting(
        (0.5, 0.5), 0, 1, unit="place", label="Place", help="Which part is shown, of what there is."
    )


def scale_box(box: Box, full: Size, size: Size) -> Box:
    """A box of a picture of `full` in pixels of the same picture at `size`."""
    return box.scaled(size.width / full.width, size.height / full.height)


def crop_box_at(ratio: float, full: Size, size: Size) -> Box:
    """What a crop leaves of footage of `full`, in whole, even pixels of a result of `size`."""
    box = scale_box(ratio_box(ratio, full), full, size)
    left, top = math.ceil(box.left - 1e-6), math.ceil(box.top - 1e-6)
    width = math.floor(box.left + box.width + 1e-6) - left
    height = math.floor(box.top + box.height + 1e-6) - top
    if size != full:
        width, height = width - width % 2, height - height % 2
    return Box(left, top, width, height)


def map_to_window(
    points: NDArray[np.float64], box: Box, part: float, place: Place, full: Size
) -> NDArray[np.float64]:
    """Where places of a picture are seen in a window of it, as `draw_window` draws one."""
    room = np.array(place) * (full.width - box.width * part, full.height - box.height * part)
    return (points - room) / part + (box.left, box.top)


def draw_window(
    picture: Picture, band: Band, box: Box, part: float, place: Place, around: tuple[float, ...]
) -> None:
    """Draw rows of a window of the picture, enlarged to fill `box`, and `around` beside it.

    Args:
        picture: the whole picture, shape `(3, height, width)`.
        band: its rows are drawn.
        box: where the window is shown; pixels that it covers in part are mixed with `around`.
        part: of the box, across and down, that the window has.
        place: where it lies in the room it has, 0..1 across and down.
        around: R', G', B' beside the box.
    """
    height, width = picture.shape[1:]
    top, bottom = band.rows
    across, covered_x = _window(box.left, box.width, width, part, place[0])
    down, covered_y = _window(box.top, box.height, height, part, place[1])
    down, covered_y = down.rows(top, bottom), covered_y[top:bottom]
    seen = np.flatnonzero(covered_x)
    columns = np.s_[seen[0] : seen[-1] + 1]
    across = across.rows(seen[0], seen[-1] + 1)
    cover = covered_y[:, None] * covered_x[columns]
    low, high = (max(0, min(n, height)) for n in down.window())
    for plane, colour in enumerate(around):
        band.result[plane] = colour
        if not cover.any():
            continue
        out = band.result[plane][:, columns]
        lines = across.across(picture[plane, low:high])
        resample_rows(lines, down.start - np.int32(low), down.weights, out)
        if cover.min() < 1:
            out -= np.float32(colour)
            out *= cover
            out += np.float32(colour)


def _window(
    left: float, length: float, count: int, part: float, place: float
) -> tuple[Taps, NDArray[np.float32]]:
    """Where each pixel of an axis is drawn from, and how much of it the box covers."""
    room = place * (count - length * part)
    taps = cubic_taps(count, count, room - left * part, part)
    edge = np.arange(count)
    covered = np.minimum(edge + 1, left + length) - np.maximum(edge, left)
    return taps, np.clip(covered, 0, 1).astype(np.float32)
