"""Clips: files and numbered stills opened, and what else of a clip is asked for."""

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

from yearning.core.engine.array_clip import ArrayClip
from yearning.core.errors import YearningError
from yearning.core.picture import Size
from yearning.media.decode.clip import OpenClip
from yearning.media.decode.clip import open_clip as _open_clip
from yearning.media.decode.input_overrides import AS_TAGGED, InputOverrides
from yearning.store.content_store import file_digest

Clip = OpenClip | ArrayClip


class RequestError(YearningError, ValueError):
    """What was asked for can't be had of this clip; the message says why."""


def open_clip(path: str | Path, reading: InputOverrides = AS_TAGGED) -> OpenClip:
    """Open a movie, or the numbered stills of a pattern like `DIR/%05d.png`; a context manager.

    Args:
        path: of the file, or the pattern.
        reading: what its tags have wrong, and how its time runs.

    Raises:
        MediaError: it can't be used as a clip.
    """
    return _open_clip(Path(path), reading)


def rate_of(clip: Clip) -> Fraction:
    """Frames a second."""
    return clip.rate if isinstance(clip, ArrayClip) else clip.probe.rate


def digest_of(clip: Clip) -> Callable[[], str] | None:
    """What gives the SHA-256 of a clip's file, which tracks name; None of pictures in memory."""
    if isinstance(clip, ArrayClip):
        return None
    return lambda: clip.footage_id or file_digest(clip.path)


def size_at(clip: Clip, height: int | None) -> Size:
    """Return the size of a clip's pictures of so many lines.

    Args:
        clip: opened.
        height: in lines; None for the clip's own.

    Raises:
        RequestError: it has not so many.
    """
    if height is None:
        return clip.size
    if not 1 <= height <= clip.size.height:
        raise RequestError(f"height {height}: the clip has {clip.size.height} lines")
    return clip.size.with_height(height)
