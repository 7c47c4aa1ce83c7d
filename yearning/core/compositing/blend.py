"""Blend modes: how a source is laid on a backdrop, then mixed by an amount.

W3C Compositing and Blending Level 1, §9.1 "Separable blend modes" and §9.2 "Non-separable blend
modes"; the last five are common practice, no source. Each mode is B(cb, cs), with `cb` the backdrop
and `cs` the source. The recommendation defines B on 0..1; here it is continued outside: the part of
the backdrop beyond 0..1 is kept aside and carried through, so a neutral source stays neutral on any
backdrop, and the source is clamped only where the formula divides, or looks for a hue.
"""

from typing import Literal, get_args

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import KB, KG, KR
from yearning.core.compositing.tone_window import tone_pieces, weigh
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
    "hue",
    "saturation",
    "colour",
    "luminosity",
    "add",
    "subtract",
    "linear burn",
    "linear light",
    "divide",
]

BLENDS: tuple[Blend, ...] = get_args(Blend)

HUE, LUMINOSITY = BLENDS.index("hue"), BLENDS.index("luminosity")
"""The first and the last mode that see all three channels."""

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
    if mode == 11:
        return cb + cs - _TWO * cb * cs
    if mode == 16:
        return cb + cs
    if mode == 17:
        return cb - cs
    if mode == 18:
        return cb + cs - _ONE
    if mode == 19:
        return cb + _TWO * cs - _ONE
    return _colour_dodge(cb, _ONE - cs)  # 20: cb / cs


@numba.njit(nogil=True, cache=True, inline="always")
def _lum(r: np.float32, g: np.float32, b: np.float32) -> np.float32:
    """Lum(C) of §9.2."""
    return np.float32(0.3) * r + np.float32(0.59) * g + np.float32(0.11) * b


@numba.njit(nogil=True, cache=True, inline="always")
def _spread(r: np.float32, g: np.float32, b: np.float32) -> np.float32:
    """Sat(C) of §9.2."""
    return max(r, max(g, b)) - min(r, min(g, b))


@numba.njit(nogil=True, cache=True, inline="always")
def _whole(line: Picture, x: int) -> tuple[np.float32, np.float32, np.float32]:
    return (
        min(max(line[0, x], _ZERO), _ONE),
        min(max(line[1, x], _ZERO), _ONE),
        min(max(line[2, x], _ZERO), _ONE),
    )


@numba.njit(nogil=True, cache=True, inline="always")
def _pulled(
    r: np.float32, g: np.float32, b: np.float32, light: np.float32, part: np.float32
) -> tuple[np.float32, np.float32, np.float32]:
    """Each channel a part of its way from `light` (within ClipColor of §9.2)."""
    return light + (r - light) * part, light + (g - light) * part, light + (b - light) * part


@numba.njit(nogil=True, cache=True, error_model="numpy")
def _mix_colours(
    mode: int, backdrop: Picture, source: Picture, weight: Picture, y: int, out: Picture, to: int
) -> None:
    """A row by a mode of §9.2: SetLum(SetSat(C, s), l), with C, s, l from backdrop or source."""
    for x in range(weight.shape[0]):
        rb, gb, bb = _whole(backdrop[:, y], x)
        rs, gs, bs = _whole(source[:, y], x)
        r, g, b = rb, gb, bb
        if mode == 12 or mode == 14:
            r, g, b = rs, gs, bs
        if mode == 12 or mode == 13:
            held = _spread(rb, gb, bb) if mode == 12 else _spread(rs, gs, bs)
            now, low = _spread(r, g, b), min(r, min(g, b))
            gain = held / now if now > _ZERO else _ZERO
            r, g, b = (r - low) * gain, (g - low) * gain, (b - low) * gain
        light = _lum(rs, gs, bs) if mode == 15 else _lum(rb, gb, bb)
        more = light - _lum(r, g, b)
        r, g, b = r + more, g + more, b + more
        low, high = min(r, min(g, b)), max(r, max(g, b))  # ClipColor
        if low < _ZERO and light > low:
            part = light / (light - low)
            r, g, b = _pulled(r, g, b, light, part)
        if high > _ONE and high > light:
            part = (_ONE - light) / (high - light)
            r, g, b = _pulled(r, g, b, light, part)
        out[0, to, x] = backdrop[0, y, x] + weight[x] * (r - rb)
        out[1, to, x] = backdrop[1, y, x] + weight[x] * (g - gb)
        out[2, to, x] = backdrop[2, y, x] + weight[x] * (b - bb)


@numba.njit(nogil=True, cache=True, error_model="numpy")
def _mix(
    backdrop: Picture,
    source: Picture,
    mode: int,
    amount: np.float32,
    tones: NDArray[np.float32],
    out: Picture,
    into: int,
) -> None:
    planes, height, width = backdrop.shape
    luma, weight = np.empty(width, np.float32), np.empty(width, np.float32)
    weight[:] = amount
    for y in range(height):
        if tones.shape[0] > 0:
            for x in range(width):
                luma[x] = KR * backdrop[0, y, x] + KG * backdrop[1, y, x] + KB * backdrop[2, y, x]
            weigh(luma, tones, weight)
            for x in range(width):
                weight[x] *= amount
        if HUE <= mode <= LUMINOSITY:
            _mix_colours(mode, backdrop, source, weight, y, out, into + y)
            continue
        for c in range(planes):
            b, s, to = backdrop[c, y], source[c, y], out[c, into + y]
            if mode == 0:
                for x in range(width):
                    to[x] = b[x] + weight[x] * (s[x] - b[x])
            elif mode == 2:
                for x in range(width):
                    inside = min(max(b[x], _ZERO), _ONE)
                    to[x] = b[x] + weight[x] * s[x] * (_ONE - inside)
            else:
                for x in range(width):
                    inside = min(max(b[x], _ZERO), _ONE)
                    to[x] = b[x] + weight[x] * (_blended(mode, inside, s[x]) - inside)


_NO_TONES = np.zeros((0, 3), np.float32)


def mix(
    backdrop: Picture,
    source: Picture,
    blend: Blend,
    amount: float,
    out: Picture,
    into: int = 0,
    tones: tuple[tuple[float, float], ...] | None = None,
) -> None:
    """Blend `source` on `backdrop` and mix by `amount` 0..1, into the rows of `out` from `into` on.

    out = backdrop + amount · w · (B(backdrop, source) − backdrop), where w is the weight of the
    backdrop's luma in the tone window `tones`, or 1; all of shape `(3, height, width)`, whole
    pictures or bands of rows. `out` is neither of the other two.
    """
    pieces = _NO_TONES if tones is None else tone_pieces(tones)
    _mix(backdrop, source, BLENDS.index(blend), np.float32(amount), pieces, out, into)


def blended(backdrop: Picture, source: Picture, blend: Blend) -> Picture:
    """B(backdrop, source) as a new picture, shape `(3, height, width)`."""
    out = np.empty_like(backdrop)
    mix(backdrop, source, blend, 1.0, out)
    return out
