"""Between Y'CbCr planes of codes and R'G'B' pictures.

ITU-R BT.709-6 items 3.2–3.5 (and BT.601-7, BT.2020-2 with their own weights):
E'Y = KR E'R + KG E'G + KB E'B, E'CB = (E'B − E'Y) / 2(1 − KB), E'CR = (E'R − E'Y) / 2(1 − KR),
quantized as `Coding` says. Chroma samples of 4:2:0 and 4:2:2 stand level with the left luma
sample of their pair and, in 4:2:0, half-way between two lines: the siting H.264 and HEVC take
when none is signalled ("left", ITU-T H.273 ChromaLocType 0).
"""

from typing import Any, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import bands
from yearning.core.colour.matrices import Coding
from yearning.core.fields import white
from yearning.core.memory import new_array
from yearning.core.picture import Picture, Size, new_picture

Codes = NDArray[Any]
"""A plane of codes: uint8, or uint16 for more than 8 bits."""


class Planes(NamedTuple):
    """Y', CB and CR codes; the chroma planes may have half as many columns, or lines too."""

    luma: Codes
    cb: Codes
    cr: Codes


def chroma_shape(size: Size, subsampling: tuple[int, int]) -> tuple[int, int]:
    """Lines and columns of a chroma plane; `subsampling` is (across, down), 1 or 2 each."""
    across, down = subsampling
    return -(-size.height // down), -(-size.width // across)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _chroma_line(plane: Codes, y: int, down: int, across: int, out: NDArray[np.float32]) -> None:
    """One luma line's chroma codes, interpolated linearly from the lines and columns around."""
    lines, columns = plane.shape
    width = out.shape[0]
    if down == 2:
        near = min(y >> 1, lines - 1)
        other = near + 1 if y & 1 else near - 1
        other = min(max(other, 0), lines - 1)
        a, b = plane[near], plane[other]
        w = np.float32(0.75)
    else:
        a, b = plane[y], plane[y]
        w = np.float32(1)
    v = np.float32(1) - w
    if across == 1:
        for x in range(width):
            out[x] = w * np.float32(a[x]) + v * np.float32(b[x])
        return
    last = columns - 1
    here = w * np.float32(a[0]) + v * np.float32(b[0])
    for j in range(columns):
        k = min(j + 1, last)
        after = w * np.float32(a[k]) + v * np.float32(b[k])
        out[2 * j] = here
        if 2 * j + 1 < width:
            out[2 * j + 1] = np.float32(0.5) * (here + after)
        here = after


@numba.njit(nogil=True, cache=True, fastmath=True)
def _decode_rows(
    luma: Codes,
    cb: Codes,
    cr: Codes,
    down: int,
    across: int,
    k: NDArray[np.float32],
    top: int,
    bottom: int,
    out: Picture,
) -> None:
    """Rows `top` to `bottom`; `k` is gain and offset of luma, then of CR→R, CR→G, CB→G, CB→B."""
    width = out.shape[2]
    b_line = np.empty(width + 1, np.float32)[:width]
    r_line = np.empty(width + 1, np.float32)[:width]
    gain, black, middle = k[0], k[1], k[2]
    r_r, r_g, b_g, b_b = k[3], k[4], k[5], k[6]
    for y in range(top, bottom):
        _chroma_line(cb, y, down, across, b_line)
        _chroma_line(cr, y, down, across, r_line)
        codes = luma[y]
        red, green, blue = out[0, y], out[1, y], out[2, y]
        for x in range(width):
            value = np.float32(codes[x]) * gain + black
            b = b_line[x] + middle
            r = r_line[x] + middle
            red[x] = value + r_r * r
            green[x] = value + r_g * r + b_g * b
            blue[x] = value + b_b * b


def _decoding(coding: Coding) -> NDArray[np.float32]:
    kr, kg, kb = coding.weights
    gain = 1 / coding.luma_span
    chroma = 1 / coding.chroma_span
    return np.array(
        [
            gain,
            -coding.luma_offset * gain,
            -coding.chroma_offset,
            2 * (1 - kr) * chroma,
            -2 * (1 - kr) * kr / kg * chroma,
            -2 * (1 - kb) * kb / kg * chroma,
            2 * (1 - kb) * chroma,
        ],
        np.float32,
    )


def picture_of(planes: Planes, coding: Coding, subsampling: tuple[int, int]) -> Picture:
    """The R'G'B' picture, shape `(3, lines, columns)`, of planes of codes."""
    height, width = planes.luma.shape
    picture = new_picture(Size(width, height))
    k = _decoding(coding)
    across, down = subsampling
    bands.each_band(
        height,
        lambda top, bottom: _decode_rows(*planes, down, across, k, top, bottom, picture),
    )
    return picture


@numba.njit(nogil=True, cache=True, fastmath=True)
def _encode_rows(
    picture: Picture,
    top: int,
    bottom: int,
    down: int,
    across: int,
    k: NDArray[np.float32],
    threshold: NDArray[np.float32],
    highest: np.float32,
    luma: Codes,
    cb: Codes,
    cr: Codes,
) -> None:
    """Rows `top` to `bottom` of a picture, an even number of lines for `down` 2 but at the picture's end.

    `k`: KR, KG, KB; luma span and offset; chroma span and offset. `threshold` is the dither's
    pattern, in codes, added before truncation; each plane reads it from another place.
    """
    width = picture.shape[2]
    kr, kg, kb = k[0], k[1], k[2]
    zero, half, quarter = np.float32(0), np.float32(0.5), np.float32(0.25)
    blue_scale = k[5] * half / (np.float32(1) - kb)
    red_scale = k[5] * half / (np.float32(1) - kr)
    side = threshold.shape[0]
    sums_b = np.empty(width, np.float32)
    sums_r = np.empty(width, np.float32)
    for y in range(top, bottom, down):
        lines = min(down, bottom - y)
        share = np.float32(1) / np.float32(lines)
        sums_b[:] = zero
        sums_r[:] = zero
        for n in range(lines):
            red, green, blue = picture[0, y + n], picture[1, y + n], picture[2, y + n]
            dither = threshold[(y + n) % side]
            codes = luma[y + n]
            for x in range(width):
                r, g, b = red[x], green[x], blue[x]
                value = kr * r + kg * g + kb * b
                sums_b[x] += share * (b - value)
                sums_r[x] += share * (r - value)
                code = value * k[3] + k[4] + dither[x & (side - 1)]
                codes[x] = np.int32(min(max(code, zero), highest))
        line = y // down
        dither_b = threshold[(line + 37) % side]
        dither_r = threshold[(line + 91) % side]
        into_b, into_r = cb[line], cr[line]
        for j in range(into_b.shape[0]):
            x = j * across
            b, r = sums_b[x], sums_r[x]
            if across == 2:
                before, after = max(x - 1, 0), min(x + 1, width - 1)
                b = half * b + quarter * (sums_b[before] + sums_b[after])
                r = half * r + quarter * (sums_r[before] + sums_r[after])
            code = b * blue_scale + k[6] + dither_b[j & (side - 1)]
            into_b[j] = np.int32(min(max(code, zero), highest))
            code = r * red_scale + k[6] + dither_r[j & (side - 1)]
            into_r[j] = np.int32(min(max(code, zero), highest))


DITHER_SIDE = 128


def _dither_pattern() -> NDArray[np.float32]:
    """Thresholds 0..1 (exclusive), the same on every frame, so that still stays still.

    White noise ranked within the tile, so that each threshold is used exactly once: a flat tone
    of any level comes out with that mean. Code values that were whole stay as they were.
    """
    noise = white(0x1D17, 0, 0, 0, 0, (DITHER_SIDE, DITHER_SIDE)).ravel()
    ranks = np.empty(noise.size)
    ranks[np.argsort(noise, kind="stable")] = np.arange(noise.size)
    spread = 0.002 + 0.996 * (ranks + 0.5) / noise.size
    return spread.reshape(DITHER_SIDE, DITHER_SIDE).astype(np.float32)


_DITHER = _dither_pattern()


def planes_of(picture: Picture, coding: Coding, subsampling: tuple[int, int]) -> Planes:
    """Planes of codes of a picture, dithered to whole codes, chroma averaged for its siting."""
    size = Size(picture.shape[2], picture.shape[1])
    kind = np.uint8 if coding.bits == 8 else np.uint16
    shape = chroma_shape(size, subsampling)
    planes = Planes(
        np.empty((size.height, size.width), kind), np.empty(shape, kind), np.empty(shape, kind)
    )
    k = np.array(
        [
            *coding.weights,
            coding.luma_span,
            coding.luma_offset,
            coding.chroma_span,
            coding.chroma_offset,
        ],
        np.float32,
    )
    across, down = subsampling
    bands.each_band(
        size.height,
        lambda top, bottom: _encode_rows(
            picture,
            top,
            bottom,
            down,
            across,
            k,
            _DITHER,
            np.float32(coding.top_code),
            *planes,
        ),
    )
    return planes


def quantized(picture: Picture, bits: int) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """Full-range codes of 8 or 16 bits, shape `(height, width, 3)`, R first.

    8 bits are dithered as video is; 16 are rounded.
    """
    top = np.float32(2**bits - 1)
    scaled = new_array(picture.shape)
    np.multiply(picture, top, out=scaled)
    if bits == 8:
        height, width = picture.shape[1:]
        tiles = (-(-height // DITHER_SIDE), -(-width // DITHER_SIDE))
        scaled += np.tile(_DITHER, tiles)[:height, :width]
    else:
        scaled += np.float32(0.5)
    np.clip(scaled, 0, top, out=scaled)
    kind = np.uint8 if bits == 8 else np.uint16
    return np.ascontiguousarray(scaled.astype(kind).transpose(1, 2, 0))
