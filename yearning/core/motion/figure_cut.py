"""A figure parted from what is behind it in one picture, by GrabCut.

Source: Rother, Kolmogorov, Blake, GrabCut, SIGGRAPH 2004.
"""

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.strokes import Mask

MARGIN = 24
"""Pixels about what is unknown whose colours are those behind the figure."""

COARSE_PIXELS = 100_000
"""From which on a part that is to be cut is cut at half the size first; at that, thin parts of
small figures would be lost."""

SMALL_PART, SMALL_HOLE = 0.015, 0.001
"""Of the figure's largest part: smaller ones that hang on nothing are left out, and smaller holes
closed."""


def cut(colours: NDArray[np.uint8], mask: Mask, rounds: int) -> Mask:
    """The figure that GrabCut finds by a mask: 1, and 0 elsewhere; the same each time.

    Args:
        colours: B'G'R' of 8 bits, shape `(height, width, 3)`.
        mask: OpenCV's `GC_…` values, shape `(height, width)`.
        rounds: how often colours are learnt and the figure is cut anew.
    """
    out = np.zeros(mask.shape, np.uint8)
    part = bounding_slices(mask != cv2.GC_BGD, MARGIN)
    inner = np.ascontiguousarray(mask[part])
    if not (np.any(inner & 1) and np.any((inner & 1) == 0)):
        out[part] = inner & 1
        return out
    cv2.setRNGSeed(1)
    behind, figure = np.zeros((1, 65)), np.zeros((1, 65))
    inside = np.ascontiguousarray(colours[part])
    all_of_it = (0, 0, 0, 0)  # with a mask it counts for nothing
    cv2.grabCut(inside, inner, all_of_it, behind, figure, rounds, cv2.GC_INIT_WITH_MASK)
    out[part] = _large_parts(np.asarray(inner & 1, np.uint8))
    return out


def cut_coarse_to_fine(
    colours: NDArray[np.uint8], mask: Mask, rounds: int, again: int, reach: int
) -> Mask:
    """Like `cut`; what is large is cut at half the size first, and then about the edge found there.

    It is banded graph cuts (Lombaert, Sun, Grady, Xu, ICCV 2005) of one level.

    Args:
        colours: see `cut`.
        mask: see `cut`.
        rounds: at half the size.
        again: at the size itself.
        reach: pixels about the edge that are cut anew.
    """
    rows, columns = bounding_slices(mask != cv2.GC_BGD, MARGIN)
    if (rows.stop - rows.start) * (columns.stop - columns.start) < COARSE_PIXELS:
        return cut(colours, mask, rounds)
    height, width = mask.shape
    half = max(1, width // 2), max(1, height // 2)
    near = cv2.INTER_NEAREST
    small = np.asarray(cv2.resize(colours, half, interpolation=cv2.INTER_AREA), np.uint8)
    coarse = cut(small, np.asarray(cv2.resize(mask, half, interpolation=near), np.uint8), rounds)
    grown = np.asarray(cv2.resize(coarse, (width, height), interpolation=near), np.uint8)
    sure = (mask == cv2.GC_FGD) | (mask == cv2.GC_BGD)
    fine = np.where(grown > 0, np.uint8(cv2.GC_FGD), np.uint8(cv2.GC_BGD))
    unknown = band(grown, reach)
    fine[unknown] = np.where(grown[unknown] > 0, cv2.GC_PR_FGD, cv2.GC_PR_BGD)
    fine[sure] = mask[sure]
    return cut(colours, fine, again)


def band(hard: Mask, reach: int) -> NDArray[np.bool_]:
    """Return which pixels lie within a reach of the edge of a hard matte.

    Args:
        hard: the matte.
        reach: in pixels.
    """
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    return np.asarray(cv2.dilate(hard, kernel) != cv2.erode(hard, kernel))


def bounding_slices(seen: NDArray[np.bool_], margin: int) -> tuple[slice, slice]:
    """Return rows and columns that hold all that is seen, with a margin; none where nothing is.

    Args:
        seen: which pixels are.
        margin: in pixels.
    """
    rows, columns = np.flatnonzero(seen.any(1)), np.flatnonzero(seen.any(0))
    if rows.size == 0:
        return slice(0, 0), slice(0, 0)
    height, width = seen.shape
    return (
        slice(max(rows[0] - margin, 0), min(rows[-1] + margin + 1, height)),
        slice(max(columns[0] - margin, 0), min(columns[-1] + margin + 1, width)),
    )


def _large_parts(hard: Mask) -> Mask:
    """A hard matte without small parts that hang on nothing, and without small holes."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(hard)
    areas = stats[:, cv2.CC_STAT_AREA]
    if count < 2:
        return hard
    largest = areas[1:].max()
    large = areas >= SMALL_PART * largest
    large[0] = False
    kept = np.asarray(large[labels], np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(1 - kept)
    holes = stats[:, cv2.CC_STAT_AREA] < SMALL_HOLE * largest
    holes[0] = False
    return np.asarray(kept | holes[labels], np.uint8)
