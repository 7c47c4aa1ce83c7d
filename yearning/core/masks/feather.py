"""Feathered coverage: what a polygon covers, convolved with a raised cosine.

A feather of f pixels is the coverage convolved with c (1 + cos(2 π r / f)) for r ≤ f/2, so half of
it lies on either side of the edge. A wide one is done on blocks of pixels, whose blur is taken out
of the kernel's (a division in the frequency domain) and which B-splines enlarge; a narrow one by an
integral along the edge, which is round and so has the pixel's own square as a disc; the narrowest,
and those of outlines that cross themselves, on parts of a pixel, along the edge alone.
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
from yearning.core.kernel_arrays import new_line, new_lines
from yearning.core.masks.coverage import fill_coverage
from yearning.core.masks.edge_integral import (
    NUDGE,
    OFF,
    crosses_itself,
    fewer_sides,
    fill_by_edge,
    rim_of,
    side_table,
)
from yearning.core.masks.outlines import Polygon
from yearning.core.picture import Plane, Size

CELLS = 9
"""Cells, at the least, under a feather's width: then its kernel's samples hold all of it."""

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

BAND = 128
"""Rows of pixels that sides are summed in together."""

STRIP = 32
"""Rows of pixels that are blurred together."""

RUN = 8
"""Columns that are made together, where an edge is near: one vector."""


Line = NDArray[np.float32]


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
            self._plane, self._down = _enlarged(moved, feather, block, inner)
        elif feather < NONE:
            self._plane = _covered(moved, None, 1, inner)
        else:
            self._plane = _feathered(moved, feather, inner)
            _level_ends(self._plane)

    def within(self, top: int, rows: int) -> Span:
        """The part of the rows from `top` on where there is any; rows counted from `top`."""
        first, last = max(self.span.top, top), min(self.span.bottom, top + rows)
        return self.span._replace(top=first - top, bottom=last - top)

    def fill(self, top: int, out: Plane) -> None:
        """Write the span's columns of the rows from `top` on, all within the span, to `out`."""
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


def _feathered(polygon: Polygon, feather: float, size: Size) -> Plane:
    """Cover pixels with a narrow feather."""
    sides = fewer_sides(polygon + NUDGE, OFF * feather)
    if feather < ROUND or crosses_itself(sides):
        parts = min(math.ceil(CELLS / feather), MAX_PARTS)
        kernel = raised_cosine(feather, 1 / parts, centred=parts % 2 == 1, spline=False)
        return _covered(polygon, kernel, parts, size)
    plane = new_array((size.height, size.width))
    rim, table = rim_of(feather), side_table(feather)

    def fill(top: int, bottom: int) -> None:
        fill_by_edge(sides, rim, top, table, plane[top:bottom])

    parallel.for_each_band(size.height, fill, BAND)
    return plane


