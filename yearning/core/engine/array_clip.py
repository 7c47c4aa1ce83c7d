"""Pictures in memory as a clip: for tests, notebooks and tools."""

from collections.abc import Sequence

from yearning.core.buffers import copy_of
from yearning.core.engine.as_shot import AsShot
from yearning.core.engine.fused_pass import RowSource
from yearning.core.image.filters import area_resized
from yearning.core.picture import Picture, Size, size_of


class ArrayClip(AsShot):
    """Frames in memory, used as footage; smaller ones are averaged down as decoded footage is.

    Args:
        pictures: an array of shape `(frames, 3, height, width)`, or as many pictures; float32.
        id: tells it from other footage in the same cache.

    >>> import numpy as np
    >>> clip = ArrayClip(np.zeros((2, 3, 90, 160), np.float32))
    >>> clip.frames, clip.size, clip.picture(1, Size(80, 45)).shape
    (2, Size(width=160, height=90), (3, 45, 80))
    """

    def __init__(self, pictures: Sequence[Picture] | Picture, id: str = "array") -> None:
        self.pictures = pictures
        self.id = id

    @property
    def frames(self) -> int:
        """Number of frames."""
        return len(self.pictures)

    @property
    def size(self) -> Size:
        """The size of every frame."""
        return size_of(self.pictures[0])

    def picture(self, frame: int, size: Size) -> Picture:
        """Frame `frame` at `size`, as a new array."""
        picture = self.pictures[frame]
        return copy_of(picture) if size == self.size else area_resized(picture, size)

    def rows(self, frame: int) -> RowSource:
        """Rows of frame `frame`, as new arrays."""
        return lambda top, bottom: copy_of(self.pictures[frame][:, top:bottom])

    def ready(self, frame: int) -> None:
        """Do nothing, because frames are in memory."""
