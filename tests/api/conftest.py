"""The application on a project with one clip."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from yearning.api.app import create_app
from yearning.store.project import Project

HOST = "http://127.0.0.1:8765"


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    """A client of an empty project."""
    with TestClient(create_app(Project(tmp_path / "work")), base_url=HOST) as opened:
        yield opened


@pytest.fixture
def clip_id(client: TestClient, clip: Path) -> int:
    """The number of a clip brought in."""
    answer = client.post("/api/clips", params={"name": "small.mp4"}, content=clip.read_bytes())
    assert answer.status_code == 201
    return int(answer.json()["id"])
