"""Pictures in memory as a clip: for notebooks, tests and tools."""

import hashlib
import math
from collections.abc import Sequence
from fractions import Fraction
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import copy_of, new_array
from yearning.core.engine.as_shot import AsShot
from yearning.core.engine.fused_pass import RowSource
from yearning.core.errors import YearningError
from yearning.core.image.filters import area_resized
from yearning.core.picture import Picture, Size

CODES = {"uint8": 255, "uint16": 65535}
"""White, by the type of an array of whole numbers."""


class ArrayError(YearningError, ValueError):
    """An array that can't be a clip; the message says what is wrong, and where."""


class ArrayClip(AsShot):
    """Frames in memory, used as footage; smaller ones are averaged down as decoded footage is.

    Args:
        pictures: an array of shape `(frames, 3, height, width)`, or as many pictures of one shape;
            display-coded R, G and B. Floating-point numbers are nominally 0..1; uint8 and uint16
            are whole codes, the highest of which is white. It is not copied, nor written to.
        channel_axis: which axis of one picture has R, G and B: 0 as pictures are in this library,
            -1 as scikit-image and OpenCV have them, `(height, width, 3)`.
        rate: frames a second.
        id: tells it from other footage in the same cache.

    Raises:
        ArrayError: it is of another shape or type. Where a frame holds NaN or infinity, that is
            found, and told, when the frame is first used.

    >>> import numpy as np
    >>> clip = ArrayClip(np.zeros((2, 90, 160, 3), np.uint8), channel_axis=-1)
    >>> clip.frames, clip.size, clip.picture(1, Size(80, 45)).shape
    (2, Size(width=160, height=90), (3, 45, 80))
    """

    def __init__(
        self,
        pictures: Sequence[NDArray[Any]] | NDArray[Any],
        id: str = "array",
        *,
        channel_axis: int = 0,
        rate: Fraction | float = 24,
    ) -> None:
        if channel_axis not in (0, -1):
            raise ArrayError(f"channel_axis: 0 or -1, not {channel_axis!r}")
        if not len(pictures):
            raise ArrayError("pictures: there are none; a clip has at least one")
        self.pictures = pictures
        self.channel_axis = channel_axis
        self.rate = Fraction(rate)
        self.id = id
        self._shape, self._type = pictures[0].shape, pictures[0].dtype
        self._usable: set[int] = set()
        whole = self._type.name in CODES
        if not whole and not np.issubdtype(self._type, np.floating):
            raise ArrayError(
                f"pictures: numbers of type {self._type}; use uint8, uint16 or floating point"
            )
        if len(self._shape) != 3 or self._shape[channel_axis] != 3 or 0 in self._shape:
            wanted = "(3, height, width)" if channel_axis == 0 else "(height, width, 3)"
            turned = len(self._shape) == 3 and self._shape[-1 - channel_axis] == 3
            hint = f"; give channel_axis={-1 - channel_axis}" if turned else ""
            raise ArrayError(f"pictures: a picture is {wanted}, not {self._shape}{hint}")

    @cached_property
    def content_id(self) -> str:
        """A hash of its first picture."""
        first = np.ascontiguousarray(self.pictures[0])
        return hashlib.sha256(f"{first.dtype} {first.shape}".encode() + first.tobytes()).hexdigest()

    @property
    def frames(self) -> int:
        """Number of frames."""
        return len(self.pictures)

    @property
    def size(self) -> Size:
        """The size of every frame."""
        lines, columns = self._shape[1:] if self.channel_axis == 0 else self._shape[:2]
        return Size(columns, lines)

    def picture(self, frame: int, size: Size) -> Picture:
        """Return a frame as a new array.

        Args:
            frame: from 0.
            size: no larger than the pictures given.

        Raises:
            ArrayError: the frame can't be used.
        """
        picture = self._planar(self._checked_frame(frame))
        return picture if size == self.size else area_resized(picture, size)

    def rows(self, frame: int) -> RowSource:
        """Rows of frame `frame`, as new arrays.

        Raises:
            ArrayError: the frame can't be used.
        """
        picture = self._checked_frame(frame)
        if self.channel_axis == 0:
            return lambda top, bottom: self._planar(picture[:, top:bottom])
        return lambda top, bottom: self._planar(picture[top:bottom])

    def reserve_cache(self, frames: int) -> None:
        """Do nothing, because all frames are kept."""

    def prefetch(self, frame: int) -> None:
        """Do nothing, because frames are in memory."""

    def _checked_frame(self, frame: int) -> NDArray[Any]:
        """A frame as it was given."""
        picture = self.pictures[frame]
        if frame in self._usable:
            return picture
        if picture.shape != self._shape or picture.dtype != self._type:
            raise ArrayError(
                f"pictures[{frame}]: {picture.dtype} of shape {picture.shape}; the first is "
                f"{self._type} of {self._shape}, and all are alike"
            )
        if self._type.name not in CODES and not math.isfinite(picture.sum(dtype=np.float64)):
            place = np.argwhere(~np.isfinite(picture))[0].tolist()
            raise ArrayError(
                f"pictures[{frame}]: {picture[tuple(place)]} at {place}; replace what is no number "
                "first, for example by numpy.nan_to_num"
            )
        self._usable.add(frame)
        return picture

    def _planar(self, rows: NDArray[Any]) -> Picture:
        """Rows of a frame as rows of a picture, in memory of their own."""
        planes = rows if self.channel_axis == 0 else rows.transpose(2, 0, 1)
        if self._type == np.float32:
            return copy_of(planes)
        out = new_array(planes.shape)
        white = CODES.get(self._type.name)
        if white is None:
            out[...] = planes
        else:
            np.multiply(planes, np.float32(1 / white), out=out)
        return out
