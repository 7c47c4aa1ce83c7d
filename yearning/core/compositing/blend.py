"""Blend modes, and the one kernel that lays a treated picture on the one below it.

Source: W3C Compositing and Blending Level 1, §9.1 "Separable blend modes" and §9.2 "Non-separable
blend modes"; the last five modes are common practice, no source. Each mode is B(cb, cs), with `cb`
the backdrop and `cs` the source. The recommendation defines B on 0..1; here both sides are held to
that, and what lies beyond is added again as far as it shows: of the backdrop by
B(1, cs) − B(0, cs), of the source by B(cb, 1) − B(cb, 0), both within 0..1, and light beyond white
whole where white stays white; of both by their difference where that is the mode. So a neutral
source stays neutral on any backdrop, and white screened on anything is white. Told to keep what
lies beyond, B takes the source as it is, and the part of the backdrop beyond 0..1 is added again
whole.
"""

from enum import IntEnum
from typing import Literal, get_args

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane

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
"""A blend mode by its word in files."""

BLENDS: tuple[Blend, ...] = get_args(Blend)


class BlendMode(IntEnum):
    """A blend mode as kernels take it."""

    NORMAL = 0
    MULTIPLY = 1
    SCREEN = 2
    OVERLAY = 3
    DARKEN = 4
    LIGHTEN = 5
    COLOUR_DODGE = 6
    COLOUR_BURN = 7
    HARD_LIGHT = 8
    SOFT_LIGHT = 9
    DIFFERENCE = 10
    EXCLUSION = 11
    HUE = 12
    SATURATION = 13
    COLOUR = 14
    LUMINOSITY = 15
    ADD = 16
    SUBTRACT = 17
    LINEAR_BURN = 18
    LINEAR_LIGHT = 19
    DIVIDE = 20

    @classmethod
    def of(cls, blend: Blend) -> "BlendMode":
        """The mode that a word in files means."""
        return cls[blend.upper().replace(" ", "_")]


Line = NDArray[np.float32]

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
def _blend_channel(mode: int, cb: np.float32, cs: np.float32) -> np.float32:
    """B(cb, cs) of a separable mode, with `cb` within 0..1."""
    if mode == BlendMode.MULTIPLY:
        return cb * cs
    if mode == BlendMode.SCREEN:
        return cb + cs - cb * cs
    if mode == BlendMode.OVERLAY:
        return _hard_light(cs, cb)
    if mode == BlendMode.DARKEN:
        return min(cb, cs)
    if mode == BlendMode.LIGHTEN:
        return max(cb, cs)
    if mode == BlendMode.COLOUR_DODGE:
        return _colour_dodge(cb, cs)
    if mode == BlendMode.COLOUR_BURN:
        return _colour_burn(cb, cs)
    if mode == BlendMode.HARD_LIGHT:
        return _hard_light(cb, cs)
    if mode == BlendMode.SOFT_LIGHT:
        return _soft_light(cb, cs)
    if mode == BlendMode.DIFFERENCE:
        return abs(cb - cs)
    if mode == BlendMode.EXCLUSION:
        return cb + cs - _TWO * cb * cs
    if mode == BlendMode.ADD:
        return cb + cs
    if mode == BlendMode.SUBTRACT:
        return cb - cs
    if mode == BlendMode.LINEAR_BURN:
        return cb + cs - _ONE
    if mode == BlendMode.LINEAR_LIGHT:
        return cb + _TWO * cs - _ONE
    return _colour_dodge(cb, _ONE - cs)  # DIVIDE: cb / cs


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
def _pull_to_light(
    r: np.float32, g: np.float32, b: np.float32, light: np.float32, part: np.float32
) -> tuple[np.float32, np.float32, np.float32]:
    """Move each channel towards `light` by a factor (a part of ClipColor in §9.2)."""
    return light + (r - light) * part, light + (g - light) * part, light + (b - light) * part


@numba.njit(nogil=True, cache=True, error_model="numpy")
def _mix_colours(
    mode: int,
    backdrop: Picture,
    source: Picture,
    weight: Picture,
    y: int,
    keep_beyond: bool,
    out: Picture,
    to: int,
) -> None:
    """Mix a row by a non-separable mode of §9.2: SetLum(SetSat(C, s), l).

    What lies beyond in the backdrop is added again; where all light is the source's, that of the
    source is.
    """
    takes_light = mode == BlendMode.LUMINOSITY and not keep_beyond
    for x in range(weight.shape[0]):
        rb, gb, bb = _whole(backdrop[:, y], x)
        rs, gs, bs = _whole(source[:, y], x)
        r, g, b = rb, gb, bb
        if mode == BlendMode.HUE or mode == BlendMode.COLOUR:
            r, g, b = rs, gs, bs
        if mode == BlendMode.HUE or mode == BlendMode.SATURATION:
            held = _spread(rb, gb, bb) if mode == BlendMode.HUE else _spread(rs, gs, bs)
            now, low = _spread(r, g, b), min(r, min(g, b))
            gain = held / now if now > _ZERO else _ZERO
            r, g, b = (r - low) * gain, (g - low) * gain, (b - low) * gain
        light = _lum(rs, gs, bs) if mode == BlendMode.LUMINOSITY else _lum(rb, gb, bb)
        more = light - _lum(r, g, b)
        r, g, b = r + more, g + more, b + more
        low, high = min(r, min(g, b)), max(r, max(g, b))  # ClipColor
        if low < _ZERO and light > low:
            part = light / (light - low)
            r, g, b = _pull_to_light(r, g, b, light, part)
        if high > _ONE and high > light:
            part = (_ONE - light) / (high - light)
            r, g, b = _pull_to_light(r, g, b, light, part)
        if takes_light:
            beyond = _lum(source[0, y, x], source[1, y, x], source[2, y, x]) - _lum(rs, gs, bs)
            r, g, b = r + beyond, g + beyond, b + beyond
            rb, gb, bb = backdrop[0, y, x], backdrop[1, y, x], backdrop[2, y, x]
        out[0, to, x] = backdrop[0, y, x] + weight[x] * (r - rb)
        out[1, to, x] = backdrop[1, y, x] + weight[x] * (g - gb)
        out[2, to, x] = backdrop[2, y, x] + weight[x] * (b - bb)


