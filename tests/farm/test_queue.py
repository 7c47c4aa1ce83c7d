"""The queue goes on whatever becomes of its workers."""

import pytest

from tests.conftest import THREE_STEPS
from tests.waiting import wait_for
from yearning.core.look.document import parse_look
from yearning.farm import queue as queues
from yearning.farm.cluster import Cluster
from yearning.media.decode.probe import probe_file
from yearning.store.content_store import file_digest
from yearning.store.project import Project

LOOK = parse_look({"format": "yearning-look/3", "name": "Three", "steps": THREE_STEPS})


@pytest.fixture
def project(tmp_path, clip):
    made = Project(tmp_path / "work")
    made.clips.add(clip, "Small", file_digest(clip), probe_file(clip).as_json())
    return made


def finish_render(project, queue):
    """A render of two frames, once it has ended."""
    (clip,) = project.clips.all()
    request = {"result": {"last": 1}}
    made = project.renders.new(clip, LOOK, 2, ".mp4", request)
    queue.wake(made.id)
    return wait_for(lambda: project.renders.get(made.id), lambda found: found.ended is not None)


def test_workers_that_do_not_end_as_they_should_do_not_stop_the_next_render(project, monkeypatch):
    monkeypatch.setattr(queues, "IDLE_SECONDS", 0)
    monkeypatch.setattr(queues, "LOOK_SECONDS", 0.02)
    close, refused, logged = Cluster.close, [], []
    monkeypatch.setattr(queues.log, "exception", logged.append)  # Dask silences others' handlers

    def close_late(self):
        close(self)
        refused.append(self)
        raise TimeoutError("the workers do not answer")

    monkeypatch.setattr(Cluster, "close", close_late)
    queue = queues.RenderQueue(project)
    try:
        assert finish_render(project, queue).state == "done"
        wait_for(lambda: refused)
        assert finish_render(project, queue).state == "done"
    finally:
        queue.close()
    assert refused
    assert "the workers did not end as they should" in logged
