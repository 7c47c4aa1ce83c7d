"""Whether a command was interrupted."""

import signal
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager


@contextmanager
def interrupts() -> Iterator[Callable[[], bool]]:
    """Whether there was an interrupt; as an exception it would be lost inside a finalizer."""
    met = threading.Event()
    before = signal.signal(signal.SIGINT, lambda *_: met.set())
    try:
        yield met.is_set
    finally:
        signal.signal(signal.SIGINT, before)
