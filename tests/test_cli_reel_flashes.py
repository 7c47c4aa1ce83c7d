"""`yearning reel --flashes`: those that can harm, also where only the cuts make them."""

import json

import pytest

from tests.conftest import encode_grey
from tests.test_cli import run

BRIGHTER = {
    "format": "yearning-look/3",
    "name": "Brighter",
    "steps": [{"id": "e", "treatment": "exposure", "settings": {"stops": 4}}],
}
DARKER = BRIGHTER | {"steps": [{"id": "e", "treatment": "exposure", "settings": {"stops": -8}}]}

DARK, LIGHT = 40, 210
"""Codes of grey."""


def shot(media, first=0, look=""):
    """Three frames: four shots and their opposites in a second are four flashes."""
    return {"name": media, "media": f"{media}.mkv", "first": first, "last": first + 2, "look": look}


@pytest.fixture
def cut(tmp_path):
    """Writes a reel of items at 24 frames a second, of a dark clip and a light one."""
    encode_grey(tmp_path / "dark.mkv", [DARK] * 30)
    encode_grey(tmp_path / "light.mkv", [LIGHT] * 30)
    encode_grey(tmp_path / "strobe.mkv", ([LIGHT] * 3 + [DARK] * 3) * 5)
    for name, look in (("brighter", BRIGHTER), ("darker", DARKER)):
        (tmp_path / f"{name}.json").write_text(json.dumps(look))

    def write(items):
        path = tmp_path / "cut.reel.json"
        whole = [*items, shot("dark") | {"last": 29}]
        path.write_text(json.dumps({"format": "yearning-reel/1", "rate": [24, 1], "items": whole}))
        return path

    return write


def check_reel(path, *words):
    done = run("reel", path, "--flashes", "--json", *words)
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


@pytest.mark.parametrize(
    ("one", "other", "by"),
    [
        (shot("light"), shot("dark"), "cut"),
        (shot("light"), {"gap": 3}, "cut"),
        (shot("dark", look="brighter.json"), shot("dark", 3), "look"),
    ],
)
def test_a_strobe_made_by_cutting_is_found_with_its_shots(one, other, by, cut):
    path = cut([one, other] * 5)
    report = check_reel(path)
    assert not report["passes"]
    (fault,) = report["faults"]
    assert (fault["kind"], fault["by"]) == ("general", by)
    assert fault["area"] == 1
    assert 3 < fault["count"] <= 4
    assert set(fault["shots"]) >= set(range(2, 6))
    said = run("reel", path, "--flashes").stdout
    assert said.startswith("fails: ")
    assert f"by the {by}" in said


def test_a_slower_cut_and_a_look_that_darkens_pass(cut, tmp_path):
    slow = [shot("light") | {"last": 11}, shot("dark") | {"last": 11}] * 3
    assert check_reel(cut(slow))["passes"]
    fast = cut([shot("light"), shot("dark")] * 5)
    assert check_reel(fast, "--look", tmp_path / "darker.json")["passes"]


def test_a_strobe_within_a_shot_is_the_footage_s_and_at_its_frames(cut):
    path = cut([shot("dark") | {"last": 23}, shot("strobe") | {"last": 29}])
    (fault,) = check_reel(path)["faults"]
    assert (fault["by"], fault["shots"]) == ("footage", [2])
    assert 24 <= fault["from"] < fault["to"] <= 24 + 30


def test_what_has_no_media_is_told_and_black(cut):
    path = cut([shot("light"), shot("nowhere")] * 5)
    done = run("reel", path, "--flashes")
    assert done.stdout.startswith("fails: ")
    assert "shot 2 'nowhere'" in done.stderr
    assert "taken as black" in done.stderr


def test_steadiness_is_said_shot_by_shot(cut):
    path = cut([shot("light"), shot("dark", look="brighter.json")])
    report = check_reel(path, "--steady")
    assert [each["shot"] for each in report["shots"]] == [1, 2, 3]
    assert all(each["added_steady"] == 0 and not each["flags"] for each in report["shots"])
    said = run("reel", path, "--steady").stdout.splitlines()
    assert said == ["passes", *(f"shot {n}: 0.000 % added" for n in (1, 2, 3))]
