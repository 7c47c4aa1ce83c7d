"""The array convention every computation shares.

A picture is `float32`, planar, C-contiguous, shape `(3, height, width)`: R'G'B', display-coded
BT.709, nominally 0..1. Values outside 0..1 are legal. NaN and infinity are not: they are removed
once, where footage is decoded, and no treatment makes new ones.
"""

import math
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array

Picture = NDArray[np.float32]
Plane = NDArray[np.float32]

REFERENCE_LINES = 1080
"""Sizes in looks are pixels of a picture this many lines high."""


class Box(NamedTuple):
    """A part of a picture, in pixels: whole ones, but in a preview of another size."""

    left: float
    top: float
    width: float
    height: float

    def of(self, picture: NDArray[Any]) -> NDArray[Any]:
        """That part of a picture, as a view of it: all pixels that it touches."""
        right, bottom = math.ceil(self.left + self.width), math.ceil(self.top + self.height)
        return picture[:, int(self.top) : bottom, int(self.left) : right]

    def resize(self, across: float, down: float) -> "Box":
        """Return the same part of a picture so many times as large.

        Args:
            across: factor of its width.
            down: factor of its height.
        """
        return Box(self.left * across, self.top * down, self.width * across, self.height * down)


class Size(NamedTuple):
    """Width and height of a picture in pixels."""

    width: int
    height: int

    @property
    def scale(self) -> float:
        """Pixels per px@1080: 1.0 for a picture of 1080 lines."""
        return self.height / REFERENCE_LINES

    def with_height(self, height: int) -> "Size":
        """The size of the same shape with `height` lines; at least one pixel wide.

        >>> Size(1920, 1080).with_height(540)
        Size(width=960, height=540)
        """
        return Size(max(1, round(self.width * height / self.height)), height)


def new_picture(size: Size) -> Picture:
    """An uninitialized picture, shape `(3, size.height, size.width)`."""
    return new_array((3, size.height, size.width))


def size_of(picture: Picture) -> Size:
    """The size of a picture of shape `(3, height, width)`."""
    return Size(picture.shape[2], picture.shape[1])


def check_picture(picture: NDArray[np.generic]) -> Picture:
    """Return `picture` as it is if it follows the convention.

    Raises:
        ValueError: it is not float32, planar `(3, height, width)` and C-contiguous.
    """
    if picture.dtype != np.float32 or picture.ndim != 3 or picture.shape[0] != 3:
        raise ValueError(
            f"a picture is float32 of shape (3, height, width), not {picture.dtype} {picture.shape}"
        )
    if not picture.flags.c_contiguous:
        raise ValueError("a picture is C-contiguous; this array is a strided view")
    return picture  # type: ignore[return-value]


def remove_nan(picture: Picture) -> Picture:
    """Replace NaN by 0 and ±infinity by 1 and 0, in place, and return the picture."""
    return np.nan_to_num(picture, copy=False, nan=0.0, posinf=1.0, neginf=0.0)
