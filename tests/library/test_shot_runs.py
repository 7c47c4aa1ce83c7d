"""Shots of a reel share the workers, and end in their order."""

import threading

import pytest

from tests.farm.test_ahead import CHUNK, LOOK, gate  # noqa: F401 (a fixture)
from yearning.farm.cluster import Cluster
from yearning.farm.errors import Halted
from yearning.farm.job import Job
from yearning.library.shot_runs import ShotRuns
from yearning.media.decode.clip import open_clip


@pytest.fixture
def jobs(clip, tmp_path):
    """Three jobs of 3, 6 and 3 frames, of which the second has two chunks."""
    made = []
    with open_clip(clip) as footage:
        for number, frames in enumerate((3, CHUNK + 2, 3)):
            out = tmp_path / f"{number}.mkv"
            job = Job.of(footage, LOOK, out, assets=tmp_path, last=frames - 1, chunk=CHUNK)
            made.append((job, tmp_path / "pieces" / str(number)))
    return made


@pytest.fixture
def farm():
    with Cluster(2, processes=False) as started:
        yield started


def test_the_next_is_begun_when_one_leaves_workers_free(jobs, farm, gate):  # noqa: F811
    ended = []
    with ShotRuns(jobs, farm, lambda: False) as runs:

        def all_in_turn():
            for number in range(3):
                runs.render(number, lambda progress: None)
                ended.append(number)

        rendering = threading.Thread(target=all_in_turn)
        rendering.start()
        gate.wait_for((0, 0), (1, 0))
        assert len(gate.begun) == 2  # there are two workers
        gate.let((1, 0))
        gate.wait_for((1, 1))
        gate.let((1, 1))
        gate.wait_for((2, 0))
        assert ended == []
        gate.let_all()
        rendering.join(timeout=60)
    assert ended == [0, 1, 2]
    assert sorted(gate.begun) == [(0, 0), (1, 0), (1, 1), (2, 0)]
    for (job, folder), frames in zip(jobs, (3, CHUNK + 2, 3), strict=True):
        with open_clip(job.out) as movie:
            assert movie.frames == frames
        assert not folder.exists()


def test_all_are_broken_off_and_go_on_from_what_is_finished(jobs, farm, gate):  # noqa: F811
    stopped = threading.Event()
    with ShotRuns(jobs, farm, stopped.is_set) as runs:
        told = []

        def first():
            with pytest.raises(Halted):
                runs.render(0, lambda progress: None)
            told.append("halted")

        rendering = threading.Thread(target=first)
        rendering.start()
        gate.wait_for((0, 0), (1, 0))
        stopped.set()
        gate.let_all()
        rendering.join(timeout=60)
        assert told == ["halted"]
    with ShotRuns(jobs, farm, lambda: False) as runs:
        for number in range(3):
            runs.render(number, lambda progress: None)
    for (job, _), frames in zip(jobs, (3, CHUNK + 2, 3), strict=True):
        with open_clip(job.out) as movie:
            assert movie.frames == frames