def _covered(polygon: Polygon, kernel: Plane | None, parts: int, size: Size) -> Plane:
    """Cover pixels, and blur those along the edge by a kernel for `parts` of their sides."""
    plane = new_array((size.height, size.width))

    def fill(top: int, bottom: int) -> None:
        out = plane[top:bottom]
        fill_coverage(polygon, 0.0, float(top), 1.0, out)
        if kernel is not None:
            _feather_edges(polygon, top, parts, kernel, out)

    parallel.for_each_band(size.height, fill, max(8, STRIP // parts))
    return plane


def _enlarged(polygon: Polygon, feather: float, block: int, size: Size) -> tuple[Plane, Taps]:
    """Cover blocks of pixels, blur them, and enlarge them across; and what enlarges them down."""
    kernel = raised_cosine(feather, block, centred=True, spline=True)
    rows, columns = -(-size.height // block) + 4, -(-size.width // block) + 4
    reach = len(kernel) // 2
    cells = new_array((rows + 2 * reach, columns + 2 * reach))
    _fill_cells(polygon / block + 2, float(-reach), float(-reach), 1.0, 1, cells)
    blurred = cv2.filter2D(cells, -1, kernel[:, : len(kernel)], borderType=cv2.BORDER_CONSTANT)
    blocks: Plane = np.ascontiguousarray(blurred[reach:-reach, reach:-reach])
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
def raised_cosine(feather: float, cell: float, *, centred: bool, spline: bool) -> Plane:
    """A feather's kernel for the coverage of cells, as `_fill_cells` writes it.

    Args:
        feather: in pixels.
        cell: side of the cells in pixels.
        centred: whether there is a cell about the middle of what is made, rather than two beside.
        spline: whether cubic B-splines enlarge what comes of it to pixels.

    Returns:
        Weights, shape `(n, n)` and zeros to a multiple of four columns, whose sum is 1, n odd where
        centred and else even: the coverage of pixels, convolved with the raised cosine, is the
        cells' coverage convolved with them.
    """
    reach = math.ceil(0.5 * (feather + 1) / cell) + REACH + (1 if spline else 0)
    count = 2 * (reach + 2)
    step = cell / OVERSAMPLING
    at = np.fft.ifftshift((np.arange(count * OVERSAMPLING) - count * OVERSAMPLING // 2) * step)
    r = np.hypot(at[:, None], at[None])
    bell = np.where(r <= feather / 2, 1 + np.cos(2 * np.pi * r / feather), 0.0)
    spectrum = np.fft.fft2(bell / bell.sum()).real
    cycles = np.fft.fftfreq(len(at), step)
    low = np.abs(cycles) <= 0.5 / cell * (1 + 1e-9)
    turns = np.where(low, cycles * cell, 0.0)
    done = np.sinc(turns / 2) * np.cos(np.pi * turns / 2) ** 3  # what `_fill_cells` blurs
    line = np.where(low, np.sinc(cycles) / done, 0.0)
    if spline:  # the nearest splines, in the mean square
        energy = sum(np.sinc(turns + k) ** 8 for k in range(-3, 4))
        line *= np.sinc(turns) ** 4 / energy
    kernel = np.fft.fftshift(np.fft.ifft2(spectrum * line[:, None] * line[None]).real)
    first = 0 if centred else OVERSAMPLING // 2
    kernel = kernel[first::OVERSAMPLING, first::OVERSAMPLING]
    middle = count // 2
    part = slice(middle - reach, middle + reach + (1 if centred else 0))
    kernel = kernel[part, part]
    padded = np.zeros((len(kernel), -(-len(kernel) // 4) * 4), np.float32)
    padded[:, : len(kernel)] = kernel / kernel.sum()
    return padded


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _feather(
    polygon: Polygon, left: float, top: float, parts: int, kernel: Plane, out: Plane
) -> None:
    """Write feathered coverage of pixels, by a kernel for cells that are `parts` of a pixel's side.

    The first pixel's corner is at (`left`, `top`).
    """
    rows, width = out.shape
    n = kernel.shape[0]  # its rows are padded with zeros
    before = (n - parts) // 2  # cells before the first pixel's first
    cell = 1.0 / parts
    # columns of the cells by turns in `parts` planes, so that each lies as the pixels do
    columns = -(-width // RUN) * RUN + -(-kernel.shape[1] // parts)
    cells = new_lines(parts * (rows * parts + n - parts), columns)
    _fill_cells(polygon, left - before * cell, top - before * cell, cell, parts, cells)
    runs = -(-width // RUN)
    uneven = _uneven_runs(cells, runs, -(-n // parts))
    for y in range(rows):
        first = y * parts * parts
        begin = 0
        while begin < runs:
            if not _differs(cells, uneven, first, n * parts, begin):
                out[y, begin * RUN : min((begin + 1) * RUN, width)] = cells[first, begin * RUN]
                begin += 1
                continue
            end = begin + 1
            while end < runs and _differs(cells, uneven, first, n * parts, end):
                end += 1
            line = out[y, begin * RUN : min(end * RUN, width)]
            _weigh(cells[first:], begin * RUN, kernel, parts, line)
            begin = end


@numba.njit(nogil=True, cache=True)
def _differs(cells: Plane, uneven: NDArray[np.bool_], first: int, rows: int, k: int) -> bool:
    """Return whether the cells about a run are not all of one value."""
    value = cells[first, k * RUN]
    found = False
    for j in range(first, first + rows):
        found = found or uneven[j, k] or cells[j, k * RUN] != value
    return found


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _fill_cells(
    polygon: Polygon, left: float, top: float, cell: float, parts: int, out: Plane
) -> None:
    """Write a polygon's coverage of cells, each weighed over the four half cells about it.

    By 1, 3, 3, 1 across and down, so that nothing finer than the cells is taken for something
    coarser. The first cell's corner is at (`left`, `top`). Each row of cells is `parts` rows of
    `out`: every so many columns, from the first on, from the second, and so on.
    """
    rows, columns = out.shape[0] // parts, out.shape[1] * parts
    halves = new_lines(2 * rows + 2, 2 * columns + 2)
    fill_coverage(polygon, left - 0.5 * cell, top - 0.5 * cell, 0.5 * cell, halves)
    line = new_line(2 * columns + 2)
    eighth, three = np.float32(0.125), np.float32(3)
    for y in range(rows):
        a, b, c, d = halves[2 * y], halves[2 * y + 1], halves[2 * y + 2], halves[2 * y + 3]
        for x in range(line.shape[0]):
            line[x] = (a[x] + d[x] + three * (b[x] + c[x])) * eighth
        for part in range(parts):
            to = out[y * parts + part]
            for x in range(to.shape[0]):
                at = 2 * (x * parts + part)
                inner = line[at + 1] + line[at + 2]
                to[x] = (line[at] + line[at + 3] + three * inner) * eighth


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _uneven_runs(cells: Plane, runs: int, reach: int) -> NDArray[np.bool_]:
    """Return of each row, for each run, whether it and the `reach` columns after it differ."""
    uneven = np.zeros((cells.shape[0], runs), np.bool_)
    for y in range(cells.shape[0]):
        line = cells[y]
        for k in range(runs):
            first = line[k * RUN]
            differing = np.float32(0)
            for x in range(k * RUN, k * RUN + RUN + reach):
                differing += abs(line[x] - first)
            uneven[y, k] = differing > 0
    return uneven


@numba.njit(nogil=True, cache=True, inline="always")
def _next_cell(part: int, right: int, parts: int) -> tuple[int, int]:
    """Return which part of a pixel the next cell is, and how many pixels to the right."""
    return (part + 1, right) if part + 1 < parts else (0, right + 1)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _weigh(cells: Plane, left: int, kernel: Plane, parts: int, line: Line) -> None:
    """Write what a kernel, a multiple of four wide, weighs of the cells about a row of pixels."""
    for x in range(line.shape[0]):
        line[x] = np.float32(0)
    for j in range(kernel.shape[0]):
        weights = kernel[j]
        rows = cells[j * parts : (j + 1) * parts, left:]
        part, right = 0, 0  # of the pixel, and pixels to the right; to divide takes longer
        for i in range(0, weights.shape[0], 4):
            w0, w1, w2, w3 = weights[i], weights[i + 1], weights[i + 2], weights[i + 3]
            a = rows[part, right:]
            part, right = _next_cell(part, right, parts)
            b = rows[part, right:]
            part, right = _next_cell(part, right, parts)
            c = rows[part, right:]
            part, right = _next_cell(part, right, parts)
            d = rows[part, right:]
            part, right = _next_cell(part, right, parts)
            for x in range(line.shape[0]):
                line[x] += (w0 * a[x] + w1 * b[x]) + (w2 * c[x] + w3 * d[x])


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _feather_edges(polygon: Polygon, top: int, parts: int, kernel: Plane, out: Plane) -> None:
    """Feather the pixels near the polygon's edge."""
    rows, width = out.shape
    reach = 0.5 * kernel.shape[0] / parts + 1.0
    runs = -(-width // RUN)
    near = np.zeros(runs, np.bool_)
    _mark_near(polygon, top - reach, top + rows + reach, reach, width, near)
    k = 0
    while k < runs:
        if not near[k]:
            k += 1
            continue
        end = k
        while end < runs and near[end]:
            end += 1
        left, right = k * RUN, min(end * RUN, width)
        _feather(polygon, float(left), float(top), parts, kernel, out[:, left:right])
        k = end


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _mark_near(
    polygon: Polygon, low: float, high: float, reach: float, width: int, near: NDArray[np.bool_]
) -> None:
    """Mark the runs of columns that the polygon's edge comes near to between two heights."""
    count = polygon.shape[0]
    for i in range(count):
        j = i + 1 if i + 1 < count else 0
        x0, y0, x1, y1 = polygon[i, 0], polygon[i, 1], polygon[j, 0], polygon[j, 1]
        if y0 > y1:
            x0, y0, x1, y1 = x1, y1, x0, y0
        if y1 < low or y0 > high:
            continue
        if y1 > y0:
            slope = (x1 - x0) / (y1 - y0)
            x0, x1 = x0 + max(low - y0, 0.0) * slope, x1 + min(high - y1, 0.0) * slope
        first = int(max(min(x0, x1) - reach, 0.0)) // RUN
        last = int(min(max(x0, x1) + reach, width - 1.0)) // RUN
        for k in range(first, last + 1):
            near[k] = True
