"""Tones of a whole clip, from frames spread over it, so that a grade set by them can't pump."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.core.image.histogram import histogram
from yearning.core.picture import Picture

SAMPLED = 60
"""Frames that stand for a clip; percentiles of more differ by less than a code."""

BINS = 1024

END = 0.001
"""The part of all pixels that may lie beyond what is taken as black, or as white."""

EDGE = 0.1
"""The part of all pixels taken as dark, or as bright."""


class ClipTones(NamedTuple):
    """Tones of a clip, 0..1.

    `black` and `white`: what all channels but a thousandth of the pixels lie above, and below.
    `dark`, `median`, `bright`: the luma that a tenth, half, nine tenths of the pixels are below.
    """

    black: float
    dark: float
    median: float
    bright: float
    white: float


def sample_frames(frames: int, count: int = SAMPLED) -> list[int]:
    """Return the frames that are measured of a clip, in order, spread over all of it.

    Args:
        frames: of the clip.
        count: of those that are measured, at the most.
    """
    count = min(frames, count)
    return [(2 * i + 1) * frames // (2 * count) for i in range(count)]


class ClipCounts:
    """Counts of a clip's values, frame after frame."""

    def __init__(self) -> None:
        self._counts: NDArray[np.int64] = np.zeros((4, BINS), np.int64)

    def add(self, picture: Picture) -> None:
        """Count a frame."""
        self._counts += histogram(picture, BINS)

    def tones(self) -> ClipTones:
        """The tones of what was counted."""
        luma, *channels = self._counts
        return ClipTones(
            black=min(quantile(channel, END) for channel in channels),
            dark=quantile(luma, EDGE),
            median=quantile(luma, 0.5),
            bright=quantile(luma, 1 - EDGE),
            white=max(quantile(channel, 1 - END) for channel in channels),
        )


def quantile(counts: NDArray[np.int64], part: float) -> float:
    """Return a quantile of counts, 0..1, interpolated linearly within a bin; 0 of no counts.

    Args:
        counts: of `BINS` values, evenly spaced over 0..1.
        part: 0..1 of all that was counted lies below it.
    """
    total = np.concatenate([[0], np.cumsum(counts)])
    counted = np.flatnonzero(counts)
    if not len(counted):
        return 0.0
    ends = slice(counted[0], counted[-1] + 2)  # what is empty at the ends holds no quantile
    return float(np.interp(part * total[-1], total[ends], np.arange(len(total))[ends])) / BINS
