"""Work in a thread of its own that can be given up."""

import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import partial
from typing import Generic, TypeVar


class BackgroundWork:
    """A function that runs in a thread, from now on.

    Args:
        name: of the thread.
        work: is given an event, and ends soon after that is set.
    """

    def __init__(self, name: str, work: Callable[[threading.Event], None]) -> None:
        self._cancelled = threading.Event()
        self._thread = threading.Thread(
            target=work, args=(self._cancelled,), name=name, daemon=True
        )
        self._thread.start()

    def cancel(self) -> None:
        """Give it up, and wait until it has ended."""
        self._cancelled.set()
        self._thread.join()


@dataclass
class Progress:
    """How far work on a clip is."""

    clip: int | None
    title: str
    done: int = 0
    total: int = 0
    rate: float = 0.0
    """Steps a second."""
    file: str | None = None
    """Under which name what it makes is kept, once it is done."""
    error: str | None = None
    stopped: bool = False
    """It was stopped before its end."""
    running: bool = True

    def track_progress(
        self, steps: Iterable[int], cancelled: threading.Event, preview_lock: threading.Lock
    ) -> None:
        """Take steps until there are no more, or it is cancelled.

        Args:
            steps: yield how many are done.
            cancelled: ends it after the step in hand.
            preview_lock: between two steps it waits while another holds this.
        """
        began = time.monotonic()
        for done in steps:
            self.done = done
            self.rate = done / max(time.monotonic() - began, 1e-6)
            if cancelled.is_set():
                return
            with preview_lock:
                pass


P = TypeVar("P", bound=Progress)


class LatestWork(Generic[P]):
    """Works at one thing at a time: what was asked for last. `close` it at the end.

    Args:
        name: of the thread.
    """

    def __init__(self, name: str) -> None:
        self._name = name
        self._work: BackgroundWork | None = None
        self._lock = threading.Lock()
        self.status: P | None = None
        """Of what is worked at, or was last."""

    def start(self, status: P, work: Callable[[P, threading.Event], None]) -> P:
        """Begin work in a thread, in place of what is worked at.

        Args:
            status: of the new work; returned.
            work: is given the status and the event that cancels it.
        """
        with self._lock:
            self._cancel()
            self.status = status
            self._work = BackgroundWork(self._name, partial(work, status))
            return status

    def stop(self) -> None:
        """Give up what is worked at."""
        with self._lock:
            if self.status is not None and self.status.running:
                self.status.stopped = True
            self._cancel()

    def close(self) -> None:
        """Give up what is worked at without a word, and wait until its thread has ended."""
        with self._lock:
            self._cancel()

    def _cancel(self) -> None:
        if self._work is not None:
            self._work.cancel()
