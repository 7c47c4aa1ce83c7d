"""Renders that come next are begun on workers that the one in hand leaves free."""

import threading
from functools import partial

import pytest

from tests.conftest import THREE_STEPS
from tests.waiting import wait_for
from yearning.core.look.document import parse_look
from yearning.farm import queue as queues
from yearning.farm.job import Job
from yearning.farm.settings import FarmSettings
from yearning.media.decode.clip import open_clip
from yearning.media.decode.probe import probe_file
from yearning.store.content_store import file_digest
from yearning.store.project import Project

LOOK = parse_look({"format": "yearning-look/3", "name": "Three", "steps": THREE_STEPS})
CHUNK = 4


class Gate:
    """Notes which chunks are begun, and holds each until it is let through."""

    def __init__(self, monkeypatch):
        self.begun = []
        self._open = set()
        self._moved = threading.Condition()
        from yearning.farm import chunk

        rendered = chunk.render_chunk

        def hold_render(folder, number, *words):
            name = (int(folder.name), number)
            with self._moved:
                self.begun.append(name)
                self._moved.notify_all()
                assert self._moved.wait_for(lambda: name in self._open or None in self._open, 60)
            return rendered(folder, number, *words)

        monkeypatch.setattr(chunk, "render_chunk", hold_render)

    def wait_for(self, *names):
        with self._moved:
            assert self._moved.wait_for(lambda: set(names) <= set(self.begun), 60), self.begun

    def let(self, *names):
        with self._moved:
            self._open |= set(names)
            self._moved.notify_all()

    def let_all(self):
        self.let(None)


@pytest.fixture
def gate(monkeypatch):
    made = Gate(monkeypatch)
    yield made
    made.let_all()


@pytest.fixture
def project(tmp_path, clip):
    made = Project(tmp_path / "work")
    made.clips.add(clip, "Small", file_digest(clip), probe_file(clip).as_json())
    made.set_setting("farm", FarmSettings(workers=2).model_dump())
    return made


@pytest.fixture
def queue(project, gate, monkeypatch):
    monkeypatch.setattr(queues, "LOOK_SECONDS", 0.05)
    monkeypatch.setattr(queues.Job, "of", partial(Job.of, chunk=CHUNK))
    made = queues.RenderQueue(project)
    yield made
    gate.let_all()
    made.close()


def ask_for_renders(project, *lengths):
    """Renders of so many frames each, asked for at once; their numbers."""
    (clip,) = project.clips.all()
    requests = [{"result": {"codec": "FFV1", "last": frames - 1}} for frames in lengths]
    made = [
        project.renders.new(clip, LOOK, frames, ".mkv", request)
        for frames, request in zip(lengths, requests, strict=True)
    ]
    return [render.id for render in made]


def render_once(project, number, *states):
    return wait_for(lambda: project.renders.get(number), lambda found: found.state in states)


def test_short_renders_share_the_workers_and_end_in_their_order(project, queue, gate):
    first, second, third = ask_for_renders(project, 3, CHUNK + 2, 3)
    queue.wake(first)
    gate.wait_for((first, 0), (second, 0))
    assert project.renders.get(second).state == "waiting"
    assert len(gate.begun) == 2
    gate.let((second, 0))
    gate.wait_for((second, 1))
    gate.let((second, 1))
    gate.wait_for((third, 0))
    assert project.renders.get(first).state == "running"
    gate.let_all()
    ended = [render_once(project, number, "done") for number in (first, second, third)]
    assert [render.ended for render in ended] == sorted(render.ended for render in ended)
    assert sorted(gate.begun) == [(first, 0), (second, 0), (second, 1), (third, 0)]
    for render, frames in zip(ended, (3, CHUNK + 2, 3), strict=True):
        assert render.seconds > 0.001
        with open_clip(render.path) as movie:
            assert movie.frames == render.done == frames


def test_one_that_is_long_has_all_workers(project, queue, gate):
    first, second = ask_for_renders(project, 4 * CHUNK, 3)
    queue.wake(first)
    gate.wait_for((first, 0), (first, 1))
    gate.let((first, 0), (first, 1), (first, 2))
    gate.wait_for((first, 3), (second, 0))
    assert gate.begun.index((second, 0)) > gate.begun.index((first, 2))
    gate.let_all()
    render_once(project, second, "done")


def test_one_whose_turn_comes_while_it_is_begun_goes_on_from_there(project, queue, gate):
    first, second = ask_for_renders(project, 3, 2 * CHUNK)
    queue.wake(first)
    gate.wait_for((first, 0), (second, 0))
    gate.let((first, 0))
    render_once(project, first, "done")
    render_once(project, second, "running")
    gate.wait_for((second, 1))
    gate.let_all()
    assert render_once(project, second, "done").seconds > 0
    assert gate.begun.count((second, 0)) == 1


def test_one_that_is_stopped_is_left_and_goes_on_later(project, queue, gate):
    first, second = ask_for_renders(project, 3, CHUNK + 1)
    queue.wake(first)
    gate.wait_for((first, 0), (second, 0))
    queue.stop(project.renders.get(second))
    assert render_once(project, second, "stopped").done == 0
    gate.let_all()
    render_once(project, first, "done")
    queue.resume(project.renders.get(second))
    with open_clip(render_once(project, second, "done").path) as movie:
        assert movie.frames == CHUNK + 1


def test_one_that_can_not_be_rendered_is_told_when_its_turn_comes(project, queue, gate):
    first, second, third = ask_for_renders(
        project, CHUNK + 1, 3, 3
    )  # found without a wake, which would
    gate.wait_for((first, 0), (first, 1))  # have the one in hand give way to what is put before
    (clip,) = project.clips.all()
    beyond = {"result": {"codec": "FFV1", "first": 9000, "last": 9001}}
    wrong = project.renders.new(clip, LOOK, 2, ".mkv", beyond)
    project.renders.prioritize(wrong.id)
    gate.let((first, 0))
    gate.wait_for((second, 0))
    assert project.renders.get(wrong.id).state == "waiting"
    gate.let_all()
    assert "frame" in render_once(project, wrong.id, "failed").message
    render_once(project, third, "done")


def test_a_server_that_ends_meanwhile_leaves_them_waiting(project, queue, gate):
    first, second = ask_for_renders(project, 3, CHUNK + 1)
    queue.wake(first)
    gate.wait_for((first, 0), (second, 0))
    closing = threading.Thread(target=queue.close)
    closing.start()
    gate.let_all()
    closing.join(timeout=60)
    assert not closing.is_alive()
    assert {project.renders.get(number).state for number in (first, second)} == {"waiting"}
    again = queues.RenderQueue(project)
    try:
        for number in (first, second):
            render_once(project, number, "done")
    finally:
        again.close()
