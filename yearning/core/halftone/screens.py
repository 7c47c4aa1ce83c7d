"""Halftone screens: turned grids of dots, each with the threshold of the tone of its cell."""

import math
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.image.bilinear import add_bilinear, bilinear_coordinates
from yearning.core.kernel_arrays import new_int_line, new_line
from yearning.core.picture import Plane, Size

APART = 4 / 3
"""Blocks between places of a cell that are averaged, at most."""

_ONE = np.float32(1)


class Screen(NamedTuple):
    """A grid of dots: thresholds at the dots' centres, and how pixels lie in it.

    `grid` begins with the dot of the numbers `left` and `top`. The sample (x, y) of the rows that
    are drawn lies at u = u0 + x·along − y·across, v = v0 + x·across + y·along, in cells from the
    middle one.
    """

    grid: Plane
    left: int
    top: int
    u0: float
    v0: float
    along: float
    across: float


def place_screen(
    pitch: float, degrees: float, size: Size, finer: int
) -> tuple[Screen, tuple[int, int]]:
    """Return a screen with a dot in the middle of a picture, and its grid's shape.

    Args:
        pitch: in px@1080.
        degrees: angle of the screen.
        size: of the picture.
        finer: samples to a pixel each way.
    """
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    cells = 1 / (pitch * size.scale)  # a pixel's
    wide, high = size.width * cells / 2, size.height * cells / 2
    far_u = wide * abs(c) + high * abs(s)
    far_v = wide * abs(s) + high * abs(c)
    left, top = -math.ceil(far_u) - 1, -math.ceil(far_v) - 1
    step = cells / finer
    x0, y0 = -wide + step / 2, -high + step / 2
    screen = Screen(
        np.zeros((0, 0), np.float32),
        left,
        top,
        c * x0 + s * y0,
        -s * x0 + c * y0,
        c * step,
        -s * step,
    )
    return screen, (1 - 2 * top, 1 - 2 * left)


def cell_means(means: Plane, block: int, size: Size, pitch: float, degrees: float) -> Plane:
    """Return averages over the cells of a screen, shape `(rows, columns)`.

    A cell is averaged over places at most a block and a third apart, each between the means around
    it; beyond the picture are its last ones.

    Args:
        means: over `block` × `block` pixels.
        block: pixels along a block.
        size: of the picture.
        pitch: of the screen, in px@1080.
        degrees: angle of the screen.
    """
    screen, shape = place_screen(pitch, degrees, size, 1)
    out = new_array(shape)
    wide = pitch * size.scale / block
    points = max(1, math.ceil(wide / APART))
    c, s = math.cos(math.radians(degrees)) * wide, math.sin(math.radians(degrees)) * wide
    v, u = (np.mgrid[:points, :points].reshape(2, -1) + 0.5) / points - 0.5
    across, down = (c * u - s * v).astype(np.float32), (s * u + c * v).astype(np.float32)

    def work(first: int, end: int) -> None:
        _average(
            means.reshape(-1),
            means.shape,
            np.float32(size.width / 2 / block - 0.5),
            np.float32(size.height / 2 / block - 0.5),
            np.float32(c),
            np.float32(s),
            across,
            down,
            screen.left,
            screen.top + first,
            out[first:end],
        )

    parallel.for_each_band(shape[0], work, -(-shape[0] // (4 * parallel.CORES)))
    return out


@numba.njit(nogil=True, cache=True, fastmath=True)
def _average(
    means: NDArray[np.float32],
    shape: tuple[int, int],
    middle_x: np.float32,
    middle_y: np.float32,
    c: np.float32,
    s: np.float32,
    across: NDArray[np.float32],
    down: NDArray[np.float32],
    left: int,
    top: int,
    out: Plane,
) -> None:
    """Average block means at offsets from the middle of each cell; 0 far outside."""
    rows, columns = shape
    count = out.shape[1]
    x, y = new_line(count), new_line(count)
    fx, fy = new_line(count), new_line(count)
    at = new_int_line(count)
    reach = np.float32(1.5) * (abs(c) + abs(s))
    share = _ONE / np.float32(across.shape[0])
    for j in range(out.shape[0]):
        begin, end = count, 0
        for i in range(count):
            u, v = np.float32(left + i), np.float32(top + j)
            x[i], y[i] = middle_x + c * u - s * v, middle_y + s * u + c * v
            if -reach < x[i] < columns + reach and -reach < y[i] < rows + reach:
                begin, end = min(begin, i), i + 1
        out[j] = np.float32(0)
        if begin >= end:
            continue
        here = slice(begin, end)
        for k in range(across.shape[0]):
            for i in range(begin, end):
                fx[i], fy[i] = x[i] + across[k], y[i] + down[k]
            bilinear_coordinates(fx[here], fy[here], rows, columns, at)
            add_bilinear(means, rows, columns, at, fx[here], fy[here], share, out[j, here])


def screen_thresholds(
    tones: Plane, pitch: float, degrees: float, size: Size, finer: int, table: NDArray[np.float32]
) -> Screen:
    """Return the screen with thresholds for tones.

    Args:
        tones: of its cells, 0..1.
        pitch: in px@1080.
        degrees: angle of the screen.
        size: of the picture.
        finer: samples to a pixel each way.
        table: as `spot_thresholds` gives it.
    """
    screen, _ = place_screen(pitch, degrees, size, finer)
    return screen._replace(grid=_looked_up(tones, table))


@numba.njit(nogil=True, cache=True)
def _looked_up(tones: Plane, table: NDArray[np.float32]) -> Plane:
    out = np.empty(tones.shape, np.float32)
    last = table.shape[0] - 1
    for y in range(tones.shape[0]):
        for x in range(tones.shape[1]):
            at = min(max(tones[y, x], np.float32(0)), np.float32(1)) * np.float32(last)
            low = min(int(at), last - 1)
            out[y, x] = table[low] + (at - np.float32(low)) * (table[low + 1] - table[low])
    return out
