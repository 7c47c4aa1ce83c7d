"""Light added to a picture in linear light, not in display-coded values."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import bt709_luma
from yearning.core.colour.transfer import mirrored_code, mirrored_light
from yearning.core.image.block_means import EnlargedBlocks
from yearning.core.kernel_arrays import new_line, new_lines
from yearning.core.picture import Picture, Plane

Line = NDArray[np.float32]

CHUNK = 384
"""Pixels of a row that are passed over together where no light falls on them."""

NEGLIGIBLE = np.float32(2e-6)
"""Light too faint to move a 16-bit code value, but in black."""


def add_light(
    light: EnlargedBlocks, picture: Picture, top: int, out: Picture, out_top: int
) -> None:
    """Add light h to rows of a picture in linear light: L + h (1 − L)², by BT.1886.

    What is full of light takes no more, as an exposed film does; what is beyond white is left.

    Args:
        light: h, linear, as reduced blocks.
        picture: the rows, display-coded, shape `(3, rows, width)`.
        top: the number of the first of them.
        out: where the result goes.
        out_top: its first row there.
    """
    _lay(*light.taps(top, top + picture.shape[1]), picture, out, out_top)


TINT_ABOVE, TINT_HALF = np.float32(1e-3), np.float32(0.1)
"""Linear light without room above which a pale part takes its hue, and at which it takes half."""

TINT_DARKENS = np.float32(0.09)
"""The part of its code value that a pale part gives for a stronger hue: by eye, no source."""


def add_tinting_light(
    light: EnlargedBlocks, tint: float, picture: Picture, top: int, out: Picture, out_top: int
) -> None:
    """Add light as `add_light` does, and have parts that have no room for it take its hue.

    Of light e = h (1 − (1 − L)²), for which there is no room, the code values go the share
    `tint` · (Y(e) − 0.001) / (Y(e) + 0.1) towards a colour of nearly their own luma, from grey in
    the direction of √h, nearly its code values, as far as stays within white. Common practice, no
    source.

    Args:
        light: h, linear, as reduced blocks.
        tint: 0..1.
        picture: the rows, display-coded, shape `(3, rows, width)`.
        top: the number of the first of them.
        out: where the result goes.
        out_top: its first row there.
    """
    taps = light.taps(top, top + picture.shape[1])
    _lay_tinting(*taps, np.float32(tint), picture, out, out_top)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay(
    wide: Picture,
    start: NDArray[np.int32],
    weights: Plane,
    picture: Picture,
    out: Picture,
    out_top: int,
) -> None:
    zero = np.float32(0)
    last = wide.shape[1] - 1
    width = picture.shape[2]
    light = new_line(width)
    for y in range(picture.shape[1]):
        a, b = min(start[y], last), min(start[y] + 1, last)
        c, d = min(start[y] + 2, last), min(start[y] + 3, last)
        w0, w1, w2, w3 = weights[y, 0], weights[y, 1], weights[y, 2], weights[y, 3]
        for p in range(3):
            for x in range(width):
                h = (w0 * wide[p, a, x] + w1 * wide[p, b, x]) + (
                    w2 * wide[p, c, x] + w3 * wide[p, d, x]
                )
                light[x] = max(h - NEGLIGIBLE, zero)
            for left in range(0, width, CHUNK):
                part = slice(left, min(left + CHUNK, width))
                _lay_part(picture[p, y, part], light[part], out[p, out_top + y, part])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay_part(picture: Line, light: Line, out: Line) -> None:
    zero, one = np.float32(0), np.float32(1)
    total = zero
    for x in range(light.shape[0]):
        total += light[x]
    if total <= zero:
        for x in range(light.shape[0]):
            out[x] = picture[x]
        return
    for x in range(light.shape[0]):
        seen = mirrored_light(picture[x])
        room = one - min(max(seen, zero), one)
        light[x] = seen + light[x] * room * room
    for x in range(light.shape[0]):
        out[x] = mirrored_code(light[x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay_tinting(
    wide: Picture,
    start: NDArray[np.int32],
    weights: Plane,
    tint: np.float32,
    picture: Picture,
    out: Picture,
    out_top: int,
) -> None:
    zero = np.float32(0)
    last = wide.shape[1] - 1
    width = picture.shape[2]
    light, rest, lines = new_lines(3, width), new_lines(3, width), new_lines(4, CHUNK)
    for y in range(picture.shape[1]):
        a, b = min(start[y], last), min(start[y] + 1, last)
        c, d = min(start[y] + 2, last), min(start[y] + 3, last)
        w0, w1, w2, w3 = weights[y, 0], weights[y, 1], weights[y, 2], weights[y, 3]
        for p in range(3):
            above, line = wide[p], light[p]
            for x in range(width):
                h = (w0 * above[a, x] + w1 * above[b, x]) + (w2 * above[c, x] + w3 * above[d, x])
                line[x] = max(h - NEGLIGIBLE, zero)
        for left in range(0, width, CHUNK):
            part = slice(left, min(left + CHUNK, width))
            share = lines[0, : part.stop - part.start]
            for p in range(3):
                shown = out[p, out_top + y, part]
                if _sum(light[p, part]) > zero:
                    _expose(picture[p, y, part], light[p, part], shown, rest[p, part])
                else:
                    rest[p, part] = zero
                    shown[:] = picture[p, y, part]
            _shares(rest[0, part], rest[1, part], rest[2, part], tint, share)
            if _sum(share) > zero:
                for p in range(3):
                    _root(light[p, part])
                red, green, blue = light[0, part], light[1, part], light[2, part]
                row = out_top + y
                shown_red, shown_green, shown_blue = (
                    out[0, row, part],
                    out[1, row, part],
                    out[2, row, part],
                )
                _tint(red, green, blue, share, shown_red, shown_green, shown_blue, lines)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _root(line: Line) -> None:
    for x in range(line.shape[0]):
        line[x] = np.sqrt(line[x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _sum(line: Line) -> np.float32:
    total = np.float32(0)
    for x in range(line.shape[0]):
        total += line[x]
    return total


@numba.njit(nogil=True, cache=True, fastmath=True)
def _expose(picture: Line, light: Line, shown: Line, rest: Line) -> None:
    """Add to a line the light that it has room for; what it has none for is the rest."""
    zero, one = np.float32(0), np.float32(1)
    for x in range(light.shape[0]):
        seen = mirrored_light(picture[x])
        room = one - min(max(seen, zero), one)
        fits = light[x] * room * room
        rest[x] = light[x] - fits
        shown[x] = seen + fits
    for x in range(light.shape[0]):
        shown[x] = mirrored_code(shown[x])


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _shares(red: Line, green: Line, blue: Line, tint: np.float32, share: Line) -> None:
    """How far pixels take the hue of light for which there was no room."""
    for x in range(share.shape[0]):
        left = bt709_luma(red[x], green[x], blue[x])
        share[x] = tint * max(left - TINT_ABOVE, np.float32(0)) / (left + TINT_HALF)


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _tint(
    red: Line,
    green: Line,
    blue: Line,
    share: Line,
    to_red: Line,
    to_green: Line,
    to_blue: Line,
    lines: Plane,
) -> None:
    """Have three lines, display-coded, take the hue of light; the last of `lines` are worked in."""
    zero, one, faint = np.float32(0), np.float32(1), np.float32(1e-6)
    luma, per, fits = lines[1], lines[2], lines[3]
    for x in range(red.shape[0]):
        lit = bt709_luma(to_red[x], to_green[x], to_blue[x])
        luma[x] = lit * (one - TINT_DARKENS * share[x])
    for x in range(red.shape[0]):
        per[x] = luma[x] / max(bt709_luma(red[x], green[x], blue[x]), faint)
    for x in range(red.shape[0]):
        highest = per[x] * max(red[x], max(green[x], blue[x]))
        fits[x] = min(max(one - luma[x], zero) / max(highest - luma[x], faint), one)
    for light, to in ((red, to_red), (green, to_green), (blue, to_blue)):
        for x in range(red.shape[0]):
            own = luma[x] + fits[x] * (per[x] * light[x] - luma[x])
            to[x] += share[x] * (own - to[x])
