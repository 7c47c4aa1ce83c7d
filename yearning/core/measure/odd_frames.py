"""Frames of a clip that are unlike those about them, as cue marks, splices and slates are."""

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import KB, KG, KR
from yearning.core.picture import Picture

LINES = 36
"""At which frames are looked at."""

BLOCK = 6
"""A block's side in pixels at those lines; the block that differs most counts."""

LONGEST = 5
"""Frames that odd ones last, at the most."""

UNLIKE = 8.0
"""Times the spread of scores, by the median of distances, above which frames are odd."""

TIMES_USUAL = 3.0
"""So many times as unlike as frames usually are they must be too."""

MIN_DIFFERENCE = 0.02
"""Of white: less is not seen."""


def odd_frames(pictures: Iterable[Picture]) -> list[tuple[int, int]]:
    """Ranges of frames, first and last, that are unlike those before and after them.

    Frames are held against what lies between the one before them and the one after, which must be
    more like each other than like them: neither what moves or flickers all the time is odd, nor a
    cut.

    Args:
        pictures: all frames, of the same size, display-coded, of about `LINES` lines.
    """
    lumas = np.stack([_luma(picture) for picture in pictures])
    found: list[tuple[int, int]] = []
    for length in range(1, min(LONGEST, len(lumas) - 2) + 1):
        both = np.array([_score(lumas, n, length) for n in range(len(lumas) - length + 1)])
        usual, scores = np.median(both[:, 0]), both[:, 1]
        middle = np.median(scores)
        spread = 1.4826 * np.median(np.abs(scores - middle))
        threshold = max(MIN_DIFFERENCE, middle + UNLIKE * spread, TIMES_USUAL * usual)
        for n in np.flatnonzero(scores > threshold).tolist():
            if all(n + length <= first or last < n for first, last in found):
                found.append((n, n + length - 1))
    return sorted(found)


def _score(lumas: NDArray[np.float32], first: int, length: int) -> tuple[float, float]:
    """How unlike frames are to those about them, and by how much more than those to each other."""
    before, after = first - 1, first + length
    if before < 0:  # at an end, the two frames on the other side
        a, b = lumas[after], lumas[after + 1]
        between = [a] * length
    elif after == len(lumas):
        a, b = lumas[before], lumas[before - 1]
        between = [a] * length
    else:
        a, b = lumas[before], lumas[after]
        parts = np.arange(1, length + 1) / (length + 1)
        between = [a + np.float32(part) * (b - a) for part in parts]
    frames = lumas[first : first + length]
    off = min(_max_block_mean(frame - each) for frame, each in zip(frames, between, strict=True))
    return off, off - _max_block_mean(b - a)


def _max_block_mean(difference: NDArray[np.float32]) -> float:
    """The mean of the block that differs most."""
    rows, columns = (max(side // BLOCK, 1) for side in difference.shape)
    high, wide = difference.shape[0] // rows, difference.shape[1] // columns
    cut = np.abs(difference[: rows * high, : columns * wide])
    return float(cut.reshape(rows, high, columns, wide).mean((1, 3)).max())


def _luma(picture: Picture) -> NDArray[np.float32]:
    red, green, blue = picture
    return np.asarray(KR * red + KG * green + KB * blue)
