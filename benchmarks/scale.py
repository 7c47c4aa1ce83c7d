"""A feature of two hours on many machines, on paper.

Its frames at 1080p through five steps, by workers like this machine over shared storage: what a
frame, a chunk, a task and a report cost is measured here, the rest is computed. The peer is one
worker's time divided among them. `python -m benchmarks.scale` has every size of chunk; see
[scaling.md](scaling.md).
"""

import argparse
import heapq
import math
import random
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median
from typing import Any, NamedTuple

from distributed import Future, get_worker

from benchmarks.render import CLIP, FIVE_STEPS
from benchmarks.report import Effort, Row, against
from benchmarks.timing import seconds
from yearning.core.look.document import parse_look
from yearning.farm import pieces
from yearning.farm.chunk import PROGRESS_SECONDS, render_chunk
from yearning.farm.cluster import Cluster, unique_topic
from yearning.farm.job import Job
from yearning.farm.run import run as run_job
from yearning.media.decode.footage import Footage
from yearning.media.encode.movie import join
from yearning.media.encode.segment import Piece

FRAMES = 2 * 3600 * 24
WORKERS = (1, 10, 100, 1000)
JOINED = (1, 12)
"""How often a segment is joined to itself."""

CHUNKS = (12, 24, 48, 96, 192, 384, 768)
SPREAD = 0.1
"""Of the times of chunks, as a share: grainy scenes take longer to encode."""


class Costs(NamedTuple):
    """What things cost, in seconds and bytes."""

    frame: float
    """To decode, evaluate and encode one."""
    chunk: float
    """To begin one and finish its file: opening, seeking, the frames around it, its digest."""
    task: float
    """The scheduler's and the client's share of handing one out and hearing of its end."""
    report: float
    """Their share of a word on how far a chunk is."""
    join: float
    """To copy one frame's packets into the result."""
    read_bytes: float
    """Of the clip, a frame."""
    written_bytes: float
    """Of the result, a frame."""


class Storage(NamedTuple):
    """What shared storage gives, in bytes a second."""

    name: str
    total: float
    client: float


STORAGES = (
    Storage("1 Gbit/s", 125e6, 125e6),
    Storage("10 Gbit/s", 1.25e9, 125e6),
    Storage("100 Gbit/s", 12.5e9, 1.25e9),
)


class Estimate(NamedTuple):
    """A whole render's time, in seconds."""

    chunks: float
    join: float
    scheduler: float
    """The share of the time in which the scheduler is at work."""

    @property
    def whole(self) -> float:
        """Chunks, then the join."""
        return self.chunks + self.join


def estimate(
    costs: Costs, storage: Storage, workers: int, chunk: int, frames: int = FRAMES
) -> Estimate:
    """Return how long a render takes, by events in order.

    A worker reads and writes while it computes, so a frame takes the longer of the two; storage is
    shared evenly. The scheduler hands out one task at a time, and is slowed by the reports it
    passes on meanwhile. The result is joined by one process at the end.

    Args:
        costs: of a chunk, a frame and a task.
        storage: that all workers share.
        workers: how many.
        chunk: frames of one.
        frames: of the render.
    """
    share = min(storage.client, storage.total / workers)
    frame = max(costs.frame, (costs.read_bytes + costs.written_bytes) / share)
    reports = min(0.99, workers / PROGRESS_SECONDS * costs.report)
    task = costs.task / (1 - reports)
    number = random.Random(1)
    idle = [0.0] * workers
    scheduler, tasks = 0.0, math.ceil(frames / chunk)
    for n in range(tasks):
        scheduler = max(scheduler, heapq.heappop(idle)) + task
        length = min(chunk, frames - n * chunk)
        spread = number.lognormvariate(0, SPREAD)
        heapq.heappush(idle, scheduler + costs.chunk + length * frame * spread)
    chunks = max(idle)
    join = frames * max(costs.join, (costs.written_bytes * 2) / storage.client)
    return Estimate(chunks, join, min(1.0, reports + tasks * costs.task / chunks))


def _nothing() -> None:
    """A task that does nothing."""


def _all_done(futures: list[Future[Any]]) -> None:
    for future in futures:
        future.result()


def _reports(topic: str, count: int) -> None:
    for done in range(count):
        get_worker().log_event(topic, {"chunk": 0, "done": done})


