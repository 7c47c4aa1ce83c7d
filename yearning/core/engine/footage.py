"""What the evaluator asks of a clip."""

from typing import Protocol

from yearning.core.engine.fused_pass import RowSource
from yearning.core.picture import Picture, Size


class Footage(Protocol):
    """What the evaluator asks of a clip."""

    @property
    def id(self) -> str:
        """A string that is equal only for the same footage, read the same way."""

    @property
    def footage_id(self) -> str | None:
        """SHA-256 of the clip's file, where that is known."""

    @property
    def content_id(self) -> str:
        """A string that is equal for the same content, wherever its file lies."""

    def source_frame(self, frame: int) -> float:
        """Which of the frames as they were shot frame `frame` shows; between two, in parts."""

    @property
    def frames(self) -> int:
        """Number of frames, counted from 0."""

    @property
    def size(self) -> Size:
        """Its full size."""

    def picture(self, frame: int, size: Size) -> Picture:
        """Return a frame.

        Args:
            frame: from 0.
            size: no larger than its own.
        """

    def rows(self, frame: int) -> RowSource:
        """Rows of frame `frame` at full size."""

    def reserve_cache(self, frames: int) -> None:
        """Keep so many decoded frames for what asks for them again."""

    def prefetch(self, frame: int) -> None:
        """Decode frame `frame` ahead, so that its rows are there when they are asked for."""
