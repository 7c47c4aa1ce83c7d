"""Renders over HTTP: asked for, stopped, gone on with, taken; whatever ends the server."""

import errno
import io
import os
import subprocess
import zipfile

import cv2
import pytest
from fastapi.testclient import TestClient
from peewee import OperationalError

from tests.api.conftest import HOST, clip_added, problem
from tests.api.rendering import LOOK, SLOW, ask_for_render, render_once
from yearning.api.app import create_app
from yearning.api.schemas.renders import strip
from yearning.farm import pieces, queue
from yearning.media.decode.footage import Footage
from yearning.media.decode.probe import probe_file
from yearning.store.project import Project
from yearning.store.renders import Renders

pytestmark = pytest.mark.usefixtures("short_chunks")


def render_at_end(client, render_id):
    return render_once(client, render_id, lambda r: r["state"] in ("done", "failed", "stopped"))


def render_in_hand(client, render_id):
    """The render once its first chunk is finished: a quarter of its strip."""
    return render_once(client, render_id, lambda r: r["strip"] and r["strip"][4]["state"] == "done")


def did(client, render_id, what):
    answer = client.post(f"/api/v1/renders/{render_id}/{what}")
    assert answer.status_code in (200, 201), answer.text
    return answer.json()


def frames_of(client, render_id, place):
    place.write_bytes(client.get(f"/api/v1/renders/{render_id}/file").content)
    with Footage(place) as result:
        return [result.picture(n).tobytes() for n in range(result.frames)]


def test_a_render_runs_and_is_taken(client, clip_id, tmp_path):
    made = ask_for_render(client, clip_id)
    assert (made["total"], made["state"]) == (40, "waiting")
    assert [cell["state"] for cell in made["strip"]] == ["waits"] * 20
    done = render_at_end(client, made["id"])
    data = client.get(f"/api/v1/renders/{made['id']}/file")
    (tmp_path / "a.mp4").write_bytes(data.content)
    assert probe_file(tmp_path / "a.mp4").frames == 40
    assert (done["state"], done["bytes"], done["done"]) == ("done", len(data.content), 40)
    assert done["rate"] > 0
    assert done["path"].endswith(done["file"])
    picture = client.get(f"/api/v1/renders/{made['id']}/pictures/{done['picture']}")
    assert picture.headers["content-type"] == "image/jpeg"
    problem(client.get(f"/api/v1/renders/{made['id']}/pictures/77"), 404)
    folder = client.app.state.preview.project.renders.pieces(made["id"])
    assert {path.suffix for path in folder.iterdir()} == {".jpg"}  # the pieces are let go


def test_a_database_that_can_not_be_read_for_a_while_does_not_end_the_queue(
    client, clip_id, monkeypatch
):
    monkeypatch.setattr(queue, "LOOK_SECONDS", 0.1)
    read, refused = Renders.first_of, []

    def read_locked(self, *words):
        if len(refused) < 3:
            refused.append(words)
            raise OperationalError("database is locked")
        return read(self, *words)

    monkeypatch.setattr(Renders, "first_of", read_locked)
    assert render_at_end(client, ask_for_render(client, clip_id)["id"])["state"] == "done"
    assert len(refused) == 3


def test_a_render_keeps_how_the_clip_was_read_when_it_was_asked_for(client, clip_id, tmp_path):
    address = f"/api/v1/clips/{clip_id}/reading"
    client.put(address, json={"rate": "50"})
    first, second = ask_for_render(client, clip_id), ask_for_render(client, clip_id)
    client.put(address, json={})
    assert first["total"] == second["total"] == 80
    for render in (first, second):
        assert render_at_end(client, render["id"])["state"] == "done"
        (tmp_path / "a.mp4").write_bytes(client.get(f"/api/v1/renders/{render['id']}/file").content)
        assert probe_file(tmp_path / "a.mp4").rate == 50


