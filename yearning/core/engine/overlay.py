"""What a look lays over its footage, without the footage: its colour and its alpha.

The look is drawn over black and over white, and what differs shows how far it covers: with two
known backings, colour and alpha have one solution (A. R. Smith and J. F. Blinn, Blue Screen
Matting, SIGGRAPH 1996, "Triangulation Solution").
"""

from collections.abc import Generator
from contextlib import closing
from typing import Any

import numba
import numpy as np

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.cache import Cache
from yearning.core.engine.footage import Footage
from yearning.core.engine.frame_sequence import frame_sequence
from yearning.core.engine.fused_pass import RowSource
from yearning.core.look.document import Look
from yearning.core.picture import Picture, Plane, Size, new_picture, size_of
from yearning.core.treatment.assets import NO_ASSETS, Assets


class Backing:
    """A clip of the same size and length as another, every frame of which is one grey.

    Args:
        footage: the clip it stands for.
        value: of R', G' and B', 0..1.
    """

    def __init__(self, footage: Footage, value: float) -> None:
        self._footage = footage
        self._value = np.float32(value)
        self.id = f"{footage.id} as {value}"
        self.footage_id = footage.footage_id
        self.content_id = footage.content_id
        self.frames = footage.frames
        self.size = footage.size

    def source_frame(self, frame: int) -> float:
        """Which of the frames as they were shot frame `frame` shows."""
        return self._footage.source_frame(frame)

    def picture(self, frame: int, size: Size) -> Picture:
        """The one grey.

        Args:
            frame: any.
            size: of the picture.
        """
        picture = new_picture(size)
        picture.fill(self._value)
        return picture

    def rows(self, frame: int) -> RowSource:
        """Rows of the one grey."""
        return lambda top, bottom: self.picture(frame, Size(self.size.width, bottom - top))

    def reserve_cache(self, frames: int) -> None:
        """Do nothing, because nothing is decoded."""

    def prefetch(self, frame: int) -> None:
        """Do nothing, because nothing is decoded."""


@numba.njit(nogil=True, cache=True)
def _triangulate(black: Picture, white: Picture, top: int, bottom: int, alpha: Plane) -> None:
    """Rows `top` to `bottom`; `black` becomes the straight colour."""
    zero, one, third = np.float32(0), np.float32(1), np.float32(1 / 3)
    for y in range(top, bottom):
        for x in range(black.shape[2]):
            through = zero
            for c in range(3):
                black[c, y, x] = min(max(black[c, y, x], zero), one)
                through += min(max(white[c, y, x], zero), one) - black[c, y, x]
            cover = min(max(one - third * through, zero), one)
            alpha[y, x] = cover
            for c in range(3):
                value = black[c, y, x]
                black[c, y, x] = min(value / cover, one) if cover > zero else zero


def triangulation_matte(over_black: Picture, over_white: Picture) -> tuple[Picture, Plane]:
    """Return straight colour and alpha, each 0..1, of what was drawn over black and over white.

    Where the three channels are covered to different parts, alpha is their mean. What is lighter
    than white or darker than black is cut first, as it is when it is shown.

    Args:
        over_black: the result over black; overwritten.
        over_white: the result over white.

    >>> grey = np.full((3, 1, 1), 0.25, np.float32)
    >>> colour, alpha = triangulation_matte(grey.copy(), grey + np.float32(0.5))
    >>> float(colour[0, 0, 0]), float(alpha[0, 0])
    (0.5, 0.5)
    """
    size = size_of(over_black)
    alpha = new_array((size.height, size.width))
    parallel.for_each_band(
        size.height,
        lambda top, bottom: _triangulate(over_black, over_white, top, bottom, alpha),
        parallel.band_rows(size.width, 2),
    )
    return over_black, alpha


def overlay_sequence(
    look: Look,
    footage: Footage,
    size: Size,
    frames: range,
    at_once: int,
    *,
    assets: Assets = NO_ASSETS,
    clip_caches: tuple[Cache[Any], Cache[Any]] | None = None,
) -> Generator[tuple[int, Picture, Plane], None, None]:
    """Yield frames with straight colour and alpha of what the look lays over them, in order.

    Args:
        look: the steps.
        footage: the clip, for its size and length; its pictures are not seen.
        size: of the pictures.
        frames: which; at least one, ascending.
        at_once: frames worked on at a time, each by a thread.
        assets: finds the look-up tables and plates that steps name.
        clip_caches: where statistics of the black and of the white clip are kept between calls.

    Raises:
        IndexError: the footage has no such frame.
    """
    one_each = max(1, at_once // 2)
    over = [
        frame_sequence(
            look,
            Backing(footage, value),
            size,
            frames,
            one_each,
            assets=assets,
            clip_cache=None if clip_caches is None else clip_caches[n],
        )
        for n, value in enumerate((0.0, 1.0))
    ]
    with closing(over[0]), closing(over[1]):
        for (frame, black), (_, white) in zip(*over, strict=True):
            yield frame, *triangulation_matte(black, white)
