"""What the server keeps in memory: within one budget, and said."""

import numpy as np
import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from tests.api.conftest import HOST, clip_added
from tests.waiting import wait_for
from yearning.api.app import create_app
from yearning.api.memory_limit import MemoryLimit, resident_bytes
from yearning.cli import app
from yearning.core.buffers import new_array, return_free_memory
from yearning.core.cache import Cache
from yearning.store.project import Project

BUDGET = 400_000


@pytest.fixture
def tight(tmp_path):
    """A client of an empty project whose server keeps little."""
    opened = create_app(Project(tmp_path / "tight"), cache_bytes=BUDGET)
    with TestClient(opened, base_url=HOST) as client:
        yield client


@pytest.fixture
def full_cache():
    """Twenty values of 10 MB, the first the one least recently used."""
    cache = Cache(300_000_000)
    for number in range(20):
        cache.put(number, np.ones(10_000_000, np.uint8))
    return cache


@pytest.fixture
def limit(full_cache):
    """The limit of the process that keeps them."""
    limit = MemoryLimit(full_cache)
    yield limit
    limit.close()


def _memory_after_pictures(client, clip):
    """What is kept after each of some pictures."""
    ask = {"clip": clip_added(client, clip), "height": 56}
    steps = [{"id": "glow", "treatment": "glow"}, {"id": "grain", "treatment": "grain"}]
    ask["look"] = {"format": "yearning-look/3", "steps": steps}
    for frame in range(12):
        assert client.post("/api/v1/pictures", json=ask | {"frame": frame}).status_code == 200
        yield client.get("/api/v1/memory").json()


def test_all_that_is_kept_stays_within_the_budget(tight, client, clip):
    for memory in _memory_after_pictures(tight, clip):
        assert memory["budget"] == BUDGET
        assert 0 < memory["kept"] <= BUDGET < memory["process"] < memory["limit"]
    *_, freely = _memory_after_pictures(client, clip)
    assert freely["kept"] > BUDGET  # the same, where there is room


def test_play_is_kept_in_the_same_budget(tight, clip):
    start = {"type": "ahead", "clip": clip_added(tight, clip), "frame": 0, "height": 56}
    start["look"] = {"format": "yearning-look/3", "steps": []}
    with tight.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"}) as socket:
        before = tight.get("/api/v1/memory").json()["kept"]
        socket.send_json(start)
        for _ in range(4):
            socket.receive_json()
        assert tight.get("/api/v1/memory").json()["kept"] > before


def test_a_budget_too_small_is_refused():
    refused = CliRunner().invoke(app, ["serve", "--cache", "3"])
    assert refused.exit_code == 2
    assert "64" in refused.output


def test_what_is_free_goes_back_to_the_system():
    worked_at = [new_array((3, 700, 900)) for _ in range(20)]
    for each in worked_at:
        each.fill(1)
    at_work = resident_bytes()
    size = sum(each.nbytes for each in worked_at)
    del worked_at, each
    return_free_memory()
    assert resident_bytes() < at_work - 0.9 * size


def test_what_is_kept_gives_way_the_least_recently_used_first(full_cache, limit):
    limit.enforce()
    assert full_cache.used_bytes == 200_000_000  # it is within its limit
    return_free_memory()
    limit.max_bytes = resident_bytes() - 50_000_000
    wait_for(lambda: resident_bytes() <= limit.max_bytes)
    remaining = full_cache.keys()
    assert remaining == list(range(20 - len(remaining), 20))
    assert len(remaining) >= 11  # 50 MB, a margin of 15, and what else the process took meanwhile


def test_work_that_needs_more_than_the_limit_goes_on_with_nothing_kept(full_cache, limit):
    limit.max_bytes = 1
    wait_for(lambda: not full_cache.keys())
    assert full_cache.get_or_make("next", lambda: b"made") == b"made"
