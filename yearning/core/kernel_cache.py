"""Numba's cache of compiled kernels, where several processes fill it at once.

Numba writes a kernel's index, then the file it names, and takes the next free number for it: two
processes that compile the same kernel for different types may take the same number, and then load
the machine code of the other's types. Here a kernel's index is locked from the moment that it is
found not to be compiled until it is: another process waits, and loads what the first has made.
"""

import fcntl
from typing import IO, Any

from numba.core import caching


class LockedCacheFile(caching.IndexDataCacheFile):
    """The cache of one kernel; a killed process gives its lock back.

    A kernel waits only for those it calls, and none calls itself by way of others: two processes
    never wait for each other.
    """

    _compiling: IO[bytes] | None = None
    """The lock, while this process compiles the kernel."""

    def load(self, key: Any) -> Any:
        """Load what was saved under a key; None where this process is to compile it."""
        self._unlock()  # a compilation that failed saved nothing
        for kind in (fcntl.LOCK_SH, fcntl.LOCK_EX):
            lock = self._locked(kind)
            found = super().load(key)  # type: ignore[no-untyped-call]
            if found is None and kind == fcntl.LOCK_EX:
                self._compiling = lock
            elif lock is not None:
                lock.close()
            if found is not None:
                return found
        return None

    def save(self, key: Any, data: Any) -> None:
        """Save compiled code under a key, and let others have it."""
        self._compiling = self._compiling or self._locked(fcntl.LOCK_EX)
        super().save(key, data)  # type: ignore[no-untyped-call]
        self._unlock()

    def _locked(self, kind: int) -> IO[bytes] | None:
        """The lock, held; None for a cache that can only be read, which nobody writes to."""
        try:
            lock = open(f"{self._index_path}.lock", "ab")  # noqa: SIM115
        except OSError:
            return None
        fcntl.flock(lock, kind)
        return lock

    def _unlock(self) -> None:
        if self._compiling is not None:
            self._compiling.close()
            self._compiling = None


caching.IndexDataCacheFile = LockedCacheFile  # type: ignore[misc]
