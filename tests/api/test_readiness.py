"""Kernels that are compiled while the page is open."""

import subprocess
import sys

import pytest

from tests.waiting import wait_for
from yearning.api import readiness
from yearning.api.readiness import Readiness
from yearning.warm import jobs

REAL = subprocess.Popen


@pytest.fixture
def cold(monkeypatch):
    """As if nothing were compiled, with a process of a few words in the compiler's place."""

    def begin(script: str) -> Readiness:
        monkeypatch.setattr(readiness, "is_warm", lambda: False)
        monkeypatch.setattr(
            readiness.subprocess,
            "Popen",
            lambda command, **more: REAL(
                [sys.executable, "-uc", script], **more | {"stdin": subprocess.PIPE}
            ),
        )
        return Readiness(compiles=True)

    return begin


def test_it_says_how_far_it_is_and_what_it_does(cold):
    ready = cold("import sys; print(3, 44, 'look-up tables'); sys.stdin.read()")
    wait_for(lambda: ready.state.done == 3)
    assert (ready.state.of, ready.state.now) == (44, "look-up tables")
    ready.close()
    wait_for(lambda: ready.state.done == 44)


def test_it_is_ready_at_the_end_also_where_compiling_failed(cold):
    ready = cold("print(3, 44, 'glow'); raise SystemExit(1)")
    wait_for(lambda: ready.state.done == ready.state.of == 44)
    assert ready.state.now == ""


def test_where_all_is_compiled_it_is_ready_from_the_start(client):
    state = client.get("/api/v1/readiness").json()
    assert state == {"done": 0, "of": 0, "now": ""}


def test_the_pictures_of_the_demo_come_before_the_rest():
    names = [job.name for job in jobs()]
    assert names[:5] == ["footage of 8 bits", "blend modes", "glow", "curve", "grain"]
    assert len(set(names)) == len(names)
