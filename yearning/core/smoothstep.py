"""The smooth step 3t² − 2t³, for soft knees and edges."""

import numba
import numpy as np


@numba.njit(nogil=True, cache=True, inline="always")
def smoothstep(t: np.float32) -> np.float32:
    """From 0 at t = 0 to 1 at t = 1 with level ends, and level beyond; float32, for kernels."""
    inside = min(max(t, np.float32(0)), np.float32(1))
    return inside * inside * (np.float32(3) - np.float32(2) * inside)
