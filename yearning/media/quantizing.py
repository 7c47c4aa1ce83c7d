"""From R'G'B' pictures to whole codes: of Y'CbCr planes, and of R'G'B' itself, dithered once."""

from functools import cache
from typing import Any

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.colour.matrices import Coding
from yearning.core.kernel_arrays import new_line
from yearning.core.noise.fields import white_noise
from yearning.core.picture import Picture, Plane, Size
from yearning.media.decode.planes import Codes, Planes, chroma_shape


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
    """Encode rows `top` to `bottom` of a picture; an even number where chroma has half the lines.

    `k`: KR, KG, KB; luma span and offset; chroma span and offset. `threshold` is the dither's
    pattern, in codes, added before truncation; each plane reads it from another place.
    """
    width = picture.shape[2]
    kr, kg, kb = k[0], k[1], k[2]
    zero, half, quarter = np.float32(0), np.float32(0.5), np.float32(0.25)
    blue_scale = k[5] * half / (np.float32(1) - kb)
    red_scale = k[5] * half / (np.float32(1) - kr)
    side = threshold.shape[0]
    sums_b = new_line(width)
    sums_r = new_line(width)
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


@cache
def _dither_pattern() -> NDArray[np.float32]:
    """Thresholds 0..1 (exclusive), the same on every frame, so that still stays still.

    White noise ranked within the tile, so that each threshold is used exactly once: a flat tone
    of any level comes out with that mean. Code values that were whole stay as they were.
    """
    noise = white_noise(0x1D17, 0, 0, 0, 0, (DITHER_SIDE, DITHER_SIDE)).ravel()
    ranks = np.empty(noise.size)
    ranks[np.argsort(noise, kind="stable")] = np.arange(noise.size)
    spread = 0.002 + 0.996 * (ranks + 0.5) / noise.size
    return spread.reshape(DITHER_SIDE, DITHER_SIDE).astype(np.float32)


def picture_to_planes(picture: Picture, coding: Coding, subsampling: tuple[int, int]) -> Planes:
    """Return planes of codes of a picture, dithered to whole codes, chroma averaged for its siting.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        coding: range, matrix and bits.
        subsampling: of chroma, (across, down).
    """
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
    parallel.for_each_band(
        size.height,
        lambda top, bottom: _encode_rows(
            picture,
            top,
            bottom,
            down,
            across,
            k,
            _dither_pattern(),
            np.float32(coding.top_code),
            *planes,
        ),
        parallel.band_rows(size.width, 2),
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


def quantize(picture: Picture, bits: int) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """Return full-range codes, shape `(height, width, 3)`, B first as OpenCV takes them.

    16 bits are rounded, fewer are dithered as video is.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        bits: of a code, 8 to 16.
    """
    out = np.empty((*picture.shape[1:], 3), np.uint8 if bits == 8 else np.uint16)
    _quantize(picture, np.float32(2**bits - 1), _ROUNDING if bits == 16 else _dither_pattern(), out)
    return out


def quantize_with_alpha(
    picture: Picture, alpha: Plane, bits: int
) -> NDArray[np.uint8] | NDArray[np.uint16]:
    """Return codes as `quantize` does, with alpha as the fourth channel, rounded.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        alpha: 0..1; what is clear stays so.
        bits: of a code, 8 to 16.
    """
    top = 2**bits - 1
    codes = quantize(picture, bits)
    return np.dstack([codes, np.rint(alpha * np.float32(top)).astype(codes.dtype)])
