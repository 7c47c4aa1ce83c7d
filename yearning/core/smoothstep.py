"""The smooth step 3t² − 2t³, for soft knees and edges."""

from typing import Any

import numba
import numpy as np
from numpy.typing import NDArray


@numba.njit(nogil=True, cache=True, inline="always")
def smoothstep(t: np.float32) -> np.float32:
    """From 0 at t = 0 to 1 at t = 1 with level ends, and level beyond; float32, for kernels."""
    inside = min(max(t, np.float32(0)), np.float32(1))
    return inside * inside * (np.float32(3) - np.float32(2) * inside)


def smoothstep_array(t: NDArray[np.floating[Any]]) -> NDArray[np.floating[Any]]:
    """The same of each element of an array.

    >>> smoothstep_array(np.array([-1.0, 0.25, 2.0])).tolist()
    [0.0, 0.15625, 1.0]
    """
    inside = np.clip(t, 0, 1)
    return np.asarray(inside * inside * (3 - 2 * inside))
