"""Look-up tables of colour: what .cube and CLF files hold, as operations one after the other.

Pictures go through in rows: each operation takes three lines of R'G'B' and writes them anew.
"""

from dataclasses import dataclass

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.cdl import grade
from yearning.core.kernel_arrays import new_int_line, new_lines
from yearning.core.picture import Picture

Array = NDArray[np.float32]

MAX_CUBE_SIDE = 129
"""The largest side of a cube that is taken: 129³ colours are 34 MB."""

MAX_LINE_LENGTH = 1 << 17
"""The most values of a one-dimensional table."""


@dataclass(frozen=True)
class Lut1D:
    """A one-dimensional table for each channel, interpolated linearly and held beyond its ends.

    Args:
        values: shape `(3, n)`.
        domain_min: the input that the first value stands for, shape `(3,)`.
        domain_max: the input that the last value stands for.
    """

    values: Array
    domain_min: Array
    domain_max: Array


@dataclass(frozen=True)
class Lut3D:
    """A three-dimensional table, interpolated tetrahedrally and held beyond its surface.

    Args:
        values: a colour for each lattice point, shape `(n, n, n, 3)`, red on the first axis.
        domain_min: the input at the lattice's first corner, shape `(3,)`.
        domain_max: the input at its last corner.
    """

    values: Array
    domain_min: Array
    domain_max: Array


@dataclass(frozen=True)
class Matrix:
    """V' = rows · V + offset; `rows` of shape `(3, 3)`, `offset` of shape `(3,)`."""

    rows: Array
    offset: Array


@dataclass(frozen=True)
class Clamp:
    """V' = V held within `minimum` to `maximum`; infinite where there is no such bound."""

    minimum: float
    maximum: float


@dataclass(frozen=True)
class Grade:
    """ASC CDL v1.2: `slope`, `offset`, `power` of shape `(3,)`, and saturation; clamped or not."""

    slope: Array
    offset: Array
    power: Array
    saturation: float
    clamped: bool


Part = Lut1D | Lut3D | Matrix | Clamp | Grade


@dataclass(frozen=True)
class Lut:
    """A look-up table: its parts in the order of their work, and what it is called."""

    title: str
    parts: tuple[Part, ...]


class PreparedTable:
    """A table, ready for rows of pictures."""

    def __init__(self, table: Lut) -> None:
        self._parts = [_kernel_of(part) for part in table.parts]

    def apply(self, picture: Picture, out: Picture, out_top: int) -> None:
        """Take rows of a picture through the table.

        Args:
            picture: display-coded, shape `(3, rows, width)`.
            out: takes the rows.
            out_top: from which row of it on.
        """
        rows = out[:, out_top : out_top + picture.shape[1]]
        source = picture
        for kernel, values in self._parts:
            kernel(source, *values, rows)
            source = rows
        if not self._parts:
            rows[...] = picture


def apply_table(table: Lut, picture: Picture) -> Picture:
    """Return a picture taken through a table.

    Args:
        table: of any dimension.
        picture: display-coded, shape `(3, height, width)`.
    """
    out = np.empty_like(picture)
    PreparedTable(table).apply(picture, out, 0)
    return out


def _kernel_of(part: Part):  # type: ignore[no-untyped-def]
    """Return the kernel of a part, and its arguments between the picture and the output rows."""
    match part:
        case Lut1D(values, low, high):
            scale = (values.shape[1] - 1) / (high - low)
            return _through_lines, (values, low, scale.astype(np.float32))
        case Lut3D(values, low, high):
            side = values.shape[0]
            scale = ((side - 1) / (high - low)).astype(np.float32)
            corners = np.zeros((side**3, 4), np.float32)  # a corner to a quarter of a cache line
            corners[:, :3] = values.reshape(-1, 3)
            return _through_cube, (corners.reshape(-1), side, low, scale)
        case Matrix(rows, offset):
            return _through_matrix, (rows, offset)
        case Clamp(low, high):
            return _clamp_pixels, (np.float32(low), np.float32(high))
        case Grade(slope, offset, power, saturation, clamped):
            graded = np.array([slope, offset, power], np.float32)
            return _grade_pixels, (graded, np.float32(saturation), clamped)


