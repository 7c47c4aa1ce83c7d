"""Luma of display-coded R'G'B'."""

import numba
import numpy as np

from yearning.core.picture import Picture, Plane

KR = np.float32(0.2126)
KG = np.float32(0.7152)
KB = np.float32(0.0722)
"""ITU-R BT.709-6, item 3.2: E'Y = 0.2126 E'R + 0.7152 E'G + 0.0722 E'B."""


@numba.njit(nogil=True, cache=True, fastmath=True)
def fill_luma(picture: Picture, out: Plane) -> None:
    """The luma of a picture's rows."""
    for y in range(out.shape[0]):
        red, green, blue = picture[0, y], picture[1, y], picture[2, y]
        for x in range(out.shape[1]):
            out[y, x] = KR * red[x] + KG * green[x] + KB * blue[x]
