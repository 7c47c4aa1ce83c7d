"""Over HTTP: plates brought in, made, and looked at; marks; what can't be used."""

import threading

import cv2
import numpy as np
import pytest

from tests.api.conftest import codes_shown, problem, told_once
from tests.conftest import encode_grey


def png(codes):
    return cv2.imencode(".png", codes)[1].tobytes()


LIGHT = png(np.full((20, 40, 3), 200, np.uint8))


def add(client, name="Warm light.png", data=LIGHT):
    return client.post("/api/v1/plates", params={"name": name}, content=data)


def look_with(**settings):
    step = {"id": "p", "treatment": "plate", "settings": settings}
    step["mix"] = {"blend": "normal", "amount": 1}
    return {"format": "yearning-look/3", "steps": [step]}


def test_a_plate_that_is_made_says_how_far_it_is_and_is_stopped(client):
    assert client.get("/api/v1/plates/generation").json() is None
    before = client.get("/api/v1/plates").json()
    answers = []
    asking = threading.Thread(
        target=lambda: answers.append(
            client.post("/api/v1/plates/generated", json={"kind": "light burn"})
        )
    )
    asking.start()
    found = told_once(client, "/api/v1/plates/generation", lambda told: told and told["done"] > 0)
    assert (found["kind"], found["total"]) == ("light burn", 96)
    other = problem(client.post("/api/v1/plates/generated", json={"kind": "paper"}), 409)
    assert "light burn is being made" in other
    assert client.post("/api/v1/plates/generation/stop").status_code == 204
    asking.join(60)
    assert "was stopped" in problem(answers[0], 409)
    assert client.get("/api/v1/plates/generation").json() is None
    assert client.get("/api/v1/plates").json() == before
    assert client.post("/api/v1/plates/generation/stop").status_code == 204  # nothing to stop


def test_a_plate_is_taken_in_once_and_told(client):
    made = add(client).json()
    assert add(client).json() == made
    assert client.get("/api/v1/plates").json() == [made]
    told = {k: made[k] for k in ("title", "frames", "width", "height", "matte", "rate")}
    assert told == {"title": "Warm light", "frames": 1, "width": 40, "height": 20} | {
        "matte": False,
        "rate": None,
    }
    assert sum(made["histogram"][0]) == 800
    strip = client.get(f"/api/v1/plates/{made['file']}/strip?count=8")
    assert strip.headers["content-type"] == "image/jpeg"


def test_a_plate_is_seen_and_one_that_is_gone_leaves_the_rest(client, clip_id):
    file = add(client).json()["file"]
    plain = codes_shown(client, clip_id, {"format": "yearning-look/3", "steps": []})
    assert np.abs(codes_shown(client, clip_id, look_with(file=file)) - 200).max() <= 2
    gone = look_with(file="gone.png")
    assert np.abs(codes_shown(client, clip_id, gone) - plain).max() <= 2
    said = client.post("/api/v1/plates/uses", json={"step": gone["steps"][0]}).json()
    assert "can't be read" in said["problem"]


def test_a_plate_that_was_gone_is_seen_once_it_is_back(client, clip_id):
    file = add(client).json()["file"]
    place = client.app.state.preview.project.assets / file
    data = place.read_bytes()
    place.unlink()
    plain = codes_shown(client, clip_id, look_with(file=file))
    place.write_bytes(data)
    add(client)
    assert np.abs(codes_shown(client, clip_id, look_with(file=file)) - plain).max() > 20


def test_a_clip_is_a_second_exposure(client, clip_id):
    made = client.post(f"/api/v1/plates/of-clips/{clip_id}").json()
    assert made["title"] == "small"
    assert made["frames"] > 1
    step = look_with(file=made["file"], exclude=[[0, 0]])["steps"][0]
    said = client.post("/api/v1/plates/uses", json={"step": step}).json()
    assert said == {"frames": made["frames"], "used": made["frames"] - 1, "problem": None}
    assert client.post("/api/v1/plates/of-clips/99").status_code == 404


