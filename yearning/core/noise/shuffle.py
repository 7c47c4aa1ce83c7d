"""Shuffled orders of few frames, in which no repeat is seen."""

from functools import lru_cache
from math import gcd

import numpy as np

from yearning.core.noise.fields import uniforms

ORDER, STRIDE = 450, 451
"""Layers of random numbers."""


@lru_cache(maxsize=16)
def _names(seed: int, count: int) -> tuple[int, ...]:
    """Return a random permutation of `count` things, by seed."""
    return tuple(np.argsort(uniforms(seed, ORDER, count, 0, count), kind="stable").tolist())


def shuffled_frame(seed: int, count: int, position: int) -> int:
    """Return which of `count` frames is at a position of an endless shuffle.

    Each round of `count` positions has every frame once. For an even count rounds are rows of a
    row-complete Latin square (E. J. Williams, Experimental Designs Balanced for the Estimation of
    Residual Effects of Treatments, 1949): within as many rounds as there are frames, no frame
    follows another twice. For an odd one they are rows of that of the next even count, the frame
    too many left out, which closes one gap a round. No frame follows itself.

    Args:
        seed: another gives another order.
        count: of the frames.
        position: from 0.

    >>> sorted(shuffled_frame(1, 4, position) for position in range(4))
    [0, 1, 2, 3]
    """
    if count == 1:
        return 0
    if count == 2:
        return position % 2
    turn, place = divmod(position, count)
    names = _names(seed, count)
    before = _row(seed, count, turn - 1)[-1]
    row = _row(seed, count, turn)
    if row[0] == before:  # only for odd counts, where a row lost its end
        row = (row[1], row[0], *row[2:])
    return names[row[place]]


@lru_cache(maxsize=64)
def _row(seed: int, count: int, turn: int) -> tuple[int, ...]:
    even = count + count % 2
    stride = 1 + 2 * int(uniforms(seed, STRIDE, count, 0, 1)[0] * (even // 2))
    while gcd(stride, even) > 1 or 2 * stride == even:
        stride += 2
    by = turn * stride % even
    zigzag = [(n + 1) // 2 if n % 2 else even - n // 2 for n in range(even)]
    row = ((place + by) % even for place in zigzag)
    return tuple(place for place in row if place < count)
