"""Render one chunk: the task that a worker does."""

import os
import resource
import shutil
import threading
import time
from collections.abc import Callable, Generator
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from typing import Protocol, Self

import numpy as np

from yearning.core.cache import Cache
from yearning.core.engine.frame_sequence import CLIP_CACHE_BYTES, frame_sequence
from yearning.core.engine.overlay import overlay_sequence
from yearning.core.errors import YearningError
from yearning.core.image.filters import area_resized
from yearning.core.picture import Picture, Plane, Size, size_of
from yearning.farm import pieces
from yearning.farm.fitness import Needs, Unfit, blindness, difference, missing_file, versions
from yearning.farm.job import Chunk, Job, preview_frames
from yearning.media.atomic_write import PART, atomic_write
from yearning.media.decode.clip import OpenClip
from yearning.media.encode.results import Output, result_box, result_size
from yearning.media.encode.segment import SEGMENT, Segment
from yearning.media.plates.assets import assets_in
from yearning.media.stills.stills import jpeg, write_still

PICTURE_LINES = 54


class Withdrawn(Exception):
    """Raised where the render's plan was withdrawn; nothing of the chunk is kept."""


class Unseen(Exception):
    """Raised where a file that the render needs is not seen; it says which."""


class Pictures(Protocol):
    """Where a chunk's pictures go: a context manager, whole on a clean exit, gone on another."""

    def __enter__(self) -> Self:
        """Begin."""

    def __exit__(self, *reason: object) -> None:
        """Finish, or undo."""

    def write(self, frame: int, picture: Picture, alpha: Plane | None = None) -> None:
        """Take the picture of a frame.

        Args:
            frame: of the footage.
            picture: display-coded, shape `(3, height, width)`.
            alpha: of an overlay; None for none.
        """


class Stills:
    """A folder of stills, named by the footage's frame numbers."""

    def __init__(self, folder: Path, name: str, output: Output) -> None:
        self._folder = folder
        self._part = folder.with_name(f"{folder.name}.{os.getpid()}-{id(self):x}{PART}")
        self._name, self._bits = name, output.bits
        self._part.mkdir()

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: object = None, *reason: object) -> None:
        if kind is None:
            shutil.rmtree(self._folder, ignore_errors=True)
            self._part.replace(self._folder)
        else:
            shutil.rmtree(self._part, ignore_errors=True)

    def write(self, frame: int, picture: Picture, alpha: Plane | None = None) -> None:
        """Write one still.

        Args:
            frame: of the footage.
            picture: display-coded, shape `(3, height, width)`.
            alpha: of an overlay; None for none.
        """
        write_still(picture, self._part / (self._name % frame), self._bits, alpha)


_here = threading.local()
"""The clip that this thread of a worker opened last, and its statistics: the next chunk
is most likely of the same."""


def _open_clip(job: Job) -> OpenClip:
    key = (job.source, job.stamp, job.reading)
    if getattr(_here, "key", None) != key:
        if hasattr(_here, "clip"):
            _here.clip.close()
        _here.key = None
        _here.clip_caches = [Cache(CLIP_CACHE_BYTES) for _ in range(3)]
        _here.clip = job.open()
        _here.key = key
    clip: OpenClip = _here.clip
    return clip


