"""Over HTTP: figures lifted out of clips in the background, and seen meanwhile."""

import cv2
import numpy as np
import pytest

from tests.api.conftest import clip_added, problem, told_once
from tests.media.making import MOVING, STEP_X, STEP_Y, moving_clip

FRAMES = 8
DISC = [
    {
        "frame": 2,
        "kind": "around",
        "points": [[0.1, 0.13], [0.42, 0.13], [0.42, 0.72], [0.1, 0.72]],
    },
    {"frame": 2, "kind": "this", "points": [[0.2, 0.4], [0.34, 0.45]], "width": 60},
]
DAB = {"frame": 6, "kind": "not this", "points": [[0.9, 0.9]], "width": 20}


@pytest.fixture(scope="module")
def moving(tmp_path_factory):
    return moving_clip(tmp_path_factory.mktemp("moving") / "moving.mp4", frames=FRAMES)


@pytest.fixture
def moving_id(client, moving):
    return clip_added(client, moving)


def disc(frame):
    y, x = np.mgrid[0 : MOVING.height, 0 : MOVING.width]
    return (x - 120 - STEP_X * frame) ** 2 + (y - 110 - STEP_Y * frame) ** 2 < 60**2


def ask_for_matte(client, clip_id, strokes=DISC, **more):
    body = {"clip": clip_id, "title": "Disc", "strokes": strokes, **more}
    return client.post("/api/v1/mattes/finding", json=body)


def find_matte(client, clip_id, strokes=DISC, **more):
    """What there is once a matte was found."""
    answer = ask_for_matte(client, clip_id, strokes, **more)
    assert answer.status_code == 202, answer.text
    return told_once(client, "/api/v1/mattes/finding", lambda status: not status["running"])


def glimpse(client, clip_id, frame, strokes, known=None):
    body = {"clip": clip_id, "frame": frame, "strokes": strokes, "known": known, "height": 270}
    answer = client.post("/api/v1/mattes/previews", json=body)
    assert answer.status_code == 200, answer.text
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)


def test_a_figure_is_lifted_out_and_kept_as_a_plate_with_its_strokes(client, moving_id):
    assert client.get("/api/v1/mattes/finding").json() is None
    status = find_matte(client, moving_id)
    assert (status["clip"], status["title"], status["error"]) == (moving_id, "Disc", None)
    assert status["done"] == status["total"] == 2 * FRAMES
    (plate,) = client.get("/api/v1/plates").json()
    assert (plate["file"], plate["frames"], plate["title"]) == (status["file"], FRAMES, "Disc")
    lifted = client.get(f"/api/v1/mattes/{plate['file']}/strokes").json()
    assert lifted["clip"] == moving_id
    assert [stroke["kind"] for stroke in lifted["strokes"]] == ["around", "this"]
    mask = [{"id": "m", "kind": "matte", "file": plate["file"]}]
    step = {"id": "e", "treatment": "exposure", "settings": {"stops": -9}, "mix": {"mask": mask}}
    look = {"format": "yearning-look/3", "steps": [step]}
    body = {"clip": moving_id, "look": look, "frame": 5, "height": 270}
    shown = client.post("/api/v1/pictures", json=body)
    picture = cv2.imdecode(np.frombuffer(shown.content, np.uint8), cv2.IMREAD_GRAYSCALE)
    dark = picture < 30
    assert (dark & disc(5)).sum() / (dark | disc(5)).sum() > 0.85


def test_with_more_strokes_it_is_found_again_as_another_plate(client, moving_id):
    first = find_matte(client, moving_id)["file"]
    again = find_matte(client, moving_id, [*DISC, DAB], known=first)
    assert again["error"] is None
    assert again["file"] != first
    assert {plate["file"] for plate in client.get("/api/v1/plates").json()} == {
        first,
        again["file"],
    }
    lifted = client.get(f"/api/v1/mattes/{again['file']}/strokes").json()
    assert len(lifted["strokes"]) == 3


def test_one_that_is_stopped_keeps_no_plate_and_goes_on_when_asked_again(client, moving_id):
    ask_for_matte(client, moving_id)
    client.post("/api/v1/mattes/finding/stop")
    status = client.get("/api/v1/mattes/finding").json()
    assert (status["running"], status["stopped"], status["file"]) == (False, True, None)
    assert client.get("/api/v1/plates").json() == []
    assert find_matte(client, moving_id)["file"]


def test_a_frame_is_seen_with_the_rest_of_it_dim(client, moving_id):
    plain = glimpse(client, moving_id, 2, [])
    lifted = glimpse(client, moving_id, 2, DISC)
    inside, outside = disc(2), ~disc(2)
    assert np.abs(lifted[inside].astype(int) - plain[inside]).mean() < 8
    assert lifted[outside].mean() < 0.5 * plain[outside].mean()
    unknown = glimpse(client, moving_id, 5, DISC)
    np.testing.assert_array_equal(unknown, glimpse(client, moving_id, 5, []))
    file = find_matte(client, moving_id)["file"]
    known = glimpse(client, moving_id, 5, DISC, file)
    assert known[~disc(5)].mean() < 0.5 * unknown[~disc(5)].mean()


def test_an_older_glimpse_is_overtaken(client, moving_id):
    body = {"clip": moving_id, "frame": 2, "strokes": DISC, "height": 270, "channel": "c"}
    assert client.post("/api/v1/mattes/previews", json=body | {"sequence": 5}).status_code == 200
    assert client.post("/api/v1/mattes/previews", json=body | {"sequence": 4}).status_code == 409


def test_strokes_are_left_as_they_are_drawn(client, moving_id):
    place = {"clip": moving_id, "step": "mono", "shape": "figure"}
    assert client.get("/api/v1/mattes/drafts", params=place).json() == {
        "strokes": [],
        "known": None,
    }
    draft = place | {"strokes": DISC, "known": "Disc.abc.mkv"}
    assert client.put("/api/v1/mattes/drafts", json=draft).status_code == 204
    left = client.get("/api/v1/mattes/drafts", params=place).json()
    assert left["known"] == "Disc.abc.mkv"
    assert [stroke["points"] for stroke in left["strokes"]] == [s["points"] for s in DISC]
    other = client.get("/api/v1/mattes/drafts", params=place | {"shape": "other"}).json()
    assert other["strokes"] == []


@pytest.mark.parametrize(
    ("change", "status", "says"),
    [
        ({"strokes": []}, 422, "draw one on it, or around it"),
        ({"strokes": [DAB]}, 422, "draw one on it, or around it"),
        ({"strokes": [{**DISC[0], "frame": 99}]}, 422, "frame 99; the clip ends at 7"),
        ({"strokes": [{**DISC[1], "points": [[3, 3]]}]}, 422, "points"),
        ({"known": "../../secret.mkv"}, 422, "leads out of"),
        ({"known": "gone.mkv"}, 422, "can't be read"),
        ({"title": ""}, 422, "title"),
        ({"clip": 999}, 404, "999"),
    ],
)
def test_what_can_not_be_lifted_out_is_refused_at_its_place(
    client, moving_id, change, status, says
):
    body = {"clip": moving_id, "title": "Disc", "strokes": DISC} | change
    assert says in problem(client.post("/api/v1/mattes/finding", json=body), status)
    assert client.get("/api/v1/mattes/finding").json() is None


def test_a_plate_that_was_not_lifted_out_has_no_strokes(client, moving):
    plate = client.post("/api/v1/plates?name=a.mp4", content=moving.read_bytes())
    file = plate.json()["file"]
    assert client.get(f"/api/v1/mattes/{file}/strokes").json() is None
