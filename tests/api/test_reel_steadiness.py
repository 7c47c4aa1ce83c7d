"""Over HTTP: steadiness and flashes of a whole reel, measured in the background."""

import threading

import pytest

from tests.api.conftest import clip_added, problem, told_once
from tests.api.test_reels import BRIGHT, add_reel, gap, shot
from tests.conftest import encode_grey
from tests.test_cli_reel_flashes import DARK, LIGHT

MEASURING = "/api/v1/reel-steadiness/measuring"
POPS = [DARK] * 6 + [DARK + 12] + [DARK] * 11
"""A clip that pops once: looks that brighten it have that frame flagged."""


@pytest.fixture
def clips(client, tmp_path):
    """A dark clip, a light one, and one that pops."""
    numbers = []
    for name, greys in (("dark", [DARK] * 30), ("light", [LIGHT] * 30), ("pops", POPS)):
        encode_grey(tmp_path / f"{name}.mkv", greys)
        numbers.append(clip_added(client, tmp_path / f"{name}.mkv"))
    return numbers


def measure_reel(client, reel):
    answer = client.post(MEASURING, json={"reel": reel["id"]})
    assert answer.status_code == 202, answer.text
    assert answer.json()["revision"] == reel["revision"]
    status = told_once(client, MEASURING, lambda status: not status["running"])
    assert status["error"] is None
    assert status["done"] == status["total"] == reel["frames"]
    return status["report"]


def test_a_strobe_that_cuts_make_is_found_and_cuts_are_no_flicker(client, clips):
    dark, light, _ = clips
    strobe = [shot(f"s{n}", (light, dark)[n % 2], 0, 2) for n in range(10)]
    report = measure_reel(client, add_reel(client, *strobe, shot("rest", dark, 0, 29)))
    (fault,) = report["faults"]
    assert (fault["by"], fault["from"] < 6) == ("cut", True)
    assert {f"s{n}" for n in range(2, 9)} <= set(fault["shots"])
    assert not report["passes"]
    assert [each["shot"] for each in report["shots"]] == [*(f"s{n}" for n in range(10)), "rest"]
    assert all(not each["flags"] and each["added_steady"] == 0 for each in report["shots"])


def test_frames_that_a_look_makes_unsteady_are_told_where_they_are_in_the_reel(client, clips):
    dark, _, pops = clips
    look = client.post("/api/v1/looks", json=BRIGHT).json()["id"]
    reel = add_reel(client, shot("a", dark, 0, 9), gap("g", 5), shot("b", pops, 2, 17, look=look),
                 shot("lost", None, 0, 3))  # fmt: skip
    report = measure_reel(client, reel)
    first, second = report["shots"]
    assert (first["shot"], first["flags"]) == ("a", [])
    assert [flag["frame"] for flag in second["flags"]] == [15 + 6 - 2]
    assert {(flag["why"], flag["step"]) for flag in second["flags"]} == {("jump", "e")}
    assert report["passes"]


def test_it_is_stopped(client, clips):
    reel = add_reel(client, shot("a", clips[0], 0, 29))
    with client.app.state.preview.computing:
        client.post(MEASURING, json={"reel": reel["id"]})
        stopping = threading.Thread(target=lambda: client.post(f"{MEASURING}/stop"))
        stopping.start()
        told_once(client, MEASURING, lambda status: status["stopped"])
    stopping.join()
    status = client.get(MEASURING).json()
    assert (status["running"], status["report"]) == (False, None)


def test_what_can_not_be_measured_is_told(client, clips):
    assert client.get(MEASURING).json() is None
    empty = add_reel(client, gap("g", 5), shot("lost", None, 0, 3))
    assert "no shot to look at" in problem(client.post(MEASURING, json={"reel": empty["id"]}), 422)
    assert problem(client.post(MEASURING, json={"reel": 99}), 404)


def test_shots_that_can_not_be_seen_are_told_and_the_rest_is_measured(client, clips):
    dark, _, pops = clips
    gone = client.post("/api/v1/looks", json=BRIGHT).json()["id"]
    look = client.post("/api/v1/looks", json=BRIGHT).json()["id"]
    client.delete(f"/api/v1/looks/{gone}")
    reel = add_reel(
        client,
        shot("far", dark, 90, 94),
        shot("long", dark, 20, 39),
        shot("bare", dark, 0, 3, look=gone),
        shot("b", pops, 2, 17, look=look),
    )
    report = measure_reel(client, reel)
    status = client.get(MEASURING).json()
    assert [note.partition(":")[0] for note in status["notes"]] == ["far", "long", "bare"]
    assert all("taken as black" in note for note in status["notes"])
    assert [each["shot"] for each in report["shots"]] == ["long", "b"]
    assert [flag["frame"] for flag in report["shots"][1]["flags"]] == [29 + 6 - 2]
