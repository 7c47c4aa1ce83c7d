"""Base of clips that are made from another clip: what both have in common."""

from fractions import Fraction
from pathlib import Path
from typing import Generic, Protocol, TypeVar

from yearning.core.picture import Size
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.probe import Probe
from yearning.media.resources import Closeable


class WrappedClip(Protocol):
    """What a wrapper needs of the clip that it takes its frames from."""

    @property
    def id(self) -> str:
        """A string that is equal only for the same footage, read the same way."""

    @property
    def footage_id(self) -> str | None:
        """SHA-256 of its file, where that is known."""

    @property
    def content_id(self) -> str:
        """A hash of its file, or of its first still."""

    @property
    def path(self) -> Path:
        """Its file, or its stills' pattern."""

    @property
    def size(self) -> Size:
        """Its size."""

    @property
    def begins(self) -> Fraction:
        """When its first frame is shown, in seconds."""

    def close(self) -> None:
        """Close it."""


Wrapped = TypeVar("Wrapped", bound=WrappedClip)


class ClipWrapper(Closeable, Generic[Wrapped]):
    """A clip that takes its frames from another one, which it closes."""

    def __init__(self, clip: Wrapped, reading: InputOverrides, added: str, probe: Probe) -> None:
        self._clip = clip
        self.reading = reading
        self.id = f"{clip.id}|{added}"
        self.probe = probe

    @property
    def footage_id(self) -> str | None:
        """SHA-256 of the clip's file, where that is known."""
        return self._clip.footage_id

    @property
    def content_id(self) -> str:
        """A hash of the clip's file, or of its first still."""
        return self._clip.content_id

    def source_frame(self, frame: int) -> float:
        """Which of the frames as they were shot frame `frame` shows: that one."""
        return frame

    def close(self) -> None:
        """Close the clip."""
        self._clip.close()

    @property
    def path(self) -> Path:
        """The clip's file, or its stills' pattern."""
        return self._clip.path

    @property
    def frames(self) -> int:
        """Number of frames, counted from 0."""
        return self.probe.frames

    @property
    def size(self) -> Size:
        """Its size."""
        return self._clip.size

    @property
    def begins(self) -> Fraction:
        """When its first frame is shown, in seconds."""
        return self._clip.begins
