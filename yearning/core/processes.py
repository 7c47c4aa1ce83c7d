"""Processes that are started without importing the program that they are started from.

One that Python starts imports the main module again, for functions that were defined there. A
script that renders without `if __name__ == "__main__"` would so begin again in each of them, and
never end; what they are to do is always defined in this package.
"""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from multiprocessing import spawn
from typing import Any

_lock = threading.Lock()
_starting = 0
_prepared = spawn.get_preparation_data


def _without_main(name: str) -> dict[str, Any]:
    """What a process is told, without where the main module is."""
    told: dict[str, Any] = _prepared(name)
    return {key: value for key, value in told.items() if not key.startswith("init_main")}


@contextmanager
def main_left_out() -> Iterator[None]:
    """Processes started within do not import the main module; of threads at once, all."""
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