def render_chunk(
    folder: Path, number: int, at_once: int, on_frame: Callable[[int], None] = lambda done: None
) -> pieces.Line:
    """Render chunk `number` of the plan in `folder`, `at_once` frames side by side.

    Args:
        folder: where the plan stands, and where the piece goes.
        number: of the chunk.
        at_once: frames worked on at a time, each by a thread.
        on_frame: called with the number of frames that are done.

    Returns:
        The manifest's line for it; whoever asked for the chunk adds it.

    Raises:
        Withdrawn: the plan was taken back.
        Unseen: the footage, or a file that the look names, is not there as it was.
        MediaError: the footage can't be decoded, or the result not encoded.
        OSError: there is no room.
    """
    try:
        job = pieces.read_plan(folder)
    except FileNotFoundError:
        raise Withdrawn from None
    chunk = job.chunks()[number]
    missing = missing_file(job)
    if missing is not None:
        raise Unseen(missing)
    footage = _open_clip(job)
    size, box = result_size(footage.size, job.output), result_box(footage.size, job.output)
    pictures = _frames(job, footage, size, range(chunk.first, chunk.end), at_once)
    seen = set(preview_frames(job.first, job.frames))
    piece = folder / f"{number:05d}{'' if job.stills else SEGMENT}"
    with (
        _pictures(piece, job, footage, chunk) as out,
        ThreadPoolExecutor(1) as writer,
        closing(pictures),
    ):
        writing: Future[None] | None = None
        for frame, whole_frame, whole_alpha in pictures:
            picture = np.ascontiguousarray(box.of(whole_frame))
            alpha = None if whole_alpha is None else box.of(whole_alpha[np.newaxis])[0]
            if not pieces.is_planned(folder):
                raise Withdrawn
            if frame in seen:
                _show(
                    picture if alpha is None else picture * alpha,
                    pieces.picture_path(folder, frame),
                )
            if writing is not None:
                writing.result()
            writing = writer.submit(out.write, frame, picture, alpha)
            on_frame(frame - chunk.first + 1)
        if writing is not None:
            writing.result()
    return pieces.Line(number, piece.name, *pieces.digest_of(piece))


def _frames(
    job: Job, footage: OpenClip, size: Size, frames: range, at_once: int
) -> Generator[tuple[int, Picture, Plane | None], None, None]:
    assets = assets_in(job.assets)
    own, black, white = _here.clip_caches
    if job.output.overlay:
        yield from overlay_sequence(
            job.look, footage, size, frames, at_once, assets=assets, clip_caches=(black, white)
        )
        return
    pictures = frame_sequence(
        job.look, footage, size, frames, at_once, assets=assets, clip_cache=own
    )
    with closing(pictures):
        for frame, picture in pictures:
            yield frame, picture, None


def _pictures(piece: Path, job: Job, footage: OpenClip, chunk: Chunk) -> Pictures:
    if job.stills:
        return Stills(piece, job.out.name, job.output)
    return Segment(piece, footage.probe, chunk.first, job.out.suffix.lower(), job.output)


def _show(picture: Picture, path: Path) -> None:
    """Write a small picture."""
    size = size_of(picture)
    small = area_resized(picture, size.with_height(min(PICTURE_LINES, size.height)))
    with atomic_write(path) as part:
        part.write_bytes(jpeg(small, 85))


PROGRESS_SECONDS = 0.4


def task(folder: str, number: int, at_once: int, topic: str, needs: Needs) -> pieces.Line:
    """Render a chunk as a Dask task, which logs how far it is.

    Args:
        folder: of the job.
        number: of the chunk.
        at_once: chunks that workers of this machine have in hand.
        topic: under which it logs.
        needs: versions and files that the worker must have.

    Raises:
        Unfit: this worker is of another version than the render, or does not see its files.
    """
    from distributed import get_worker

    worker = get_worker()
    own = versions(needs.packages)
    why = difference(needs.versions, needs.packages) or blindness(Path(folder), needs.mark)
    if why is not None:
        raise Unfit(worker.address, why)
    last = 0.0

    def on_frame(done: int) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last >= PROGRESS_SECONDS:
            last = now
            worker.log_event(topic, {"chunk": number, "done": done})

    try:
        line = render_chunk(Path(folder), number, at_once, on_frame)
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss << 10
        made_by = f"{worker.name}, {worker.address}"
        return line._replace(worker=made_by, version=own["Yearning"], peak=peak)
    except OSError as error:
        failed: Exception = OSError(error.errno, error.strerror or str(error), error.filename)
    except Unseen as error:
        failed = Unfit(worker.address, str(error))
    except (YearningError, IndexError, Withdrawn) as error:
        failed = type(error)(*error.args)
    raise failed  # without what it came from: PyAV's errors can't be sent to another process
