"""`yearning cuts`: the shots of a long clip, and from Python."""

import json
from fractions import Fraction

import pytest

import yearning
from tests.media.making import CUT_AT, moving_clip
from tests.test_cli import run

FRAMES = 30


@pytest.fixture(scope="module")
def take(tmp_path_factory):
    return moving_clip(tmp_path_factory.mktemp("take") / "take.mp4", FRAMES)


def test_cuts_are_said_and_written_as_a_reel_that_renders(take, tmp_path):
    done = run("cuts", take, "-o", tmp_path / "take.json")
    assert done.returncode == 0
    first, last = done.stdout.splitlines()
    assert first.split()[:2] == [str(CUT_AT), f"00:00:00:{CUT_AT}"]
    assert last == "take.mp4: 2 shots"
    shots = yearning.read_reel(tmp_path / "take.json").document.shots
    assert [(shot.name, shot.first, shot.last) for shot in shots] == [
        ("take 1", 0, CUT_AT - 1),
        ("take 2", CUT_AT, FRAMES - 1),
    ]
    rendered = run("reel", tmp_path / "take.json", "-o", tmp_path / "out", "--codec", "FFV1",
                   "--names", "{number}.mkv")  # fmt: skip
    assert rendered.returncode == 0
    with yearning.open_clip(tmp_path / "out" / "002.mkv") as clip:
        assert clip.frames == FRAMES - CUT_AT


def test_cuts_are_said_as_json(take):
    (cut,) = json.loads(run("cuts", take, "--json").stdout)["cuts"]
    assert cut["frame"] == CUT_AT
    found = json.loads(run("cuts", take, "--threshold", cut["jump"] + 0.01, "--json").stdout)
    assert found["cuts"] == []


@pytest.mark.parametrize("threshold", [0, 1.5])
def test_a_threshold_beyond_its_range_is_refused(take, threshold):
    done = run("cuts", take, "--threshold", threshold)
    assert (done.returncode, done.stderr.count("\n")) == (2, 1)
    assert "from 0.15 to 1" in done.stderr


def test_a_clip_is_cut_at_frames(take):
    reel = yearning.cut_clip(take, [4, 9])
    assert [shot.first for shot in reel.document.shots] == [0, 4, 9]
    assert Fraction(*reel.document.rate) == 24


@pytest.mark.parametrize("at", [[0], [5, 5], [9, 4], [FRAMES]])
def test_a_clip_is_not_cut_where_it_can_not_be(take, at):
    with pytest.raises(yearning.RequestError, match="is not within frames"):
        yearning.cut_clip(take, at)
