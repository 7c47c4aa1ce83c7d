"""Between Y'CbCr planes of codes and R'G'B' pictures.

ITU-R BT.709-6 items 3.2–3.5 (and BT.601-7, BT.2020-2 with their own weights):
E'Y = KR E'R + KG E'G + KB E'B, E'CB = (E'B − E'Y) / 2(1 − KB), E'CR = (E'R − E'Y) / 2(1 − KR),
quantized as `Coding` says. Chroma samples of 4:2:0 and 4:2:2 stand level with the left luma
sample of their pair and, in 4:2:0, half-way between two lines: the siting H.264 and HEVC take
when none is signalled ("left", ITU-T H.273 ChromaLocType 0).
"""

from functools import lru_cache
from typing import Any, NamedTuple

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import bands
from yearning.core.colour.matrices import Coding
from yearning.core.fields import white
from yearning.core.filters import Taps, area_taps
from yearning.core.memory import new_array
from yearning.core.picture import Picture, Plane, Size, new_picture

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
def _chroma_line(
    plane: Codes,
    y: int,
    down: int,
    across: int,
    line: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    """One luma line's chroma codes, interpolated linearly from the lines and columns around.

    `line` holds one code more than the plane has columns; `out` twice as many where across is 2.
    """
    lines, columns = plane.shape
    near = min(y // down, lines - 1)
    other = near
    w = np.float32(1)
    if down == 2:
        other = min(max(near + 1 if y & 1 else near - 1, 0), lines - 1)
        w = np.float32(0.75)
    v = np.float32(1) - w
    a, b = plane[near], plane[other]
    to = line if across == 2 else out
    for j in range(columns):
        to[j] = w * np.float32(a[j]) + v * np.float32(b[j])
    if across == 2:
        line[columns] = line[columns - 1]
        after = line[1:]
        pairs = out.reshape(columns, 2)
        for j in range(columns):
            pairs[j, 0] = line[j]
            pairs[j, 1] = np.float32(0.5) * (line[j] + after[j])


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
    """Rows `top` to `bottom`; `k` as `_decoding` gives it."""
    columns = cb.shape[1]
    line = np.empty(columns + 1, np.float32)
    b_line = np.empty(across * columns, np.float32)
    r_line = np.empty(across * columns, np.float32)
    for y in range(top, bottom):
        _chroma_line(cb, y, down, across, line, b_line)
        _chroma_line(cr, y, down, across, line, r_line)
        _to_rgb(luma[y], b_line, r_line, k, out[0, y], out[1, y], out[2, y])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _to_rgb(
    luma: Codes,
    cb: NDArray[np.float32],
    cr: NDArray[np.float32],
    k: NDArray[np.float32],
    red: NDArray[np.float32],
    green: NDArray[np.float32],
    blue: NDArray[np.float32],
) -> None:
    gain, black, middle = k[0], k[1], k[2]
    r_r, r_g, b_g, b_b = k[3], k[4], k[5], k[6]
    for x in range(red.shape[0]):
        value = np.float32(luma[x]) * gain + black
        b = cb[x] + middle
        r = cr[x] + middle
        red[x] = value + r_r * r
        green[x] = value + r_g * r + b_g * b
        blue[x] = value + b_b * b


@numba.njit(nogil=True, cache=True, fastmath=True)
def _planes_to_rgb(luma: Plane, cb: Plane, cr: Plane, k: NDArray[np.float32], out: Picture) -> None:
    for y in range(out.shape[1]):
        _to_rgb(luma[y], cb[y], cr[y], k, out[0, y], out[1, y], out[2, y])


def _decoding(coding: Coding) -> NDArray[np.float32]:
    """Gain and offset of luma, offset of chroma, then gains CR→R, CR→G, CB→G, CB→B."""
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


def picture_of(
    planes: Planes, coding: Coding, subsampling: tuple[int, int], size: Size | None = None
) -> Picture:
    """The R'G'B' picture, shape `(3, lines, columns)`, of planes of codes.

    With a smaller `size` it is averaged down to that. Conversion is linear, so the planes are
    averaged first and far fewer pixels converted.
    """
    height, width = planes.luma.shape
    size = size or Size(width, height)
    picture = new_picture(size)
    k = _decoding(coding)
    across, down = subsampling
    if size == (width, height):
        bands.each_band(
            height,
            lambda top, bottom: _decode_rows(*planes, down, across, k, top, bottom, picture),
        )
        return picture
    taps_x = _chroma_taps(width, size.width, planes.cb.shape[1], across, centred=False)
    taps_y = _chroma_taps(height, size.height, planes.cb.shape[0], down, centred=True)
    reduced: list[Plane] = [new_array((size.height, size.width))] * 3

    def work(i: int) -> None:
        codes = new_array(planes[i].shape)
        codes[...] = planes[i]
        if i == 0:
            cv2.resize(codes, size, dst=reduced[0], interpolation=cv2.INTER_AREA)
        else:
            reduced[i] = taps_x.across(taps_y.down(codes))

    bands.each(work, 3)
    _planes_to_rgb(*reduced, k, picture)
    return picture


@lru_cache(maxsize=32)
def _chroma_taps(full: int, reduced: int, samples: int, factor: int, centred: bool) -> Taps:
    """Linear interpolation of chroma to `full` luma positions, then averaging to `reduced`.

    `centred` chroma stands half-way between its two luma lines, other on the first of two.
    """
    average = area_taps(full, reduced)
    pixel = np.minimum(average.start[:, None] + np.arange(average.weights.shape[1]), full - 1)
    place = (pixel - (0.5 if centred else 0.0)) / 2 if factor == 2 else pixel.astype(np.float64)
    near = np.floor(place)
    low, high = (np.clip(n.astype(np.int64), 0, samples - 1) for n in (near, near + 1))
    reach = int((high.max(axis=1) - low[:, 0]).max()) + 1
    start = np.minimum(low[:, 0], samples - reach)
    weights = np.zeros((reduced, reach))
    rows = np.arange(reduced)[:, None]
    np.add.at(weights, (rows, low - start[:, None]), average.weights * (1 - (place - near)))
    np.add.at(weights, (rows, high - start[:, None]), average.weights * (place - near))
    return Taps.of(start, weights)


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
    """Rows `top` to `bottom` of a picture: for `down` 2 even many, but at the picture's end.

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


@numba.njit(nogil=True, cache=True, fastmath=True)
def _quantize(
    picture: Picture, top: np.float32, threshold: NDArray[np.float32], out: NDArray[Any]
) -> None:
    zero = np.float32(0)
    side = threshold.shape[0]
    for y in range(picture.shape[1]):
        red, green, blue = picture[0, y], picture[1, y], picture[2, y]
        dither = threshold[y % side]
        line = out[y]
        for x in range(red.shape[0]):
            d = dither[x & (side - 1)]
            line[x, 0] = np.int32(min(max(blue[x] * top + d, zero), top))
            line[x, 1] = np.int32(min(max(green[x] * top + d, zero), top))
            line[x, 2] = np.int32(min(max(red[x] * top + d, zero), top))


_ROUNDING = np.full((1, 1), 0.5, np.float32)


def quantized(picture: Picture, bits: int) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """Full-range codes of 8 or 16 bits, shape `(height, width, 3)`, B first as OpenCV takes them.

    8 bits are dithered as video is; 16 are rounded.
    """
    out = np.empty((*picture.shape[1:], 3), np.uint8 if bits == 8 else np.uint16)
    _quantize(picture, np.float32(2**bits - 1), _DITHER if bits == 8 else _ROUNDING, out)
    return out
