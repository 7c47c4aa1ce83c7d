"""A project that is open for looking, also while another server has it."""

import json
import os
import re
import urllib.request
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import HOST, clip_added, problem
from tests.openapi import operations
from tests.test_cli import run
from tests.ui.serving import start_server
from yearning.api.app import create_app
from yearning.api.read_only import COMPUTES
from yearning.store.project import DATABASE, Project

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": []}


WRITING = [
    pytest.param(method, path, operation["operationId"], id=f"{method} {path}")
    for method, path, operation in operations()
    if method not in ("get", "head")
]


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return tmp_path_factory.mktemp("looking") / "work"


@pytest.fixture(scope="module")
def looking(folder):
    with TestClient(create_app(Project(folder)), base_url=HOST) as client:
        client.post("/api/v1/looks", json=LOOK)
    app = create_app(Project(folder, read_only=True))
    with TestClient(app, base_url=HOST, raise_server_exceptions=False) as client:
        yield client


def state(folder: Path) -> list[tuple[str, int, int]]:
    """All files of a project but those that SQLite has beside a database that is read."""
    files = [path for path in sorted(folder.rglob("*")) if not path.name.endswith(("-shm", "-wal"))]
    return [(str(path), path.stat().st_size, path.stat().st_mtime_ns) for path in files]


@pytest.mark.parametrize(("method", "path", "name"), WRITING)
def test_what_would_change_a_project_for_looking_is_refused(method, path, name, looking, folder):
    before = state(folder)
    filled = re.sub(r"\{\w+_id\}", "1", path)  # rows stand under numbers
    answer = looking.request(method, filled, params={"name": "a.mp4"}, json={})
    if name in COMPUTES:
        assert answer.status_code in (200, 204, 422), answer.text
    else:
        assert "open for looking" in problem(answer, 403)
    assert state(folder) == before


def test_a_project_for_looking_is_seen_and_stays_as_it_is(folder, clip):
    with TestClient(create_app(Project(folder)), base_url=HOST) as serving:
        number = clip_added(serving, clip)
        os.utime(Project(folder).clips.get(number).path, (1, 1))  # its stamp is another
        before = state(folder)
        with TestClient(create_app(Project(folder, read_only=True)), base_url=HOST) as looking:
            assert looking.get("/api/v1/project").json()["read_only"]
            ask = {"clip": number, "frame": 3, "height": 64, "look": LOOK}
            seen = looking.post("/api/v1/pictures", json=ask)
            assert seen.content == serving.post("/api/v1/pictures", json=ask).content
            assert looking.get(f"/api/v1/clips/{number}/filmstrip").content[:2] == b"\xff\xd8"
            assert looking.get(f"/api/v1/clips/{number}/sound").status_code in (200, 422)
            made = serving.post("/api/v1/looks", json=LOOK).json()  # what the server keeps is seen
            assert looking.get(f"/api/v1/looks/{made['id']}").json()["name"] == "Test"
            assert looking.get("/api/v1/renders").json() == []
            known = looking.post("/api/v1/analyses/known", json={"clip": number, "look": LOOK})
            assert known.json()["report"] is None
        assert [f for f in state(folder) if DATABASE not in f[0]] == [
            f for f in before if DATABASE not in f[0]
        ]


@pytest.mark.parametrize("kind", ["none", "empty", "older"])
def test_what_is_no_project_of_this_version_is_not_made_one(kind, tmp_path):
    folder = tmp_path / "work"
    if kind != "none":
        folder.mkdir()
    if kind == "older":
        older = Project(folder)
        older._tables.db.execute_sql("PRAGMA user_version = 3")
        older._tables.db.close()
        older._open.close()  # the last one writes SQLite's log into the database: now, not later
    before = state(folder)
    done = run("serve", "--read-only", "--project", folder, "--port", 0)
    assert done.returncode == 2
    assert "can't be used as a project" in done.stderr or "without --read-only" in done.stderr
    assert "Traceback" not in done.stderr
    assert state(folder) == before


def test_another_server_opens_for_looking_what_one_serves(tmp_path):
    first, address = start_server(tmp_path / "work")
    second, beside = start_server(tmp_path / "work", "--read-only")
    try:
        found = json.loads(urllib.request.urlopen(f"{beside}/api/v1/project").read())
        assert found["read_only"]
        assert not json.loads(urllib.request.urlopen(f"{address}/api/v1/project").read())[
            "read_only"
        ]
    finally:
        for process in (second, first):
            process.terminate()
            process.wait(timeout=60)
