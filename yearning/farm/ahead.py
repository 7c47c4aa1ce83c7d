"""Renders that come next, begun on workers that the one in hand has no use for any more."""

import logging
import threading
from collections.abc import Callable
from pathlib import Path

from yearning.farm.cluster import Cluster
from yearning.farm.errors import Halted
from yearning.farm.job import Job
from yearning.farm.progress import Halt, Progress
from yearning.farm.run import JobRun

log = logging.getLogger(__name__)


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
