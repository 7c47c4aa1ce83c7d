"""Arrays kept between calls, bounded in bytes."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float32]


class PictureCache:
    """Arrays by key, least recently used out first, bounded in bytes. Safe between threads."""

    def __init__(self, most_bytes: int) -> None:
        self.most_bytes = most_bytes
        self._held: OrderedDict[Hashable, Array] = OrderedDict()
        self._making: dict[Hashable, threading.Event] = {}
        self._bytes = 0
        self._lock = threading.Lock()

    def get(self, key: Hashable) -> Array | None:
        """The array kept under `key`, or None."""
        with self._lock:
            array = self._held.get(key)
            if array is not None:
                self._held.move_to_end(key)
            return array

    def clear(self) -> None:
        """Keep nothing of what is kept."""
        with self._lock:
            self._held.clear()
            self._bytes = 0

    def once(self, key: Hashable, make: Callable[[], Array]) -> Array:
        """The array kept under `key`, made if it is not there, by one thread for all that wait."""
        while (array := self.get(key)) is None:
            with self._lock:
                made = self._making.get(key)
                mine = made is None
                if made is None:
                    made = self._making[key] = threading.Event()
            if not mine:
                made.wait()
                continue
            try:
                return self.put(key, make())
            finally:
                with self._lock:
                    del self._making[key]
                made.set()
        return array

    def put(self, key: Hashable, array: Array) -> Array:
        """Keep `array`, made read-only, under `key`; drop the oldest beyond the bound."""
        array.flags.writeable = False
        with self._lock:
            if key not in self._held:
                self._held[key] = array
                self._bytes += array.nbytes
            while self._bytes > self.most_bytes and len(self._held) > 1:
                self._bytes -= self._held.popitem(last=False)[1].nbytes
            return array
