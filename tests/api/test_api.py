"""The HTTP interface: things, pictures, play, renders, and how it refuses."""

import io
import tarfile

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import HOST, problem
from tests.conftest import THREE_STEPS, a_look, lamps
from yearning.api.app import create_app
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS
from yearning.media.audio.waveform import decode_mono
from yearning.media.decode.footage import Footage
from yearning.media.quantizing import quantize
from yearning.media.stills.stills import write_still
from yearning.store.project import Project

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": THREE_STEPS}


def test_the_catalogue_is_the_treatments(client):
    found = client.get("/api/v1/catalogue").json()
    assert {t["kind"] for t in found["treatments"]} == set(TREATMENTS)
    assert found["stages"][0] == "time"
    for treatment in found["treatments"]:
        names = [s["name"] for s in treatment["settings"]]
        assert names == list(TREATMENTS[treatment["kind"]].model_fields)


def test_a_clip_is_brought_in_once(client, clip_id, clip):
    again = client.post("/api/v1/clips", params={"name": "x.mp4"}, content=clip.read_bytes())
    assert again.json()["id"] == clip_id
    (found,) = client.get("/api/v1/clips").json()
    assert (found["name"], found["frames"], found["matrix"]) == ("small", 40, "bt709")


@pytest.mark.parametrize("body", [b"", b"words, no video", b"\x00" * 5000])
def test_a_file_that_is_no_clip_is_refused_by_name_and_leaves_nothing(client, body):
    answer = client.post("/api/v1/clips", params={"name": "holiday.mp4"}, content=body)
    assert "holiday.mp4" in problem(answer, 422)
    assert client.get("/api/v1/clips").json() == []
    folder = client.app.state.preview.project.folder
    assert [p.name for p in folder.rglob("*") if p.is_file() and "sqlite" not in p.name] == []


def test_a_clip_is_read_as_said_until_it_is_taken_back(client, clip_id):
    address = f"/api/v1/clips/{clip_id}/reading"
    ask = {"clip": clip_id, "frame": 5, "look": LOOK, "height": 64}
    plain = client.post("/api/v1/pictures", json=ask).content
    said = client.put(address, json={"range": "full", "rate": "50"})
    assert said.status_code == 200
    found = said.json()
    assert (found["range"], found["rate"], found["frames"]) == ("full", 50, 80)
    assert found["reading"]["rate"] == "50"
    assert client.get("/api/v1/clips").json()[clip_id - 1]["rate"] == 50
    assert client.post("/api/v1/pictures", json=ask | {"frame": 10}).content != plain
    back = client.put(address, json={}).json()
    assert (back["range"], back["rate"], back["frames"]) == ("limited", 25, 40)
    assert client.post("/api/v1/pictures", json=ask).content == plain


@pytest.mark.parametrize(
    "said", [{"rate": "soon"}, {"rate": "-4"}, {"matrix": "bt1"}, {"colour": "red"}, {"light": 3}]
)
def test_what_can_not_be_said_of_a_clip_changes_nothing(said, client, clip_id):
    before = client.get("/api/v1/clips").json()
    answer = client.put(f"/api/v1/clips/{clip_id}/reading", json=said)
    assert answer.status_code == 422
    assert next(iter(said)) in answer.json()["detail"]
    assert client.get("/api/v1/clips").json() == before


def test_a_clip_that_is_not_there_can_not_be_read(client):
    assert client.put("/api/v1/clips/99/reading", json={}).status_code == 404


def test_a_clip_whose_file_is_gone_says_so_and_how_to_put_it_back(tmp_path, clip):
    project = Project(tmp_path / "lost")
    with TestClient(create_app(project), base_url=HOST) as client:
        sent = client.post("/api/v1/clips", params={"name": "a.mp4"}, content=clip.read_bytes())
        held = project.clips.get(sent.json()["id"])
        held.path.unlink()
        ask = {"clip": held.id, "frame": 0, "look": LOOK, "height": 32}
        detail = problem(client.post("/api/v1/pictures", json=ask), 410)
        assert detail.startswith("a: its file is gone")
        assert "drop the clip as it was" in detail
        client.post("/api/v1/clips", params={"name": "a.mp4"}, content=clip.read_bytes())
        assert client.post("/api/v1/pictures", json=ask).status_code == 200


