"""Run a job: have its chunks rendered by workers, then join them into the result."""

import time
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from queue import Empty, SimpleQueue
from typing import Any

from distributed import Future
from distributed.scheduler import KilledWorker

from yearning.core.errors import YearningError
from yearning.farm import pieces
from yearning.farm.chunk import Withdrawn, task
from yearning.farm.cluster import Cluster, unique_topic
from yearning.farm.errors import MIN_FREE_BYTES, DiskFull, FarmError, Halted
from yearning.farm.fitness import Needs, Unfit, needs_of
from yearning.farm.job import Chunk, Job
from yearning.farm.progress import Halt, Progress
from yearning.media.atomic_write import discard_parts
from yearning.media.disk import is_full
from yearning.media.encode.movie import join
from yearning.media.encode.segment import Piece
from yearning.media.errors import MediaError

WAKE_SECONDS = 0.25


def run(
    job: Job,
    folder: Path,
    cluster: Cluster,
    *,
    on_progress: Callable[[Progress], object] = lambda progress: None,
    halt: Callable[[], Halt | None] = lambda: None,
    on_begin: Callable[["JobRun"], object] = lambda run: None,
) -> Progress:
    """Render a job in `folder`, and write its result when all is there.

    A folder that holds finished chunks of the same job is gone on with; at the end it is empty
    but for a few small pictures.

    Args:
        job: what to render.
        folder: where its pieces go; workers must see it under the same name.
        cluster: the workers.
        on_progress: called whenever something was done.
        halt: asked a few times a second.
        on_begin: called with the run before it begins.

    Raises:
        MediaError: the footage can't be decoded, or the result not written.
        FarmError: the workers are gone, or died at it.
        DiskFull: the disk is full.
        Halted: `halt` said so.
        OSError: the folder or the result can't be written.
    """
    run = JobRun(job, folder, cluster)
    run.on_progress, run.halt = on_progress, halt
    on_begin(run)
    with _disk_full_said(folder, run):
        run.chunks()
        run.join()
    return run.progress()


def render_pieces(
    job: Job,
    folder: Path,
    cluster: Cluster,
    *,
    on_progress: Callable[[Progress], object] = lambda progress: None,
    halt: Callable[[], Halt | None] = lambda: None,
    on_begin: Callable[["JobRun"], object] = lambda run: None,
) -> list[Piece]:
    """Render a job in `folder` as `run` does, and leave its pieces there, to be joined with others.

    Args:
        job: what is rendered.
        folder: takes plan, manifest and pieces.
        cluster: the workers.
        on_progress: is told how far it is.
        halt: says whether to stop, and how.
        on_begin: is given the run once it works.

    Returns:
        The pieces, in order.
    """
    run = JobRun(job, folder, cluster)
    run.on_progress, run.halt = on_progress, halt
    on_begin(run)
    with _disk_full_said(folder, run):
        run.chunks()
    return run.pieces()


@contextmanager
def _disk_full_said(folder: Path, run: "JobRun") -> Iterator[None]:
    """Say how much room is needed, where the disk is full."""
    try:
        yield
    except OSError as error:
        if not is_full(error):
            raise
        raise DiskFull(folder, run.bytes_needed()) from None


