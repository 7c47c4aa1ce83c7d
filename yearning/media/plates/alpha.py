"""Alpha of plates: colour taken apart from it, and averaged as far as it is seen.

Straight colour stands beside its alpha (PNG, W3C Portable Network Graphics, 6.2); premultiplied
colour has it in it (OpenEXR, Technical Introduction, "Alpha"; T. Porter and T. Duff, Compositing
Digital Images, SIGGRAPH 1984). Movies say neither.
"""

from collections.abc import Callable

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.image.plate_drawing import LEAST_ALPHA
from yearning.core.image.resampling import area_taps
from yearning.core.kernel_arrays import new_int_line, new_line, new_lines
from yearning.core.picture import Picture, Plane, Size, new_picture

Rows = Callable[[int, int], Picture]
"""Rows of a picture, asked for from one to another (exclusive)."""

AlphaRows = Callable[[int, int], Plane]
"""Rows of its alpha, 0..1, asked for likewise."""

SOFT = (0.08, 0.92)
"""Alpha of what is neither clear nor whole."""

ENOUGH = 64
"""Soft pixels from which a picture tells how it was written."""

ABOVE = 0.06
"""By how much colour must exceed alpha to be straight: chroma is coarser than alpha, and coded."""

THIN, THICK = 0.35, 0.65
"""Alpha below and above which the lightness of soft parts is compared."""

DARK = 0.02
"""Lightness of thick parts under which colour tells nothing."""

FALLS = 0.6
"""Premultiplied, thin parts are less light than this part of thick ones; by their alpha 0.3."""

AROUND = 2
"""Pixels to each side of a clear one whose colour it is given: a picture that is moved or turned
reads it."""


def tells_premultiplied(picture: Picture, alpha: Plane) -> bool | None:
    """Tell whether a picture is premultiplied, by its soft parts; None where they do not tell.

    No premultiplied colour exceeds its alpha, and it falls with it; straight colour does not.

    Args:
        picture: shape `(3, height, width)`.
        alpha: 0..1.
    """
    soft = (alpha > SOFT[0]) & (alpha < SOFT[1])
    if np.count_nonzero(soft) < ENOUGH:
        return None
    lightest, part = picture[:, soft].max(axis=0), alpha[soft]
    if np.mean(lightest > part + ABOVE) > 0.002:
        return False
    thin, thick = lightest[part < THIN], lightest[part > THICK]
    if not (thin.size and thick.size) or thick.mean() < DARK:
        return None
    return bool(thin.mean() < FALLS * thick.mean())


def whole_layer(
    rows: Rows, alpha_rows: AlphaRows, size: Size, premultiplied: bool
) -> tuple[Picture, Plane]:
    """Return straight colour and alpha at their own size.

    Args:
        rows: gives rows of colour.
        alpha_rows: gives rows of alpha.
        size: of both.
        premultiplied: whether colour has its alpha in it.
    """
    picture, alpha = new_picture(size), new_array((size.height, size.width))

    def take(top: int, bottom: int) -> None:
        colour, cover = rows(top, bottom), alpha_rows(top, bottom)
        if premultiplied:
            _divide_rows(colour, cover)
        picture[:, top:bottom] = colour
        alpha[top:bottom] = cover

    parallel.for_each_band(size.height, take, parallel.band_rows(size.width))
    if premultiplied:
        _spread(picture, alpha)
    return picture, alpha