def test_the_filmstrip_is_one_picture(client, clip_id):
    data = client.get(f"/api/v1/clips/{clip_id}/filmstrip", params={"count": 8}).content
    strip = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    assert strip.shape == (54, 8 * 93, 3)


def _ask(clip_id, **how):
    return {"clip": clip_id, "frame": 7, "look": LOOK, "height": 112} | how


def test_a_picture_is_the_cores(client, clip_id, clip):
    with Footage(clip) as footage:
        path = Evaluator(a_look(*THREE_STEPS), footage, footage.size, Cache(0))
        expected = quantize(path.picture(7), 8)
    crop = {"x": 0.5, "y": 0.5, "width": 192, "height": 112}
    data = client.post("/api/v1/pictures", json=_ask(clip_id, crop=crop)).content
    np.testing.assert_array_equal(cv2.imdecode(np.frombuffer(data, np.uint8), 1), expected)
    data = client.post("/api/v1/pictures", json=_ask(clip_id)).content
    seen = cv2.imdecode(np.frombuffer(data, np.uint8), 1)
    assert np.abs(seen.astype(int) - expected).mean() < 4


def test_a_crop_stays_inside_the_picture(client, clip_id):
    crop = {"x": 1, "y": 0, "width": 40, "height": 30}
    data = client.post("/api/v1/pictures", json=_ask(clip_id, crop=crop)).content
    assert cv2.imdecode(np.frombuffer(data, np.uint8), 1).shape == (30, 40, 3)


def test_a_window_is_cut_from_the_picture_at_the_size_asked_for(client, clip_id, clip):
    with Footage(clip) as footage:
        small = footage.size.with_height(56)
        path = Evaluator(a_look(*THREE_STEPS), footage, small, Cache(0))
        expected = quantize(path.picture(7), 8)
    crop = {"x": 0.25, "y": 0.5, "width": 40, "height": 30}
    data = client.post("/api/v1/pictures", json=_ask(clip_id, height=56, crop=crop)).content
    seen = cv2.imdecode(np.frombuffer(data, np.uint8), 1)
    left = round(0.25 * small.width - 20)
    np.testing.assert_array_equal(seen, expected[13:43, left : left + 40])


def test_the_path_shows_every_step(client, clip_id):
    found = client.post("/api/v1/path-pictures", json=_ask(clip_id)).json()
    assert list(found["steps"]) == [s["id"] for s in THREE_STEPS]
    assert found["footage"].startswith("data:image/jpeg;base64,")
    assert len({found["footage"], *found["steps"].values()}) == 4


REFUSED = {
    "a frame out of range": ({"frame": 40}, "0 to 39"),
    "a look with an unknown treatment": (
        {"look": LOOK | {"steps": [{"id": "a", "treatment": "glo"}]}},
        "steps[0].treatment",
    ),
    "a step that is not there": ({"after": "z"}, "no step has the id 'z'"),
    "a height of words": ({"height": "tall"}, "height"),
}


@pytest.mark.parametrize("what", REFUSED)
def test_a_picture_that_can_not_be_made_says_why(what, client, clip_id):
    changes, says = REFUSED[what]
    assert says in problem(client.post("/api/v1/pictures", json=_ask(clip_id, **changes)), 422)


def test_what_is_not_there_is_404(client):
    assert "99" in problem(client.get("/api/v1/looks/99"), 404)
    problem(client.get("/api/v1/renders/99"), 404)
    problem(client.post("/api/v1/pictures", json=_ask(99)), 404)
    problem(client.get("/api/v1/nothing"), 404)


