"""A job: what a render is to be, in full, and the chunks it is made in."""

from dataclasses import replace
from itertools import pairwise
from pathlib import Path
from typing import NamedTuple, Self

from pydantic import BaseModel, ConfigDict, Field

from yearning import __version__
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.look.document import Look
from yearning.core.look.output_crop import crop_ratio
from yearning.core.look.renderable import without_absent
from yearning.media.decode.clip import OpenClip, open_clip
from yearning.media.decode.input_overrides import AS_TAGGED, InputOverrides
from yearning.media.encode.results import AS_FOOTAGE, Output, check_footage, check_result
from yearning.media.errors import MediaError
from yearning.media.plates.assets import check_assets
from yearning.store.content_store import file_digest

CHUNK = 48
"""Frames of a chunk: two seconds of film, long enough that beginning it anew costs little."""


SHOWN = 20
"""Frames of a render that small pictures are made of, at the most."""


def preview_frames(first: int, frames: int) -> list[int]:
    """Return the frames, spread over a render, that small pictures are made of.

    Args:
        first: the render's first frame.
        frames: how many it has.

    >>> preview_frames(10, 40)[:4]
    [10, 12, 14, 16]
    """
    count = min(frames, SHOWN)
    return [first + i * frames // count for i in range(count)]


class Chunk(NamedTuple):
    """Frames `first` to `end` (exclusive) of the footage."""

    number: int
    first: int
    end: int


class Job(BaseModel):
    """A render, described so that any process that sees its files can make any part of it.

    Two jobs that are equal give the same result, bit for bit.
    """

    model_config = ConfigDict(
        frozen=True, extra="forbid", populate_by_name=True, serialize_by_alias=True
    )

    version: str = __version__
    source: Path
    stamp: tuple[int, int]
    """The source's bytes, and when it was changed last, in nanoseconds."""
    reading: InputOverrides = AS_TAGGED
    look: Look
    assets: Path = Field(alias="materials")
    """The folder that the look's tables and plates are named from."""
    out: Path
    output: Output = AS_FOOTAGE
    first: int
    last: int
    chunk: int = CHUNK

    @classmethod
    def of(
        cls,
        footage: OpenClip,
        look: Look,
        out: Path,
        *,
        assets: Path = Path(),
        output: Output = AS_FOOTAGE,
        first: int = 0,
        last: int | None = None,
        chunk: int = CHUNK,
    ) -> Self:
        """Return the render job of a range of a clip.

        Args:
            footage: opened.
            look: as it is on the clip.
            out: path of the result.
            assets: folder of the files that the look names.
            output: how the result is written.
            first: the first frame.
            last: the last frame, inclusive; None for the clip's last.
            chunk: frames of a chunk.

        Raises:
            MediaError: the result can't be written so.
            IndexError: there are no such frames.
            InvalidLookError: a step is of a package that is not installed, and not switched off.
        """
        last = footage.frames - 1 if last is None else last
        if not 0 <= first <= last < footage.frames:
            raise IndexError(
                f"frames {first} to {last} are out of range; {footage.path.name} has frames 0 to "
                f"{footage.frames - 1}"
            )
        if out.resolve() == footage.path.resolve():
            raise MediaError(f"{out.name}: that is the footage itself; give another name")
        look = without_absent(look)
        output = replace(output, ratio=crop_ratio(look))
        check_result(out, output)
        check_assets(look, assets, lambda: footage.footage_id or file_digest(footage.path))
        check_footage(footage.probe, out.suffix.lower(), output)
        source = footage.path.resolve()
        return cls(
            source=source,
            stamp=_stamp(source),
            reading=footage.reading,
            look=look,
            assets=assets.resolve(),
            out=out.resolve(),
            output=output,
            first=first,
            last=last,
            chunk=chunk,
        )

    @property
    def frames(self) -> int:
        """How many frames are rendered."""
        return self.last - self.first + 1

    @property
    def stills(self) -> bool:
        """Whether the result is numbered stills."""
        return is_frame_pattern(self.out.name)

    def chunks(self) -> list[Chunk]:
        """The chunks, in order."""
        edges = [*range(self.first, self.last + 1, self.chunk), self.last + 1]
        return [Chunk(n, first, end) for n, (first, end) in enumerate(pairwise(edges))]

    def check_source(self) -> None:
        """Make sure that the footage is there as it was.

        Raises:
            MediaError: it is not there any more, or has changed.
        """
        try:
            found = _stamp(self.source)
        except OSError:
            raise MediaError(
                f"{self.source.name}: can't be read at {self.source.parent}; it was moved, or this "
                "worker does not see that folder"
            ) from None
        if found != self.stamp:
            raise MediaError(f"{self.source.name}: has changed since the render was begun")

    def open(self) -> OpenClip:
        """Open the footage.

        Raises:
            MediaError: it is not there any more, or has changed.
        """
        self.check_source()
        return open_clip(self.source, self.reading)


def _stamp(source: Path) -> tuple[int, int]:
    """Bytes and time of a file; of numbered stills, those of all together."""
    found = source.stat() if not is_frame_pattern(source.name) else None
    if found is not None:
        return found.st_size, found.st_mtime_ns
    stats = [still.stat() for still in source.parent.iterdir() if still.suffix == source.suffix]
    if not stats:
        raise FileNotFoundError(source)
    return sum(s.st_size for s in stats), max(s.st_mtime_ns for s in stats)
