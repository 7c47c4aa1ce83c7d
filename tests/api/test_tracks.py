"""Over HTTP: parts of clips followed in the background, kept, and ridden on."""

import json
import threading

import cv2
import numpy as np
import pytest

from tests.api.conftest import clip_added, problem, told_once
from tests.api.rendering import ask_for_render, render_once
from tests.media.making import CUT_AT, MOVING, STEP_X, STEP_Y, moving_clip
from tests.waiting import wait_for

DISC = {"id": "disc", "kind": "ellipse", "centre": [120 / 480, 110 / 270], "size": [0.115, 0.2]}
WIDE, HIGH = MOVING


@pytest.fixture(scope="module")
def moving(tmp_path_factory):
    return moving_clip(tmp_path_factory.mktemp("moving") / "moving.mp4")


@pytest.fixture
def moving_id(client, moving):
    return clip_added(client, moving)


def find_track(client, clip_id, **ask):
    """What there is once a track was found."""
    body = {"clip": clip_id, "title": "Disc", "shape": DISC, "frame": 0, **ask}
    answer = client.post("/api/v1/tracks/finding", json=body)
    assert answer.status_code == 202, answer.text
    return wait_for_track(client)


def wait_for_track(client):
    return told_once(client, "/api/v1/tracks/finding", lambda status: not status["running"])


def places(client, file):
    return client.get(f"/api/v1/tracks/{file}").json()["places"]


def test_a_track_of_a_clip_that_is_too_long_says_where_it_ends(client, moving_id, monkeypatch):
    monkeypatch.setattr("yearning.analysis.tracks.MAX_FRAMES", 5)
    status = find_track(client, moving_id)
    assert (status["total"], status["error"]) == (5, None)
    (loss,) = status["losses"]
    assert (loss["first"], loss["last"]) == (5, 17)
    assert loss["why"] == "a track has 5 frames at the most"
    assert [place["frame"] for place in places(client, status["file"])] == [0, 1, 2, 3, 4]


def test_a_track_is_found_kept_and_says_where_it_ends_and_why(client, moving_id):
    assert client.get("/api/v1/tracks/finding").json() is None
    status = find_track(client, moving_id)
    assert (status["clip"], status["title"], status["error"]) == (moving_id, "Disc", None)
    assert 0 < status["done"] <= status["total"] == 18
    (loss,) = status["losses"]
    assert (loss["first"], loss["last"], loss["why"]) == (CUT_AT, 17, "there is a cut")
    (listed,) = client.get("/api/v1/tracks").json()
    assert listed["file"] == status["file"]
    assert (listed["clip"], listed["begin"], listed["frames"]) == (moving_id, 0, CUT_AT)
    assert listed["lost"] == [[CUT_AT, 17]]
    assert listed["shape"]["centre"] == DISC["centre"]
    for place in places(client, listed["file"]):
        n, matrix = place["frame"], np.array(place["matrix"])
        assert matrix[:2, 2] * (WIDE, HIGH) == pytest.approx([STEP_X * n, STEP_Y * n], abs=0.3)
        assert place["sure"] > 0.5
    assert client.get("/api/v1/plates").json() == []  # it is none


def test_what_rides_on_it_moves_in_previews(client, moving_id):
    file = find_track(client, moving_id)["file"]

    def weight(frame, track):
        shape = DISC | {"track": track}
        step = {"id": "e", "treatment": "exposure", "mix": {"mask": [shape]}}
        look = {"format": "yearning-look/3", "steps": [step]}
        ask = {"clip": moving_id, "frame": frame, "look": look, "height": HIGH}
        ask |= {"show": "weight", "after": "e"}
        answer = client.post("/api/v1/pictures", json=ask)
        assert answer.status_code == 200, answer.text
        return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_GRAYSCALE)

    middle = [np.argwhere(weight(n, file) > 128).mean(0) for n in (0, 10)]
    assert middle[1] - middle[0] == pytest.approx([10 * STEP_Y, 10 * STEP_X], abs=1.5)
    # one that is gone moves nothing, and the rest is shown
    assert np.array_equal(weight(10, "gone.json"), weight(0, ""))


def test_a_frame_put_right_is_kept_and_only_what_lies_about_it_is_solved_again(client, moving_id):
    first = find_track(client, moving_id, kind="shift")
    hand = [[1, 0, (STEP_X * 9 + 2) / WIDE], [0, 1, STEP_Y * 9 / HIGH], [0, 0, 1]]
    by_hand = [{"frame": 9, "matrix": hand}]
    again = find_track(client, moving_id, kind="shift", by_hand=by_hand, known=first["file"])
    assert again["file"] != first["file"]
    put = {each["frame"]: each for each in places(client, again["file"])}
    assert np.allclose(put[9]["matrix"], hand)
    assert [n for n, each in put.items() if each["by_hand"]] == [9]
    assert put[5]["matrix"][0][2] > STEP_X * 5 / WIDE + 0.5 / WIDE
    same = find_track(client, moving_id, kind="shift", by_hand=by_hand, known=again["file"])
    assert same["total"] == 0


