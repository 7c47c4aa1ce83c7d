"""A disk without room: said as such, with what to do; nothing is lost, and it goes on after."""

import os
import subprocess

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import HOST, problem, told_once
from yearning.api.app import create_app
from yearning.store.project import Project

pytestmark = pytest.mark.skipif(
    os.geteuid() != 0, reason="a small disk can be mounted by root alone"
)


@pytest.fixture
def small(tmp_path):
    """A disk of 24 MB of its own."""
    place = tmp_path / "small"
    place.mkdir()
    subprocess.run(["mount", "-t", "tmpfs", "-o", "size=24m", "tmpfs", place], check=True)
    yield place
    subprocess.run(["umount", "-l", place], check=True)


def fill_disk(place):
    """Leave no room on a disk; returns what took it."""
    ballast = place / "ballast"
    with ballast.open("wb", buffering=0) as file:
        for size in (1 << 20, 4096, 1):
            try:
                while file.write(bytes(size)) == size:
                    pass
            except OSError:
                continue
    return ballast


def test_what_can_not_be_kept_is_said_and_can_be_done_again(small, clip):
    with TestClient(create_app(Project(small / "work")), base_url=HOST) as client:
        sent = client.post("/api/v1/clips", params={"name": "a.mp4"}, content=clip.read_bytes())
        number = sent.json()["id"]
        look = {"format": "yearning-look/3", "name": "x" * 100, "steps": []}
        made = client.post("/api/v1/looks", json=look).json()
        ballast = fill_disk(small)
        steps = [{"id": f"s{n}", "treatment": "glow", "note": "n" * 400} for n in range(60)]
        change = {"revision": made["revision"], "look": look | {"steps": steps}}
        asked = {
            "put": [
                (f"/api/v1/looks/{made['id']}", change),
                (f"/api/v1/looks/{made['id']}/snapshots/a",
                 {"name": "a", "look": look | {"steps": steps}}),
            ],
            "post": [("/api/v1/looks", look | {"steps": steps})],
        }  # fmt: skip
        for method, requests in asked.items():
            for path, body in requests:
                answer = client.request(method, path, json=body)
                assert "the disk is full: make room" in problem(answer, 507)
        for path in ("/api/v1/plates?name=a.mp4", "/api/v1/clips?name=b.mp4"):
            assert client.post(path, content=clip.read_bytes() * 40).status_code == 507
        client.post("/api/v1/plates/generated", json={"kind": "grain", "seed": 1})
        stroke = {"frame": 0, "kind": "this", "points": [[0.4, 0.5], [0.5, 0.5]], "width": 60}
        lift = {"clip": number, "title": "a", "strokes": [stroke]}
        client.post("/api/v1/mattes/finding", json=lift)
        status = told_once(client, "/api/v1/mattes/finding", lambda told: not told["running"])
        assert "the disk is full: make room" in status["error"]
        ballast.unlink()
        assert client.get(f"/api/v1/looks/{made['id']}").json()["revision"] == made["revision"]
        assert client.put(f"/api/v1/looks/{made['id']}", json=change).status_code == 200
