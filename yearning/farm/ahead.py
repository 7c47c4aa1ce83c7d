"""Jobs in turn, the next begun on workers that the one in hand has no use for any more."""

import logging
import threading
from collections.abc import Callable, Collection
from functools import partial
from pathlib import Path
from typing import NamedTuple

from yearning.farm.cluster import Cluster
from yearning.farm.errors import Halted
from yearning.farm.job import Job
from yearning.farm.progress import Halt, Progress
from yearning.farm.run import JobRun

CLOSE_SECONDS = 5.0
"""What a job that was begun ahead is given to end."""

log = logging.getLogger(__name__)


class Coming(NamedTuple):
    """A job whose turn comes."""

    key: int
    make: Callable[[], Job]
    """Called in a thread of its own."""
    folder: Path
    """Where its pieces go."""
    halt: Callable[[], Halt | None]
    """Asked a few times a second, until its turn comes."""


class Lookahead:
    """The jobs that come next, begun as soon as the one in hand leaves workers free.

    Args:
        coming: gives the first job that waits, but those of some keys; None where there is none.
    """

    def __init__(self, coming: Callable[[Collection[int]], Coming | None]) -> None:
        self._coming = coming
        self._in_turn: JobRun | AheadRun | None = None
        """The chunks of the job in hand."""
        self._ahead: dict[int, AheadRun] = {}
        """By their keys, jobs that wait and of which chunks are rendered already."""

    def take_over(
        self,
        key: int,
        cluster: Cluster,
        on_progress: Callable[[Progress], object],
        halt: Callable[[], Halt | None],
    ) -> float:
        """Wait until what was begun of a job, whose turn has come, is rendered.

        Args:
            key: of the job.
            cluster: the workers.
            on_progress: is told how far it is.
            halt: says whether to stop, and how.

        Returns:
            Seconds that it was worked on since it was begun ahead.

        Raises:
            Halted: `halt` said so.
        """
        ahead = self._in_turn = self._ahead.pop(key, None)
        if ahead is None:
            return 0.0
        ahead.take_over(
            lambda: max(1, cluster.threads()),
            on_progress,
            halt,
            partial(self._begin_next, cluster),
        )
        return ahead.seconds

    def follow(self, cluster: Cluster, run: JobRun) -> None:
        """Have the next job begin when this run of the one in hand leaves workers free.

        Args:
            cluster: the workers.
            run: of the job in hand.
        """
        self._in_turn, run.on_idle = run, partial(self._begin_next, cluster)

    def end_turn(self) -> None:
        """The job in hand has ended."""
        self._in_turn = None

    def drop(self, key: int) -> None:
        """Wait for the end of a job that was begun, and is not wanted; its `halt` says so."""
        ahead = self._ahead.pop(key, None)
        if ahead is not None:
            ahead.join(CLOSE_SECONDS)

    def close(self) -> None:
        """Wait for the end of all that were begun; their `halt` says so."""
        for ahead in self._ahead.values():
            ahead.join(CLOSE_SECONDS)

    def _free(self, cluster: Cluster) -> int:
        """How many chunks more the workers can take."""
        runs = [self._in_turn, *self._ahead.values()]  # a list: threads add to what is ahead
        return cluster.threads() - sum(run.in_hand for run in runs if run is not None)

    def _begin_next(self, cluster: Cluster) -> None:
        """Begin the next job on workers that are free, once all chunks before it are in hand."""
        if any(ahead.has_more for ahead in list(self._ahead.values())):
            return
        if self._free(cluster) <= 0:
            return
        coming = self._coming(self._ahead)
        if coming is not None:
            self._ahead[coming.key] = AheadRun(
                coming.make,
                coming.folder,
                cluster,
                lambda ahead: max(0, ahead.in_hand + self._free(cluster)),
                coming.halt,
            )


class AheadRun:
    """A run of a job's chunks in a thread of its own, which leaves them where a run finds them.

    Args:
        make: the job; called in the thread.
        folder: where its pieces go.
        cluster: the workers.
        slots: how many of its chunks may be in hand at once.
        halt: asked a few times a second.
    """

    def __init__(
        self,
        make: Callable[[], Job],
        folder: Path,
        cluster: Cluster,
        slots: Callable[["AheadRun"], int],
        halt: Callable[[], Halt | None],
    ) -> None:
        self._run: JobRun | None = None
        self._error: BaseException | None = None
        self.seconds = 0.0
        """How long it was worked on; known once it has ended."""
        self._slots: Callable[[], int] = lambda: slots(self)
        self._halt = halt
        self._on_progress: Callable[[Progress], object] = lambda progress: None
        self._on_idle: Callable[[], object] = lambda: None
        self._thread = threading.Thread(
            target=self._work, args=(make, folder, cluster), name="render ahead", daemon=True
        )
        self._thread.start()

    @property
    def is_alive(self) -> bool:
        """Whether it goes on."""
        return self._thread.is_alive()

    @property
    def in_hand(self) -> int:
        """How many of its chunks workers have."""
        return 0 if self._run is None else self._run.in_hand

    @property
    def has_more(self) -> bool:
        """Whether chunks of it wait for a worker, or it is not known yet which it has."""
        return self.is_alive and (self._run is None or self._run.has_more)

    def take_over(
        self,
        slots: Callable[[], int],
        on_progress: Callable[[Progress], object],
        halt: Callable[[], Halt | None],
        on_idle: Callable[[], object],
    ) -> None:
        """Wait until its chunks are rendered: its turn has come, and it has all workers.

        What went wrong is left to the run that follows, which meets it again.

        Args:
            slots: gives how many chunks the workers can have in hand.
            on_progress: is told how far it is.
            halt: says whether to stop, and how.
            on_idle: is called where workers are free and no chunk waits.

        Raises:
            Halted: `halt` said so.
        """
        alive = self.is_alive
        self._slots, self._on_progress, self._halt = slots, on_progress, halt
        self._on_idle = on_idle
        self._thread.join()
        if alive and isinstance(self._error, Halted):
            raise self._error

    def join(self, seconds: float) -> None:
        """Wait until it has ended, or so long."""
        self._thread.join(timeout=seconds)

    def _work(self, make: Callable[[], Job], folder: Path, cluster: Cluster) -> None:
        try:
            run = JobRun(make(), folder, cluster)
            run.slots = lambda: self._slots()
            run.halt = lambda: self._halt()
            run.on_progress = lambda progress: self._on_progress(progress)
            run.on_idle = lambda: self._on_idle()
            self._run = run
            run.chunks()
        except BaseException as error:
            self._error = error
            if not isinstance(error, Halted):
                log.info("what was rendered ahead broke off: %s", error)
        finally:
            self.seconds = 0.0 if self._run is None else self._run.progress().seconds