def test_a_track_is_smoothed_as_another_and_both_are_kept(client, moving_id):
    file = find_track(client, moving_id)["file"]
    smooth = client.post(f"/api/v1/tracks/{file}/smoothed", json={"smooth": 5})
    assert smooth.status_code == 201
    assert smooth.json()["smooth"] == 5
    assert {t["smooth"] for t in client.get("/api/v1/tracks").json()} == {0, 5}
    before, after = places(client, file), places(client, smooth.json()["file"])
    assert before != after
    assert np.allclose(before[6]["matrix"], after[6]["matrix"], atol=2e-3)


def test_a_track_is_taken_out_and_in_as_a_file(client, moving_id):
    file = find_track(client, moving_id)["file"]
    answer = client.get(f"/api/v1/tracks/{file}/file")
    assert answer.headers["content-disposition"].startswith("attachment")
    assert json.loads(answer.content)["format"] == "yearning-track/1"
    taken = client.post("/api/v1/tracks", params={"name": "Disc.json"}, content=answer.content)
    assert taken.status_code == 201
    assert taken.json()["file"] == file  # the same is kept once
    said = problem(client.post("/api/v1/tracks", params={"name": "a.json"}, content=b"{}"), 422)
    assert "yearning-track/1" in said
    assert len(client.get("/api/v1/tracks").json()) == 1


def test_one_that_is_stopped_keeps_what_it_has(client, moving_id):
    body = {"clip": moving_id, "title": "Disc", "shape": DISC, "frame": 0}
    computing = client.app.state.preview.computing
    with computing:  # it waits after its first step
        client.post("/api/v1/tracks/finding", json=body)

        def one_step():
            done = client.get("/api/v1/tracks/finding").json()["done"]
            if done == 1:
                computing.release()
                computing.acquire()
            return done

        wait_for(one_step, lambda done: done >= 2)
        stopping = threading.Thread(target=client.post, args=("/api/v1/tracks/finding/stop",))
        stopping.start()
        told_once(client, "/api/v1/tracks/finding", lambda status: status["stopped"])
    stopping.join(30)
    status = client.get("/api/v1/tracks/finding").json()
    assert (status["stopped"], status["running"]) == (True, False)
    assert status["done"] < status["total"]
    assert 1 < len(places(client, status["file"])) < CUT_AT


def test_one_that_is_stopped_at_once_keeps_nothing_and_is_no_failure(client, moving_id):
    body = {"clip": moving_id, "title": "Disc", "shape": DISC, "frame": 0}
    with client.app.state.preview.computing:
        client.post("/api/v1/tracks/finding", json=body)
        stopping = threading.Thread(target=client.post, args=("/api/v1/tracks/finding/stop",))
        stopping.start()
        told_once(client, "/api/v1/tracks/finding", lambda status: status["stopped"])
    stopping.join(30)
    status = client.get("/api/v1/tracks/finding").json()
    assert (status["stopped"], status["error"]) == (True, None)
    assert len(client.get("/api/v1/tracks").json()) == (status["file"] is not None)


def test_a_later_one_takes_the_place_of_one_that_is_being_found(client, moving_id):
    body = {"clip": moving_id, "title": "First", "shape": DISC, "frame": 0}
    client.post("/api/v1/tracks/finding", json=body)
    status = find_track(client, moving_id, title="Second")
    assert (status["title"], status["stopped"]) == ("Second", False)
    assert "Second" in {each["title"] for each in client.get("/api/v1/tracks").json()}


def test_nothing_to_follow_is_said(client, moving_id):
    tiny = DISC | {"size": [0.004, 0.006]}
    status = find_track(client, moving_id, shape=tiny)
    assert "draw it about something with corners" in status["error"]
    assert client.get("/api/v1/tracks").json() == []


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"shape": {"id": "w", "kind": "wash"}}, "only an ellipse, a box or a path"),
        ({"shape": {"id": "w", "kind": "star"}}, "star"),
        ({"shape": DISC | {"size": [0, 0.1]}}, "half axes"),
        ({"kind": "spin"}, "kind"),
        ({"frame": -1}, "frame"),
        ({"by_hand": [{"frame": 3, "matrix": [[0, 0, 0]] * 3}]}, "inverted"),
        ({"smooth": 99}, "smooth"),
        ({"known": "../x.json"}, "leads out of"),
        ({"known": "gone.json"}, "can't be read"),
    ],
)
def test_what_can_not_be_followed_is_refused(client, moving_id, change, says):
    body = {"clip": moving_id, "title": "Disc", "shape": DISC, "frame": 0, **change}
    assert says in problem(client.post("/api/v1/tracks/finding", json=body), 422)


def test_a_frame_beyond_the_clip_is_said(client, moving_id):
    assert "the clip has frames 0 to 17" in find_track(client, moving_id, frame=400)["error"]


def test_a_track_of_another_clip_is_not_rendered_with(client, moving_id, clip_id):
    file = find_track(client, moving_id)["file"]
    step = {"id": "e", "treatment": "exposure", "mix": {"mask": [DISC | {"track": file}]}}
    look = {"format": "yearning-look/3", "steps": [step]}
    made = ask_for_render(client, clip_id, look)
    failed = render_once(client, made["id"], lambda r: r["state"] in ("done", "failed"))
    assert failed["state"] == "failed"
    assert "steps[0].mix.mask[0].track" in failed["message"]
    assert "follows a part of another clip" in failed["message"]
