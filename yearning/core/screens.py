"""Halftone screens: a turned grid of dots whose areas are tones.

A dot is where a spot function of the place in its cell is below a threshold. The threshold of a
tone is found from the spot function's own areas, soft edge included, so that the mean over a cell
is the tone. Between cells it runs on evenly.
"""

import math
from functools import lru_cache
from typing import Literal, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

from yearning.core import bands
from yearning.core.between import add_between, find_between
from yearning.core.memory import new_array
from yearning.core.picture import Picture, Plane, Size

Dot = Literal["round", "ellipse", "diamond", "line"]

DOTS: tuple[Dot, ...] = ("round", "ellipse", "diamond", "line")

STRETCH = np.float32(1.3)
"""Of an ellipse: its length to that of a round dot, and that to its width."""

PLACES = 64
"""Along a quarter of a cell's side, at which areas are counted."""

THRESHOLDS = 384
"""From no dot to a full cell, for which they are."""

TONES = 1024
"""For which thresholds are kept."""

APART = 4 / 3
"""Blocks between places of a cell that are averaged, at most."""

PIECE = 480
"""Samples of a line that are drawn at a time."""

TILE = 256
"""Side in px@1080 of the noise that roughens edges; it is repeated."""

_HALF = np.float32(0.5)
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


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _edges(
    dot: int,
    u: NDArray[np.float32],
    v: NDArray[np.float32],
    threshold: NDArray[np.float32],
    sharp: np.float32,
    out: NDArray[np.float32],
) -> None:
    """How far places of a line lie within their dots, in widths of its edge; u, v from its centre.

    (threshold − s) / |∇s|, with s the spot function.
    """
    if dot == 0:
        for x in range(out.shape[0]):
            out[x] = (threshold[x] - np.sqrt(u[x] * u[x] + v[x] * v[x])) * sharp
    elif dot == 1:
        for x in range(out.shape[0]):
            p, q = u[x] / STRETCH, v[x] * STRETCH
            s = np.sqrt(p * p + q * q) + np.float32(1e-6)
            p, q = p / STRETCH, q * STRETCH
            steep = np.sqrt(p * p + q * q) + np.float32(1e-6)
            out[x] = (threshold[x] - s) * s * sharp / steep
    elif dot == 2:
        even = sharp * np.float32(math.sqrt(0.5))
        for x in range(out.shape[0]):
            out[x] = (threshold[x] - abs(u[x]) - abs(v[x])) * even
    else:
        for x in range(out.shape[0]):
            out[x] = (threshold[x] - abs(v[x])) * sharp


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _inked(line: NDArray[np.float32]) -> None:
    """What of a sample is inked, in place of how far it lies within a dot."""
    for x in range(line.shape[0]):
        t = min(max(line[x] + _HALF, np.float32(0)), _ONE)
        line[x] = t * t * (np.float32(3) - np.float32(2) * t)


@numba.njit(nogil=True, cache=True)
def _areas(dot: int, soft: np.float32, low: float, high: float) -> NDArray[np.float64]:
    """Mean over a cell of what dots of evenly spaced thresholds cover."""
    out = np.zeros(THRESHOLDS)
    u = (np.arange(PLACES) + 0.5).astype(np.float32) / np.float32(2 * PLACES)
    line = np.empty(PLACES, np.float32)
    for n in range(THRESHOLDS):
        threshold = np.full(PLACES, low + n * (high - low) / (THRESHOLDS - 1), np.float32)
        for j in range(PLACES):
            _edges(dot, u, np.full(PLACES, u[j], np.float32), threshold, _ONE / soft, line)
            _inked(line)
            out[n] += line.sum()
    return out / PLACES**2


@lru_cache(maxsize=64)
def thresholds(dot: Dot, soft: float) -> NDArray[np.float32]:
    """Thresholds of tones evenly spaced over 0..1, for dots with an edge `soft` cells wide."""
    kind = DOTS.index(dot)
    steepest = {"round": 1.0, "ellipse": float(STRETCH), "diamond": 2**0.5, "line": 1.0}[dot]
    furthest = {"round": 0.5**0.5, "ellipse": 0.76, "diamond": 1.0, "line": 0.5}[dot]
    low, high = -0.5 * steepest * soft, furthest + 0.5 * steepest * soft
    areas = _areas(kind, np.float32(soft), low, high)
    rising = np.maximum.accumulate(areas + 1e-12 * np.arange(THRESHOLDS))
    tones = np.linspace(0, 1, TONES)
    out = np.interp(tones, rising, np.linspace(low, high, THRESHOLDS))
    out[0], out[-1] = low, high
    return out.astype(np.float32)


