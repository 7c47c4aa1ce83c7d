"""Workers' processes, started without importing the program that they are started from.

A process that Python spawns imports the main module again, for functions that were defined there. A
script that renders without `if __name__ == "__main__"` would so begin again in each worker, and
never end; what is rendered here is always defined in this package.
"""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from multiprocessing import spawn
from typing import Any

from distributed import Nanny, Status

_lock = threading.Lock()
_starting = 0
_prepared = spawn.get_preparation_data


def _without_main(name: str) -> dict[str, Any]:
    """What a spawned process is told, without where the main module is."""
    told: dict[str, Any] = _prepared(name)
    return {key: value for key, value in told.items() if not key.startswith("init_main")}


@contextmanager
def _main_left_out() -> Iterator[None]:
    global _starting
    with _lock:
        _starting += 1
        spawn.get_preparation_data = _without_main
    try:
        yield
    finally:
        with _lock:
            _starting -= 1
            if not _starting:
                spawn.get_preparation_data = _prepared


class WorkerHost(Nanny):
    """Starts one worker's process, and starts it again if it dies."""

    async def instantiate(self) -> Status:
        """Start the process."""
        with _main_left_out():
            return await super().instantiate()
