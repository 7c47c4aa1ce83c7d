"""The application on a project with one clip."""

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from httpx import Response

from tests.waiting import wait_for
from yearning.api.app import create_app
from yearning.api.schemas import renders
from yearning.farm import queue
from yearning.farm.job import Job
from yearning.media.decode.probe import probe_file
from yearning.store.content_store import file_digest
from yearning.store.project import Project

HOST = "http://127.0.0.1:8765"


def problem(answer: Response, status: int) -> str:
    """What a refusal says; it is a problem of RFC 9457 in one line."""
    assert answer.status_code == status
    assert answer.headers["content-type"] == "application/problem+json"
    said = answer.json()
    assert said["status"] == status
    assert said["title"]
    assert "\n" not in said["detail"]
    return str(said["detail"])


def told_once(client: TestClient, address: str, is_so: Callable[[Any], bool]) -> Any:
    """What an address tells of work in the background, once that is so."""
    return wait_for(lambda: client.get(address).json(), is_so)


def codes_shown(client: TestClient, clip_id: int, look: dict[str, Any], frame: int = 0) -> Any:
    """The codes of a picture of 48 lines, shape `(48, width, 3)`."""
    ask = {"clip": clip_id, "frame": frame, "look": look, "height": 48}
    answer = client.post("/api/v1/pictures", json=ask)
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR).astype(int)


@pytest.fixture
def make_client(tmp_path: Path) -> Callable[[], TestClient]:
    """Makes a client of an empty project; the server runs while it is entered."""

    def make() -> TestClient:
        return TestClient(create_app(Project(tmp_path / "work")), base_url=HOST)

    return make


@pytest.fixture
def client(make_client: Callable[[], TestClient]) -> Iterator[TestClient]:
    """A client of an empty project."""
    with make_client() as opened:
        yield opened


def clip_added(client: TestClient, clip: Path) -> int:
    """The number of a clip that the project now has."""
    project: Project = client.app.state.preview.project  # type: ignore[attr-defined]
    return project.clips.add(clip, "small", file_digest(clip), probe_file(clip).as_json()).id


@pytest.fixture
def clip_id(client: TestClient, clip: Path) -> int:
    """The number of a clip of the project."""
    return clip_added(client, clip)


@pytest.fixture
def short_chunks(monkeypatch: pytest.MonkeyPatch) -> None:
    """Chunks of ten frames, so that small clips have several."""
    monkeypatch.setattr(queue.Job, "of", partial(Job.of, chunk=10))
    monkeypatch.setattr(renders, "CHUNK", 10)
