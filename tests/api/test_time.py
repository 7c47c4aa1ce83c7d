"""Over HTTP: what keys say, bursts by rule, steadiness and flashes."""

import threading

import cv2
import numpy as np
import pytest

from tests.api.conftest import clip_added, problem
from tests.conftest import THREE_STEPS, step
from tests.waiting import wait_for
from yearning.core.measure.steadiness import SteadinessAnalysis

KEYED = {
    "id": "k",
    "treatment": "glow",
    "keys": {
        "spread": [{"frame": 0, "value": 20}, {"frame": 10, "value": 60}],
        "mix.amount": [{"frame": 0, "value": 1, "ease": "hold"}, {"frame": 20, "value": 0}],
    },
    "bursts": [{"from": 4, "to": 9, "ramp": 1}],
}
STROBE = {"id": "s", "treatment": "exposure", "settings": {"stops": 4}} | {
    "bursts": [{"from": n, "to": n + 1} for n in range(2, 38, 4)]
}


def document(*steps):
    return {"format": "yearning-look/3", "name": "A", "steps": list(steps)}


def test_values_of_a_step_at_a_frame(client, clip_id):
    ask = {"clip": clip_id, "frame": 5, "look": document(KEYED), "step": "k", "looked": [39]}
    found = client.post("/api/v1/step-values", json=ask).json()
    assert found["settings"] == {"spread": 40}
    assert found["mix"] == {"amount": 1}
    assert found["weight"] == 1
    assert found["next"] == 29  # the middle of 20 to 39
    assert "no step" in problem(client.post("/api/v1/step-values", json=ask | {"step": "x"}), 422)


def test_bursts_by_rule(client, clip_id):
    def make_bursts(**ask):
        return client.post(f"/api/v1/clips/{clip_id}/bursts", json=ask)

    found = make_bursts(way="repeated", first=2, length=4, every=12, ramp=1).json()
    assert [(burst["from"], burst["to"]) for burst in found] == [
        (2, 5),
        (14, 17),
        (26, 29),
        (38, 39),
    ]
    assert {burst["ramp"] for burst in found} == {1}
    assert len(make_bursts(way="scattered", count=5, shortest=2, longest=4).json()) == 5
    assert "do not fit" in problem(
        make_bursts(way="scattered", count=50, shortest=2, longest=4), 422
    )
    assert "none between" in problem(make_bursts(way="repeated", length=4, every=3), 422)
    assert make_bursts(way="sound", length=3).status_code == 200
    assert make_bursts(way="sound", length=3, threshold=20).json() == []  # nothing rises by that


def test_a_clip_without_sound_gives_no_bursts_on_sound(client, make_clip):
    file = make_clip("quiet.mp4", "libx264", frames=5).read_bytes()
    quiet = client.post("/api/v1/clips?name=quiet.mp4", content=file).json()["id"]
    answer = client.post(f"/api/v1/clips/{quiet}/bursts", json={"way": "sound", "length": 3})
    assert "no sound" in problem(answer, 422)


def test_of_bursts_beyond_the_clip_is_rendered_what_lies_within(client, clip_id):
    late = KEYED | {"bursts": [{"from": 4, "to": 40}]}
    ask = {"clip": clip_id, "look": document(late), "result": {}}
    made = client.post("/api/v1/renders", json=ask).json()
    (note,) = made["notes"]
    assert note.startswith("steps[0].bursts[0]: it names frame 40; the clip has frames 0 to")
    client.post(f"/api/v1/renders/{made['id']}/stop")


def until_known(client, ask):
    return wait_for(
        lambda: client.post("/api/v1/analyses", json=ask).json(),
        lambda told: told["report"] or told["error"],
    )


def test_steadiness_is_found_in_the_background_and_kept(client, clip_id):
    ask = {"clip": clip_id, "look": document(*THREE_STEPS)}
    assert client.post("/api/v1/analyses/known", json=ask).json()["report"] is None
    first = client.post("/api/v1/analyses", json=ask).json()
    assert first["report"] is None
    assert first["total"] == 40
    told = until_known(client, ask)
    assert told["done"] == 40
    report = told["report"]
    assert len(report["change_footage"]) == len(report["added_steady"]) == 40
    assert report["lively"] == ["n"]
    known = client.post("/api/v1/analyses/known", json=ask | {"look": ask["look"] | {"name": "B"}})
    assert known.json()["report"] == report