def placed(pitch: float, degrees: float, size: Size, finer: int) -> tuple[Screen, tuple[int, int]]:
    """A screen with a dot in the middle of a picture, without its thresholds, and their shape.

    `pitch` is in px@1080; the picture is drawn with `finer` samples to a pixel each way.
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
    """Averages over the cells of a screen, shape `(rows, columns)`.

    `means` are over `block` × `block` pixels of a picture of `size`. A cell is averaged over
    places at most a block and a third apart, each between the means around it; beyond the picture
    are its last ones.
    """
    screen, shape = placed(pitch, degrees, size, 1)
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

    bands.each_band(shape[0], work, -(-shape[0] // (4 * bands.CORES)))
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
    """Averages of flat means over places so far from the middle of each cell; 0 far outside."""
    rows, columns = shape
    count = out.shape[1]
    x, y = np.empty(count, np.float32), np.empty(count, np.float32)
    fx, fy = np.empty(count, np.float32), np.empty(count, np.float32)
    at = np.empty(count, np.int32)
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
            find_between(fx[here], fy[here], rows, columns, at)
            add_between(means, rows, columns, at, fx[here], fy[here], share, out[j, here])


def thresholded(
    tones: Plane, pitch: float, degrees: float, size: Size, finer: int, table: NDArray[np.float32]
) -> Screen:
    """The screen of cells' tones 0..1, drawn with `finer` samples to a pixel each way."""
    screen, _ = placed(pitch, degrees, size, finer)
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


