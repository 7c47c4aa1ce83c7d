"""Values kept between calls: one budget of bytes over caches of all kinds."""

import threading
from collections.abc import Callable, Hashable
from typing import Any, Generic, TypeVar

import numpy as np
from cachetools import LRUCache

Value = TypeVar("Value")

OVERHEAD_BYTES = 1024
"""Counted for a value that does not say how large it is."""


def _size_of(value: Any) -> int:
    """Bytes of an array, of a bytes object, or of what has `nbytes`."""
    if isinstance(value, bytes):
        return len(value)
    return int(getattr(value, "nbytes", OVERHEAD_BYTES))


class _Store:
    """What all regions of a budget share."""

    def __init__(self, max_bytes: int) -> None:
        self.values: LRUCache[tuple[str, Hashable], Any] = LRUCache(max_bytes, getsizeof=_size_of)
        self.in_progress: dict[tuple[str, Hashable], threading.Event] = {}
        self.lock = threading.Lock()


class Cache(Generic[Value]):
    """Values by key; the least recently used go first when the budget is full. Thread-safe.

    Arrays that are put in become read-only, since they are shared. Caches made by `region` have
    keys of their own and share the budget of the one they were made from.

    Args:
        max_bytes: the budget; a value larger than that is not kept at all.

    >>> cache = Cache[bytes](8)
    >>> cache.put("a", b"12345")
    b'12345'
    >>> cache.put("b", b"12345")
    b'12345'
    >>> cache.get("a") is None
    True
    """

    def __init__(self, max_bytes: int) -> None:
        self._store = _Store(max_bytes)
        self._name = ""

    def region(self, name: str) -> "Cache[Any]":
        """A cache with keys of its own under the same budget; the same for the same name."""
        region: Cache[Any] = Cache.__new__(Cache)
        region._store, region._name = self._store, name
        return region

    @property
    def max_bytes(self) -> int:
        """The budget of all regions together."""
        return int(self._store.values.maxsize)

    @property
    def used_bytes(self) -> int:
        """What all regions together hold."""
        with self._store.lock:
            return int(self._store.values.currsize)

    def get(self, key: Hashable) -> Value | None:
        """The value under `key`, or None."""
        with self._store.lock:
            return self._store.values.get((self._name, key))

    def put(self, key: Hashable, value: Value) -> Value:
        """Keep a value under `key` and return it.

        Args:
            key: of this region.
            value: an array becomes read-only.
        """
        if isinstance(value, np.ndarray):
            value.flags.writeable = False
        with self._store.lock:
            if _size_of(value) <= self._store.values.maxsize:
                self._store.values[self._name, key] = value
        return value

    def get_or_make(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """Return the value under `key`, made if it is not there: by one thread, for all that wait.

        Args:
            key: of this region.
            make: is called without a lock held; what it raises is raised here.
        """
        own = (self._name, key)
        while (value := self.get(key)) is None:
            with self._store.lock:
                in_progress = self._store.in_progress.get(own)
                if in_progress is None:
                    done = self._store.in_progress[own] = threading.Event()
            if in_progress is not None:
                in_progress.wait()
                continue
            try:
                return self.put(key, make())
            finally:
                with self._store.lock:
                    del self._store.in_progress[own]
                done.set()
        return value

    def discard(self, key: Hashable) -> None:
        """Forget the value under `key`, if there is one."""
        with self._store.lock:
            self._store.values.pop((self._name, key), None)

    def shrink(self, max_bytes: int) -> None:
        """Forget values of all regions, least recently used first, down to `max_bytes`."""
        with self._store.lock:
            while self._store.values and self._store.values.currsize > max_bytes:
                self._store.values.popitem()

    def keys(self) -> list[Hashable]:
        """The keys of this region."""
        with self._store.lock:
            return [key for name, key in self._store.values if name == self._name]

    def clear(self) -> None:
        """Forget all values of this region."""
        for key in self.keys():
            self.discard(key)


def enlarge_cache(cache: "LRUCache[Any, Value]", maxsize: int) -> "LRUCache[Any, Value]":
    """Return a cache of at least `maxsize` with the same values: itself if it has room.

    Args:
        cache: the one that may be too small.
        maxsize: in its own measure.
    """
    if maxsize <= cache.maxsize:
        return cache
    larger: LRUCache[Any, Value] = LRUCache(maxsize)
    larger.update(cache)
    return larger
