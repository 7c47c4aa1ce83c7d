"""What the server keeps in memory: within one budget, and said."""

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from tests.api.conftest import HOST, clip_added
from yearning.api.app import create_app
from yearning.cli import app
from yearning.store.project import Project

BUDGET = 400_000


@pytest.fixture
def tight(tmp_path):
    """A client of an empty project whose server keeps little."""
    opened = create_app(Project(tmp_path / "tight"), cache_bytes=BUDGET)
    with TestClient(opened, base_url=HOST) as client:
        yield client


def _kept(client, clip):
    """What is kept after each of some pictures."""
    ask = {"clip": clip_added(client, clip), "height": 56}
    steps = [{"id": "glow", "treatment": "glow"}, {"id": "grain", "treatment": "grain"}]
    ask["look"] = {"format": "yearning-look/2", "steps": steps}
    for frame in range(12):
        assert client.post("/api/v1/pictures", json=ask | {"frame": frame}).status_code == 200
        yield client.get("/api/v1/memory").json()


def test_all_that_is_kept_stays_within_the_budget(tight, client, clip):
    for memory in _kept(tight, clip):
        assert memory["budget"] == BUDGET
        assert 0 < memory["kept"] <= BUDGET < memory["process"]
    *_, freely = _kept(client, clip)
    assert freely["kept"] > BUDGET  # the same, where there is room


def test_play_is_kept_in_the_same_budget(tight, clip):
    start = {"type": "ahead", "clip": clip_added(tight, clip), "frame": 0, "height": 56}
    start["look"] = {"format": "yearning-look/2", "steps": []}
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