def test_stand_ins_are_made_by_name(client):
    kinds = client.get("/api/v1/plates/kinds").json()
    assert {"kind", "summary", "shuffles"} == set(kinds[0])
    made = client.post("/api/v1/plates/generated", json={"kind": "paper", "seed": 3}).json()
    assert made["title"] == "paper 3"
    assert (made["width"], made["height"]) == (1920, 1080)
    said = problem(client.post("/api/v1/plates/generated", json={"kind": "fog"}), 422)
    assert said.startswith("'fog' is no kind of plate")


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("a.png", b"nothing", "a.png: is no picture that can be read"),
        ("a.mp4", b"nothing", "a.mp4"),
        ("a.txt", b"nothing", "a.txt"),
        ("a.png", b"", "a.png: is no picture"),
    ],
)
def test_what_is_no_plate_is_refused_and_nothing_is_left(client, name, data, says):
    assert says in problem(add(client, name, data), 422)
    assert list(client.app.state.preview.project.assets.iterdir()) == []


def test_the_marks_of_a_step_are_told_and_gone_once_taken_out(client, clip_id):
    step = {"id": "d", "treatment": "dust", "settings": {"specks": 200, "scratches": 3}}

    def ask_for_marks(step):
        look = {"format": "yearning-look/3", "steps": [step]}
        return client.post(
            "/api/v1/marks", json={"clip": clip_id, "frame": 2, "look": look, "step": "d"}
        )

    marks = ask_for_marks(step).json()
    names = [mark["name"] for mark in marks]
    assert len(set(names)) == len(names) > 3
    specks = [mark["points"] for mark in marks if "speck" in mark["name"]]
    assert all(0 <= x <= 1.05 for points in specks for x, _ in points)
    crop = {"id": "c", "treatment": "crop", "settings": {"ratio": 1}}
    cut = client.post(
        "/api/v1/marks",
        json={
            "clip": clip_id,
            "frame": 2,
            "look": {"format": "yearning-look/3", "steps": [step, crop]},
            "step": "d",
        },
    ).json()
    for before, after in zip(marks, cut, strict=True):  # it is at its size there
        np.testing.assert_allclose(after["points"], before["points"], atol=1e-9)
    crop["settings"]["size"] = 0.5
    look = {"format": "yearning-look/3", "steps": [step, crop]}
    grown = client.post(
        "/api/v1/marks", json={"clip": clip_id, "frame": 2, "look": look, "step": "d"}
    ).json()
    for before, after in zip(marks, grown, strict=True):
        x, y = before["points"][0]
        assert after["points"][0] == pytest.approx([0.5 + 2 * (x - 0.5), 0.5 + 2 * (y - 0.5)])
        assert after["radius"] == pytest.approx(2 * before["radius"])
    step["settings"]["removed"] = names[:2]
    assert [mark["name"] for mark in ask_for_marks(step).json()] == names[2:]
    step["id"] = "other"
    assert "no step has the id 'd'" in problem(ask_for_marks(step), 422)
    wrong = step | {"id": "d", "settings": {"removed": ["moth 3"]}}
    assert "steps[0].settings.removed[0]" in problem(ask_for_marks(wrong), 422)


def test_odd_frames_are_found_and_the_strip_goes_to_single_ones(client, tmp_path):
    levels = [60 + n for n in range(40)]
    levels[7] = levels[21] = levels[22] = 220
    data = encode_grey(tmp_path / "marked.mkv", levels).read_bytes()
    file = add(client, "marked.mkv", data).json()["file"]
    found = client.get(f"/api/v1/plates/{file}/odd-frames").json()
    assert found == {
        "spans": [{"first": 7, "last": 7}, {"first": 21, "last": 22}],
        "looked_at": 40,
    }
    strip = client.get(f"/api/v1/plates/{file}/strip?count=8&first=4&last=9").content
    shown = cv2.imdecode(np.frombuffer(strip, np.uint8), cv2.IMREAD_GRAYSCALE)
    means = shown.reshape(shown.shape[0], 6, -1).mean((0, 2))  # frames 4 to 9, one by one
    assert means.argmax() == 3
    assert np.all(np.diff(np.delete(means, 3)) > 0)
    for address in ("strip?first=90&last=12", "strip?count=-4&first=-3"):
        assert client.get(f"/api/v1/plates/{file}/{address}").status_code == 200
    problem(client.get("/api/v1/plates/gone.mkv/odd-frames"), 404)
