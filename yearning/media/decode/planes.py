"""From Y'CbCr planes of codes to R'G'B' pictures; `quantizing.py` goes back.

ITU-R BT.709-6 items 3.2–3.5 (and BT.601-7, BT.2020-2 with their own weights):
E'Y = KR E'R + KG E'G + KB E'B, E'CB = (E'B − E'Y) / 2(1 − KB), E'CR = (E'R − E'Y) / 2(1 − KR),
quantized as `Coding` says. Chroma samples of 4:2:0 and 4:2:2 stand level with the left luma
sample of their pair and, in 4:2:0, half-way between two lines: the siting H.264 and HEVC take
when none is signalled ("left", ITU-T H.273 ChromaLocType 0).
"""

from collections.abc import Sequence
from functools import lru_cache
from typing import Any, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.colour.matrices import Coding
from yearning.core.image.resampling import Taps, area_taps
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane, Size, new_picture

Codes = NDArray[Any]
"""A plane of codes: uint8, or uint16 for more than 8 bits."""


class Planes(NamedTuple):
    """Y', CB and CR codes; the chroma planes may have half as many columns, or lines too."""

    luma: Codes
    cb: Codes
    cr: Codes


def chroma_shape(size: Size, subsampling: tuple[int, int]) -> tuple[int, int]:
    """Return the lines and columns of a chroma plane.

    Args:
        size: of the picture.
        subsampling: (across, down), 1 or 2 each.
    """
    across, down = subsampling
    return -(-size.height // down), -(-size.width // across)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _chroma_line(
    plane: Codes, y: int, down: int, middle: np.float32, out: NDArray[np.float32]
) -> None:
    """Interpolate a chroma line at luma line `y`, centred at 0."""
    lines = plane.shape[0]
    near = min(y // down, lines - 1)
    if down == 1:
        for j in range(out.shape[0]):
            out[j] = np.float32(plane[near, j]) + middle
    else:
        other = min(max(near + 1 if y & 1 else near - 1, 0), lines - 1)
        w, v = np.float32(0.75), np.float32(0.25)
        for j in range(out.shape[0]):
            out[j] = w * np.float32(plane[near, j]) + (v * np.float32(plane[other, j]) + middle)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _decode_rows(
    luma: Codes,
    cb: Codes,
    cr: Codes,
    down: int,
    across: int,
    k: NDArray[np.float32],
    top: int,
    out: Picture,
) -> None:
    """Decode rows from `top` on, with coefficients as `_decoding` returns them.

    Each loop writes one line alone: those LLVM vectorizes without asking whether lines overlap.
    """
    columns = cb.shape[1]
    gain, black, middle = k[0], k[1], k[2]
    b_line, r_line = new_line(columns), new_line(columns)
    part = new_line(columns + 1)
    line = new_line(across * columns)
    half = np.float32(0.5)
    for i in range(out.shape[1]):
        y = top + i
        _chroma_line(cb, y, down, middle, b_line)
        _chroma_line(cr, y, down, middle, r_line)
        for c in range(3):
            from_r, from_b = k[3 + 2 * c], k[4 + 2 * c]
            for j in range(columns):
                part[j] = from_r * r_line[j] + (from_b * b_line[j] + black)
            if across == 2:
                part[columns] = part[columns - 1]
                for j in range(columns):
                    line[2 * j] = part[j]
                    line[2 * j + 1] = half * (part[j] + part[j + 1])
                for x in range(out.shape[2]):
                    out[c, i, x] = np.float32(luma[y, x]) * gain + line[x]
            else:
                for x in range(out.shape[2]):
                    out[c, i, x] = np.float32(luma[y, x]) * gain + part[x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _reduced_line(
    codes: Codes,
    start_y: int,
    weights_y: NDArray[np.float32],
    start_x: NDArray[np.int32],
    weights_x: Plane,
    line: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    """Reduce a plane to one line: weighted lines into `line`, then columns into `out`."""
    columns = codes.shape[1]
    for t in range(weights_y.shape[0]):
        weight = weights_y[t]
        row = codes[min(start_y + t, codes.shape[0] - 1)]
        if t == 0:
            for x in range(columns):
                line[x] = weight * np.float32(row[x])
        elif weight != 0:
            for x in range(columns):
                line[x] += weight * np.float32(row[x])
    for t in range(weights_x.shape[0]):
        weights = weights_x[t]
        if t == 0:
            for i in range(out.shape[0]):
                out[i] = weights[i] * line[np.uint64(start_x[i])]
        else:
            for i in range(out.shape[0]):
                out[i] += weights[i] * line[np.uint64(start_x[i] + t)]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _decode_reduced_rows(
    luma: Codes,
    cb: Codes,
    cr: Codes,
    start_y: NDArray[np.int32],
    weights_y: Plane,
    start_x: NDArray[np.int32],
    weights_x: Plane,
    chroma_start_y: NDArray[np.int32],
    chroma_weights_y: Plane,
    chroma_start_x: NDArray[np.int32],
    chroma_weights_x: Plane,
    k: NDArray[np.float32],
    top: int,
    bottom: int,
    out: Picture,
) -> None:
    """Decode rows `top` to `bottom` of a reduced picture; weights across: `(taps, columns)`."""
    width = out.shape[2]
    # taps padded with zeros may reach past the line's end
    line = new_line(luma.shape[1] + 16)
    line[:] = 0
    y_line = new_line(width)
    b_line = new_line(width)
    r_line = new_line(width)
    gain, black, middle = k[0], k[1], k[2]
    for y in range(top, bottom):
        _reduced_line(luma, start_y[y], weights_y[y], start_x, weights_x, line, y_line)
        at, weights = chroma_start_y[y], chroma_weights_y[y]
        _reduced_line(cb, at, weights, chroma_start_x, chroma_weights_x, line, b_line)
        _reduced_line(cr, at, weights, chroma_start_x, chroma_weights_x, line, r_line)
        for c in range(3):
            from_r, from_b = k[3 + 2 * c], k[4 + 2 * c]
            for x in range(width):
                colour = from_r * (r_line[x] + middle) + from_b * (b_line[x] + middle)
                out[c, y, x] = y_line[x] * gain + (colour + black)


@lru_cache(maxsize=32)
def _decoding(coding: Coding) -> NDArray[np.float32]:
    """Gain and offset of luma, offset of chroma, then gains of CR and CB for R', G' and B'."""
    kr, kg, kb = coding.weights
    gain = 1 / coding.luma_span
    chroma = 1 / coding.chroma_span
    return np.array(
        [
            gain,
            -coding.luma_offset * gain,
            -coding.chroma_offset,
            2 * (1 - kr) * chroma,
            0.0,
            -2 * (1 - kr) * kr / kg * chroma,
            -2 * (1 - kb) * kb / kg * chroma,
            0.0,
            2 * (1 - kb) * chroma,
        ],
        np.float32,
    )


def planes_to_rows(
    planes: Planes, coding: Coding, subsampling: tuple[int, int], top: int, bottom: int
) -> Picture:
    """Return rows of the R'G'B' picture of planes of codes.

    Args:
        planes: Y', C'B and C'R.
        coding: range, matrix and bits.
        subsampling: of chroma, (across, down).
        top: the first row.
        bottom: the one after the last.
    """
    rows = new_array((3, bottom - top, planes.luma.shape[1]))
    across, down = subsampling
    _decode_rows(*planes, down, across, _decoding(coding), top, rows)
    return rows


def planes_to_picture(
    planes: Planes, coding: Coding, subsampling: tuple[int, int], size: Size | None = None
) -> Picture:
    """Return the R'G'B' picture, shape `(3, lines, columns)`, of planes of codes.

    With a smaller `size` it is averaged down to that. Conversion is linear, so the planes are
    averaged first and far fewer pixels converted.

    Args:
        planes: Y', C'B and C'R.
        coding: range, matrix and bits.
        subsampling: of chroma, (across, down).
        size: that it is averaged down to; None for its own.
    """
    height, width = planes.luma.shape
    size = size or Size(width, height)
    picture = new_picture(size)
    k = _decoding(coding)
    across, down = subsampling
    if size == (width, height):

        def work(top: int, bottom: int) -> None:
            picture[:, top:bottom] = planes_to_rows(planes, coding, subsampling, top, bottom)

        parallel.for_each_band(height, work, parallel.band_rows(width))
        return picture
    lines, columns = planes.cb.shape
    taps = (
        area_taps(height, size.height),
        area_taps(width, size.width),
        _chroma_taps(height, size.height, lines, down, centred=True),
        _chroma_taps(width, size.width, columns, across, centred=False),
    )
    luma_y, luma_x, chroma_y, chroma_x = taps
    arrays = (
        luma_y.start,
        luma_y.trimmed_weights(),
        luma_x.start,
        np.ascontiguousarray(luma_x.trimmed_weights().T),
        chroma_y.start,
        chroma_y.trimmed_weights(),
        chroma_x.start,
        np.ascontiguousarray(chroma_x.trimmed_weights().T),
    )
    parallel.for_each_band(
        size.height,
        lambda top, bottom: _decode_reduced_rows(
            planes.luma, planes.cb, planes.cr, *arrays, k, top, bottom, picture
        ),
        parallel.band_rows(size.width),
    )
    return picture


@numba.njit(nogil=True, cache=True, fastmath=True)
def scale_codes(codes: Codes, scale: np.float32, out: Plane) -> None:
    """Write codes, times `scale`, to a plane.

    Args:
        codes: of any kind of whole number.
        scale: factor.
        out: takes them.
    """
    for y in range(out.shape[0]):
        row, line = codes[y], out[y]
        for x in range(line.shape[0]):
            line[x] = scale * np.float32(row[x])


def rgb_to_rows(planes: Sequence[Codes], bits: int) -> Picture:
    """Return rows of a picture, of planes of full-range codes of R', G' and B'.

    Args:
        planes: in that order.
        bits: of a code.
    """
    height, width = planes[0].shape
    rows = new_array((3, height, width))
    for out, codes in zip(rows, planes, strict=True):
        scale_codes(codes, np.float32(1 / (2**bits - 1)), out)
    return rows


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
