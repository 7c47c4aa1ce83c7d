"""Pictures of block means, on which wide blurs run, and their way back to full size."""

from collections.abc import Sequence

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.colour.transfer import to_light
from yearning.core.image import filters
from yearning.core.image.resampling import (
    SPLINE_SIGMA,
    TRUNCATE,
    gaussian_taps,
    resample_rows,
    spline_taps,
    spline_weights,
    spread_columns,
)
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane, Size

BLOCKS = [1, 2, 3] + [side << n for n in range(1, 8) for side in (2, 3)]
"""Sides of blocks: their sums are taken by halves, and by thirds once."""


SPLINE_BEYOND = 2
"""Blocks beyond the last that enlarging reads."""

SPREAD_ROWS = 48
"""Rows of blocks that are enlarged across at a time."""


def block_side(most: float) -> int:
    """The side in pixels of the largest blocks that are no larger than `most`."""
    return max([side for side in BLOCKS if side <= most], default=1)


def mirror_aligned_side(most: float, size: Size) -> int:
    """The side of the largest blocks, no larger than `most`, that a picture's mirror falls on.

    Where only far smaller ones would do, the largest are taken.

    Args:
        most: the largest side, in pixels.
        size: of the picture.

    Returns:
        Pixels along a block.
    """
    largest = block_side(most)
    double = 2 * size.width, 2 * size.height
    fits = [side for side in BLOCKS if side <= largest and not any(n % side for n in double)]
    return max(fits) if 3 * max(fits) >= largest else largest


