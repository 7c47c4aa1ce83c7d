"""Where chunks are rendered: workers on this machine, or a scheduler somewhere else."""

import logging
import os
import signal
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import dask
from distributed import Client, Future, LocalCluster, Worker, WorkerPlugin

from yearning.core.parallel import CORES
from yearning.farm.address import check_address
from yearning.farm.errors import FarmError
from yearning.farm.worker_process import WorkerHost
from yearning.media.resources import Closeable

CONNECT_SECONDS = 5
COUNTED_SECONDS = 1.0

NICENESS = 10
"""Of a worker's process beside the pages' server, whose pictures come first."""

dask.config.set(
    {
        "distributed.worker.daemon": True,  # the workers end with the process that started them
        "distributed.admin.log-length": 100,
        "distributed.worker.profile.enabled": False,
        # Dask has workers give every freed page back; a picture's would then be fetched anew
        "distributed.nanny.pre-spawn-environ.MALLOC_TRIM_THRESHOLD_": None,
    }
)


class Background(WorkerPlugin):
    """Worker plugin that lowers the process's priority below the user's own work.

    A key that interrupts reaches all of a terminal's processes; the workers leave it to the one
    that started them, which ends them.
    """

    name = "background"

    def setup(self, worker: Worker) -> None:
        """Set the process up; called once in each worker, also in a replaced one."""
        os.nice(NICENESS)
        signal.signal(signal.SIGINT, signal.SIG_IGN)


class Cluster(Closeable):
    """Workers for chunks; a context manager.

    Args:
        workers: how many on this machine; None for one a core. Of no meaning with an address.
        address: of a running Dask scheduler, whose workers see the same folders; None for this
            machine.
        processes: whether each local worker is a process of its own.

    Raises:
        FarmError: no scheduler answers.
    """

    def __init__(
        self, workers: int | None = None, address: str | None = None, *, processes: bool = True
    ) -> None:
        self.address = address
        self._local: LocalCluster | None = None
        self.at_once = 1
        """Frames that a task works on side by side."""
        if address is None:
            count = workers or CORES
            self.at_once = max(1, CORES // count)
            self._local = LocalCluster(
                n_workers=count,
                threads_per_worker=1,
                processes=processes,
                worker_class=WorkerHost if processes else None,
                host="127.0.0.1" if processes else None,
                dashboard_address="127.0.0.1:0",
                silence_logs=logging.CRITICAL,
            )
        else:
            check_address(address)
        try:
            self._client = Client(self._local or address, timeout=CONNECT_SECONDS, name="yearning")
        except TypeError:  # Dask's, of tls:// without certificates
            raise FarmError(
                f"{address}: no certificates are named for TLS; name them as docs/scaling.md says"
            ) from None
        except (OSError, ValueError) as error:
            raise FarmError(
                f"{address}: no scheduler answers there ({error}); start one with `dask "
                "scheduler`, or render on this machine"
            ) from None
        if self._local is not None and processes:
            self._client.register_plugin(Background())
        self._counted = (0.0, 0)

    def close(self) -> None:
        """Stop the workers of this machine; those of a scheduler stay."""
        self._client.close()
        if self._local is not None:
            self._local.close()

    @property
    def summary(self) -> str:
        """Where the work is done, in words."""
        count = self.threads()
        where = "on this machine" if self.address is None else f"at {self.address}"
        return f"{where}, {count} worker{'' if count == 1 else 's'}"

    def threads(self) -> int:
        """Chunks that can be worked on at a time; 0 while no worker is there."""
        asked, count = self._counted
        if time.monotonic() - asked > COUNTED_SECONDS:
            try:
                count = sum(self._client.nthreads().values())
            except (OSError, RuntimeError, TypeError):  # the scheduler does not answer
                count = 0
            self._counted = (time.monotonic(), count)
        return count

    def on_each(self, work: Callable[[], Any]) -> list[Any]:
        """What `work` returns in each worker's process."""
        return list(self._client.run(work).values())

    def submit(self, work: Callable[..., Any], *arguments: Any) -> "Future[Any]":
        """Submit a task to a worker."""
        return self._client.submit(work, *arguments, pure=False, retries=0)

    def cancel(self, futures: "list[Future[Any]]") -> None:
        """Cancel tasks that have not begun."""
        self._client.cancel(futures, force=True)

    @contextmanager
    def subscribed(self, topic: str, handle: Callable[[Any], None]) -> Iterator[None]:
        """Call `handle` with what workers log under `topic`."""
        self._client.subscribe_topic(topic, lambda event: handle(event[1]))
        try:
            yield
        finally:
            self._client.unsubscribe_topic(topic)


def unique_topic() -> str:
    """A topic that no other render uses."""
    return f"yearning-{os.getpid()}-{time.time_ns()}"
