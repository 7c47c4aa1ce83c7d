"""Smooth noise from counters: what drifts and breathes slowly, the same at any frame alone."""

import numba
import numpy as np

from yearning.core.fields import threefry

Word = np.uint32

_KEY1 = Word(0x0D21F7)


@numba.njit(nogil=True, cache=True, inline="always")
def _corner(seed: int, layer: int, a: int, b: int) -> np.float32:
    """A value of ±1 for a lattice point."""
    mask = 0xFFFFFFFF
    word, _, _, _ = threefry(
        Word(a & mask), Word(b & mask), Word(layer & mask), Word(0), Word(seed & mask), _KEY1, 1
    )
    return np.float32(word) * np.float32(2.0 / 4294967295.0) - np.float32(1)


@numba.njit(nogil=True, cache=True, inline="always")
def _eased(t: np.float32) -> np.float32:
    """6t⁵ − 15t⁴ + 10t³: no jump of speed or of its change (Perlin, Improving Noise, 2002)."""
    return np.float32(t * t * t * (t * (t * np.float32(6) - np.float32(15)) + np.float32(10)))


@numba.njit(nogil=True, cache=True)
def drift(seed: int, layer: int, t: float) -> np.float32:
    """Value noise within ±1 along time, one lattice point a unit of `t`; `layer` tells some apart.

    Two such sums, the second twice as fast and half as strong, so that no beat is heard.
    """
    total = np.float32(0)
    for octave in range(2):
        at = t * (1 + octave) + 0.37 * octave
        first = int(np.floor(at))
        part = _eased(np.float32(at - first))
        a = _corner(seed, layer, first, octave)
        b = _corner(seed, layer, first + 1, octave)
        total += (a + part * (b - a)) / np.float32(1.5 * (1 + octave))
    return total


@numba.njit(nogil=True, cache=True, inline="always")
def cloud(seed: int, layer: int, x: float, y: float) -> np.float32:
    """Value noise within ±1 over a plane, one lattice point a unit of `x` and `y`."""
    left, top = int(np.floor(x)), int(np.floor(y))
    u, v = _eased(np.float32(x - left)), _eased(np.float32(y - top))
    a, b = _corner(seed, layer, left, top), _corner(seed, layer, left + 1, top)
    c, d = _corner(seed, layer, left, top + 1), _corner(seed, layer, left + 1, top + 1)
    upper, lower = a + u * (b - a), c + u * (d - c)
    return np.float32(upper + v * (lower - upper))
