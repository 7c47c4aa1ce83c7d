"""Over HTTP: cuts of a clip, found in the background."""

import threading

import pytest

from tests.api.conftest import clip_added, problem, told_once
from tests.media.making import CUT_AT, moving_clip

FRAMES = 30
FINDING = "/api/v1/boundaries/finding"


@pytest.fixture(scope="module")
def two_shots(tmp_path_factory):
    return moving_clip(tmp_path_factory.mktemp("cut") / "moving.mp4", FRAMES)


@pytest.fixture
def clip_id(client, two_shots):
    return clip_added(client, two_shots)


def status_once(client, what, value):
    """What is told once that is so."""
    return told_once(client, FINDING, lambda status: status[what] == value)


def find_boundaries(client, **ask):
    answer = client.post(FINDING, json=ask)
    assert answer.status_code == 202, answer.text
    status = status_once(client, "running", False)
    assert status["error"] is None
    return [each["frame"] for each in status["boundaries"]]


def test_before_anything_was_looked_for_there_is_nothing(client):
    assert client.get(FINDING).json() is None


def test_a_cut_is_found_and_told_with_its_jump(client, clip_id):
    assert find_boundaries(client, clip=clip_id) == [CUT_AT]
    status = client.get(FINDING).json()
    assert (status["done"], status["total"]) == (FRAMES, FRAMES)
    assert status["usual"] < status["boundaries"][0]["jump"] <= 1


def test_a_part_is_looked_through_alone(client, clip_id):
    assert find_boundaries(client, clip=clip_id, first=CUT_AT, last=CUT_AT + 8) == []
    assert client.get(FINDING).json()["total"] == 9
    assert find_boundaries(client, clip=clip_id, first=CUT_AT - 6) == [CUT_AT]


@pytest.mark.parametrize(("speed", "at"), [(2, CUT_AT // 2), (0.5, 2 * CUT_AT)])
def test_frames_are_those_of_the_clip_at_its_speed(client, clip_id, speed, at):
    reading = {"speed": speed, "between": "hold"}
    assert client.put(f"/api/v1/clips/{clip_id}/reading", json=reading).status_code == 200
    assert find_boundaries(client, clip=clip_id) == [at]


def test_it_can_be_stopped(client, clip_id):
    with client.app.state.preview.computing:
        client.post(FINDING, json={"clip": clip_id})
        stopping = threading.Thread(target=lambda: client.post(f"{FINDING}/stop"))
        stopping.start()
        status_once(client, "stopped", True)
    stopping.join()
    status = client.get(FINDING).json()
    assert not status["running"]
    assert status["done"] < FRAMES


@pytest.mark.parametrize(("first", "last"), [(0, FRAMES), (5, 4), (FRAMES, None)])
def test_frames_that_a_clip_has_not_are_refused(client, clip_id, first, last):
    answer = client.post(FINDING, json={"clip": clip_id, "first": first, "last": last})
    assert problem(answer, 422).startswith(f"frames {first} to ")


def test_a_clip_whose_file_is_gone_is_told(client, clip_id):
    client.app.state.project.clips.get(clip_id).path.unlink()
    client.post(FINDING, json={"clip": clip_id})
    assert "its file is gone" in status_once(client, "running", False)["error"]
