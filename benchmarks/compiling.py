"""Compiling every kernel, from an empty cache.

`python -m benchmarks.compiling` prints each kernel's own seconds, without those of the kernels it
calls; with `--keep FILE` they are kept, with `--before FILE` shown beside those kept earlier.
"""

import argparse
import json
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from numba import config
from numba.core import event

from benchmarks.report import Effort, Row, Target


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


def _measure_compiling(jobs: int | None) -> dict[str, Any]:
    """Compile all kernels, or those of the last jobs, in this process."""
    with tempfile.TemporaryDirectory() as folder:
        config.CACHE_DIR = folder
        from yearning import warm  # once numba knows where to keep its cache

        watch = Stopwatch()
        began = time.process_time()
        with event.install_listener("numba:compile", watch):
            for job in warm.jobs()[-(jobs or 0) :]:
                job.run()
        return {
            "processor": time.process_time() - began,
            "seconds": watch.seconds,
            "signatures": watch.signatures,
        }


def run(effort: Effort) -> Iterator[Row]:
    """All in a process of its own, with a cache of its own."""
    with tempfile.NamedTemporaryFile() as kept:
        words = [sys.executable, "-m", "benchmarks.compiling", "--keep", kept.name]
        words += ["--jobs", "1"] if effort.is_smoke else []
        subprocess.run(words, check=True, stdout=subprocess.DEVNULL)
        found = json.loads(Path(kept.name).read_text())
    yield Row("processor time", found["processor"], "s", target=Target("at most", 90, "found"))
    yield Row("kernels", len(found["signatures"]), "")
    yield Row("signatures", sum(found["signatures"].values()), "")


def table(now: dict[str, Any], before: dict[str, Any] | None, shown: int) -> Iterator[str]:
    """Yield lines of the kernels that take longest, or took longest before, and of the sums.

    Args:
        now: as `_measure_compiling` gave it.
        before: of an earlier run; None for none.
        shown: kernels that have a line.
    """
    rows = [now] if before is None else [before, now]
    yield "  ".join(f"{what:>13}" for what in ("before", "now")[-len(rows) :]) + "\n"
    names = sorted(
        {name for row in rows for name in row["seconds"]},
        key=lambda name: -max(row["seconds"].get(name, 0) for row in rows),
    )
    for name in names[:shown]:
        cells = (
            f"{row['seconds'].get(name, 0):7.1f} s {row['signatures'].get(name, 0):2d} x"
            for row in rows
        )
        yield f"{'  '.join(cells)}  {name}\n"
    for says, of in (("kernels", "seconds"), ("signatures", "signatures")):
        sums = (len(r[of]) if says == "kernels" else sum(r[of].values()) for r in rows)
        yield f"{'  '.join(f'{each:13d}' for each in sums)}  {says}\n"
    took = (f"{row['processor']:7.1f} s     " for row in rows)
    yield f"{'  '.join(took)}  processor time in all\n"


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(prog="python -m benchmarks.compiling", description=__doc__)
    parser.add_argument("--keep", type=Path, metavar="FILE", help="where the figures go, as JSON")
    parser.add_argument("--before", type=Path, metavar="FILE", help="figures kept earlier")
    parser.add_argument("--jobs", type=int, help="the last so many jobs alone")
    asked = parser.parse_args()
    now = _measure_compiling(asked.jobs)
    if asked.keep:
        asked.keep.write_text(json.dumps(now))
    before = json.loads(asked.before.read_text()) if asked.before else None
    print("".join(table(now, before, 25)), end="")


if __name__ == "__main__":
    main()
