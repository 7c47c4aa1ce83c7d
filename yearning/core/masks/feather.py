"""Feathered coverage: what a polygon covers, convolved with a raised cosine.

A feather of f pixels is the coverage convolved with c (1 + cos(2 π r / f)) for r ≤ f/2, so half of
it lies on either side of the edge. A wide one is done on blocks of pixels, whose blur is taken out
of the kernel's (a division in the frequency domain) and which B-splines enlarge; a narrow one by an
integral along the edge, of a round kernel that has the pixel's own square as a disc; the narrowest
so on parts of pixels.
"""

import math
from functools import lru_cache
from typing import NamedTuple

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.image.resampling import (
    Taps,
    resample_rows,
    spline_taps,
    spline_weights,
    spread_columns,
)
from yearning.core.kernel_arrays import new_line
from yearning.core.masks.coverage import fill_coverage
from yearning.core.masks.edge_integral import (
    OFF,
    fewer_sides,
    fill_by_edge,
    outline_sides,
    rim_of,
    side_table,
)
from yearning.core.masks.outlines import Polygon
from yearning.core.picture import Plane, Size

BLOCKS = 12
"""Blocks, at the least, where they are enlarged afterwards."""

ROUND = 3
"""Pixels of feather from which on a pixel's square is as good as a disc, to 1/1000."""

NONE = 0.05
"""Pixels below which a feather can't be told from none."""

MAX_PARTS = 9
"""Parts of a pixel's side, at the most, for the narrowest feather."""

ROUNDING = 3e-5
"""What a kernel that is cut off leaves where nothing is covered, or all is."""

REACH = 2
"""Cells beyond a feather that its kernel has, for what of their blur is taken out."""

OVERSAMPLING = 8
"""Samples a cell at which a kernel is written down before it is taken to frequencies."""

VARIANCE = 0.02910
"""Of a raised cosine of diameter 1, along one axis."""

SEPARABLE = 3e-4
"""Products of weights that are smaller than this, beside the largest, are left out."""

BAND = 128
"""Rows of pixels that sides are summed in together."""


class Span(NamedTuple):
    """A part of a picture in whole pixels; `right` and `bottom` are exclusive."""

    left: int
    top: int
    right: int
    bottom: int

    @property
    def is_empty(self) -> bool:
        """Whether no pixel is in it."""
        return self.left >= self.right or self.top >= self.bottom


class Coverage:
    """A polygon's coverage of a picture, feathered; it is nothing but within `span`.

    A wide feather is kept small and enlarged band by band; else the whole plane is made at once.

    Args:
        polygon: in pixels of the picture.
        feather: in pixels.
        size: of the picture.
    """

    def __init__(self, polygon: Polygon, feather: float, size: Size) -> None:
        self.span = _span(polygon, feather, size)
        self._plane, self._down = np.zeros((0, 0), np.float32), None
        if self.span.is_empty:
            return
        moved = polygon - (self.span.left, self.span.top)
        inner = Size(self.span.right - self.span.left, self.span.bottom - self.span.top)
        block = int(feather / BLOCKS)
        if block > 1:
            self._plane, self._down = _block_coverage(moved, feather, block, inner)
        elif feather < NONE:
            self._plane = _hard_coverage(moved, inner)
        else:
            self._plane = _narrow_coverage(moved, feather, inner)
            _level_ends(self._plane)

    def span_of_rows(self, top: int, rows: int) -> Span:
        """Return the part of some rows where there is any coverage, counted from the first row.

        Args:
            top: the first row.
            rows: how many.
        """
        first, last = max(self.span.top, top), min(self.span.bottom, top + rows)
        return self.span._replace(top=first - top, bottom=last - top)

    def fill(self, top: int, out: Plane) -> None:
        """Write the span's columns of the rows from `top` on, all within the span, to `out`.

        Args:
            top: the first row.
            out: takes the span's columns.
        """
        first = top - self.span.top
        if self._down is None:
            out[:] = self._plane[first : first + len(out)]
            return
        taps = self._down.rows(first, first + len(out))
        resample_rows(self._plane, taps.start, taps.weights, out)
        _level_ends(out)

    @property
    def nbytes(self) -> int:
        """What it holds, in bytes."""
        return self._plane.nbytes


def _span(polygon: Polygon, feather: float, size: Size) -> Span:
    """The pixels that a feathered polygon can reach."""
    (left, top), (right, bottom) = polygon.min(axis=0), polygon.max(axis=0)
    reach = feather / 2 + 1
    return Span(
        max(math.floor(left - reach), 0),
        max(math.floor(top - reach), 0),
        min(math.ceil(right + reach), size.width),
        min(math.ceil(bottom + reach), size.height),
    )


