"""Frames of another shape: the box that a ratio leaves of a picture, and a window shown in it."""

import math
from functools import lru_cache
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.image.resampling import cubic_taps, gather_columns, weigh_four
from yearning.core.kernel_arrays import copy_line, new_line
from yearning.core.picture import Box, Picture, Plane, Size


def ratio_box(ratio: float, size: Size) -> Box:
    """The largest box of `ratio`, width to height, in the middle of a picture.

    Its sides are even numbers of pixels where the picture's are, as subsampled chroma asks for, and
    so it is within a pixel of the ratio.

    Args:
        ratio: width to height.
        size: of the picture.

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
    """Return a box of a picture of `full_size` in pixels of the same picture at `size`.

    Args:
        box: in pixels of the full size.
        full_size: of the footage.
        size: of the smaller picture.

    >>> scale_box(Box(0, 140, 1920, 800), Size(1920, 1080), Size(960, 540))
    Box(left=0.0, top=70.0, width=960.0, height=400.0)
    """
    return box.resize(size.width / full_size.width, size.height / full_size.height)


def crop_box_at(ratio: float, full_size: Size, size: Size) -> Box:
    """Return what a crop leaves, in whole, even pixels of a result.

    Args:
        ratio: width to height.
        full_size: of the footage.
        size: of the result.
    """
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

    Args:
        points: shape `(n, 2)`, x then y, in pixels of the picture.
        box: as `draw_window` takes it.
        part: as that takes it.
        offset: as that takes it.
    """
    corner = np.array([box.left, box.top])
    return np.asarray((points - np.array(offset)) / part + corner, np.float64)


def centre_offset(box: Box, part: float, size: Size) -> tuple[float, float]:
    """Return the offset of a window in the middle of a picture.

    Args:
        box: the window, in pixels.
        part: pixels of the result along one of the picture.
        size: of the picture.
    """
    return 0.5 * (size.width - box.width * part), 0.5 * (size.height - box.height * part)


def draw_window(
    picture: Picture,
    box: Box,
    part: float,
    offset: tuple[float, float],
    surround: tuple[float, float, float],
    top: int,
    out: Picture,
    first: int,
    last: int,
) -> None:
    """Draw rows of a window of the picture, enlarged to fill `box`, with a colour around it.

    Args:
        picture: the whole picture, shape `(3, height, width)`.
        box: where the window is shown; pixels that it covers in part are mixed with the surround.
        part: width and height of the window as a part of the box's.
        offset: where the window begins, x and y in pixels of the picture.
        surround: R', G', B' around the box.
        top: the number of the first row that is drawn.
        out: a picture of the same width, whose rows `first` to `last` (exclusive) are drawn.
        first: see `out`.
        last: see `out`.
    """
    height, width = picture.shape[1:]
    across = _axis(box.left, box.width, width, part, offset[0])
    down = _axis(box.top, box.height, height, part, offset[1])
    colour = np.array(surround, np.float32)
    _draw(picture, *across, *down, colour, top, out, first, last)


class _Axis(NamedTuple):
    """One axis of a window: which samples it draws, and what of.

    Args:
        begin: the first sample that the box covers, if in part.
        start: of each covered sample, the first one that it is drawn from; shape `(n,)`.
        weights: of that one and those after it, shape `(taps, n)`, taps a multiple of four; none
            where every sample is one of the picture's.
        cover: of the first covered sample, and of the last.
    """

    begin: int
    start: NDArray[np.int32]
    weights: NDArray[np.float32]
    cover: NDArray[np.float32]


@lru_cache(maxsize=32)
def _axis(left: float, length: float, count: int, part: float, offset: float) -> _Axis:
    """Compute one axis of a window in a picture of `count` samples."""
    edge = np.arange(count)
    covered = np.minimum(edge + 1, left + length) - np.maximum(edge, left)
    seen = np.flatnonzero(covered > 0)
    if len(seen) == 0:
        nothing = np.zeros(0, np.int32)
        return _Axis(count, nothing, np.zeros((0, 0), np.float32), np.ones(2, np.float32))
    begin, end = int(seen[0]), int(seen[-1]) + 1
    taps = cubic_taps(count, count, offset - left * part, part).rows(begin, end)
    cover = np.clip(covered[[begin, end - 1]], 0, 1).astype(np.float32)
    chosen = taps.weights.argmax(axis=1)
    start, weights = taps.start, np.ascontiguousarray(taps.weights.T)
    alone = np.count_nonzero(taps.weights) == len(start) and np.all(taps.weights.max(axis=1) == 1)
    if alone and np.all(np.diff(start + chosen) == 1):
        start, weights = (start + chosen).astype(np.int32), weights[:0]
    return _Axis(begin, start, weights, cover)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _draw(
    picture: Picture,
    left: int,
    start_x: NDArray[np.int32],
    weights_x: Plane,
    cover_x: NDArray[np.float32],
    above: int,
    start_y: NDArray[np.int32],
    weights_y: Plane,
    cover_y: NDArray[np.float32],
    colour: NDArray[np.float32],
    top: int,
    out: Picture,
    first: int,
    last: int,
) -> None:
    """Rows are weighed first, whole, and then their columns: both while they are in cache."""
    height, width = picture.shape[1:]
    columns, rows = start_x.shape[0], start_y.shape[0]
    padded = new_line(width + 3)  # taps are padded by up to three, which weigh nothing
    padded[width], padded[width + 1], padded[width + 2] = 0.0, 0.0, 0.0
    line = padded[:width]
    for y in range(first, last):
        i = top + y - first - above
        for p in range(3):
            to = out[p, y]
            if i < 0 or i >= rows or columns == 0:
                to[:] = colour[p]
                continue
            if weights_y.shape[0] == 0:
                copy_line(picture[p, start_y[i]], line)
            for t in range(0, weights_y.shape[0], 4):
                at = start_y[i] + t
                weigh_four(
                    line,
                    weights_y[t : t + 4, i],
                    picture[p, min(at, height - 1)],
                    picture[p, min(at + 1, height - 1)],
                    picture[p, min(at + 2, height - 1)],
                    picture[p, min(at + 3, height - 1)],
                    t > 0,
                )
            to[:left] = colour[p]
            to[left + columns :] = colour[p]
            inner = to[left : left + columns]
            if weights_x.shape[0] == 0:
                copy_line(line[start_x[0] :], inner)
            else:
                gather_columns(padded, start_x, weights_x, inner)
            share = cover_y[0] if i == 0 else cover_y[1] if i == rows - 1 else np.float32(1)
            if share < 1:
                for x in range(columns):
                    inner[x] = colour[p] + share * (inner[x] - colour[p])
            inner[0] = colour[p] + cover_x[0] * (inner[0] - colour[p])
            if columns > 1:
                inner[columns - 1] = colour[p] + cover_x[1] * (inner[columns - 1] - colour[p])