def measure_costs(effort: Effort) -> Costs:
    """The costs on this machine, from chunks of two lengths and an idle scheduler."""
    look = parse_look(FIVE_STEPS)
    short, long = (2, 4) if effort.is_smoke else (4, 28)
    with tempfile.TemporaryDirectory() as name, Footage(CLIP) as footage:
        folder = Path(name)

        repeats = effort.rounds(3)

        def time_render(frames: int, cluster: Cluster) -> float:
            out = folder / f"{frames}.mp4"
            job = Job.of(footage, look, out, first=48, last=47 + 2 * frames, chunk=frames)
            return seconds(lambda: run_job(job, folder / "pieces", cluster)) / 2

        with Cluster(1) as cluster:
            time_render(short, cluster)
            times = {
                n: median(time_render(n, cluster) for _ in range(repeats)) for n in (short, long)
            }
            frame = (times[long] - times[short]) / (long - short)
            count = max(10, effort.rounds(500))
            task = seconds(lambda: _all_done([cluster.submit(_nothing) for _ in range(count)]))
            report = _report_seconds(cluster, count)
        join = _join_seconds(footage, folder, long, repeats)
        return Costs(
            frame=max(frame, 1e-3),
            chunk=max(times[short] - short * frame, 0),
            task=task / count,
            report=report,
            join=join,
            read_bytes=CLIP.stat().st_size / footage.frames,
            written_bytes=(folder / f"{long}.mp4").stat().st_size / (2 * long),
        )


def _report_seconds(cluster: Cluster, count: int) -> float:
    heard: list[object] = []
    topic = unique_topic()
    with cluster.subscribe(topic, heard.append):
        began = time.perf_counter()
        cluster.submit(_reports, topic, count).result()
        while len(heard) < count:
            time.sleep(1e-3)
        return (time.perf_counter() - began) / count


def _join_seconds(footage: Footage, folder: Path, frames: int, repeats: int) -> float:
    """A frame's, from one segment joined to itself a few and many times over."""
    job = Job.of(footage, parse_look(FIVE_STEPS), folder / "joined.mp4", last=frames - 1)
    pieces.write_plan(folder / "joining", job)
    line = render_chunk(folder / "joining", 0, 2)
    segment = Piece(folder / "joining" / line.file, frames)

    def time_joining(times: int) -> float:
        return seconds(lambda: join(job.out, footage, 0, job.output, [segment] * times))

    few, many = (median(time_joining(times) for _ in range(repeats)) for times in JOINED)
    return max((many - few) / (frames * (JOINED[1] - JOINED[0])), 1e-6)


def best(costs: Costs, storage: Storage, workers: int) -> tuple[int, Estimate]:
    """Return the size of chunk that is quickest, and how long it takes.

    Args:
        costs: of a chunk, a frame and a task.
        storage: that all workers share.
        workers: how many.
    """
    found = {chunk: estimate(costs, storage, workers, chunk) for chunk in CHUNKS}
    chunk = min(found, key=lambda chunk: found[chunk].whole)
    return chunk, found[chunk]


def run(effort: Effort) -> Iterator[Row]:
    """What was measured, then the time by workers and storage."""
    costs = measure_costs(effort)
    yield Row("a frame", 1e3 * costs.frame)
    yield Row("a chunk's beginning and end", 1e3 * costs.chunk)
    yield Row("a task", 1e3 * costs.task)
    yield Row("a word on how far a chunk is", 1e3 * costs.report)
    yield Row("joining a frame", 1e3 * costs.join)
    for storage in STORAGES:
        for workers in WORKERS[:2] if effort.is_smoke else WORKERS:
            chunk, found = best(costs, storage, workers)
            usual = estimate(costs, storage, workers, 48)
            ideal = FRAMES * costs.frame / workers / 60
            for what, each in ((f"the best, of {chunk}", found), ("of 48", usual)):
                yield against(
                    f"{workers} workers over {storage.name}, chunks {what}",
                    each.whole / 60, "divided evenly", ideal, "min",
                )  # fmt: skip


def main() -> None:
    """Print every size of chunk by every number of workers, for one storage."""
    parser = argparse.ArgumentParser(prog="python -m benchmarks.scale", description=__doc__)
    parser.add_argument("--total", type=float, default=1250, help="MB/s that storage gives to all")
    parser.add_argument("--client", type=float, default=125, help="MB/s that it gives to one")
    asked = parser.parse_args()
    storage = Storage("as asked", asked.total * 1e6, asked.client * 1e6)
    costs = measure_costs(Effort("full", 1))
    print(costs)
    for workers in WORKERS:
        for chunk in CHUNKS:
            found = estimate(costs, storage, workers, chunk)
            print(
                f"{workers:5} workers, chunks of {chunk:3}: {found.whole / 60:8.1f} min, of them "
                f"{found.join / 60:.1f} joining; the scheduler at work {found.scheduler:.0%}"
            )


if __name__ == "__main__":
    main()
