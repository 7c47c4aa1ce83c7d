"""Render a clip through a look, frame by frame, in this process."""

import re
import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path as FilePath
from typing import NamedTuple, Protocol, Self

from yearning.core.look import Look
from yearning.core.path import Path, PictureCache
from yearning.core.picture import Picture
from yearning.media.errors import MediaError
from yearning.media.footage import Footage
from yearning.media.movie import Movie, check_movie_name
from yearning.media.stills import check_still_name, write_still


class Progress(NamedTuple):
    """How far a render is."""

    done: int
    total: int
    seconds: float

    @property
    def rate(self) -> float:
        """Frames a second so far."""
        return self.done / self.seconds if self.seconds > 0 else 0.0

    @property
    def left(self) -> float | None:
        """Seconds left at that rate; None before the first frame."""
        return (self.total - self.done) / self.rate if self.done else None


class Stopped(Exception):
    """The render was stopped; nothing of it is left."""


class Result(Protocol):
    """Where rendered pictures go: a context manager, whole on a clean exit, gone on another."""

    def __enter__(self) -> Self:
        """Begin."""

    def __exit__(self, *reason: object) -> None:
        """Finish, or undo."""

    def write(self, frame: int, picture: Picture) -> None:
        """Take the picture of footage frame `frame`."""


class Stills:
    """Numbered stills, named by the footage's frame numbers: `DIR/%05d.png`."""

    def __init__(self, pattern: FilePath) -> None:
        check_result_name(pattern)
        self._pattern = pattern
        self._written: list[FilePath] = []

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: object = None, *reason: object) -> None:
        if kind is not None:
            for path in self._written:
                path.unlink(missing_ok=True)

    def write(self, frame: int, picture: Picture) -> None:
        """Write one still."""
        path = self._pattern.with_name(self._pattern.name % frame)
        write_still(picture, path)
        self._written.append(path)


def is_numbered(path: FilePath) -> bool:
    """Whether a name stands for numbered stills."""
    return re.search(r"%0?\d*d", path.name) is not None


def check_result_name(path: FilePath) -> None:
    """Raise `MediaError` unless a result can be written under that name."""
    if not is_numbered(path):
        check_movie_name(path)
        return
    if len(re.findall(r"%", path.name)) != 1:
        raise MediaError(f"{path.name}: numbered stills have one number in the name, like %05d.png")
    check_still_name(path)


def render(
    footage: Footage,
    look: Look,
    out: FilePath,
    *,
    first: int = 0,
    last: int | None = None,
    told: Callable[[Progress], None] = lambda progress: None,
    stop: Callable[[], bool] = lambda: False,
) -> Progress:
    """Render frames `first` to `last` (inclusive; None for the clip's last) of `footage`.

    Args:
        footage: the clip.
        look: what is done to it.
        out: an `.mp4`, or numbered stills; it appears only when all is done.
        first: the first frame.
        last: the last frame.
        told: called after every frame.
        stop: asked before every frame.

    Raises:
        MediaError: the name can't be written, or the footage can't be decoded.
        IndexError: there are no such frames.
        Stopped: `stop` said so.
    """
    last = footage.frames - 1 if last is None else last
    if not 0 <= first <= last < footage.frames:
        raise IndexError(
            f"frames {first} to {last} are out of range; {footage.path.name} has frames 0 to "
            f"{footage.frames - 1}"
        )
    if out.resolve() == footage.path.resolve():
        raise MediaError(f"{out.name}: that is the footage itself; give another name")
    total = last - first + 1
    path = Path(look, footage, footage.size, PictureCache(_cache_bytes(look, footage)))
    began = time.monotonic()
    progress = Progress(0, total, 0.0)
    ahead = path.reach().after + 1
    with (
        _result(out, footage, first, last + 1) as result,
        ThreadPoolExecutor(1) as writer,
        ThreadPoolExecutor(1) as reader,
    ):
        writing: Future[None] | None = None
        reading: Future[None] | None = None
        for n, frame in enumerate(range(first, last + 1), 1):
            if stop():
                raise Stopped
            if reading is not None:
                reading.result()
            reading = reader.submit(path.fetch, frame + ahead)
            picture = path.picture(frame)
            if writing is not None:
                writing.result()
            writing = writer.submit(result.write, frame, picture)
            progress = Progress(n, total, time.monotonic() - began)
            told(progress)
        if writing is not None:
            writing.result()
    return progress


def _result(out: FilePath, footage: Footage, first: int, end: int) -> Result:
    check_result_name(out)
    if is_numbered(out):
        return Stills(out)
    return Movie(out, footage.path, footage.probe, footage.index, first, end)


def _cache_bytes(look: Look, footage: Footage) -> int:
    """Room for a picture, its neighbours in the look's reach, one read ahead, one written."""
    reach = Path(look, footage, footage.size, PictureCache(0)).reach()
    picture = 12 * footage.size.width * footage.size.height
    return picture * (reach.before + reach.after + 4)