class JobRun:
    """One run of a job.

    What is called meanwhile may be set, also while it runs: `on_progress` whenever something was
    done; `halt`, asked a few times a second; `on_idle`, as often, once its last chunks are in hand;
    and `slots`, how many chunks may be in hand at once.
    """

    def __init__(self, job: Job, folder: Path, cluster: Cluster) -> None:
        self._job, self._folder, self._cluster = job, folder, cluster
        self.on_progress: Callable[[Progress], object] = lambda progress: None
        self.halt: Callable[[], Halt | None] = lambda: None
        self.on_idle: Callable[[], object] = lambda: None
        self.slots: Callable[[], int] = lambda: max(1, cluster.threads())
        self._waiting: deque[Chunk] = deque()
        self._all = job.chunks()
        self._lines: dict[int, pieces.Line] = {}
        self._flying: dict[Future[Any], Chunk] = {}
        self._frames: dict[int, int] = {}
        """Frames done of each chunk in hand."""
        self._events: SimpleQueue[Future[Any] | dict[str, int]] = SimpleQueue()
        self._before = 0
        self._submitted: float | None = None
        self._began: float | None = None
        self._joining = False

    def chunks(self) -> None:
        """Render every chunk that is not finished yet."""
        pieces.write_plan(self._folder, self._job)
        self._lines = pieces.finished_lines(self._folder)
        needs = needs_of(self._job.look, pieces.write_mark(self._folder))
        self._before = self._frames_kept()
        waiting = self._waiting
        waiting.extend(chunk for chunk in self._all if chunk.number not in self._lines)
        halted: Halt | None = None
        failed: BaseException | None = None
        topic = unique_topic()
        with self._cluster.subscribe(topic, self._events.put):
            while self._flying or (waiting and not (halted or failed)):
                failed = failed or self._cluster.compare_workers(needs)
                slots = self.slots()
                while waiting and len(self._flying) < slots and not (halted or failed):
                    self._submit(waiting.popleft(), topic, needs)
                if not waiting:
                    self.on_idle()
                with suppress(Empty):
                    failed = self._handle(self._events.get(timeout=WAKE_SECONDS)) or failed
                self.on_progress(self.progress())
                halted = halted or self.halt()
                if halted is Halt.NOW or (failed and not isinstance(failed, OSError)):
                    pieces.withdraw(self._folder)
                    self._cluster.cancel(list(self._flying))
                    self._flying.clear()
        if failed:
            raise failed
        if halted:
            raise Halted

    @property
    def in_hand(self) -> int:
        """How many chunks workers have."""
        return len(self._flying)

    @property
    def has_more(self) -> bool:
        """Whether chunks wait for a worker."""
        return bool(self._waiting)

    def _submit(self, chunk: Chunk, topic: str, needs: Needs) -> None:
        words = (str(self._folder), chunk.number, self._cluster.at_once, topic, needs)
        future = self._cluster.submit(task, *words)
        self._flying[future] = chunk
        self._submitted = self._submitted or time.monotonic()
        future.add_done_callback(self._events.put)

    def _handle(self, event: Any) -> BaseException | None:
        """Handle a worker's event or a chunk's end; return the error, if it is one."""
        if not isinstance(event, Future):
            if any(chunk.number == event["chunk"] for chunk in self._flying.values()):
                self._began = self._began or time.monotonic()
                self._frames[event["chunk"]] = event["done"]
            return None
        chunk = self._flying.pop(event, None)
        if chunk is None:
            return None
        self._frames.pop(chunk.number, None)
        frames = f"frames {chunk.first} to {chunk.end - 1}"
        if event.status in ("cancelled", "lost"):
            return FarmError(f"{frames}: the scheduler was lost; start it again, then go on")
        error = event.exception() if event.status == "error" else None
        if error is None:
            self._began = self._began or self._submitted  # a chunk so short that no word came
            line = event.result()
            pieces.append_line(self._folder, line)
            self._lines[line.chunk] = line
            return None
        if isinstance(error, Unfit):
            return self._leave_out(error, chunk)
        if isinstance(error, (MediaError, IndexError, OSError)):
            return error
        if isinstance(error, Withdrawn):
            return FarmError(f"{frames}: the plan in {self._folder} was taken away meanwhile")
        if isinstance(error, KilledWorker):
            return FarmError(
                f"{frames}: the worker died each time it was tried; it may want more memory, or "
                "the footage there may be broken"
            )
        if isinstance(error, YearningError):
            return FarmError(f"{frames}: {error}")
        return FarmError(f"{frames}: {type(error).__name__}: {error}")

    def _leave_out(self, unfit: Unfit, chunk: Chunk) -> BaseException | None:
        """Leave a worker out and have another do its chunk; return what makes that futile."""
        self._waiting.appendleft(chunk)
        try:
            self._job.check_source()
        except MediaError as error:  # nobody sees it
            return error
        return self._cluster.leave_out(*unfit.args)

    def join(self) -> None:
        """Write the result of the finished chunks, under its final name when it is whole."""
        job, folder = self._job, self._folder
        self._joining = True
        if job.stills:
            for chunk in self._all:
                piece = folder / self._lines[chunk.number].file
                for frame in range(chunk.first, chunk.end):
                    name = job.out.name % frame
                    (piece / name).replace(job.out.with_name(name))
        else:
            discard_parts(job.out)
            with job.open() as footage:
                join(job.out, footage, job.first, job.output, self.pieces())
        pieces.clear(folder)

    def pieces(self) -> list[Piece]:
        """The finished segments, in order."""
        return [
            Piece(self._folder / self._lines[chunk.number].file, chunk.end - chunk.first)
            for chunk in self._all
        ]

    def bytes_needed(self) -> int:
        """Bytes that should be free before a full disk is tried again."""
        sizes = [line.bytes for line in self._lines.values()]
        if self._joining:
            return sum(sizes) + MIN_FREE_BYTES
        return 2 * max(1, self._cluster.threads()) * max(sizes, default=0) + MIN_FREE_BYTES

    def _frames_kept(self) -> int:
        return sum(c.end - c.first for c in self._all if c.number in self._lines)

    def progress(self) -> Progress:
        """How far it is."""
        kept = self._frames_kept()
        done = kept + sum(self._frames.values())
        return Progress(
            done,
            kept,
            self._job.frames,
            done - self._before,
            0.0 if self._began is None else time.monotonic() - self._began,
            len(self._all),
            frozenset(self._lines),
            tuple((c.number, self._frames.get(c.number, 0)) for c in self._flying.values()),
            max((line.peak for line in self._lines.values()), default=0),
        )
