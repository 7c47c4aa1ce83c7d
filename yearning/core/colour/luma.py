"""Luma of display-coded R'G'B'.

Source: ITU-R BT.709-6, item 3.2: E'Y = 0.2126 E'R + 0.7152 E'G + 0.0722 E'B.
"""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.picture import Picture, Plane

KR = np.float32(0.2126)
KG = np.float32(0.7152)
KB = np.float32(0.0722)

Line = NDArray[np.float32]


@numba.njit(nogil=True, cache=True, inline="always")
def bt709_luma(red: np.float32, green: np.float32, blue: np.float32) -> np.float32:
    """Return the luma of one pixel; for kernels.

    Args:
        red: display-coded.
        green: display-coded.
        blue: display-coded.
    """
    return KR * red + KG * green + KB * blue


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def fill_luma_line(red: Line, green: Line, blue: Line, out: Line) -> None:
    """Write the luma of a row of pixels; for kernels.

    Args:
        red: display-coded.
        green: display-coded.
        blue: display-coded.
        out: takes it.
    """
    for x in range(out.shape[0]):
        out[x] = bt709_luma(red[x], green[x], blue[x])


@numba.njit(nogil=True, cache=True)
def fill_luma(picture: Picture, out: Plane) -> None:
    """Write the luma of a picture.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        out: takes it.
    """
    for y in range(out.shape[0]):
        fill_luma_line(picture[0, y], picture[1, y], picture[2, y], out[y])


def luma_plane(picture: Picture) -> Plane:
    """The luma of a picture, shape `(height, width)`.

    >>> white = np.ones((3, 1, 2), np.float32)
    >>> luma_plane(white).round(3).tolist()
    [[1.0, 1.0]]
    """
    out = new_array(picture.shape[1:])
    fill_luma(picture, out)
    return out


def luma_of_rgb(rgb: NDArray[np.float32]) -> np.float32:
    """The luma of one colour, shape `(3,)`.

    >>> round(float(luma_of_rgb(np.array([0, 1, 0], np.float32))), 4)
    0.7152
    """
    return np.float32(KR * rgb[0] + KG * rgb[1] + KB * rgb[2])