@pytest.mark.parametrize(
    ("result", "says"),
    [
        ({"codec": "VP9", "bits": 10}, "VP9"), ({"quality": "best"}, "quality"),
        ({"first": 30, "last": 3}, "out of range"), ({"last": 40}, "0 to 39"),
        ({"height": 4000}, "112 lines"), ({"height": 3}, "16 lines"), ({"colour": 1}, "colour"),
        ({"codec": "TIFF", "bits": 8}, ".tif is written with 16"),
        ({"codec": "PNG", "height": 4000}, "112 lines"),
    ],
)  # fmt: skip
def test_a_render_that_can_not_be_is_refused_when_it_is_asked_for(result, says, client, clip_id):
    before = client.get("/api/v1/renders").json()
    ask = {"clip": clip_id, "look": LOOK, "result": result}
    assert says in problem(client.post("/api/v1/renders", json=ask), 422)
    assert client.get("/api/v1/renders").json() == before


def test_the_kinds_of_results_say_their_qualities(client):
    kinds = {kind["codec"]: kind for kind in client.get("/api/v1/renders/kinds").json()}
    assert set(kinds) == {"H.264", "AV1", "VP9", "FFV1", "PNG", "TIFF", "OpenEXR"}
    assert kinds["FFV1"]["qualities"] == kinds["PNG"]["qualities"] == []
    assert kinds["OpenEXR"]["bits"] == [32, 16]
    assert "fine, CRF 17" in [q["summary"] for q in kinds["H.264"]["qualities"]]


@pytest.mark.parametrize(("codec", "bits"), [("PNG", 8), ("TIFF", None), ("OpenEXR", 16)])
def test_stills_are_taken_as_one_archive(codec, bits, client, clip_id):
    made = ask_for_render(client, clip_id, codec=codec, bits=bits, first=7, last=18)
    done = render_at_end(client, made["id"])
    assert done["summary"].startswith(f"{codec} stills")
    data = client.get(f"/api/v1/renders/{made['id']}/file").content
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.testzip() is None
        names = archive.namelist()
        assert [name[:5] for name in names] == [f"{n:05d}" for n in range(7, 19)]
        if codec == "PNG":
            still = archive.read(names[0])
            folder = os.path.join(done["path"], names[0])
            assert cv2.imread(folder).shape == (112, 192, 3)
            with open(folder, "rb") as file:
                assert file.read() == still
    assert done["bytes"] > 12 * 100


def test_a_stopped_render_keeps_what_is_finished_and_goes_on(client, clip_id, tmp_path):
    whole = ask_for_render(client, clip_id, SLOW)
    assert render_at_end(client, whole["id"])["state"] == "done"
    made = ask_for_render(client, clip_id, SLOW)
    render_in_hand(client, made["id"])
    did(client, made["id"], "stop")
    stopped = render_at_end(client, made["id"])
    assert stopped["state"] == "stopped"
    assert 10 <= stopped["done"] < 40
    assert stopped["bytes"] > 0
    assert "done" in [cell["state"] for cell in stopped["strip"]]
    problem(client.get(f"/api/v1/renders/{made['id']}/file"), 409)
    problem(client.post(f"/api/v1/renders/{made['id']}/stop"), 409)
    assert not (tmp_path / "work" / "renders" / made["file"]).exists()
    did(client, made["id"], "resume")
    assert render_at_end(client, made["id"])["state"] == "done"
    assert frames_of(client, made["id"], tmp_path / "a.mp4") == frames_of(
        client, whole["id"], tmp_path / "b.mp4"
    )


def test_what_is_finished_of_a_stopped_render_can_be_discarded(client, clip_id):
    made = ask_for_render(client, clip_id, SLOW)
    render_in_hand(client, made["id"])
    problem(client.delete(f"/api/v1/renders/{made['id']}/pieces"), 409)
    did(client, made["id"], "stop")
    render_at_end(client, made["id"])
    left = client.delete(f"/api/v1/renders/{made['id']}/pieces").json()
    assert (left["state"], left["done"], left["bytes"]) == ("stopped", 0, None)
    assert not client.app.state.preview.project.renders.pieces(made["id"]).exists()


def test_a_render_that_waits_is_stopped_before_it_begins(client, clip_id):
    first, second = ask_for_render(client, clip_id, SLOW), ask_for_render(client, clip_id, SLOW)
    assert did(client, second["id"], "stop")["state"] == "stopped"
    assert client.get(f"/api/v1/renders/{first['id']}").json()["state"] in ("waiting", "running")
    did(client, first["id"], "stop")


