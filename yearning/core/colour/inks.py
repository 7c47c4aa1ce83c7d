"""Separation of colours into printing inks, by how much light each ink absorbs.

An ink laid on a part `a` of the paper lets through, of a channel, 1 − a·A on the whole, A being
what it absorbs of it (Murray–Davies); inks laid over each other independently multiply (Demichel).
Values are display-coded, with the paper as white.
"""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import KB, KG, KR
from yearning.core.picture import Plane

PROCESS = np.array([[1.0, 0.34, 0.10], [0.13, 0.95, 0.48], [0.0, 0.10, 0.92]], np.float32)
"""What cyan, magenta and yellow absorb of R, G and B. Common practice, no source."""

ROUNDS = 5
"""After which the amounts of three inks that absorb a little of each other's channel stand still,
to 1/2000."""

_ZERO = np.float32(0)
_ONE = np.float32(1)


@numba.njit(nogil=True, cache=True, inline="always")
def _part(value: np.float32) -> np.float32:
    return min(max(value, _ZERO), _ONE)


@numba.njit(nogil=True, cache=True, fastmath=True)
def separate_one(lumas: Plane, out: Plane) -> None:
    """Separate lumas into amounts of a black ink.

    Args:
        lumas: shape `(1, n)`.
        out: takes the amounts, 0..1.
    """
    for x in range(out.shape[1]):
        out[0, x] = _ONE - _part(lumas[0, x])


def separate_two(colours: Plane, inks: Plane, out: Plane) -> None:
    """Separate colours into amounts of two inks.

    The two amounts, 0..1, whose absorptions add up nearest to the colours' own, in least squares
    weighed as luma is.

    Args:
        colours: shape `(3, n)`.
        inks: what each absorbs of each channel.
        out: takes the amounts, 0..1.
    """
    weighed = np.array([KR, KG, KB], np.float32) * inks
    return _two_of(colours, weighed, (weighed @ inks.T).astype(np.float32), out)


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _two_of(colours: Plane, weighed: Plane, both: Plane, out: Plane) -> None:
    one, two, cross = both[0, 0], both[1, 1], both[0, 1]
    per = _ONE / max(one * two - cross * cross, np.float32(1e-6))
    for x in range(out.shape[1]):
        first, second = _ZERO, _ZERO
        for c in range(3):
            lost = _ONE - _part(colours[c, x])
            first += weighed[0, c] * lost
            second += weighed[1, c] * lost
        a = _part((first * two - second * cross) * per)
        b = _part((second - a * cross) / max(two, np.float32(1e-6)))
        a = _part((first - b * cross) / max(one, np.float32(1e-6)))
        b = _part((second - a * cross) / max(two, np.float32(1e-6)))
        out[0, x], out[1, x] = a, b


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def separate_four(
    colours: Plane,
    black: NDArray[np.float32],
    under: np.float32,
    out: Plane,
) -> None:
    """Separate colours into amounts of cyan, magenta, yellow and black.

    Black takes the part `under` of what all three colours would have in common (under-colour
    removal); the three then bring the rest of each channel, as far as they can.

    Args:
        colours: shape `(3, n)`.
        black: what black absorbs of each channel.
        under: under-colour removal, 0..1.
        out: takes the amounts, 0..1.
    """
    for x in range(out.shape[1]):
        r, g, b = _part(colours[0, x]), _part(colours[1, x]), _part(colours[2, x])
        key = under * (_ONE - max(r, max(g, b)))
        least = np.float32(1e-3)
        r = min(r / max(_ONE - key * black[0], least), _ONE)
        g = min(g / max(_ONE - key * black[1], least), _ONE)
        b = min(b / max(_ONE - key * black[2], least), _ONE)
        c, m, y = _ZERO, _ZERO, _ZERO
        for _ in range(ROUNDS):
            past = (_ONE - m * PROCESS[1, 0]) * (_ONE - y * PROCESS[2, 0])
            c = _part((_ONE - r / max(past, least)) / PROCESS[0, 0])
            past = (_ONE - c * PROCESS[0, 1]) * (_ONE - y * PROCESS[2, 1])
            m = _part((_ONE - g / max(past, least)) / PROCESS[1, 1])
            past = (_ONE - c * PROCESS[0, 2]) * (_ONE - m * PROCESS[1, 2])
            y = _part((_ONE - b / max(past, least)) / PROCESS[2, 2])
        out[0, x], out[1, x], out[2, x], out[3, x] = c, m, y, key
