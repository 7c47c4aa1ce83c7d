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
from yearning.farm.fitness import Needs, difference
from yearning.farm.worker_process import WorkerHost
from yearning.media.resources import Closeable

log = logging.getLogger("yearning")

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
        self._counted: tuple[float, dict[str, int]] = (0.0, {})
        self.left_out: dict[str, str] = {}
        """Workers that are given nothing, by address, and why."""
        self._compared: set[tuple[str, tuple[tuple[str, str], ...]]] = set()

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

    @property
    def note(self) -> str:
        """What is amiss with the workers, and what mends it; empty where nothing is."""
        if self.left_out:
            return "; ".join(f"without {at}: {why}" for at, why in self.left_out.items())
        if self.address is not None and not self.threads():
            return f"no worker is at {self.address}; start one with `dask worker {self.address}`"
        return ""

    def threads(self) -> int:
        """Chunks that can be worked on at a time; 0 while no worker is there."""
        return sum(self._fit().values())

    def _fit(self) -> dict[str, int]:
        """The threads of each worker that is given chunks, by address."""
        asked, found = self._counted
        if time.monotonic() - asked > COUNTED_SECONDS:
            try:
                found = dict(self._client.nthreads())
            except (OSError, RuntimeError, TypeError):  # the scheduler does not answer
                found = {}
            self._counted = (time.monotonic(), found)
        return {address: count for address, count in found.items() if address not in self.left_out}

    def compare_workers(self, needs: Needs) -> FarmError | None:
        """Leave out workers of another version than a render needs; each is looked at once.

        Returns:
            What is said where none is left.
        """
        key = needs.versions
        new = [address for address in self._fit() if (address, key) not in self._compared]
        if not new:
            return None
        try:
            said = self._client.run(
                difference, needs.versions, needs.packages, workers=new, on_error="return"
            )
        except (OSError, RuntimeError, TypeError):  # the scheduler does not answer
            return None
        failed = None
        for address, why in said.items():
            if isinstance(why, OSError):  # it is gone by now
                continue
            self._compared.add((address, key))
            if isinstance(why, BaseException):  # it has not even that function
                why = f"it has another version of Yearning ({type(why).__name__}: {why})"
            if why is not None:
                failed = self.leave_out(address, why)
        return failed

    def leave_out(self, address: str, why: str) -> FarmError | None:
        """Give a worker nothing more.

        Args:
            address: the worker's.
            why: in words, for the user.

        Returns:
            What is said where none is left: all that are left out, and why.
        """
        self.left_out[address] = why
        log.warning("%s is left out: %s", address, why)
        if self._fit():
            return None
        said = "; ".join(f"{worker}: {why}" for worker, why in self.left_out.items())
        return FarmError(f"no worker can do this: {said}; mend that, then go on")

    def on_each(self, work: Callable[[], Any]) -> list[Any]:
        """What `work` returns in each worker's process."""
        return list(self._client.run(work).values())

    def submit(self, work: Callable[..., Any], *arguments: Any) -> "Future[Any]":
        """Submit a task to a worker, to none that is left out."""
        workers = list(self._fit()) if self.left_out else None
        return self._client.submit(work, *arguments, pure=False, retries=0, workers=workers)

    def cancel(self, futures: "list[Future[Any]]") -> None:
        """Cancel tasks that have not begun."""
        self._client.cancel(futures, force=True)

    @contextmanager
    def subscribe(self, topic: str, handle: Callable[[Any], None]) -> Iterator[None]:
        """Call `handle` with what workers log under `topic`.

        Args:
            topic: of a render.
            handle: is called with each message, in a thread.
        """
        self._client.subscribe_topic(topic, lambda event: handle(event[1]))
        try:
            yield
        finally:
            self._client.unsubscribe_topic(topic)


def unique_topic() -> str:
    """A topic that no other render uses."""
    return f"yearning-{os.getpid()}-{time.time_ns()}"