def block_grid(size: Size, block: int) -> tuple[int, int]:
    """Return the rows and columns of the blocks that cover a picture.

    Args:
        size: of the picture.
        block: pixels along a block.
    """
    return -(-size.height // block), -(-size.width // block)


def block_variance(block: int) -> float:
    """Return the variance, in blocks squared, of the blur by averaging and enlarging."""
    return (1 - block**-2) / 12 + (SPLINE_SIGMA**2 if block > 1 else 0.0)


@numba.njit(nogil=True, cache=True, fastmath=True)
def gather_means(
    band: Picture, top: int, height: int, block: int, linear: bool, out: NDArray[np.float32]
) -> None:
    """Write the means of blocks of a band's rows.

    Blocks beyond the picture's edge, at `height`, see it mirrored.

    Args:
        band: rows of the picture, shape `(planes, rows, width)`.
        top: the first of them, a multiple of `block`.
        height: rows of the whole picture.
        block: pixels along a block.
        linear: average light, not display-coded values.
        out: shape `(planes, rows, columns)` of blocks.
    """
    planes, rows, width = band.shape
    columns = out.shape[2]
    sums = new_line(columns * block)
    spare = new_line(columns * block)
    share = np.float32(1) / np.float32(block * block)
    for i in range(top // block, -(-(top + rows) // block)):
        for c in range(planes):
            sums[:] = np.float32(0)
            for k in range(block):
                y = i * block + k
                y = (y if y < height else max(2 * height - 1 - y, top)) - top
                if linear:
                    for x in range(width):
                        sums[x] += to_light(band[c, y, x])
                else:
                    for x in range(width):
                        sums[x] += band[c, y, x]
            for x in range(width, columns * block):
                sums[x] = sums[max(2 * width - 1 - x, 0)]
            line = add_neighbours(sums, block, spare)
            for x in range(columns):
                out[c, i, x] = line[x] * share


@numba.njit(nogil=True, cache=True, fastmath=True)
def add_neighbours(
    line: NDArray[np.float32], block: int, spare: NDArray[np.float32]
) -> NDArray[np.float32]:
    """Sum groups of `block` neighbours along a line, at the begin of `line` or `spare`.

    Written from one line to the other by turns, so that the loops run on vectors.

    Args:
        line: the samples; overwritten.
        block: how many are summed: a power of two, or three times one.
        spare: as long as `line`; overwritten.

    Returns:
        The one of the two that begins with the sums.
    """
    count = line.shape[0]
    while block % 2 == 0:
        block //= 2
        count //= 2
        for x in range(count):
            spare[x] = line[2 * x] + line[2 * x + 1]
        line, spare = spare, line
    if block == 3:
        for x in range(count // 3):
            spare[x] = line[3 * x] + line[3 * x + 1] + line[3 * x + 2]
        line, spare = spare, line
    return line


def pad_mirrored(means: Picture, block: int, size: Size, margin: int) -> Picture:
    """Blocks with `margin` more rows and columns, mirrored about the picture's own last edges.

    Where `block` divides the picture, its edge and the blocks' are one, and what blurs mirrors
    there; else the mirror stands within the last block, and those beyond are taken from two.

    Args:
        means: of blocks, shape `(planes, rows, columns)`.
        block: pixels along a block.
        size: of the picture.
        margin: rows and columns more on each side.
    """
    axes = ((1, size.height), (2, size.width))
    for axis, length in axes:
        count = means.shape[axis]
        if length == count * block:
            continue
        beyond = np.arange(count, count + margin)
        at = np.abs(
            2 * length / block - beyond - 1
        )  # its centre's mirror, in blocks from the first's
        low = np.clip(np.floor(at).astype(int), 0, count - 2 if count > 1 else 0)
        part = np.clip(at - low, 0, 1).astype(np.float32)
        shape = (1, margin, 1) if axis == 1 else (1, 1, margin)
        first, second = means.take(low, axis), means.take(np.minimum(low + 1, count - 1), axis)
        more = first + part.reshape(shape) * (second - first)
        means = np.concatenate([means, more], axis)
    return np.ascontiguousarray(means)


def blurred_blocks(
    means: Picture, block: int, size: Size, parts: Sequence[tuple[float, float]]
) -> "EnlargedBlocks":
    """Block means blurred by a sum of gaussians, edges mirrored, on their way to full size.

    Averaging over blocks and enlarging them blurs too: what is left to blur is done here.

    Args:
        means: over `block` × `block` pixels, shape `(planes, rows, columns)`.
        block: pixels of a block's side.
        size: of the picture they are of.
        parts: σ in pixels, each as wide or wider than the one before, and weight.
    """
    return EnlargedBlocks(blur_block_means(means, block, size, parts), block, size)


def blur_block_means(
    means: Picture, block: int, size: Size, parts: Sequence[tuple[float, float]]
) -> Picture:
    """Blur block means, with the extra blocks beyond the edges that enlarging reads.

    Args:
        means: of blocks, shape `(planes, rows, columns)`.
        block: pixels along a block.
        size: of the picture.
        parts: (σ in pixels of the picture, weight) of each gaussian.
    """
    done = block_variance(block)
    left = [(max((sigma / block) ** 2 - done, 0.01) ** 0.5, weight) for sigma, weight in parts]
    margin = round(TRUNCATE * left[-1][0]) + 1
    return crop_blocks(filters.gaussian_sum(pad_mirrored(means, block, size, margin), left), means)


def crop_blocks(wider: Picture, means: Picture) -> Picture:
    """Crop blocks that were padded for a blur to what enlarging reads.

    Args:
        wider: as `pad_mirrored` gave them.
        means: the blocks before that.
    """
    rows, columns = means.shape[1:]
    return np.ascontiguousarray(wider[:, : rows + SPLINE_BEYOND, : columns + SPLINE_BEYOND])


class EnlargedBlocks:
    """A picture of block means, enlarged smoothly: across at once, down in bands of rows.

    Args:
        blocks: means over `block` × `block` pixels, the last ones mirrored over the edge.
        block: pixels of a block's side.
        size: of the whole enlarged picture.
    """

    def __init__(self, blocks: Picture, block: int, size: Size) -> None:
        height = blocks.shape[1]
        if block == 1:  # they stay as they are
            self._down = gaussian_taps(height, height, 1e-3)
            self._wide = blocks
            return
        self._down = spline_taps(height, height * block)
        self._wide = wide = new_array((3, height, size.width))
        weights = spline_weights(block, size.width)

        def work(top: int, bottom: int) -> None:
            for plane in range(3):
                spread_columns(blocks[plane, top:bottom], block, weights, wide[plane, top:bottom])

        parallel.for_each_band(height, work, SPREAD_ROWS)

    def fill(self, top: int, bottom: int, out: Picture) -> None:
        """Write rows of the enlarged picture.

        Args:
            top: the first row.
            bottom: the one after the last.
            out: takes them.
        """
        wide, start, weights = self.taps(top, bottom)
        for plane in range(3):
            resample_rows(wide[plane], start, weights, out[plane])

    def taps(self, top: int, bottom: int) -> tuple[Picture, NDArray[np.int32], Plane]:
        """Return the lines, starts and weights that make rows of the enlarged picture.

        Args:
            top: the first row.
            bottom: the one after the last.
        """
        part = self._down.rows(top, bottom)
        return self._wide, part.start, part.weights