def test_a_newer_request_of_a_channel_overtakes(client, clip_id):
    client.post("/api/v1/pictures", json=_ask(clip_id, channel="me", sequence=5))
    old = client.post("/api/v1/pictures", json=_ask(clip_id, frame=9, channel="me", sequence=4))
    problem(old, 409)
    other = client.post("/api/v1/pictures", json=_ask(clip_id, frame=9, channel="you", sequence=4))
    assert other.status_code == 200


def test_looks_are_edited_from_the_revision_that_stands(client):
    made = client.post("/api/v1/looks", json=LOOK).json()
    at = f"/api/v1/looks/{made['id']}"
    changed = made["look"] | {"steps": made["look"]["steps"][:1]}
    edit = {"revision": made["revision"], "look": changed}
    undoes = {"words": "removing 2 steps", "step": None}
    assert client.put(at, json=edit).json()["undoes"] == undoes
    assert "load it again" in problem(client.put(at, json=edit), 409)
    assert len(client.post(f"{at}/undo").json()["look"]["steps"]) == 3
    assert len(client.post(f"{at}/redo").json()["look"]["steps"]) == 1
    assert "redo" in problem(client.post(f"{at}/redo"), 409)


def test_a_look_goes_out_and_in_as_a_file(client):
    made = client.post("/api/v1/looks", json=LOOK).json()
    file = client.get(f"/api/v1/looks/{made['id']}/file")
    assert "Test.look.json" in file.headers["content-disposition"]
    again = client.post("/api/v1/looks", content=file.content).json()
    assert again["look"] == made["look"]
    assert "line 1" in problem(client.post("/api/v1/looks", content=b"{oops"), 422)


def test_a_curves_line_is_the_cores(client):
    line = client.post("/api/v1/curves", json={"points": [[0, 0.1], [1, 0.9]]}).json()["line"]
    np.testing.assert_allclose(line[32], [0.5, 0.5], atol=1e-9)
    problem(client.post("/api/v1/curves", json={"points": [[1, 0], [0, 1]]}), 422)


def test_the_sound_of_play_is_the_clips(client, clip_id, clip, tmp_path):
    answer = client.get(f"/api/v1/clips/{clip_id}/sound")
    assert answer.headers["content-type"] == "audio/webm"
    file = tmp_path / "a.webm"
    file.write_bytes(answer.content)
    mine, theirs = (np.concatenate(list(decode_mono(path, 48000))) for path in (clip, file))
    count = min(len(mine), len(theirs)) - 4800
    assert count > 48000
    assert np.corrcoef(mine[4800:count], theirs[4800:count])[0, 1] > 0.98


def test_a_clip_without_sound_has_none_to_play(client, make_clip):
    file = make_clip("quiet.mp4", "libx264", frames=5).read_bytes()
    quiet = client.post("/api/v1/clips?name=quiet.mp4", content=file).json()["id"]
    assert "no sound" in problem(client.get(f"/api/v1/clips/{quiet}/sound"), 422)


def test_play_waits_for_what_was_shown_and_says_what_is_wrong(client, clip_id):
    with client.websocket_connect("/api/v1/play", headers={"host": "127.0.0.1:8765"}) as socket:
        socket.send_json({"type": "start", "clip": clip_id, "look": {}, "frame": 0})
        assert "format" in socket.receive_json()["detail"]
        socket.send_json({"type": "start", "clip": 99, "look": LOOK, "frame": 0})
        assert "99" in socket.receive_json()["detail"]
        socket.send_json({"type": "start", "clip": clip_id, "look": LOOK, "frame": 40})
        assert "40" in socket.receive_json()["detail"]


@pytest.mark.parametrize(
    "headers", [{"host": "evil.example"}, {"origin": "http://evil.example"}, {"host": ""}]
)
def test_foreign_hosts_and_origins_are_refused(client, headers):
    problem(client.get("/api/v1/clips", headers=headers), 403)


