"""Numba's cache of compiled kernels: filled by several processes at once, and never out of date.

Numba writes a kernel's index, then the file it names, and takes the next free number for it: two
processes that compile the same kernel for different types may take the same number, and then load
the machine code of the other's types. Here a kernel's index is locked from the moment that it is
found not to be compiled until it is: another process waits, and loads what the first has made.

A compiled kernel holds those it calls and the constants it reads, but numba asks only whether the
kernel's own file has changed. Here it asks for all files of this package that it imports, too.
"""

import fcntl
import hashlib
import re
from functools import cache
from pathlib import Path
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
            lock = self._hold_lock(kind)
            found = super().load(key)  # type: ignore[no-untyped-call]
            if found is None and kind == fcntl.LOCK_EX:
                self._compiling = lock
            elif lock is not None:
                lock.close()
            if found is not None:
                return found
        return None

    def save(self, key: Any, data: Any) -> None:
        """Save compiled code under a key, and let others have it.

        Args:
            key: numba's.
            data: the code.
        """
        self._compiling = self._compiling or self._hold_lock(fcntl.LOCK_EX)
        super().save(key, data)  # type: ignore[no-untyped-call]
        self._unlock()

    def _hold_lock(self, kind: int) -> IO[bytes] | None:
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


PACKAGE = Path(__file__).parents[1]

IMPORTS = re.compile(rf"^from ({PACKAGE.name}[\w.]*) import (\([^)]*\)|[^\n]*)", re.MULTILINE)
"""Lines at a file's left edge: what is imported within a function is not in its kernels."""


@cache
def _read(file: Path) -> tuple[bytes, tuple[Path, ...]]:
    """A file's digest, and the files of this package that it imports."""
    text = file.read_text(encoding="utf-8")
    found = []
    for module, names in IMPORTS.findall(text):
        place = PACKAGE.parent.joinpath(*module.split("."))
        words = [name.split() for name in names.strip("()").split(",")]
        inner = [place / f"{word[0]}.py" for word in words if word]
        found += [path for path in (place.with_suffix(".py"), *inner) if path.is_file()]
    return hashlib.sha256(text.encode()).digest(), tuple(found)


@cache
def source_digest(file: Path) -> str:
    """SHA-256 of a file and of all files of this package that it imports, directly or not."""
    seen: set[Path] = set()
    waiting = [file]
    while waiting:
        one = waiting.pop()
        if one not in seen:
            seen.add(one)
            waiting += _read(one)[1]
    whole = hashlib.sha256()
    for one in sorted(seen):
        whole.update(_read(one)[0])
    return whole.hexdigest()


def _source_stamp(self: Any) -> str:
    """What numba compares to see whether a cached kernel is of the code as it is."""
    return source_digest(Path(self._py_file))


caching.IndexDataCacheFile = LockedCacheFile  # type: ignore[misc]
caching._SourceFileBackedLocatorMixin.get_source_stamp = _source_stamp  # type: ignore[method-assign]
