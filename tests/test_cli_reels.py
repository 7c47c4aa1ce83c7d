"""`yearning reel`: a cut in, its shots rendered, and the cut out again with the results."""

import json
from pathlib import Path

import numpy as np
import opentimelineio as otio
import pytest

from tests.conftest import encode
from tests.media.timeline.making import cut_clip, save_timeline, span, time, timeline
from tests.test_cli import run
from yearning.media.decode.clip import open_clip

LOOSE = ("--names", "{number}_{name}.mkv", "--codec", "FFV1")
WARM = {
    "format": "yearning-look/3",
    "name": "Warm",
    "steps": [{"id": "e", "treatment": "exposure", "settings": {"stops": 1}}],
}
GRAIN = WARM | {"name": "Grain", "steps": [{"id": "g", "treatment": "grain"}]}


@pytest.fixture
def cut(tmp_path):
    """Three shots of two files with a gap, sound below, and a name that is nowhere."""
    media = tmp_path / "media"
    media.mkdir()
    encode(media / "A001.mp4", "libx264")
    encode(media / "B002.mp4", "libx264", frames=30)
    items = [
        cut_clip("A001", 5, 8, available=span(0, 40)),
        otio.schema.Gap(duration=time(6)),
        cut_clip("wide shot", 0, 6, media / "B002.mp4"),
        cut_clip("nowhere", 0, 5),
        cut_clip("A001", 20, 4, speed=2.0),
    ]
    made = timeline(items, sound=[cut_clip("music", 0, 30)])
    return save_timeline(made, tmp_path / "cut.otio")


@pytest.fixture
def looks(tmp_path):
    for name, look in (("warm", WARM), ("grain", GRAIN)):
        (tmp_path / f"{name}.json").write_text(json.dumps(look))
    return tmp_path


def reel(*words):
    return run("reel", *words)


def frames_of(path, first=0, last=None):
    with open_clip(Path(path)) as clip:
        end = clip.frames if last is None else last + 1
        return np.stack([clip.picture(n).copy() for n in range(first, end)])


def test_what_a_cut_holds_is_told_without_rendering(cut, tmp_path):
    done = reel(cut, "--media", tmp_path / "media")
    assert done.returncode == 0
    assert "3 shots, 1 without media" in done.stdout
    assert "nowhere" in done.stderr
    found = json.loads(reel(cut, "--media", tmp_path / "media", "--json").stdout)
    assert [(s["first"], s["last"]) for s in found["shots"]] == [(5, 12), (0, 5), (20, 27)]


def test_shots_are_rendered_with_handles_and_the_cut_names_them(cut, looks, tmp_path):
    out = tmp_path / "out"
    words = (cut, "--media", tmp_path / "media", "--look", looks / "warm.json", "-o", out, *LOOSE)
    done = reel(*words, "--handles", 3)
    assert done.returncode == 2  # one has no media, which is said; the others are there
    assert "1 of 4 shots not rendered" in done.stderr
    names = sorted(path.name for path in out.glob("*.mkv"))
    assert names == ["001_A001.mkv", "002_wide shot.mkv", "003_A001.mkv"]
    single = tmp_path / "single.mkv"
    asked = ("--from", 2, "--to", 15, "--codec", "FFV1", "-o", single)
    run("render", tmp_path / "media" / "A001.mp4", "--look", looks / "warm.json", *asked)
    np.testing.assert_array_equal(frames_of(out / names[0]), frames_of(single))
    with open_clip(out / names[2]) as fast:
        assert fast.frames == 4 + 2 * 3

    before = otio.adapters.read_from_file(str(cut))
    after = otio.adapters.read_from_file(str(out / "cut.otio"))
    assert after.metadata["editor"] == before.metadata["editor"]
    was, now = before.video_tracks()[0], after.video_tracks()[0]
    assert [type(item) for item in now] == [type(item) for item in was]
    for old, new in zip(was, now, strict=True):
        assert new.trimmed_range() == old.trimmed_range()
        assert new.metadata == old.metadata
    first, _, wide, lost, fast = now
    assert first.media_reference.target_url == "001_A001.mkv"
    assert first.media_reference.available_range == span(2, 14)
    assert wide.media_reference.available_range == span(0, 9)  # none before its first frame
    assert lost.is_equivalent_to(was[3])
    assert list(fast.effects) == []
    assert after.audio_tracks()[0].is_equivalent_to(before.audio_tracks()[0])