def test_a_prioritized_render_goes_before_the_one_in_hand_which_goes_on_after_it(client, clip_id):
    client.put(f"/api/v1/clips/{clip_id}/reading", json={"rate": "75"})  # 120 frames
    first, second = (
        ask_for_render(client, clip_id, SLOW),
        ask_for_render(client, clip_id, first=0, last=9),
    )
    render_in_hand(client, first["id"])
    did(client, second["id"], "prioritize")
    assert render_at_end(client, second["id"])["state"] == "done"
    left = client.get(f"/api/v1/renders/{first['id']}").json()
    assert left["state"] in ("waiting", "running")
    assert left["strip"][0]["state"] == "done"
    done = render_at_end(client, first["id"])
    assert done["state"] == "done"
    assert done["ended"] > client.get(f"/api/v1/renders/{second['id']}").json()["ended"]
    problem(client.post(f"/api/v1/renders/{first['id']}/prioritize"), 409)


def test_a_render_is_repeated(client, clip_id, tmp_path):
    made = ask_for_render(client, clip_id, quality="draft", first=3, last=12)
    render_at_end(client, made["id"])
    again = did(client, made["id"], "repeat")
    assert again["id"] != made["id"]
    assert again["summary"] == made["summary"]
    render_at_end(client, again["id"])
    assert frames_of(client, made["id"], tmp_path / "a.mp4") == frames_of(
        client, again["id"], tmp_path / "b.mp4"
    )


def test_a_render_goes_on_when_the_server_starts_again(tmp_path, clip):
    work = tmp_path / "work"
    with TestClient(create_app(Project(work)), base_url=HOST) as client:
        sent = client.post("/api/v1/clips", params={"name": "a.mp4"}, content=clip.read_bytes())
        made = ask_for_render(client, sent.json()["id"], SLOW)
        waits = ask_for_render(client, sent.json()["id"], last=3)
        render_in_hand(client, made["id"])
    left = Project(work).renders.get(made["id"])
    assert left.state == "waiting"
    assert len(list(pieces.read_manifest(Project(work).renders.pieces(left.id)))) >= 1
    Project(work).renders.note(left.id, "running", 10)  # as a kill leaves it
    with TestClient(create_app(Project(work)), base_url=HOST) as client:
        assert render_at_end(client, made["id"])["state"] == "done"
        assert render_at_end(client, waits["id"])["state"] == "done"


def test_a_render_killed_while_it_is_joined_counts_its_frames_when_it_is_done(
    tmp_path, clip, monkeypatch
):
    def cut_off(*_):
        raise OSError(errno.EIO, "cut off")

    work = tmp_path / "work"
    with (
        monkeypatch.context() as patched,
        TestClient(create_app(Project(work)), base_url=HOST) as client,
    ):
        patched.setattr("yearning.farm.run.join", cut_off)
        sent = client.post("/api/v1/clips", params={"name": "a.mp4"}, content=clip.read_bytes())
        made = ask_for_render(client, sent.json()["id"])
        assert render_at_end(client, made["id"])["state"] == "failed"
    Project(work).renders.note(made["id"], "running", 0)  # as a kill within two seconds leaves it
    with TestClient(create_app(Project(work)), base_url=HOST) as client:
        done = render_at_end(client, made["id"])
        assert (done["state"], done["done"]) == ("done", done["total"])


def test_a_clip_that_is_lost_fails_the_render_and_bringing_it_back_lets_it_go_on(
    client, clip_id, clip
):
    first, made = ask_for_render(client, clip_id, SLOW), ask_for_render(client, clip_id)
    path = client.app.state.preview.project.clips.get(clip_id).path
    render_in_hand(client, first["id"])
    path.write_bytes(path.read_bytes()[:-1] + b"x")
    did(client, first["id"], "stop")
    failed = render_at_end(client, made["id"])
    assert failed["state"] == "failed"
    assert "has changed since it was brought in" in failed["message"]
    assert "drop the clip" in failed["message"]
    client.post("/api/v1/clips", params={"name": "small.mp4"}, content=clip.read_bytes())
    did(client, made["id"], "resume")
    assert render_at_end(client, made["id"])["state"] == "done"


