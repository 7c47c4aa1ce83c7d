"""Between display-coded values and light."""

import numba
import numpy as np

DISPLAY_GAMMA = np.float32(2.4)
"""ITU-R BT.1886 annex 1: reference display gamma, here with a black level of zero light."""


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def to_light(code: np.float32) -> np.float32:
    """Light 0..1 of a display-coded value: L = max(V, 0)^2.4 (BT.1886)."""
    return max(code, np.float32(0)) ** DISPLAY_GAMMA


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def to_code(light: np.float32) -> np.float32:
    """Display-coded value of light: V = max(L, 0)^(1/2.4) (BT.1886 inverted)."""
    return max(light, np.float32(0)) ** (np.float32(1) / DISPLAY_GAMMA)