def test_another_look_takes_the_place_of_the_one_in_hand(client, clip_id):
    first = {"clip": clip_id, "look": document(*THREE_STEPS)}
    second = {"clip": clip_id, "look": document(step("levels", {"gamma": 1.3}))}
    client.post("/api/v1/analyses", json=first)
    assert until_known(client, second)["report"]["lively"] == []
    assert client.post("/api/v1/analyses/known", json=first).json()["report"] is None


def test_a_strobe_is_said_with_its_step(client, clip_id):
    told = until_known(client, {"clip": clip_id, "look": document(step("levels", {}), STROBE)})
    assert {fault["step"] for fault in told["report"]["flashes"]} == {"s"}


def test_one_frame_is_measured_alone(client, clip_id, monkeypatch):
    ask = {"clip": clip_id, "look": document(STROBE | {"bursts": []}), "frame": 3}
    found = client.post("/api/v1/frame-changes", json=ask).json()
    whole = until_known(client, {k: ask[k] for k in ("clip", "look")})["report"]
    assert found["added_steady"] == pytest.approx(whole["added_steady"][3], abs=1e-6)
    refused = client.post("/api/v1/frame-changes", json=ask | {"frame": 40})
    assert "0 to 39" in problem(refused, 422)


def test_a_table_that_is_gone_is_said(client, clip_id):
    look = document(step("table", {"file": "a" * 64 + ".cube"}))
    assert until_known(client, {"clip": clip_id, "look": look})["error"]


def test_an_analysis_that_is_stopped_keeps_nothing_and_begins_anew_when_asked(client, clip_id):
    ask = {"clip": clip_id, "look": document(*THREE_STEPS, step("brush", {}))}
    client.post("/api/v1/analyses", json=ask)
    assert client.post("/api/v1/analyses/stop").status_code == 204
    for _ in range(2):  # it is asked for again and again while the page is open
        stopped = client.post("/api/v1/analyses", json=ask).json()
        assert (stopped["stopped"], stopped["report"]) == (True, None)
        assert stopped["done"] < stopped["total"]
    assert client.post("/api/v1/analyses/known", json=ask).json()["report"] is None
    other = {"clip": clip_id, "look": document(step("levels", {"gamma": 1.3}))}
    assert until_known(client, other)["report"]["measured"] is None
    client.post("/api/v1/analyses/stop")  # of what is done nothing is given up
    assert client.post("/api/v1/analyses", json=other).json()["report"]
    client.post("/api/v1/analyses", json=ask)
    client.post("/api/v1/analyses/stop")
    begun = client.post("/api/v1/analyses", json=ask | {"again": True}).json()
    assert not begun["stopped"]


def test_of_a_long_clip_the_motion_of_some_frames_is_estimated(client, clip_id, monkeypatch):
    monkeypatch.setattr("yearning.analysis.analyzer.EXACT_FRAMES", 39)
    report = until_known(client, {"clip": clip_id, "look": document(*THREE_STEPS)})["report"]
    assert 0 < report["measured"] < 39
    assert len(report["change_footage"]) == len(report["added_steady"]) == 40


def test_an_analysis_ends_with_the_server(make_client, clip, monkeypatch):
    begun, ended = threading.Event(), threading.Event()

    def forever(self):
        try:
            while True:
                begun.set()
                yield 1
        finally:
            ended.set()

    monkeypatch.setattr(SteadinessAnalysis, "run", forever)
    with make_client() as client:
        ask = {"clip": clip_added(client, clip), "look": document(*THREE_STEPS)}
        client.post("/api/v1/analyses", json=ask)
        assert begun.wait(20)
        assert not ended.is_set()
    assert ended.is_set()
    assert "steadiness" not in [thread.name for thread in threading.enumerate()]


def test_a_picture_is_compared_with_another_frame_of_itself(client, clip_id):
    ask = {"clip": clip_id, "frame": 5, "look": document(), "height": 112, "show": "change"}

    def picture_seen(base):
        data = client.post("/api/v1/pictures", json=ask | {"base_frame": base, "gain": 4}).content
        return cv2.imdecode(np.frombuffer(data, np.uint8), 1).astype(int)

    assert np.abs(picture_seen(5) - 128).max() <= 3  # grey: nothing has changed
    assert np.abs(picture_seen(2) - 128).mean() > 10
    refused = client.post("/api/v1/pictures", json=ask | {"base_frame": 40})
    assert "0 to 39" in problem(refused, 422)