@pytest.mark.skipif(os.geteuid() != 0, reason="a small disk can be mounted by root alone")
def test_a_full_disk_pauses_the_render_which_goes_on_by_itself(tmp_path, clip, monkeypatch):
    monkeypatch.setattr(queue, "ROOM_SECONDS", 0.2)
    place = tmp_path / "small"
    place.mkdir()
    subprocess.run(["mount", "-t", "tmpfs", "-o", "size=24m", "tmpfs", place], check=True)
    try:
        with TestClient(create_app(Project(place / "work")), base_url=HOST) as client:
            sent = client.post("/api/v1/clips", params={"name": "a.mp4"}, content=clip.read_bytes())
            whole = ask_for_render(client, sent.json()["id"], codec="FFV1", bits=16)
            assert render_at_end(client, whole["id"])["state"] == "done"
            found = os.statvfs(place)
            (place / "ballast").write_bytes(bytes(found.f_bavail * found.f_frsize - 700_000))
            made = ask_for_render(client, sent.json()["id"], codec="FFV1", bits=16)
            paused = render_once(client, made["id"], lambda r: r["state"] == "paused")
            assert "is full" in paused["message"]
            assert "make room" in paused["message"]
            assert not (place / "work" / "renders" / made["file"]).exists()
            (place / "ballast").unlink()
            done = render_at_end(client, made["id"])
            assert (done["state"], done["message"]) == ("done", "")
            assert frames_of(client, made["id"], tmp_path / "a.mkv") == frames_of(
                client, whole["id"], tmp_path / "b.mkv"
            )
    finally:
        subprocess.run(["umount", "-l", place], check=True)  # a worker here has the clip open


def test_where_renders_are_made_is_kept_and_bad_addresses_are_refused(client, clip_id):
    assert client.get("/api/v1/farm").json()["workers"] is None
    assert client.put("/api/v1/farm", json={"workers": 1}).json()["workers"] == 1
    assert client.get("/api/v1/farm").json() == client.get("/api/v1/farm").json() | {"workers": 1}
    for address in ("here", "tcp://127.0.0.1:9"):
        assert "--cluster" in problem(client.put("/api/v1/farm", json={"address": address}), 422)
    problem(client.put("/api/v1/farm", json={"workers": 0}), 422)
    assert client.get("/api/v1/farm").json()["workers"] == 1


def test_a_scheduler_that_is_not_there_fails_the_render_which_goes_on_here(
    clip, tmp_path, monkeypatch
):
    monkeypatch.setattr("yearning.farm.cluster.CONNECT_SECONDS", 1)
    project, named = Project(tmp_path / "work"), ["tcp://127.0.0.1:9"]
    with TestClient(create_app(project, schedulers=named), base_url=HOST) as client:
        assert client.get("/api/v1/farm").json()["schedulers"] == named
        client.put("/api/v1/farm", json={"address": named[0]})
        made = ask_for_render(client, clip_added(client, clip), last=3)
        failed = render_at_end(client, made["id"])
        assert "no scheduler answers there" in failed["message"]
    with TestClient(create_app(project), base_url=HOST) as client:
        did(client, made["id"], "resume")
        failed = render_at_end(client, made["id"])
        assert "no scheduler that was named at the start" in failed["message"]
        client.put("/api/v1/farm", json={})
        did(client, made["id"], "resume")
        assert render_at_end(client, made["id"])["state"] == "done"


def test_a_strip_shows_which_parts_are_finished_in_hand_and_waited_for():
    """100 frames from 5 on, in chunks of 10: cells of 5 frames."""
    cells = strip(5, 100, 10, {0, 2}, {1: 7, 3: 0}, {5, 10, 15, 60})
    assert [c.state for c in cells] == (
        ["done"] * 3 + ["in hand"] + ["done"] * 2 + ["in hand"] * 2 + ["waits"] * 12
    )
    assert [n for n, c in enumerate(cells) if c.picture is not None] == [0, 1, 2, 11]
    assert cells[11].picture == 60


@pytest.mark.parametrize("frames", [1, 7, 20, 21, 172800])
def test_a_strip_has_twenty_cells_or_one_a_frame(frames):
    cells = strip(3, frames, 48, {0}, {}, ())
    assert len(cells) == min(frames, 20)
    assert (cells[-1].state == "done") == (frames <= 48)
