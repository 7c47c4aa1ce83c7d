"""Rasterizing halftone prints: inks on paper by thresholds, supersampled for smaller sizes.

Between the dots' centres thresholds run on evenly, so that no dot is cut off.
"""

from functools import lru_cache

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.halftone.spot_functions import coverage_of_distances, spot_edges
from yearning.core.kernel_arrays import new_int_line, new_line, new_lines
from yearning.core.picture import Picture, Plane

PIECE = 480
"""Samples of a line that are drawn at a time."""

TILE = 256
"""Side in px@1080 of the noise that roughens edges; it is repeated."""

_HALF = np.float32(0.5)
_ONE = np.float32(1)


@lru_cache(maxsize=4)
def roughness_tile(seed: int) -> Plane:
    """Noise of zero mean and unit variance, about 1.5 px@1080 fine, whose edges meet."""
    rng = np.random.Generator(np.random.Philox(seed))
    white = rng.standard_normal((TILE, TILE))
    from scipy.ndimage import gaussian_filter  # here, since it takes long to import

    fine = gaussian_filter(white, 1.1, mode="wrap")
    noise = fine / fine.std() + gaussian_filter(white.T, 2.4, mode="wrap") * 3
    return np.asarray(noise / noise.std(), np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _locate_dots(
    columns: np.int32,
    u0: np.float32,
    v0: np.float32,
    along: np.float32,
    across: np.float32,
    u: NDArray[np.float32],
    v: NDArray[np.float32],
    dots: NDArray[np.int32],
) -> None:
    """Find, for a line of samples, the dot before and above each, and the fractions between dots.

    `u0` and `v0`, the first sample's place, count from the grid's first dot.
    """
    for x in range(u.shape[0]):
        right, down = u0 + np.float32(x) * along, v0 + np.float32(x) * across
        i, j = np.int32(right), np.int32(down)
        u[x], v[x] = right - np.float32(i), down - np.float32(j)
        dots[x] = np.int32(j * columns + i)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _interpolate_thresholds(
    grid: NDArray[np.float32],
    columns: int,
    dots: NDArray[np.int32],
    u: NDArray[np.float32],
    v: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    """Interpolate thresholds bilinearly between those of four dots."""
    others, below, last = grid[1:], grid[columns:], grid[columns + 1 :]
    for x in range(out.shape[0]):
        n = np.uint32(dots[x])
        a, b, c, d = grid[n], others[n], below[n], last[n]
        upper, lower = a + u[x] * (b - a), c + u[x] * (d - c)
        out[x] = upper + v[x] * (lower - upper)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _offsets_from_centre(u: NDArray[np.float32], v: NDArray[np.float32]) -> None:
    """Turn fractions from the dot before into offsets from the nearest dot."""
    for x in range(u.shape[0]):
        u[x] = u[x] - _ONE if u[x] >= _HALF else u[x]
        v[x] = v[x] - _ONE if v[x] >= _HALF else v[x]


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _sample_noise_tile(
    tile: Plane, right: np.float32, down: np.float32, step: np.float32, out: NDArray[np.float32]
) -> None:
    """Sample the tile's noise along a line from a place in px@1080, bilinearly."""
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
def _add_noise(
    noise: NDArray[np.float32],
    by: np.float32,
    low: np.float32,
    high: np.float32,
    threshold: NDArray[np.float32],
) -> None:
    """Move thresholds by noise, less towards an empty cell and a full one."""
    for x in range(threshold.shape[0]):
        room = min(threshold[x] - low, high - threshold[x])
        threshold[x] += by * noise[x] * min(room * np.float32(4), _ONE)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _limit_contrast(
    tone: NDArray[np.float32], seen: np.float32, cover: NDArray[np.float32]
) -> None:
    """Bring coverages near the tone that their cell has on average."""
    for x in range(cover.shape[0]):
        cover[x] = tone[x] + seen * (cover[x] - tone[x])


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _lay(
    cover: NDArray[np.float32],
    lost: np.float32,
    light: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    """Multiply a channel's light by what an ink of some coverage and absorption lets through."""
    for x in range(cover.shape[0]):
        out[x] = light[x] * (_ONE - lost * cover[x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _accumulate_samples(
    line: NDArray[np.float32], finer: int, share: np.float32, out: NDArray[np.float32]
) -> None:
    """Add the average of each pixel's samples along a line to the pixel."""
    for x in range(out.shape[0]):
        for i in range(finer):
            out[x] += share * line[finer * x + i]


@numba.njit(nogil=True, cache=True)
def print_rows(
    dot: int,
    grids: NDArray[np.float32],
    tones: NDArray[np.float32],
    seen: float,
    places: NDArray[np.float64],
    absorbs: Plane,
    paper: NDArray[np.float32],
    tile: Plane,
    rough: NDArray[np.float64],
    top: int,
    finer: int,
    whole: Picture,
    first: int,
    last: int,
) -> None:
    """Rows from `top` on of inks on paper, `finer` samples to a pixel each way averaged.

    Args:
        dot: the number of the spot function.
        grids: thresholds of all screens, one after the other, flat.
        tones: of all screens, likewise.
        seen: how far dots differ from their tones, 0..1.
        places: of each screen, where in `grids` it begins, its columns, u and v of the first
            sample from its first dot, their steps along and across, and how sharp edges are.
        absorbs: what each ink absorbs of R, G and B, shape `(inks, 3)`.
        paper: its R'G'B'.
        tile: of noise, as `roughness_tile` makes it.
        rough: how far noise moves edges, in cells; the first sample's place in px@1080, across and
            down; the step from one to the next; and the thresholds of no dot and of a full cell.
        top: the first row.
        finer: samples to a pixel, each way.
        whole: where the result goes, shape `(3, height, width)`.
        first: the row of it at which the result begins.
        last: the row past its end.
    """
    out = whole[:, first:last]
    width = out.shape[2] * finer
    piece = max(PIECE // finer, 1) * finer  # a line's scratch stays in the first-level cache
    u, v = new_line(piece), new_line(piece)
    threshold, noise, tone = new_line(piece), new_line(piece), new_line(piece)
    cover, dots = new_line(piece), new_int_line(piece)
    low, high = np.float32(rough[4]), np.float32(rough[5])
    blank = new_lines(3, piece)
    for c in range(3):
        blank[c, :] = paper[c]
    light = new_lines(2, 3 * piece).reshape(
        2, 3, piece
    )  # by turns: what is written is not what is read
    final = (absorbs.shape[0] - 1) % 2
    share = _ONE / np.float32(finer * finer)
    for y in range(out.shape[1]):
        for k in range(finer):
            line = (top + y) * finer + k
            for begin in range(0, width, piece):
                count = min(piece, width - begin)
                if rough[0] > 0:
                    _sample_noise_tile(
                        tile,
                        np.float32(rough[1] + begin * rough[3]),
                        np.float32(rough[2] + line * rough[3]),
                        np.float32(rough[3]),
                        noise[:count],
                    )
                for n in range(absorbs.shape[0]):
                    first, columns = int(places[n, 0]), int(places[n, 1])
                    along, across = places[n, 4], places[n, 5]
                    _locate_dots(
                        np.int32(columns),
                        np.float32(places[n, 2] + begin * along - line * across),
                        np.float32(places[n, 3] + begin * across + line * along),
                        np.float32(along),
                        np.float32(across),
                        u[:count],
                        v[:count],
                        dots,
                    )
                    if seen < 1:
                        _interpolate_thresholds(tones[first:], columns, dots, u, v, tone[:count])
                    _interpolate_thresholds(grids[first:], columns, dots, u, v, threshold[:count])
                    _offsets_from_centre(u[:count], v)
                    if rough[0] > 0:
                        _add_noise(noise, np.float32(rough[0]), low, high, threshold[:count])
                    spot_edges(dot, u, v, threshold, np.float32(places[n, 6]), cover[:count])
                    coverage_of_distances(cover[:count])
                    if seen < 1:
                        _limit_contrast(tone, np.float32(seen), cover[:count])
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
                        _accumulate_samples(light[final, c], finer, share, to)