def test_another_address_asks_for_the_token(tmp_path):
    app = create_app(Project(tmp_path / "work"), token="s3cret")
    with TestClient(app, base_url="http://192.168.0.9:8765") as client:
        problem(client.get("/api/v1/clips"), 403)
        problem(client.get("/api/v1/clips?token=wrong"), 403)
        assert client.get("/api/v1/clips?token=s3cret").status_code == 200
        assert client.get("/api/v1/clips").status_code == 200  # from the cookie now


def test_the_published_documents_are_up_to_date():
    from pathlib import Path

    from yearning.schemas import documents

    for name, text in documents().items():
        assert (Path("schemas") / name).read_text() == text, "run make schemas"


def _pack_stills(folder, names):
    held = io.BytesIO()
    with tarfile.open(fileobj=held, mode="w", format=tarfile.USTAR_FORMAT) as archive:
        for name in names:
            archive.add(folder / name, name)
    return held.getvalue()


@pytest.fixture
def stills(tmp_path):
    for n, picture in enumerate(lamps(Size(96, 54), 3)):
        write_still(np.clip(picture, 0, 1), tmp_path / f"night_walk.{n + 7:04d}.png", 16)
    return tmp_path


STILLS = [f"night_walk.{n:04d}.png" for n in (7, 8, 9)]


def test_numbered_stills_are_brought_in_as_one_clip_and_put_back(client, stills):
    data, params = _pack_stills(stills, STILLS), {"name": "night_walk.%04d.png"}
    clip = client.post("/api/v1/clips", params=params, content=data).json()
    assert (clip["name"], clip["frames"], clip["rate"]) == ("night walk", 3, 24)
    assert client.post("/api/v1/clips", params=params, content=data).json()["id"] == clip["id"]
    ask = {"clip": clip["id"], "frame": 2, "look": LOOK, "height": 54}
    seen = client.post("/api/v1/pictures", json=ask).content
    assert client.get(f"/api/v1/clips/{clip['id']}/filmstrip").status_code == 200
    said = client.put(f"/api/v1/clips/{clip['id']}/reading", json={"rate": "25"}).json()
    assert (said["rate"], said["frames"]) == (25, 3)
    project = client.app.state.preview.project
    (found,) = project.clips.all()
    (found.path.parent / STILLS[1]).unlink()
    assert "night walk" in problem(client.post("/api/v1/pictures", json=ask), 410)
    client.post("/api/v1/clips", params=params, content=data)
    assert client.post("/api/v1/pictures", json=ask).content == seen
    assert list((project.folder / "incoming").iterdir()) == []


@pytest.mark.parametrize(
    ("name", "names", "says"),
    [
        ("night_walk.%04d.png", [STILLS[0], STILLS[2]], "0008.png: missing"),
        ("night_walk.%03d.png", STILLS, "not one of the stills"),
        ("../../walk.%04d.png", STILLS, "not a name of numbered stills"),
        ("night_walk.%04d.mov", STILLS, "not a name of numbered stills"),
        ("night_walk.%04d.png", STILLS + STILLS, "sent twice"),
    ],
)
def test_stills_that_are_no_clip_are_refused_and_leave_nothing(name, names, says, client, stills):
    answer = client.post(
        "/api/v1/clips", params={"name": name}, content=_pack_stills(stills, names)
    )
    assert says in problem(answer, 422)
    assert client.get("/api/v1/clips").json() == []
    assert list((client.app.state.preview.project.folder / "incoming").iterdir()) == []


def test_stills_cut_off_on_the_way_are_refused(client, stills):
    data = _pack_stills(stills, STILLS)[:2000]
    answer = client.post("/api/v1/clips", params={"name": "night_walk.%04d.png"}, content=data)
    assert "did not arrive whole" in problem(answer, 422)
