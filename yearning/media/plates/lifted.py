"""What a matte was found from, kept in its file: the strokes, the clip, and what was solved."""

from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path
from typing import Literal, NamedTuple

from pydantic import Field, ValidationError

from yearning.core.motion.hard_mattes import Solved
from yearning.core.motion.strokes import Strokes
from yearning.core.picture import Size
from yearning.core.validation import StrictModel
from yearning.media.decode.probe import open_container
from yearning.media.errors import MediaError

STROKES, SOLVED = "strokes.json", "solved.npz"

MAX_BYTES = 64 << 20
"""Of what is attached."""


class _StrokesFile(StrictModel):
    format: Literal["yearning-strokes/1"] = "yearning-strokes/1"
    clip: str = Field(max_length=128)
    size: tuple[int, int]
    frames: int = Field(ge=1, le=100_000_000)
    strokes: Strokes


class Lifted(NamedTuple):
    """What a matte was found from."""

    clip: str
    """The SHA-256 of the clip that the figure was lifted out of."""
    solved: Solved


def attachments(clip: str, solved: Solved) -> Mapping[str, bytes]:
    """Return the files that a matte has attached, by name.

    Args:
        clip: digest of the clip that it is of.
        solved: strokes, and hard mattes of frames.
    """
    told = _StrokesFile(
        clip=clip, size=tuple(solved.size), frames=solved.frames, strokes=solved.strokes
    )
    return {STROKES: told.model_dump_json().encode(), SOLVED: solved.to_bytes()}


def read_lifted(path: Path) -> Lifted | None:
    """What a matte was found from; None where the file says nothing of it.

    Raises:
        MediaError: it can't be read.
    """
    try:
        found = path.stat()
    except OSError as error:
        raise MediaError(f"{path.name}: can't be read: {error.strerror or error}") from None
    return _read(path, found.st_size, found.st_mtime_ns)


@lru_cache(maxsize=4)
def _read(path: Path, size: int, changed: int) -> Lifted | None:
    if path.suffix.lower() != ".mkv":
        return None
    with open_container(path) as container:
        files = {
            stream.name: stream.data
            for stream in container.streams.attachments
            if stream.name and stream.data
        }
    if not {STROKES, SOLVED} <= files.keys() or sum(map(len, files.values())) > MAX_BYTES:
        return None
    try:
        told = _StrokesFile.model_validate_json(files[STROKES])
        solved = Solved.from_bytes(files[SOLVED], told.strokes, Size(*told.size), told.frames)
    except (ValidationError, ValueError):
        return None
    return Lifted(told.clip, solved)
