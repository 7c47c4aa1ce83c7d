"""Renders over HTTP: asked for and awaited, with workers in this process and short chunks."""

import time
from functools import partial

import pytest

from tests.conftest import THREE_STEPS
from yearning.api.schemas import renders
from yearning.farm import queue
from yearning.farm.cluster import Cluster
from yearning.farm.job import Job

LOOK = {"format": "yearning-look/2", "name": "Test", "steps": THREE_STEPS}
SLOW = LOOK | {"steps": [{"id": f"n{n}", "treatment": "grain"} for n in range(60)]}


@pytest.fixture
def workers_in_this_process(monkeypatch):
    """A process a worker takes two seconds to start; tests of the farm itself use them."""
    monkeypatch.setattr("yearning.farm.cluster.Cluster", partial(Cluster, processes=False))


@pytest.fixture
def short_chunks(monkeypatch):
    monkeypatch.setattr(queue.Job, "of", partial(Job.of, chunk=10))
    monkeypatch.setattr(renders, "CHUNK", 10)


def asked(client, clip_id, look=LOOK, **result):
    ask = {"clip": clip_id, "look": look, "result": result}
    answer = client.post("/api/renders", json=ask)
    assert answer.status_code == 201, answer.text
    return answer.json()


def until(client, render_id, reached, seconds=300):
    """The render once `reached` says yes of it."""
    for _ in range(seconds * 20):
        found = client.get(f"/api/renders/{render_id}").json()
        if reached(found):
            return found
        time.sleep(0.05)
    raise AssertionError(found)
