"""Plates that are thrown down anew every few frames, so that a scan lives and never slides."""

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.core.noise.fields import uniforms

THROWS = 452
"""The layer of random numbers."""

GRAIN = 2
"""Full-size pixels in whose multiples throws lie apart: whole ones at half size too."""


class Throw(NamedTuple):
    """How a plate lies that was thrown: quarters of a turn, flipped or not, and where.

    `across` and `down` say what lies in the middle of the frame, 0..1 of the plate and its mirrored
    neighbour.
    """

    quarters: int
    flipped: bool
    across: float
    down: float


def throw(seed: int, number: int) -> Throw:
    """Return the throw of a number; any part of the plate comes anywhere as often as another.

    Args:
        seed: another gives other throws.
        number: from 0.

    >>> throw(1, 7) == throw(1, 7) != throw(1, 8)
    True
    """
    drawn = uniforms(seed, THROWS, number, 0, 4)
    return Throw(int(4 * drawn[0]), bool(drawn[1] < 0.5), float(drawn[2]), float(drawn[3]))


def placement_matrix(
    thrown: Throw, linear: NDArray[np.float64], drawn: tuple[int, int], full: tuple[int, int],
    middle: tuple[float, float],
) -> NDArray[np.float64]:  # fmt: skip
    """Return where a thrown plate's pixels come to lie, 2×3, in OpenCV's coordinates.

    Args:
        thrown: how it lies.
        linear: how it is turned and enlarged before, 2×2.
        drawn: its width and height in pixels as it is drawn.
        full: the same at the full size.
        middle: x and y of the middle of the frame, edges at whole numbers.
    """
    angle = thrown.quarters * math.pi / 2
    c, s = round(math.cos(angle)), round(math.sin(angle))
    quarter = np.array([[c, -s], [s, c]], np.float64)
    flip = np.diag([-1.0 if thrown.flipped else 1.0, 1.0])
    turned = linear @ quarter @ flip
    at = [
        round(part * 2 * whole / GRAIN) * GRAIN * here / whole
        for part, whole, here in zip((thrown.across, thrown.down), full, drawn, strict=True)
    ]
    shift = np.array(middle) - 0.5 - turned @ (np.array(at) - 0.5)
    if np.isin(np.abs(turned), (0, 1)).all():
        shift = np.round(shift)  # pixels on pixels: no throw is softer than another
    return np.column_stack([turned, shift])
