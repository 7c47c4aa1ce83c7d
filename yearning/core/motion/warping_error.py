"""The warping error: the difference of a picture from the one before, warped along the motion."""

import numba

from yearning.core.motion.flow import Flow, Mask, warp
from yearning.core.picture import Picture


def warping_error(
    now: Picture, before: Picture, at: Flow, mask: Mask, *, fixed: bool = False
) -> float:
    """Return the mean over a mask of |now − before drawn from `at`|, over all three planes.

    Args:
        now: shape `(3, height, width)`.
        before: the frame before it.
        at: where its pixels are in `before`.
        mask: pixels that count.
        fixed: take the lesser of that and |now − before|.
    """
    if not mask.any():
        return 0.0
    drawn = warp(before, at)
    return float(_sum_differences(now, drawn, before if fixed else drawn, mask)) / (
        3 * int(mask.sum())
    )


@numba.njit(nogil=True, cache=True, fastmath=True)
def _sum_differences(now: Picture, drawn: Picture, other: Picture, mask: Mask) -> float:
    """Sum, where `mask` holds, the lesser of two differences."""
    total = 0.0
    for c in range(3):
        for y in range(mask.shape[0]):
            for x in range(mask.shape[1]):
                one, two = now[c, y, x] - drawn[c, y, x], now[c, y, x] - other[c, y, x]
                total += min(abs(one), abs(two)) * mask[y, x]
    return total
