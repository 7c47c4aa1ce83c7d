"""Grain of dyes and clumps, laid on a picture by its tones."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import bt709_luma
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane
from yearning.core.smoothstep import smoothstep


@numba.njit(nogil=True, cache=True, fastmath=True)
def add_grain(
    picture: Picture,
    made: Picture,
    colour: np.float32,
    clump: np.float32,
    rms: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    """Add noise of each dye and of clumps to a band, weighed by tone.

    Args:
        picture: display-coded, shape `(3, rows, width)`.
        made: noise of the dyes and of clumps.
        colour: how far the dyes' noise differs, 0..1.
        clump: share of the clumps, 0..1.
        rms: of each tone.
        out: takes the rows.
        out_top: from which row of it on.
    """
    layers = made.shape[0] - 1
    dyes, clumps = made[:layers], made[layers]
    grey, own, flecks = _shares(colour, clump, layers)
    if layers == 1:
        _laid_grey(picture, dyes[0], clumps, grey + own, flecks, rms, out, out_top)
    else:
        _add_grain(picture, dyes, clumps, grey, own, flecks, rms, out, out_top)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _laid_grey(
    picture: Picture,
    fine: Plane,
    clumps: Plane,
    own: np.float32,
    flecks: np.float32,
    rms: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    """Add the same grain to all planes."""
    width = picture.shape[2]
    weight, shared = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        _responding(picture, y, rms, weight)
        grain, fleck = fine[y], clumps[y]
        for x in range(width):
            shared[x] = weight[x] * (own * grain[x] + flecks * fleck[x])
        for c in range(3):
            line, to = picture[c, y], out[c, out_top + y]
            for x in range(width):
                to[x] = line[x] + shared[x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _add_grain(
    picture: Picture,
    dyes: Picture,
    clumps: Plane,
    grey: np.float32,
    own: np.float32,
    flecks: np.float32,
    rms: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    """Add each plane's grain, and what they share."""
    width = picture.shape[2]
    weight, shared = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        _responding(picture, y, rms, weight)
        red, green, blue, fleck = dyes[0, y], dyes[1, y], dyes[2, y], clumps[y]
        for x in range(width):
            shared[x] = grey * (red[x] + green[x] + blue[x]) + flecks * fleck[x]
        for c in range(3):
            line, grain, to = picture[c, y], dyes[c, y], out[c, out_top + y]
            for x in range(width):
                to[x] = line[x] + weight[x] * (shared[x] + own * grain[x])


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _responding(
    picture: Picture, y: int, rms: NDArray[np.float32], weight: NDArray[np.float32]
) -> None:
    """How strongly grain shows along row `y`: by luma, smoothly from end to middle to end."""
    zero, one, two = np.float32(0), np.float32(1), np.float32(2)
    shadow, mid, high = rms[0], rms[1], rms[2]
    for x in range(weight.shape[0]):
        luma = bt709_luma(picture[0, y, x], picture[1, y, x], picture[2, y, x])
        side = min(max(two * luma - one, -one), one)
        end = shadow if side < zero else high
        weight[x] = end + (mid - end) * smoothstep(one - abs(side))


@numba.njit(nogil=True, cache=True)
def _shares(
    colour: np.float32, clump: np.float32, dyes: int
) -> tuple[np.float32, np.float32, np.float32]:
    """Shares of the dyes' sum, of each dye itself, and of clumps, for unit variance in all.

    The grey part of three dyes n is g = (n1 + n2 + n3) / √3, so a·g + b·n has the variance
    a² + b² + 2ab/√3.
    """
    one = np.float32(1)
    fine = (one - clump) / np.sqrt((one - clump) ** 2 + clump**2)
    flecks = clump / np.sqrt((one - clump) ** 2 + clump**2)
    if dyes == 1:
        return np.float32(0), fine, flecks
    root = one / np.sqrt(np.float32(3))
    a, b = one - colour, colour
    unit = fine / np.sqrt(a * a + b * b + np.float32(2) * a * b * root)
    return np.float32(unit * a * root), np.float32(unit * b), flecks