def test_only_what_changed_is_rendered_again(cut, looks, tmp_path):
    out, file = tmp_path / "out", tmp_path / "cut.reel.json"
    run("reel", cut, "--media", tmp_path / "media", "--write", file)
    words = (file, "--look", looks / "warm.json", "-o", out, *LOOSE)
    assert "3 shots rendered, 0 there already" in reel(*words).stdout
    stamps = {path.name: path.stat().st_mtime_ns for path in out.glob("*.mkv")}
    assert "0 shots rendered, 3 there already" in reel(*words).stdout
    data = json.loads(file.read_text())
    data["items"][2] |= {"look": "grain.json"}
    file.write_text(json.dumps(data))
    done = reel(*words, "--json")
    made = json.loads(done.stdout)["results"]
    assert [each["made"] for each in made] == [False, True, False]
    changed = {
        path.name for path in out.glob("*.mkv") if path.stat().st_mtime_ns != stamps[path.name]
    }
    assert changed == {"002_wide shot.mkv"}
    again = otio.adapters.read_from_file(str(out / "cut.otio"))
    assert again.metadata["editor"] == {"version": 3}  # of the timeline that the reel names
    (tmp_path / "grain.json").write_text(json.dumps(WARM))
    assert "1 shots rendered, 2 there already" in reel(*words).stdout


def test_a_reel_made_by_hand_has_a_timeline_of_its_own(looks, tmp_path):
    encode(tmp_path / "C.mp4", "libx264", frames=20)
    shots = [
        {"name": "a", "media": "C.mp4", "first": 2, "last": 6, "look": "warm.json"},
        {"gap": 10},
        {"name": "b", "media": "C.mp4", "first": 12, "last": 19},
    ]
    file = tmp_path / "own.reel.json"
    file.write_text(json.dumps({"format": "yearning-reel/1", "rate": [25, 1], "items": shots}))
    out = tmp_path / "out"
    assert reel(file, "-o", out, *LOOSE, "--handles", 1).returncode == 0
    found = otio.adapters.read_from_file(str(out / "own.otio")).video_tracks()[0]
    assert [item.trimmed_range() for item in found] == [span(2, 5), span(0, 10), span(12, 8)]
    assert found[0].media_reference.available_range == span(1, 7)
    done = reel(file, "-o", out, *LOOSE, "--handles", 1, "--timeline", "own.edl")
    assert done.returncode == 0, done.stderr
    edl = (out / "own.edl").read_text()
    assert "00:00:00:02 00:00:00:07" in edl
    read = otio.adapters.read_from_file(str(out / "own.edl"), rate=25)
    assert [clip.duration() for clip in read.find_clips()] == [time(5), time(8)]


def test_results_are_movies_that_editors_open_unless_said_else(cut, tmp_path):
    done = reel(cut, "--media", tmp_path / "media", "-o", tmp_path / "out", "--height", 56)
    assert "3 shots rendered" in done.stdout
    assert len(list((tmp_path / "out").glob("*.mp4"))) == 3


def test_a_shot_whose_look_is_broken_does_not_hold_the_others_up(cut, tmp_path):
    file = tmp_path / "cut.reel.json"
    reel(cut, "--media", tmp_path / "media", "--write", file)
    data = json.loads(file.read_text())
    (tmp_path / "bad.json").write_text("{")
    data["items"][0]["look"] = "bad.json"
    data["items"][2]["fitting"] = "gone.json"
    file.write_text(json.dumps(data))
    done = reel(file, "-o", tmp_path / "out", *LOOSE)
    assert "1 shots rendered" in done.stdout
    assert "shot 1 'A001': " in done.stderr
    assert "gone.json" in done.stderr


def test_no_cut_is_written_where_nothing_was_rendered(cut, tmp_path):
    done = reel(cut, "--media", tmp_path / "media", "-o", tmp_path / "out", "--codec", "none")
    assert "4 of 4 shots not rendered" in done.stderr
    assert list((tmp_path / "out").iterdir()) == []


@pytest.mark.parametrize(
    ("words", "why"),
    [
        (("--names", "shot.mov"), "needs {number}"),
        (("--names", "{number}/x.mov"), "not a path"),
        (("--timeline", "cut.xml"), "end in .otio or .edl"),
        (("--rate", "fast"), "write it like 24"),
        (("--write", "cut.txt"), "ends in .json"),
        (("--look", "gone.json"), "no such file"),
    ],
)
def test_what_can_t_be_is_told_in_a_line(words, why, cut, tmp_path):
    done = reel(cut, "-o", tmp_path / "out", *words)
    assert done.returncode == 2
    assert why in done.stderr
    assert "Traceback" not in done.stderr


def test_the_cut_itself_is_never_written_over(cut, tmp_path):
    before = cut.read_bytes()
    done = reel(cut, "-o", tmp_path, "--media", tmp_path / "media")
    assert "that is the timeline itself" in done.stderr
    assert cut.read_bytes() == before
