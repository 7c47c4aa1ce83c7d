"""Value noise from counter-based random numbers: smooth drift, the same at any frame alone."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.kernel_arrays import Integer
from yearning.core.noise.fields import threefry

Word = np.uint32

_KEY1 = Word(0x0D21F7)

NO_CELL = np.iinfo(np.int64).min
"""No place's cell."""


@numba.njit(nogil=True, cache=True)
def _corner(seed: int, layer: Integer, a: int, b: int) -> np.float32:
    """Return the random value, −1 to 1, of a lattice point."""
    mask = 0xFFFFFFFF
    word, _, _, _ = threefry(
        Word(a & mask), Word(b & mask), Word(layer & mask), Word(0), Word(seed & mask), _KEY1, 1
    )
    return np.float32(word) * np.float32(2.0 / 4294967295.0) - np.float32(1)


@numba.njit(nogil=True, cache=True, inline="always")
def _smootherstep(t: np.float32) -> np.float32:
    """Return 6t⁵ − 15t⁴ + 10t³, whose first two derivatives vanish at 0 and 1."""
    return np.float32(t * t * t * (t * (t * np.float32(6) - np.float32(15)) + np.float32(10)))


@numba.njit(nogil=True, cache=True)
def noise_1d(seed: int, layer: Integer, t: float) -> np.float32:
    """Return value noise within ±1 along time, with one lattice point a unit of `t`.

    Two such sums, the second twice as fast and half as strong, so that no beat is heard.

    Args:
        seed: another gives another noise.
        layer: tells uses of one seed apart.
        t: time, in lattice points.
    """
    total = np.float32(0)
    for octave in range(2):
        at = t * (1 + octave) + 0.37 * octave
        first = int(np.floor(at))
        part = _smootherstep(np.float32(at - first))
        a = _corner(seed, layer, first, octave)
        b = _corner(seed, layer, first + 1, octave)
        total += (a + part * (b - a)) / np.float32(1.5 * (1 + octave))
    return total


@numba.njit(nogil=True, cache=True)
def noise_2d(seed: int, layer: Integer, x: float, y: float) -> np.float32:
    """Return value noise within ±1 over a plane, with one lattice point a unit of `x` and `y`.

    Args:
        seed: another gives another noise.
        layer: tells uses of one seed apart.
        x: place across, in lattice points.
        y: place down.
    """
    left, top = int(np.floor(x)), int(np.floor(y))
    a, b = _corner(seed, layer, left, top), _corner(seed, layer, left + 1, top)
    c, d = _corner(seed, layer, left, top + 1), _corner(seed, layer, left + 1, top + 1)
    return _within_cell(a, b, c, d, np.float32(x - left), np.float32(y - top))


@numba.njit(nogil=True, cache=True)
def noise_2d_cached(
    seed: int,
    layer: Integer,
    x: float,
    y: float,
    cell: NDArray[np.int64],
    corners: NDArray[np.float32],
) -> np.float32:
    """Return `noise_2d`, with the corners of the last cell kept for places that follow closely.

    Args:
        seed: another gives another noise.
        layer: tells uses of one seed apart.
        x: place across, in lattice points.
        y: place down.
        cell: of two; the caller's own, one for each layer; begins as `NO_CELL`.
        corners: of four; the caller's own, one for each layer.
    """
    left, top = int(np.floor(x)), int(np.floor(y))
    if left != cell[0] or top != cell[1]:
        cell[0], cell[1] = left, top
        corners[0] = _corner(seed, layer, left, top)
        corners[1] = _corner(seed, layer, left + 1, top)
        corners[2] = _corner(seed, layer, left, top + 1)
        corners[3] = _corner(seed, layer, left + 1, top + 1)
    a, b, c, d = corners[0], corners[1], corners[2], corners[3]
    return _within_cell(a, b, c, d, np.float32(x - left), np.float32(y - top))


@numba.njit(nogil=True, cache=True, inline="always")
def _within_cell(
    a: np.float32, b: np.float32, c: np.float32, d: np.float32, x: np.float32, y: np.float32
) -> np.float32:
    """Interpolate between the values of a cell's corners, given from its upper left by rows."""
    u, v = _smootherstep(x), _smootherstep(y)
    upper, lower = a + u * (b - a), c + u * (d - c)
    return np.float32(upper + v * (lower - upper))