def _narrow_coverage(polygon: Polygon, feather: float, size: Size) -> Plane:
    """Cover pixels with a narrow feather: parts of them with the narrowest."""
    parts = min(math.ceil(ROUND / feather), MAX_PARTS)
    sides = outline_sides(fewer_sides(polygon, OFF * feather)) * parts
    plane = new_array((size.height, size.width))
    rim, table = rim_of(feather * parts), side_table(feather * parts)

    def fill(top: int, bottom: int) -> None:
        out = plane[top:bottom]
        if parts == 1:
            fill_by_edge(sides, rim, top, table, out)
            return
        fine = new_array((len(out) * parts, size.width * parts))
        fill_by_edge(sides, rim, top * parts, table, fine)
        cv2.resize(fine, (size.width, len(out)), dst=out, interpolation=cv2.INTER_AREA)

    parallel.for_each_band(size.height, fill, max(BAND // parts**2, 8))
    return plane


def _hard_coverage(polygon: Polygon, size: Size) -> Plane:
    """Cover pixels, without a feather."""
    plane = new_array((size.height, size.width))
    parallel.for_each_band(
        size.height,
        lambda top, bottom: fill_coverage(polygon, 0.0, float(top), 1.0, plane[top:bottom]),
        BAND,
    )
    return plane


def _block_coverage(polygon: Polygon, feather: float, block: int, size: Size) -> tuple[Plane, Taps]:
    """Cover blocks of pixels, blur them, and enlarge them across; and what enlarges them down."""
    kernel = raised_cosine(feather, block)
    cells, before = _cells_for(kernel, block, size)
    halves = new_array((2 * cells.shape[0] + 2, 2 * cells.shape[1] + 2))
    fill_coverage(polygon / block + before, -0.5, -0.5, 0.5, halves)
    weigh_halves(halves, cells)
    return _blurred_cells(cells, kernel, block, size)


def feathered_plane(plane: Plane, feather: float) -> Plane:
    """Return weights convolved with a feather, mirrored at their edges.

    Args:
        plane: weights 0..1.
        feather: in pixels.
    """
    if feather < NONE:
        return plane
    size = Size(plane.shape[1], plane.shape[0])
    half = int(feather / (2 * BLOCKS))
    if half == 0:
        blurred = np.zeros_like(plane)
        for across, down in _separable(feather):
            blurred += cv2.sepFilter2D(plane, -1, across, down, borderType=cv2.BORDER_REFLECT)
        _level_ends(blurred)
        return blurred
    block = 2 * half
    kernel = raised_cosine(feather, block)
    cells, before = _cells_for(kernel, block, size)
    left = before * block + half
    right, bottom = ((n + 1) * block - left for n in (cells.shape[1], cells.shape[0]))
    around = (left, bottom - size.height, left, right - size.width)
    wide = cv2.copyMakeBorder(plane, *around, cv2.BORDER_REFLECT)
    halves = (2 * cells.shape[1] + 2, 2 * cells.shape[0] + 2)
    means: Plane = np.asarray(cv2.resize(wide, halves, interpolation=cv2.INTER_AREA), np.float32)
    weigh_halves(means, cells)
    lines, taps = _blurred_cells(cells, kernel, block, size)
    out = new_array(plane.shape)
    resample_rows(lines, taps.start, taps.weights, out)
    _level_ends(out)
    return out


def _cells_for(kernel: Plane, block: int, size: Size) -> tuple[Plane, int]:
    """Cells of `block` pixels that hold a picture, and how many there are before it."""
    reach = len(kernel) // 2
    rows, columns = -(-size.height // block) + 4, -(-size.width // block) + 4
    return new_array((rows + 2 * reach, columns + 2 * reach)), 2 + reach


def _blurred_cells(cells: Plane, kernel: Plane, block: int, size: Size) -> tuple[Plane, Taps]:
    """Cells blurred and enlarged across to a picture's columns; and what enlarges them down."""
    reach = len(kernel) // 2
    blurred = cv2.filter2D(cells, -1, kernel, borderType=cv2.BORDER_CONSTANT)
    blocks: Plane = np.ascontiguousarray(blurred[reach:-reach, reach:-reach])
    rows, columns = blocks.shape
    wide = new_array((rows, columns * block))
    spread_columns(blocks, block, spline_weights(block, columns * block), wide)
    down = spline_taps(rows, rows * block).rows(2 * block, 2 * block + size.height)
    return np.ascontiguousarray(wide[:, 2 * block : 2 * block + size.width]), down


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _level_ends(out: Plane) -> None:
    """Make what is 0 or 1 but for rounding exactly that, and hold all between."""
    zero, one = np.float32(0), np.float32(1)
    grown = np.float32(1 / (1 - 2 * ROUNDING))
    for y in range(out.shape[0]):
        line = out[y]
        for x in range(line.shape[0]):
            line[x] = min(max((line[x] - np.float32(ROUNDING)) * grown, zero), one)


@lru_cache(maxsize=64)
def raised_cosine(feather: float, cell: float) -> Plane:
    """A feather's kernel for the coverage of cells, as `weigh_halves` writes it.

    Args:
        feather: in pixels.
        cell: side of the cells in pixels; cubic B-splines enlarge what comes of them to pixels.

    Returns:
        Weights, shape `(n, n)`, n odd, whose sum is 1: the coverage of pixels, convolved with the
        raised cosine, is the cells' coverage convolved with them, enlarged.
    """
    reach = math.ceil(0.5 * (feather + 1) / cell) + REACH + 1
    count = 2 * (reach + 2)
    step = cell / OVERSAMPLING
    at = np.fft.ifftshift((np.arange(count * OVERSAMPLING) - count * OVERSAMPLING // 2) * step)
    r = np.hypot(at[:, None], at[None])
    bell = np.where(r <= feather / 2, 1 + np.cos(2 * np.pi * r / feather), 0.0)
    spectrum = np.fft.fft2(bell / bell.sum()).real
    cycles = np.fft.fftfreq(len(at), step)
    low = np.abs(cycles) <= 0.5 / cell * (1 + 1e-9)
    turns = np.where(low, cycles * cell, 0.0)
    done = np.sinc(turns / 2) * np.cos(np.pi * turns / 2) ** 3  # what `weigh_halves` blurs
    line = np.where(low, np.sinc(cycles) / done, 0.0)
    energy = sum(np.sinc(turns + k) ** 8 for k in range(-3, 4))
    line *= np.sinc(turns) ** 4 / energy  # the nearest splines, in the mean square
    kernel = np.fft.fftshift(np.fft.ifft2(spectrum * line[:, None] * line[None]).real)
    kernel = kernel[::OVERSAMPLING, ::OVERSAMPLING]
    middle = count // 2
    part = slice(middle - reach, middle + reach + 1)
    kernel = kernel[part, part]
    return np.asarray(kernel / kernel.sum(), np.float32)


@lru_cache(maxsize=64)
def _separable(feather: float) -> list[tuple[NDArray[np.float32], NDArray[np.float32]]]:
    """A narrow feather's kernel for pixels, as a sum of products of weights across and down."""
    reach = math.ceil(0.5 * (feather + 1))
    side = 2 * reach + 1
    at = (np.arange(side * OVERSAMPLING) + 0.5) / OVERSAMPLING - side / 2
    r = np.hypot(at[:, None], at[None])
    # its mean over pixels is wider by a pixel's variance, 1/12, of which it is made narrower
    less = math.sqrt(max(feather**2 - 1 / (12 * VARIANCE), 0.25))
    bell = np.where(r <= less / 2, 1 + np.cos(2 * np.pi * r / less), 0.0)
    kernel = bell.reshape(side, OVERSAMPLING, side, OVERSAMPLING).sum((1, 3))
    down, sizes, across = np.linalg.svd(kernel / kernel.sum())
    count = int(np.count_nonzero(sizes > SEPARABLE * sizes[0]))
    return [
        (across[n].astype(np.float32), (down[:, n] * sizes[n]).astype(np.float32))
        for n in range(count)
    ]


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def weigh_halves(halves: Plane, out: Plane) -> None:
    """Weigh the half cells about each cell by 1, 3, 3, 1 across and down.

    So nothing finer than the cells is taken for something coarser. There is a half cell on each
    side beyond the first and last cells.

    Args:
        halves: of the cells, one more on each side.
        out: takes the cells.
    """
    rows, columns = out.shape
    line = new_line(2 * columns + 2)
    eighth, three = np.float32(0.125), np.float32(3)
    for y in range(rows):
        a, b, c, d = halves[2 * y], halves[2 * y + 1], halves[2 * y + 2], halves[2 * y + 3]
        for x in range(line.shape[0]):
            line[x] = (a[x] + d[x] + three * (b[x] + c[x])) * eighth
        for x in range(columns):
            inner = line[2 * x + 1] + line[2 * x + 2]
            out[y, x] = (line[2 * x] + line[2 * x + 3] + three * inner) * eighth
