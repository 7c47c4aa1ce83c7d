"""Cuts: whether one shot ends and another begins between two frames."""

import numpy as np
from numpy.typing import NDArray

from yearning.core.picture import Plane

Layout = NDArray[np.float64]

COLUMNS, ROWS = 16, 9

MIN_CORRELATION = 0.5
"""Two successive frames whose luma, as 16 by 9 means, correlates less are of two shots: exposure
does not change a correlation, and motion from one frame to the next leaves most of it."""


def luma_layout(luma: Plane) -> Layout:
    """16 by 9 sums of a frame's luma, at least as many pixels, less their mean."""
    down = np.linspace(0, luma.shape[0], ROWS + 1).astype(int)[:-1]
    across = np.linspace(0, luma.shape[1], COLUMNS + 1).astype(int)[:-1]
    sums = np.add.reduceat(np.add.reduceat(luma.astype(np.float64), down, 0), across, 1)
    return np.asarray(sums - sums.mean())


def layout_correlation(before: Layout, now: Layout) -> float:
    """Return the correlation of two frames' layouts; 1 where one is flat.

    Args:
        before: of the one frame.
        now: of the next.
    """
    size = np.sqrt((now**2).sum() * (before**2).sum())
    return float((now * before).sum() / size) if size > 0 else 1.0


def is_cut(before: Plane, now: Plane) -> bool:
    """Whether one shot ends and another begins between two frames, given their luma.

    Args:
        before: luma of the one frame.
        now: luma of the next.
    """
    return layout_correlation(luma_layout(before), luma_layout(now)) < MIN_CORRELATION