@lru_cache(maxsize=4)
def rough_tile(seed: int) -> Plane:
    """Noise of zero mean and unit variance, about 1.5 px@1080 fine, whose edges meet."""
    rng = np.random.Generator(np.random.Philox(seed))
    white = rng.standard_normal((TILE, TILE))
    fine = gaussian_filter(white, 1.1, mode="wrap")
    noise = fine / fine.std() + gaussian_filter(white.T, 2.4, mode="wrap") * 3
    return np.asarray(noise / noise.std(), np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _located(
    columns: np.int32,
    u0: np.float32,
    v0: np.float32,
    along: np.float32,
    across: np.float32,
    u: NDArray[np.float32],
    v: NDArray[np.float32],
    dots: NDArray[np.int32],
) -> None:
    """The dots before and above a line of samples, by their numbers, and how far on these are.

    `u0` and `v0`, the first sample's place, count from the grid's first dot.
    """
    for x in range(u.shape[0]):
        right, down = u0 + np.float32(x) * along, v0 + np.float32(x) * across
        i, j = np.int32(right), np.int32(down)
        u[x], v[x] = right - np.float32(i), down - np.float32(j)
        dots[x] = np.int32(j * columns + i)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _between(
    grid: NDArray[np.float32],
    columns: int,
    dots: NDArray[np.int32],
    u: NDArray[np.float32],
    v: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    """Thresholds between those of four dots, of a flat grid."""
    others, below, last = grid[1:], grid[columns:], grid[columns + 1 :]
    for x in range(out.shape[0]):
        n = np.uint32(dots[x])
        a, b, c, d = grid[n], others[n], below[n], last[n]
        upper, lower = a + u[x] * (b - a), c + u[x] * (d - c)
        out[x] = upper + v[x] * (lower - upper)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _centred(u: NDArray[np.float32], v: NDArray[np.float32]) -> None:
    """From the nearest dot, not the one before and above."""
    for x in range(u.shape[0]):
        u[x] = u[x] - _ONE if u[x] >= _HALF else u[x]
        v[x] = v[x] - _ONE if v[x] >= _HALF else v[x]


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _roughened(
    tile: Plane, right: np.float32, down: np.float32, step: np.float32, out: NDArray[np.float32]
) -> None:
    """A line of the tile's noise, from a place in px@1080 on, between its samples."""
    y = np.float32(down - np.floor(down / TILE) * TILE)
    top = int(y)
    upper, lower, fy = tile[top % TILE], tile[(top + 1) % TILE], y - np.float32(top)
    for x in range(out.shape[0]):
        at = right + np.float32(x) * step
        left = np.int32(at)
        fx = at - np.float32(left)
        i, k = left & np.int32(TILE - 1), (left + np.int32(1)) & np.int32(TILE - 1)
        a = upper[i] + fx * (upper[k] - upper[i])
        b = lower[i] + fx * (lower[k] - lower[i])
        out[x] = a + fy * (b - a)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _worn(
    noise: NDArray[np.float32],
    by: np.float32,
    low: np.float32,
    high: np.float32,
    threshold: NDArray[np.float32],
) -> None:
    """Thresholds moved by noise, the less the nearer they are to no dot, or to a full cell."""
    for x in range(threshold.shape[0]):
        room = min(threshold[x] - low, high - threshold[x])
        threshold[x] += by * noise[x] * min(room * np.float32(4), _ONE)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _lay(
    cover: NDArray[np.float32],
    lost: np.float32,
    light: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    """A channel's light through an ink that covers so much of each sample, and absorbs so much."""
    for x in range(cover.shape[0]):
        out[x] = light[x] * (_ONE - lost * cover[x])


@numba.njit(nogil=True, cache=True)
def print_rows(
    dot: int,
    grids: NDArray[np.float32],
    places: NDArray[np.float64],
    absorbs: Plane,
    paper: NDArray[np.float32],
    tile: Plane,
    rough: NDArray[np.float64],
    top: int,
    finer: int,
    out: Picture,
) -> None:
    """Rows from `top` on of inks on paper, `finer` samples to a pixel each way averaged.

    Args:
        dot: the number of the spot function.
        grids: thresholds of all screens, one after the other, flat.
        places: of each screen, where in `grids` it begins, its columns, u and v of the first
            sample from its first dot, their steps along and across, and how sharp edges are.
        absorbs: what each ink absorbs of R, G and B, shape `(inks, 3)`.
        paper: its R'G'B'.
        tile: of noise, as `rough_tile` makes it.
        rough: how far noise moves edges, in cells; the first sample's place in px@1080, across and
            down; the step from one to the next; and the thresholds of no dot and of a full cell.
        top: the first row.
        finer: samples to a pixel, each way.
        out: shape `(3, rows, width)`.
    """
    width = out.shape[2] * finer
    piece = max(PIECE // finer, 1) * finer  # a line's scratch stays in the first-level cache
    u, v = np.empty(piece, np.float32), np.empty(piece, np.float32)
    threshold, noise = np.empty(piece, np.float32), np.empty(piece, np.float32)
    cover, dots = np.empty(piece, np.float32), np.empty(piece, np.int32)
    low, high = np.float32(rough[4]), np.float32(rough[5])
    blank = np.empty((3, piece), np.float32)
    for c in range(3):
        blank[c, :] = paper[c]
    light = np.empty((2, 3, piece), np.float32)  # by turns: what is written is not what is read
    final = (absorbs.shape[0] - 1) % 2
    share = _ONE / np.float32(finer * finer)
    for y in range(out.shape[1]):
        for k in range(finer):
            line = (top + y) * finer + k
            for begin in range(0, width, piece):
                count = min(piece, width - begin)
                if rough[0] > 0:
                    _roughened(
                        tile,
                        np.float32(rough[1] + begin * rough[3]),
                        np.float32(rough[2] + line * rough[3]),
                        np.float32(rough[3]),
                        noise[:count],
                    )
                for n in range(absorbs.shape[0]):
                    first, columns = int(places[n, 0]), int(places[n, 1])
                    along, across = places[n, 4], places[n, 5]
                    _located(
                        np.int32(columns),
                        np.float32(places[n, 2] + begin * along - line * across),
                        np.float32(places[n, 3] + begin * across + line * along),
                        np.float32(along),
                        np.float32(across),
                        u[:count],
                        v[:count],
                        dots,
                    )
                    _between(grids[first:], columns, dots, u, v, threshold[:count])
                    _centred(u[:count], v)
                    if rough[0] > 0:
                        _worn(noise, np.float32(rough[0]), low, high, threshold[:count])
                    _edges(dot, u, v, threshold, np.float32(places[n, 6]), cover[:count])
                    _inked(cover[:count])
                    for c in range(3):
                        before = blank[c] if n == 0 else light[(n - 1) % 2, c]
                        after = light[n % 2, c]
                        if finer == 1 and n == absorbs.shape[0] - 1:
                            after = out[c, y, begin : begin + count]
                        _lay(cover[:count], absorbs[n, c], before, after)
                if finer > 1:
                    at = begin // finer
                    for c in range(3):
                        to = out[c, y, at : at + count // finer]
                        if k == 0:
                            to[:] = np.float32(0)
                        _gathered(light[final, c], finer, share, to)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _gathered(
    line: NDArray[np.float32], finer: int, share: np.float32, out: NDArray[np.float32]
) -> None:
    """Add a share of each pixel's samples along a line."""
    for x in range(out.shape[0]):
        for i in range(finer):
            out[x] += share * line[finer * x + i]
