"""Benchmarks run, and what they find is written as a table."""

import math
from itertools import pairwise
from types import ModuleType

import pytest

from benchmarks import report
from benchmarks.__main__ import BENCHMARKS, SLOW
from benchmarks.report import Row, Target, against, cells, page, table
from benchmarks.scale import STORAGES, WORKERS, Costs, Storage, best, estimate
from tests.conftest import encode
from yearning.core.picture import Size
from yearning.demo import MEDIA

OF_PROGRAMS = {"command_line", "page", "preview", "render", "scale"}
"""These start servers, browsers, workers and commands: a minute each, and only `make bench` runs
them."""


REAL_FOOTAGE = {"mattes", "tracking"}
"""What these find is compared with what is known of the demo's clips."""


@pytest.fixture(scope="module")
def small_media(tmp_path_factory):
    """Small clips by the names of the demo's."""
    folder = tmp_path_factory.mktemp("media")
    for path in MEDIA.glob("*.mp4"):
        encode(folder / path.name, "libx264", frames=96, size=Size(320, 180), rate=24, tag=1)
    return folder


@pytest.mark.parametrize("name", [name for name in BENCHMARKS if name not in OF_PROGRAMS])
def test_a_benchmark_runs_and_gives_rows(name, small_media, monkeypatch):
    if hasattr(BENCHMARKS[name], "MEDIA") and name not in REAL_FOOTAGE:
        monkeypatch.setattr(BENCHMARKS[name], "MEDIA", small_media)
    rows = list(BENCHMARKS[name].run(report.EFFORTS["smoke"]))
    assert len(rows) > 0
    for row in rows:
        assert math.isfinite(row.found)
        assert (row.peer == "") == (row.peer_found is None) == (row.ratio is None)
        assert all("|" not in cell for cell in cells(row))
        if row.target is not None:
            row.target.is_met(row)
    named = [(row.what, row.peer) for row in rows]
    assert len(set(named)) == len(named)


def test_what_a_quick_run_leaves_out_is_there():
    assert set(SLOW) < set(BENCHMARKS)


MET = Target("at most", 3, "ratio")


@pytest.mark.parametrize(
    ("row", "expected"),
    [
        (Row("start", 2.71, "s"), "| start | 2.71 s |  |  |  |"),
        (against("leak", 9.2, "a copy", 4.6, target=MET),
         "| leak | 9.20 ms | a copy: 4.60 ms | 2.00 | at most 3 |"),
        (against("leak", 23, "a copy", 4.6, target=MET),
         "| leak | 23.0 ms | a copy: 4.60 ms | **5.00** | at most 3 |"),
        (against("leak", 23, "a copy", 4.6, ratio=2.9, target=MET),
         "| leak | 23.0 ms | a copy: 4.60 ms | 2.90 | at most 3 |"),
        (Row("play", 21.3, "frames/s", target=Target("at least", 24, "found")),
         "| play | **21.3 frames/s** |  |  | at least 24 frames/s |"),
        (Row("memory", 2600, "MB", target=Target("at most", 2500, "found")),
         "| memory | **2600 MB** |  |  | at most 2500 MB |"),
    ],
)  # fmt: skip
def test_a_row_says_its_peer_ratio_and_target_and_a_miss_is_bold(row, expected):
    assert list(table([row]))[2:] == [expected]


def test_the_page_has_a_section_for_each_benchmark_and_says_where_it_was_measured():
    module = ModuleType("leaks", "Leaks at 1080p.\n\nOf warm light.\n")
    written = page([(module, [Row("one", 1.0)])], report.EFFORTS["full"])
    assert "## Leaks at 1080p\n\nOf warm light.\n\n| what |" in written
    assert "Written by `make bench`; nothing here is typed by hand" in written
    assert "{" not in written


COSTS = Costs(0.1, 0.2, 0.005, 1e-4, 0.001, 16e3, 150e3)


def test_a_simulated_worker_alone_takes_the_sum_of_all_it_does():
    frames = 48 * 100
    found = estimate(COSTS, STORAGES[1], 1, 48, frames)
    each = 0.2 + 48 * 0.1
    assert found.chunks == pytest.approx(100 * each, rel=0.05)  # chunks vary
    assert found.join == pytest.approx(frames * max(0.001, 2 * 150e3 / 125e6))


def test_more_workers_are_quicker_until_storage_or_the_scheduler_is_full():
    for storage in STORAGES:
        times = [best(COSTS, storage, workers)[1].whole for workers in WORKERS]
        assert all(more < 1.05 * few for few, more in pairwise(times))
        assert times[1] < 0.2 * times[0]
    narrow = Storage("narrow", 1e6, 1e6)
    few, many = (estimate(COSTS, narrow, workers, 48, 48_000).chunks for workers in (10, 100))
    assert many == pytest.approx(few, rel=0.1)  # both wait for storage: 166 kB a frame
    assert few == pytest.approx(48_000 * 166e3 / 1e6, rel=0.1)
    slow = COSTS._replace(task=1.0)
    assert estimate(slow, STORAGES[2], 1000, 12, 12_000).chunks > 1000
    assert estimate(slow, STORAGES[2], 1000, 120, 12_000).chunks < 150
