"""Spot functions of halftone dots, and the thresholds at which their dots are as large as tones.

A dot is where a spot function of the place in its cell is below a threshold. The threshold of a
tone is found from the spot function's own areas, soft edge included, so that the mean over a cell
is the tone.
"""

import math
from functools import lru_cache
from typing import Literal

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.kernel_arrays import new_double_line, new_line
from yearning.core.smoothstep import smoothstep

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

_HALF = np.float32(0.5)
_ONE = np.float32(1)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def spot_edges(
    dot: int,
    u: NDArray[np.float32],
    v: NDArray[np.float32],
    threshold: NDArray[np.float32],
    sharp: np.float32,
    out: NDArray[np.float32],
) -> None:
    """Compute how far samples lie inside their dots, in widths of the dot's edge.

    (threshold − s) / |∇s|, with s the spot function.

    Args:
        dot: number of the spot function.
        u: offsets from the dot's middle across, in pitches.
        v: offsets down.
        threshold: of each sample.
        sharp: widths of the edge to a pitch.
        out: takes them.
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
def coverage_of_distances(line: NDArray[np.float32]) -> None:
    """Turn distances inside a dot into ink coverage 0..1, in place."""
    for x in range(line.shape[0]):
        line[x] = smoothstep(line[x] + _HALF)


@numba.njit(nogil=True, cache=True)
def _areas(dot: int, soft: np.float32, low: float, high: float) -> NDArray[np.float64]:
    """Compute the mean coverage of a cell by dots, for evenly spaced thresholds."""
    out = new_double_line(THRESHOLDS)
    u, v = new_line(PLACES), new_line(PLACES)
    line, threshold = new_line(PLACES), new_line(PLACES)
    for j in range(PLACES):
        u[j] = np.float32(j + 0.5) / np.float32(2 * PLACES)
    for n in range(THRESHOLDS):
        threshold[:] = low + n * (high - low) / (THRESHOLDS - 1)
        covered = 0.0
        for j in range(PLACES):
            v[:] = u[j]
            spot_edges(dot, u, v, threshold, _ONE / soft, line)
            coverage_of_distances(line)
            total = np.float32(0)
            for x in range(PLACES):
                total += line[x]
            covered += float(total)
        out[n] = covered / PLACES**2
    return out


@lru_cache(maxsize=64)
def spot_thresholds(dot: Dot, soft: float) -> NDArray[np.float32]:
    """Return the thresholds at which dots cover as much as evenly spaced tones ask for.

    Args:
        dot: the spot function.
        soft: width of its edge.
    """
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
