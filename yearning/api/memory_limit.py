"""The server's memory kept below a limit: what is kept gives way to what is worked at.

A budget that counts pictures misses what the process takes beside them: decoders, encoders, planes
at work, and memory that is free but stays with the C library. So the process itself is measured.
"""

import os
import threading
from pathlib import Path
from typing import Any

from yearning.core.buffers import return_free_memory
from yearning.core.cache import Cache

WORKING_BYTES = 400_000_000
"""Of the process beside what it took when it was started and what is kept."""

CHECK_SECONDS = 0.25

MARGIN = 0.05
"""Of the budget, freed beyond what has to be: so that it need not be freed at every check."""

STATM = Path("/proc/self/statm")
"""Pages of this process, the resident ones second: proc(5)."""


def resident_bytes() -> int:
    """Return the memory that this process has."""
    return int(STATM.read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")


class MemoryLimit:
    """Frees memory whenever the process has more than its limit. `close` it at the end.

    First what is free goes back to the system; then the least recently used of what is kept goes.
    Work is never refused: where it needs more than the limit by itself, nothing is kept meanwhile.

    Args:
        cache: what is kept.

    Attributes:
        max_bytes: the limit: what the process has now, the cache's budget and `WORKING_BYTES`.
    """

    def __init__(self, cache: Cache[Any]) -> None:
        self._cache = cache
        self.max_bytes = resident_bytes() + cache.max_bytes + WORKING_BYTES
        self._closed = threading.Event()
        self._thread = threading.Thread(target=self._watch, name="memory limit", daemon=True)
        self._thread.start()

    def _watch(self) -> None:
        while not self._closed.wait(CHECK_SECONDS):
            self.enforce()

    def enforce(self) -> None:
        """Free memory if the process has more than its limit."""
        if resident_bytes() <= self.max_bytes:
            return
        return_free_memory()
        excess = resident_bytes() - self.max_bytes
        if excess > 0:
            margin = int(MARGIN * self._cache.max_bytes)
            self._cache.shrink(self._cache.used_bytes - excess - margin)
            return_free_memory()

    def close(self) -> None:
        """End watching."""
        self._closed.set()
        self._thread.join()
