"""Work in a thread of its own that can be given up."""

import threading
from collections.abc import Callable


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
