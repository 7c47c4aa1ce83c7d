"""Bilinear sampling of a plane, a line of places at a time."""

import numba
import numpy as np
from numpy.typing import NDArray

Line = NDArray[np.float32]

EXACT = {"nsz", "contract"}
"""What the compiler may do with sums: nothing that makes a difference of equal values other than 0.
"""


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def bilinear_coordinates(x: Line, y: Line, rows: int, columns: int, at: NDArray[np.int32]) -> None:
    """Find the sample before and above each place of a line, and the fractions between samples.

    Places beyond the edges are those at the edges.

    Args:
        x: places across, in pixels from the first sample's centre; replaced by the fractions, 0..1.
        y: places down, likewise.
        rows: of the plane.
        columns: of the plane.
        at: takes the flat number of the sample before and above each place.
    """
    last_x, last_y = np.float32(columns - 1), np.float32(rows - 1)
    far_x, far_y = np.int32(max(columns - 2, 0)), np.int32(max(rows - 2, 0))
    wide = np.int32(columns)
    for i in range(x.shape[0]):
        px = min(max(x[i], np.float32(0)), last_x)
        py = min(max(y[i], np.float32(0)), last_y)
        left, above = min(np.int32(px), far_x), min(np.int32(py), far_y)
        x[i], y[i] = px - np.float32(left), py - np.float32(above)
        at[i] = np.int32(above * wide + left)


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def add_bilinear(
    flat: Line,
    rows: int,
    columns: int,
    at: NDArray[np.int32],
    fx: Line,
    fy: Line,
    share: np.float32,
    out: Line,
) -> None:
    """Add a weighted bilinear sample of a flattened plane at each located place.

    At samples it is exactly theirs.

    Args:
        flat: the plane's samples, row after row.
        rows: of the plane.
        columns: of the plane.
        at: as `bilinear_coordinates` leaves it.
        fx: as that leaves it.
        fy: as that leaves it.
        share: weight of what is added.
        out: a value for each place; added to.
    """
    right, below = min(1, columns - 1), min(1, rows - 1) * columns
    others, lower, last = flat[right:], flat[below:], flat[right + below :]
    one = np.float32(1)
    for i in range(out.shape[0]):
        n = np.uint32(at[i])
        a, b, c, d = flat[n], others[n], lower[n], last[n]
        upper = a * (one - fx[i]) + b * fx[i]
        under = c * (one - fx[i]) + d * fx[i]
        out[i] += share * (upper * (one - fy[i]) + under * fy[i])
