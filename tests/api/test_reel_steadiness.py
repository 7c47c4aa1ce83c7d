"""Over HTTP: steadiness and flashes of a whole reel, measured in the background."""

import threading
import time

import pytest

from tests.api.conftest import clip_added, problem
from tests.api.test_reels import BRIGHT, added, gap, shot
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


def until(client, is_so):
    for _ in range(600):
        status = client.get(MEASURING).json()
        if is_so(status):
            return status
        time.sleep(0.05)
    raise AssertionError(status)


def measured(client, reel):
    answer = client.post(MEASURING, json={"reel": reel["id"]})
    assert answer.status_code == 202, answer.text
    assert answer.json()["revision"] == reel["revision"]
    status = until(client, lambda status: not status["running"])
    assert status["error"] is None
    assert status["done"] == status["total"] == reel["frames"]
    return status["report"]


def test_a_strobe_that_cuts_make_is_found_and_cuts_are_no_flicker(client, clips):
    dark, light, _ = clips
    strobe = [shot(f"s{n}", (light, dark)[n % 2], 0, 2) for n in range(10)]
    report = measured(client, added(client, *strobe, shot("rest", dark, 0, 29)))
    (fault,) = report["faults"]
    assert (fault["by"], fault["from"] < 6) == ("cut", True)
    assert {f"s{n}" for n in range(2, 9)} <= set(fault["shots"])
    assert not report["passes"]
    assert [each["shot"] for each in report["shots"]] == [*(f"s{n}" for n in range(10)), "rest"]
    assert all(not each["flags"] and each["added_steady"] == 0 for each in report["shots"])


def test_frames_that_a_look_makes_unsteady_are_told_where_they_are_in_the_reel(client, clips):
    dark, _, pops = clips
    look = client.post("/api/v1/looks", json=BRIGHT).json()["id"]
    reel = added(client, shot("a", dark, 0, 9), gap("g", 5), shot("b", pops, 2, 17, look=look),
                 shot("lost", None, 0, 3))  # fmt: skip
    report = measured(client, reel)
    first, second = report["shots"]
    assert (first["shot"], first["flags"]) == ("a", [])
    assert [flag["frame"] for flag in second["flags"]] == [15 + 6 - 2]
    assert {(flag["why"], flag["step"]) for flag in second["flags"]} == {("jump", "e")}
    assert report["passes"]


def test_it_is_stopped(client, clips):
    reel = added(client, shot("a", clips[0], 0, 29))
    with client.app.state.preview.computing:
        client.post(MEASURING, json={"reel": reel["id"]})
        stopping = threading.Thread(target=lambda: client.post(f"{MEASURING}/stop"))
        stopping.start()
        until(client, lambda status: status["stopped"])
    stopping.join()
    status = client.get(MEASURING).json()
    assert (status["running"], status["report"]) == (False, None)


def test_what_can_not_be_measured_is_told(client, clips):
    assert client.get(MEASURING).json() is None
    empty = added(client, gap("g", 5), shot("lost", None, 0, 3))
    assert "no shot to look at" in problem(client.post(MEASURING, json={"reel": empty["id"]}), 422)
    assert problem(client.post(MEASURING, json={"reel": 99}), 404)
    beyond = added(client, shot("a", clips[0], 20, 40))
    client.post(MEASURING, json={"reel": beyond["id"]})
    status = until(client, lambda status: not status["running"])
    assert "a: ends beyond its clip's last frame" in status["error"]
