"""Blend modes: how a source is laid on a backdrop, then mixed by an amount.

W3C Compositing and Blending Level 1, §9.1 "Separable blend modes". Each mode is B(cb, cs), with
`cb` the backdrop and `cs` the source. The recommendation defines B on 0..1; here it is continued
outside: the part of the backdrop beyond 0..1 is kept aside and carried through, so a neutral
source stays neutral on any backdrop, and the source is clamped only where the formula divides.
"""

from typing import Literal, get_args

import numba
import numpy as np

from yearning.core.picture import Picture

Blend = Literal[
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "colour dodge",
    "colour burn",
    "hard light",
    "soft light",
    "difference",
    "exclusion",
]

BLENDS: tuple[Blend, ...] = get_args(Blend)

_ZERO = np.float32(0)
_ONE = np.float32(1)
_TWO = np.float32(2)
_HALF = np.float32(0.5)
_QUARTER = np.float32(0.25)


@numba.njit(nogil=True, cache=True, inline="always")
def _hard_light(cb: np.float32, cs: np.float32) -> np.float32:
    if cs <= _HALF:
        return cb * (_TWO * cs)
    return cb + (_TWO * cs - _ONE) * (_ONE - cb)


@numba.njit(nogil=True, cache=True, inline="always")
def _colour_dodge(cb: np.float32, cs: np.float32) -> np.float32:
    if cb <= _ZERO:
        return _ZERO
    if cs >= _ONE:
        return _ONE
    return min(_ONE, cb / (_ONE - max(cs, _ZERO)))


@numba.njit(nogil=True, cache=True, inline="always")
def _colour_burn(cb: np.float32, cs: np.float32) -> np.float32:
    if cb >= _ONE:
        return _ONE
    if cs <= _ZERO:
        return _ZERO
    return _ONE - min(_ONE, (_ONE - cb) / min(cs, _ONE))


@numba.njit(nogil=True, cache=True, inline="always")
def _soft_light(cb: np.float32, cs: np.float32) -> np.float32:
    if cs <= _HALF:
        return cb - (_ONE - _TWO * cs) * cb * (_ONE - cb)
    if cb <= _QUARTER:
        d = ((np.float32(16) * cb - np.float32(12)) * cb + np.float32(4)) * cb
    else:
        d = np.sqrt(cb)
    return cb + (_TWO * cs - _ONE) * (d - cb)


@numba.njit(nogil=True, cache=True, inline="always")
def _blended(mode: int, cb: np.float32, cs: np.float32) -> np.float32:
    """B(cb, cs) with `cb` within 0..1; `mode` is an index into `BLENDS`."""
    if mode == 1:
        return cb * cs
    if mode == 2:
        return cb + cs - cb * cs
    if mode == 3:
        return _hard_light(cs, cb)
    if mode == 4:
        return min(cb, cs)
    if mode == 5:
        return max(cb, cs)
    if mode == 6:
        return _colour_dodge(cb, cs)
    if mode == 7:
        return _colour_burn(cb, cs)
    if mode == 8:
        return _hard_light(cb, cs)
    if mode == 9:
        return _soft_light(cb, cs)
    if mode == 10:
        return abs(cb - cs)
    return cb + cs - _TWO * cb * cs


@numba.njit(nogil=True, cache=True)
def _mix_into(backdrop: Picture, source: Picture, mode: int, amount: np.float32) -> None:
    planes, height, width = backdrop.shape
    for c in range(planes):
        for y in range(height):
            b = backdrop[c, y]
            s = source[c, y]
            if mode == 0:
                for x in range(width):
                    b[x] += amount * (s[x] - b[x])
            elif mode == 2:
                for x in range(width):
                    inside = min(max(b[x], _ZERO), _ONE)
                    b[x] += amount * s[x] * (_ONE - inside)
            else:
                for x in range(width):
                    inside = min(max(b[x], _ZERO), _ONE)
                    b[x] += amount * (_blended(mode, inside, s[x]) - inside)


def mix_into(backdrop: Picture, source: Picture, blend: Blend, amount: float) -> None:
    """Blend `source` on `backdrop` and mix by `amount` 0..1, in place.

    backdrop ← backdrop + amount · (B(backdrop, source) − backdrop); both of shape
    `(3, height, width)`, a whole picture or a band of its rows.
    """
    _mix_into(backdrop, source, BLENDS.index(blend), np.float32(amount))


def blended(backdrop: Picture, source: Picture, blend: Blend) -> Picture:
    """B(backdrop, source) as a new picture, shape `(3, height, width)`."""
    out = backdrop.copy()
    mix_into(out, source, blend, 1.0)
    return out
