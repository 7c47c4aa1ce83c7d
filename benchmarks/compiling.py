"""Seconds that each kernel takes to compile, from an empty cache: `python -m benchmarks.compiling`.

A kernel's own seconds leave out those of the kernels it calls.
"""

import tempfile
import time
from collections import Counter

from numba import config
from numba.core import event


class Stopwatch(event.Listener):
    """Own seconds and signatures of each kernel that is compiled."""

    def __init__(self) -> None:
        self.seconds: Counter[str] = Counter()
        self.signatures: Counter[str] = Counter()
        self._running: list[list[float]] = []

    def on_start(self, event: event.Event) -> None:
        """A kernel's compilation begins, within another's or not."""
        self._running.append([time.perf_counter(), 0.0])

    def on_end(self, event: event.Event) -> None:
        """It ends: what it took counts as the outer one's callees."""
        began, inner = self._running.pop()
        took = time.perf_counter() - began
        if self._running:
            self._running[-1][1] += took
        kernel = event.data["dispatcher"].py_func
        name = f"{kernel.__module__}.{kernel.__qualname__}"
        self.seconds[name] += took - inner
        self.signatures[name] += 1


def run(shown: int = 25) -> None:
    """Print the sum, and the kernels that take longest."""
    from yearning.warm import warm  # once numba knows where to keep its cache

    watch = Stopwatch()
    began = time.process_time()
    with event.install_listener("numba:compile", watch):
        warm()
    total = time.process_time() - began
    print(f"{len(watch.seconds)} kernels, {sum(watch.signatures.values())} signatures")
    print(f"{sum(watch.seconds.values()):.0f} s compiling, {total:.0f} s of processor time in all")
    for name, took in watch.seconds.most_common(shown):
        print(f"  {took:6.1f} s  {watch.signatures[name]:2d} x  {name}")


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as folder:
        config.CACHE_DIR = folder
        run()