def average_layer(
    rows: Rows, alpha_rows: AlphaRows, full: Size, size: Size
) -> tuple[Picture, Plane]:
    """Return straight colour and alpha at a smaller size, averaged as they are seen.

    What is clear does not colour what is not. Neither is held at full size: rows are taken as they
    are needed.

    Args:
        rows: gives rows of colour.
        alpha_rows: gives rows of alpha.
        full: their own size.
        size: the smaller one.
    """
    picture, alpha = new_picture(size), new_array((size.height, size.width))
    down, across = area_taps(full.height, size.height), area_taps(full.width, size.width)
    weights_y, weights_x = down.trimmed_weights(), np.ascontiguousarray(across.trimmed_weights().T)
    reach = weights_y.shape[1]

    def reduce(top: int, bottom: int) -> None:
        first = int(down.start[top])
        last = min(int(down.start[bottom - 1]) + reach, full.height)
        _reduce_rows(
            rows(first, last),
            alpha_rows(first, last),
            down.start[top:bottom] - np.int32(first),
            weights_y[top:bottom],
            across.start,
            weights_x,
            top,
            picture,
            alpha,
        )

    lines = max(1, parallel.band_rows(full.width) * size.height // full.height)
    parallel.for_each_band(size.height, reduce, lines)
    straighten(picture, alpha)
    return picture, alpha


def averaged_alpha(alpha_rows: AlphaRows, full: Size, size: Size) -> Plane:
    """Return alpha alone, at a smaller size than its own.

    Args:
        alpha_rows: gives rows of alpha.
        full: their own size.
        size: the smaller one.
    """
    alpha = new_array((full.height, full.width))

    def take(top: int, bottom: int) -> None:
        alpha[top:bottom] = alpha_rows(top, bottom)

    parallel.for_each_band(full.height, take, parallel.band_rows(full.width))
    small = new_array((size.height, size.width))
    cv2.resize(alpha, tuple(size), dst=small, interpolation=cv2.INTER_AREA)
    return small


def straighten(picture: Picture, alpha: Plane) -> None:
    """Divide colour by alpha, in place; where that is about 0 it becomes that around it.

    Args:
        picture: premultiplied, shape `(3, height, width)`; written to.
        alpha: 0..1.
    """
    _divide_rows(picture, alpha)
    _spread(picture, alpha)


def _spread(picture: Picture, alpha: Plane) -> None:
    """Give clear pixels something like the colour about them, in place."""
    parallel.for_each_band(
        alpha.shape[0],
        lambda top, bottom: _spread_rows(picture, alpha, top, bottom),
        parallel.band_rows(alpha.shape[1]),
    )


@numba.njit(nogil=True, cache=True, fastmath=True)
def _reduce_rows(
    colour: Picture,
    alpha: Plane,
    start_y: NDArray[np.int32],
    weights_y: Plane,
    start_x: NDArray[np.int32],
    weights_x: Plane,
    top: int,
    out: Picture,
    small: Plane,
) -> None:
    """Average rows of colour, weighted by alpha, and of alpha, into those of a picture from `top`.

    Each loop writes one line alone: those LLVM vectorizes without asking whether lines overlap.
    """
    height, width = alpha.shape
    # taps without weight may reach past the line's end
    sums = new_lines(np.int64(4), width + weights_x.shape[0])
    line = new_line(width)
    for i in range(start_y.shape[0]):
        sums[:] = 0
        for t in range(weights_y.shape[1]):
            weight = weights_y[i, t]
            if weight == 0:
                continue
            y = min(start_y[i] + t, height - 1)
            cover, total = alpha[y], sums[3]
            for x in range(width):
                line[x] = weight * cover[x]
            for x in range(width):
                total[x] += line[x]
            for c in range(3):
                row, total = colour[c, y], sums[c]
                for x in range(width):
                    total[x] += line[x] * row[x]
        for c in range(4):
            total = sums[c]
            to = small[top + i] if c == 3 else out[c, top + i]
            for t in range(weights_x.shape[0]):
                weights = weights_x[t]
                for x in range(to.shape[0]):
                    seen = weights[x] * total[np.uint64(start_x[x] + t)]
                    to[x] = seen if t == 0 else to[x] + seen


@numba.njit(nogil=True, cache=True, fastmath=True)
def _divide_rows(picture: Picture, alpha: Plane) -> None:
    """Divide colour by alpha, in place; clear pixels become black."""
    factor = new_line(alpha.shape[1])
    for y in range(alpha.shape[0]):
        cover = alpha[y]
        for x in range(factor.shape[0]):
            inverse = np.float32(1) / max(cover[x], LEAST_ALPHA)
            factor[x] = inverse if cover[x] > LEAST_ALPHA else np.float32(0)
        for c in range(3):
            row = picture[c, y]
            for x in range(factor.shape[0]):
                row[x] *= factor[x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _spread_rows(picture: Picture, alpha: Plane, top: int, bottom: int) -> None:
    """Give clear pixels the mean colour of those about them that are seen, weighted by alpha.

    It writes to clear pixels alone and reads the others alone: bands do not mind their order.
    """
    height, width = alpha.shape
    near, about = new_line(width + 2 * AROUND), new_line(width)
    clear = new_int_line(width)
    near[:] = 0
    for y in range(top, bottom):
        first, last = max(y - AROUND, 0), min(y + AROUND, height - 1)
        for v in range(first, last + 1):
            cover = alpha[v]
            for x in range(width):
                near[x + AROUND] = cover[x] if v == first else near[x + AROUND] + cover[x]
        for u in range(2 * AROUND + 1):
            for x in range(width):
                about[x] = near[x] if u == 0 else about[x] + near[x + u]
        cover = alpha[y]
        for x in range(width):
            about[x] = about[x] if cover[x] <= LEAST_ALPHA else np.float32(0)
        count = 0
        for x in range(width):
            clear[count] = x
            count += about[x] > LEAST_ALPHA
        for i in range(count):
            x = clear[i]
            whole = red = green = blue = np.float32(0)
            for v in range(first, last + 1):
                for u in range(max(x - AROUND, 0), min(x + AROUND, width - 1) + 1):
                    part = alpha[v, u]
                    if part > LEAST_ALPHA:
                        whole += part
                        red += part * picture[0, v, u]
                        green += part * picture[1, v, u]
                        blue += part * picture[2, v, u]
            if whole > 0:
                picture[0, y, x] = red / whole
                picture[1, y, x] = green / whole
                picture[2, y, x] = blue / whole