@numba.njit(nogil=True, cache=True, inline="always")
def _clamp_unit(value: np.float32) -> np.float32:
    return min(max(value, _ZERO), _ONE)


@numba.njit(nogil=True, cache=True, error_model="numpy")
def _mix_separable(mode: int, backdrop: Line, source: Line, weight: Line, out: Line) -> None:
    """Mix a row by a separable mode, the backdrop held, and what lies beyond added again whole."""
    for x in range(weight.shape[0]):
        inside = _clamp_unit(backdrop[x])
        out[x] = backdrop[x] + weight[x] * (_blend_channel(mode, inside, source[x]) - inside)


@numba.njit(nogil=True, cache=True, error_model="numpy")
def _mix_beyond(mode: int, backdrop: Line, source: Line, weight: Line, out: Line) -> None:
    """Mix a row by a separable mode, both sides held, what lies beyond added as far as it shows."""
    for x in range(weight.shape[0]):
        cb, cs = _clamp_unit(backdrop[x]), _clamp_unit(source[x])
        white = _blend_channel(mode, _ONE, cs)
        through = _clamp_unit(white - _blend_channel(mode, _ZERO, cs))
        if backdrop[x] > _ONE and white >= _ONE:
            through = _ONE
        shows = _clamp_unit(_blend_channel(mode, cb, _ONE) - _blend_channel(mode, cb, _ZERO))
        value = _blend_channel(mode, cb, cs)
        if mode == BlendMode.DIFFERENCE:
            through = _ONE if cb >= cs else -_ONE
            shows = -through
        value += through * (backdrop[x] - cb) + shows * (source[x] - cs)
        out[x] = backdrop[x] + weight[x] * (value - backdrop[x])


@numba.njit(nogil=True, cache=True)
def _is_beyond(line: Line) -> bool:
    outside = np.int32(0)  # counted, and not stopped at, so that it is done many at a time
    for x in range(line.shape[0]):
        outside += np.int32((line[x] < _ZERO) | (line[x] > _ONE))
    return bool(outside > 0)


@numba.njit(nogil=True, cache=True, error_model="numpy")
def _mix(
    backdrop: Picture,
    source: Picture,
    mode: int,
    weights: Plane,
    keep_beyond: bool,
    out: Picture,
    out_top: int,
) -> None:
    planes, height, width = backdrop.shape
    uniform = new_line(width)
    uniform[:] = weights[0, 0]
    for y in range(height):
        weight = uniform if weights.size == 1 else weights[y]
        if BlendMode.HUE <= mode <= BlendMode.LUMINOSITY:
            _mix_colours(mode, backdrop, source, weight, y, keep_beyond, out, out_top + y)
            continue
        for c in range(planes):
            b, s, to = backdrop[c, y], source[c, y], out[c, out_top + y]
            if mode == BlendMode.NORMAL:
                for x in range(width):
                    to[x] = b[x] + weight[x] * (s[x] - b[x])
            elif mode == BlendMode.SCREEN:
                for x in range(width):
                    to[x] = b[x] + weight[x] * s[x] * (_ONE - _clamp_unit(b[x]))
                if not keep_beyond and _is_beyond(b):
                    for x in range(width):  # blacker than black, only what is not covered stays
                        to[x] -= weight[x] * _clamp_unit(s[x]) * min(b[x], _ZERO)
            elif not keep_beyond and (_is_beyond(b) or _is_beyond(s)):
                _mix_beyond(mode, b, s, weight, to)
            else:
                _mix_separable(mode, b, s, weight, to)


def mix(
    backdrop: Picture,
    source: Picture,
    blend: Blend,
    weights: Plane,
    out: Picture,
    out_top: int = 0,
    *,
    keep_beyond: bool = False,
) -> None:
    """Blend `source` on `backdrop` and mix it in by weight: b + w · (B(b, s) − b).

    Args:
        backdrop: the picture below, or a band of it, shape `(3, height, width)`.
        source: what is laid on it, of the same shape.
        blend: the mode B.
        weights: w, 0..1, shape `(height, width)`, or `(1, 1)` for the same weight everywhere;
            `weight_plane` makes it.
        out: where the result goes, of the same width; neither of the other two.
        out_top: the row of `out` at which it begins.
        keep_beyond: whether B takes the source as it is, beyond 0..1 too.
    """
    _mix(backdrop, source, int(BlendMode.of(blend)), weights, keep_beyond, out, out_top)


def blend_pictures(backdrop: Picture, source: Picture, blend: Blend) -> Picture:
    """Return B(backdrop, source), shape `(3, height, width)`.

    Args:
        backdrop: the picture below.
        source: the picture above.
        blend: the mode.

    >>> grey = np.full((3, 1, 1), 0.5, np.float32)
    >>> float(blend_pictures(grey, grey, "screen")[0, 0, 0])
    0.75
    """
    out = np.empty_like(backdrop)
    mix(backdrop, source, blend, np.ones((1, 1), np.float32), out)
    return out
