"""Discs with soft rims, as a shutter sees them that is open while they move."""

import numba
import numpy as np

from yearning.core.smoothstep import smoothstep, smoothstep_array

RATIOS, PLACES, POINTS = 17, 65, 256
"""Of the table: softnesses from none to as wide as the disc, places from its middle to its rim, and
points of each line through it."""


def _half_chords() -> np.ndarray[tuple[int, int], np.dtype[np.float32]]:
    """Half the integral of discs along lines through them, in units of where their rims end.

    By softness, as a part of the radius, and by how far beside the middle the line runs.
    """
    soft = np.maximum(np.linspace(0, 1, RATIOS), 1e-3)[:, None, None]
    beside = np.linspace(0, 1, PLACES)[None, :, None]
    along = (np.arange(POINTS) + 0.5) / POINTS
    inside = (1 - np.hypot(beside, along)) * (1 + soft) / (2 * soft)
    return np.asarray(smoothstep_array(inside).mean(axis=2), np.float32)


_HALF_CHORDS = _half_chords()

_ZERO, _ONE = np.float32(0), np.float32(1)


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _ramp(x: np.float32, soft: np.float32) -> np.float32:
    """The integral of a step at 0 that is as soft as a smoothstep over ±soft."""
    w = (x / soft + _ONE) * np.float32(0.5)
    inside = min(max(w, _ZERO), _ONE)
    bent = np.float32(2) * soft * inside * inside * inside * (_ONE - np.float32(0.5) * inside)
    return np.float32(x if w > _ONE else bent)


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def moving_disc(
    along: np.float32, across: np.float32, half: np.float32, radius: np.float32, soft: np.float32
) -> np.float32:
    """For what part of the time a disc covers a place, 0..1, that moves evenly past it.

    Its integral is the disc's own, however far it moves: π (radius² + soft²/5).

    Args:
        along: the place, from the middle of the path, along it.
        across: the place across it.
        half: of the path's length.
        radius: of the disc, to the middle of its rim.
        soft: half the rim's width, above 0 and no more than the radius.
    """
    wide = radius + soft
    at = abs(across) / wide * np.float32(PLACES - 1)
    if at >= np.float32(PLACES - 1):
        return _ZERO
    i = int(at)
    ratio = min(soft / radius, _ONE) * np.float32(RATIOS - 1)
    k = min(int(ratio), RATIOS - 2)
    fx, fy = at - np.float32(i), ratio - np.float32(k)
    upper = _HALF_CHORDS[k, i] + fx * (_HALF_CHORDS[k, i + 1] - _HALF_CHORDS[k, i])
    lower = _HALF_CHORDS[k + 1, i] + fx * (_HALF_CHORDS[k + 1, i + 1] - _HALF_CHORDS[k + 1, i])
    chord = wide * (upper + fy * (lower - upper))
    level = smoothstep((wide - abs(across)) / (soft + soft))
    if level < np.float32(1e-3):
        return _ZERO
    # along the line through the disc: as high as it is in its middle, as long as its integral
    # makes it, with ends that reach to where the rim ends
    long = chord / level
    rim = np.sqrt(max(wide * wide - across * across, _ZERO)) - long
    end = min(max(rim, np.float32(0.1) * long), long)
    way = max(half, np.float32(0.02) * wide)
    ahead = _ramp(along + way + long, end) - _ramp(along + way - long, end)
    behind = _ramp(along - way + long, end) - _ramp(along - way - long, end)
    return level * (ahead - behind) / (way + way)