@numba.njit(nogil=True, cache=True)
def _through_lines(picture: Picture, values: Array, low: Array, scale: Array, out: Picture) -> None:
    last = values.shape[1] - 1
    most = np.float32(last)
    for c in range(3):
        table = values[c]
        for y in range(picture.shape[1]):
            for x in range(picture.shape[2]):
                at = min(max((picture[c, y, x] - low[c]) * scale[c], np.float32(0)), most)
                i = np.uint64(min(max(np.int32(at), 0), last - 1))
                first = table[i]
                out[c, y, x] = first + (at - np.float32(i)) * (table[i + np.uint64(1)] - first)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _through_cube(
    picture: Picture, corners: Array, side: int, low: Array, scale: Array, out: Picture
) -> None:
    """Interpolate tetrahedrally within a lattice cell, along its edges from the longest way on.

    J. M. Kasson, W. Plouffe, S. I. Nin, A tetrahedral interpolation technique for color space
    conversion, SPIE 1909 (1993). In lines with one result each, so that all but the look-up runs
    on vectors.
    """
    width = picture.shape[2]
    zero, one = np.float32(0), np.float32(1)
    most, cell = np.float32(side - 1), np.float32(side - 2)
    by_red, by_green, by_blue = np.float32(4 * side * side), np.float32(4 * side), np.float32(4)
    whole = by_red + by_green + by_blue
    beyond = np.uint64(whole)
    second, third = np.uint64(1), np.uint64(2)
    at = new_lines(3, width)
    r, g, b = at[0], at[1], at[2]
    base, far, middle = new_int_line(width), new_int_line(width), new_int_line(width)
    high, least = new_lines(2, width)
    for y in range(picture.shape[1]):
        for c in range(3):
            line, offset, gain = picture[c, y], low[c], scale[c]
            for x in range(width):
                at[c, x] = min(max((line[x] - offset) * gain, zero), most)
        for x in range(width):
            i, j = min(np.floor(r[x]), cell), min(np.floor(g[x]), cell)
            k = min(np.floor(b[x]), cell)
            base[x] = np.int32(i * by_red + j * by_green + k * by_blue)
        for c in range(3):
            for x in range(width):
                at[c, x] -= min(np.floor(at[c, x]), cell)
        for x in range(width):
            high[x] = max(r[x], max(g[x], b[x]))
        for x in range(width):
            least[x] = min(r[x], min(g[x], b[x]))
        for x in range(width):  # of equal ones the first is the highest, and the last the least
            first = by_red if r[x] == high[x] else (by_green if g[x] == high[x] else by_blue)
            far[x] = np.int32(first)
        for x in range(width):
            last = by_blue if b[x] == least[x] else (by_green if g[x] == least[x] else by_red)
            middle[x] = np.int32(whole - last)
        for x in range(width):
            o = np.uint64(base[x])
            a, m, e = o + np.uint64(far[x]), o + np.uint64(middle[x]), o + beyond
            mid = r[x] + g[x] + b[x] - high[x] - least[x]
            w0, w1, w2, w3 = one - high[x], high[x] - mid, mid - least[x], least[x]
            out[0, y, x] = (w0 * corners[o] + w1 * corners[a]) + (w2 * corners[m] + w3 * corners[e])
            out[1, y, x] = (w0 * corners[o + second] + w1 * corners[a + second]) + (
                w2 * corners[m + second] + w3 * corners[e + second]
            )
            out[2, y, x] = (w0 * corners[o + third] + w1 * corners[a + third]) + (
                w2 * corners[m + third] + w3 * corners[e + third]
            )


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _through_matrix(picture: Picture, rows: Array, offset: Array, out: Picture) -> None:
    for y in range(picture.shape[1]):
        for x in range(picture.shape[2]):
            r, g, b = picture[0, y, x], picture[1, y, x], picture[2, y, x]
            for c in range(3):
                out[c, y, x] = rows[c, 0] * r + rows[c, 1] * g + rows[c, 2] * b + offset[c]


@numba.njit(nogil=True, cache=True)
def _clamp_pixels(picture: Picture, low: np.float32, high: np.float32, out: Picture) -> None:
    for c in range(3):
        for y in range(picture.shape[1]):
            for x in range(picture.shape[2]):
                out[c, y, x] = min(max(picture[c, y, x], low), high)


def _grade_pixels(
    picture: Picture, values: Array, saturation: np.float32, clamped: bool, out: Picture
) -> None:
    grade(picture, values, saturation, clamped, out, 0)
