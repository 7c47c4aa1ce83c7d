"""Block means of a picture's highlights, of which halos are made."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.colour.luma import fill_luma, fill_luma_line
from yearning.core.colour.transfer import to_light
from yearning.core.image.block_means import add_neighbours
from yearning.core.kernel_arrays import new_line, new_lines
from yearning.core.picture import Picture, Plane
from yearning.core.smoothstep import smoothstep, smoothstep_array

_ZERO = np.float32(0)
_ONE = np.float32(1)

Line = NDArray[np.float32]

PART = 384
"""Pixels of a row that are left at once where none of them is bright."""


def highlights_of(picture: Picture, low: float, roll: float) -> Picture:
    """Return a picture's highlights alone, on black, display-coded as it is.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        low: luma from which they begin, 0..1.
        roll: width of the knee there, in luma.
    """
    luma = new_array(picture.shape[1:])
    fill_luma(picture, luma)
    weight = smoothstep_array((luma - np.float32(low)) / np.float32(max(roll, 1e-4)))
    return np.asarray(np.maximum(picture, 0) * weight, np.float32)


@numba.njit(nogil=True, cache=True, fastmath=True)
def gather_highlights(
    band: Picture,
    top: int,
    height: int,
    block: int,
    low: np.float32,
    roll: np.float32,
    linear: bool,
    mids: np.float32,
    out: NDArray[np.float32],
) -> None:
    """Block means of highlights and luma of the rows from `top`, a multiple of `block`, on.

    R', G', B' where luma is above `low`, taken with a smooth knee `roll` wide, as light where
    `linear`; mid-tones are taken with the weight `mids`. Blocks beyond the picture's edge, at
    `height`, see it mirrored. `out` has the shape `(4, rows, columns)`, luma last.

    Args:
        band: rows of the picture, display-coded, shape `(3, rows, width)`.
        top: the first of them, a multiple of `block`.
        height: rows of the whole picture.
        block: pixels along a block.
        low: luma from which highlights begin, 0..1.
        roll: width of the knee there, in luma.
        linear: average light, not display-coded values.
        mids: weight of mid-tones, 0..1.
        out: shape `(4, rows, columns)` of blocks, luma last.
    """
    rows, width = band.shape[1:]
    columns = out.shape[2]
    sums = new_lines(4, columns * block)
    luma, weight = new_line(width), new_line(width)
    spare = new_line(columns * block)
    share = _ONE / np.float32(block * block)
    for i in range(top // block, -(-(top + rows) // block)):
        sums[:] = _ZERO
        for k in range(block):
            y = i * block + k
            y = (y if y < height else max(2 * height - 1 - y, top)) - top
            fill_luma_line(band[0, y], band[1, y], band[2, y], luma)
            for x in range(width):
                sums[3, x] += luma[x]
            above = _ZERO  # a sum, since LLVM vectorizes that and not a maximum
            for x in range(width):
                above += max(luma[x] - low, _ZERO)
            if above > _ZERO or mids > _ZERO:
                _weigh_highlights(luma, low, roll, mids, weight)
                _add_weighed(band, y, linear, weight, sums)
        for c in range(4):
            for x in range(width, columns * block):
                sums[c, x] = sums[c, max(2 * width - 1 - x, 0)]
            line = add_neighbours(sums[c], block, spare)
            for x in range(columns):
                out[c, i, x] = line[x] * share


@numba.njit(nogil=True, cache=True, fastmath=True)
def _weigh_highlights(
    luma: NDArray[np.float32],
    low: np.float32,
    roll: np.float32,
    mids: np.float32,
    weight: NDArray[np.float32],
) -> None:
    per = _ONE / roll
    for x in range(luma.shape[0]):
        weight[x] = smoothstep((luma[x] - low) * per)
    if mids > _ZERO:
        for x in range(luma.shape[0]):
            weight[x] = max(weight[x], mids * mid_tone(luma[x]))


@numba.njit(nogil=True, cache=True, fastmath=True)
def _add_weighed(
    band: Picture, y: int, linear: bool, weight: NDArray[np.float32], sums: Plane
) -> None:
    """Add a row, weighted by how bright it is, to the block sums."""
    for c in range(3):
        if linear:
            for left in range(0, weight.shape[0], PART):
                part = slice(left, min(left + PART, weight.shape[0]))
                _add_light(band[c, y, part], weight[part], sums[c, part])
        else:
            for x in range(weight.shape[0]):
                sums[c, x] += weight[x] * max(band[c, y, x], _ZERO)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _add_light(line: Line, weight: Line, sums: Line) -> None:
    total = _ZERO
    for x in range(line.shape[0]):
        total += weight[x]
    if total > _ZERO:
        for x in range(line.shape[0]):
            sums[x] += weight[x] * to_light(line[x])


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def mid_tone(luma: np.float32) -> np.float32:
    """Return the mid-tone weight of a luma: 0 at black and white, 1 half-way."""
    inside = min(max(luma, _ZERO), _ONE)
    return np.float32(4) * inside * (_ONE - inside)
