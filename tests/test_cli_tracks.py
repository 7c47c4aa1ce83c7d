"""`yearning track`, and looks whose shapes ride on what it writes."""

import json
from fractions import Fraction

import cv2
import numpy as np
import pytest

from tests.media.making import CUT_AT, MOVING, STEP_X, STEP_Y, moving_clip
from tests.test_cli import run
from yearning.core.motion.tracks import map_places, parse_track
from yearning.media.plates.matte_writer import matte_writer
from yearning.store.content_store import file_digest

DISC = {"id": "disc", "kind": "ellipse", "centre": [120 / 480, 110 / 270], "size": [0.115, 0.2]}


@pytest.fixture(scope="module")
def moving(tmp_path_factory):
    return moving_clip(tmp_path_factory.mktemp("moving") / "moving.mp4")


@pytest.fixture
def shape(tmp_path):
    path = tmp_path / "disc.json"
    path.write_text(json.dumps(DISC))
    return path


@pytest.mark.parametrize("kind", ["shift", "turn", "corners"])
def test_a_part_is_followed_both_ways_and_its_track_written(kind, moving, tmp_path):
    x, y = 120 + 4 * STEP_X, 110 + 4 * STEP_Y
    shape, out = tmp_path / "disc.json", tmp_path / "disc.track.json"
    shape.write_text(json.dumps(DISC | {"centre": [x / MOVING.width, y / MOVING.height]}))
    done = run("track", moving, "--shape", shape, "--frame", 4, "--kind", kind, "-o", out)
    assert done.returncode == 0, done.stderr
    assert f"{CUT_AT} frames, sure to" in done.stdout
    assert f"lost at frames {CUT_AT} to 17: there is a cut" in done.stdout
    track = parse_track(out.read_text())
    assert (track.clip, track.size, track.begin) == (file_digest(moving), tuple(MOVING), 4)
    assert [each.frame for each in track.frames] == list(range(CUT_AT))
    for each in track.frames:
        by = map_places(np.array(each.matrix), np.array([[x, y]]))[0] - (x, y)
        steps = each.frame - 4
        assert by == pytest.approx([STEP_X * steps, STEP_Y * steps], abs=0.25)


def test_a_look_s_shapes_ride_on_a_track_beside_it(moving, shape, tmp_path):
    run("track", moving, "--shape", shape, "--frame", 0, "-o", tmp_path / "t.json")
    mask = [DISC | {"track": "t.json"}]
    step = {"id": "e", "treatment": "exposure", "settings": {"stops": -6}, "mix": {"mask": mask}}
    look = tmp_path / "a.look.json"
    look.write_text(json.dumps({"format": "yearning-look/3", "steps": [step]}))
    middles = []
    for frame in (0, 10):
        out = tmp_path / f"{frame}.png"
        done = run("frame", moving, frame, "--look", look, "-o", out)
        assert done.returncode == 0, done.stderr
        dark = cv2.imread(str(out), cv2.IMREAD_GRAYSCALE) < 45
        middles.append(np.argwhere(dark).mean(0))
    assert middles[1] - middles[0] == pytest.approx([10 * STEP_Y, 10 * STEP_X], abs=1)
    done = run("render", moving, "--look", look, "-o", tmp_path / "out.mp4", "--to", 3)
    assert done.returncode == 0, done.stderr


@pytest.mark.parametrize(
    ("track", "says"),
    [
        (None, "can't be read"),
        ("{}", "yearning-track/1"),
        ("another", "follows a part of another clip"),
        ("../t.json", "leads out of"),
    ],
)
@pytest.mark.parametrize("where", ["mask", "settings"])
def test_a_track_that_can_not_be_used_is_said_by_its_place(
    track, says, where, moving, shape, tmp_path
):
    folder = tmp_path / "looks"
    folder.mkdir()
    name = track if track and track.startswith("..") else "t.json"
    if track == "another":
        run("track", moving, "--shape", shape, "--frame", 0, "-o", folder / "t.json")
        text = (folder / "t.json").read_text().replace(file_digest(moving), "ab" * 32)
        (folder / "t.json").write_text(text)
    elif track == "{}":
        (folder / "t.json").write_text(track)
    if where == "mask":
        step = {"id": "e", "treatment": "exposure", "mix": {"mask": [DISC | {"track": name}]}}
        place = "steps[0].mix.mask[0].track"
    else:
        step = {"id": "e", "treatment": "focus", "settings": {"track": name}}
        place = "steps[0].settings.track"
    look = folder / "a.look.json"
    look.write_text(json.dumps({"format": "yearning-look/3", "steps": [step]}))
    done = run("frame", moving, 0, "--look", look, "-o", tmp_path / "o.png")
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert place in done.stderr
    assert says in done.stderr


@pytest.mark.parametrize(
    ("change", "options", "says"),
    [
        ("wash", {}, "only an ellipse, a box or a drawn shape"),
        ({"kind": "star"}, {}, "star"),
        ({"size": [0, 1]}, {}, "size"),
        ({"size": [0.004, 0.006]}, {}, "nothing in it can be followed from frame 0 on"),
        ({}, {"--kind": "spin"}, "shift, turn, corners"),
        ({}, {"--frame": 99}, "frames 0 to 17"),
        ({}, {"--shape": "none.json"}, "No such file"),
    ],
)
def test_what_can_not_be_followed_is_said_in_one_line(change, options, says, moving, tmp_path):
    path = tmp_path / "shape.json"
    shape = {"id": "w", "kind": "wash"} if change == "wash" else DISC | change
    path.write_text(json.dumps(shape))
    words = {"--shape": path, "--frame": 0, "-o": tmp_path / "t.json"} | options
    done = run("track", moving, *(word for pair in words.items() for word in pair))
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert says in done.stderr
    assert not (tmp_path / "t.json").exists()


def test_a_track_that_is_lost_and_a_matte_of_another_length_are_said_and_the_rest_is_shown(
    moving, tmp_path
):
    with matte_writer(tmp_path / "short.mkv", MOVING, Fraction(24)) as write:
        for _ in range(3):
            write(np.ones((MOVING.height, MOVING.width), np.float32))
    frames = [
        {"frame": n, "matrix": [[1, 0, n], [0, 1, 0], [0, 0, 1]], "sure": 1} for n in range(6)
    ]
    track = {
        "format": "yearning-track/1",
        "clip": file_digest(moving),
        "size": list(MOVING),
        "from": 0,
        "frames": frames,
    }
    (tmp_path / "disc.json").write_text(json.dumps(track))
    mask = [
        {"id": "a", "kind": "ellipse", "centre": [0.3, 0.4], "track": "disc.json"},
        {"id": "b", "kind": "matte", "file": "short.mkv", "join": "keep common"},
    ]
    step = {"id": "m", "treatment": "mono", "mix": {"mask": mask}}
    look = tmp_path / "a.look.json"
    look.write_text(json.dumps({"format": "yearning-look/3", "steps": [step]}))
    done = run("frame", moving, 8, "--look", look, "-o", tmp_path / "o.png")
    assert done.returncode == 0, done.stderr
    lost, short = done.stderr.splitlines()
    assert lost.startswith("steps[0].mix.mask[0].track: disc.json is lost at frames 6 to 8;")
    assert short.startswith("steps[0].mix.mask[1].file: short.mkv has 3 frames and the clip ")
    done = run("frame", moving, 2, "--look", look, "-o", tmp_path / "o.png")
    assert len(done.stderr.splitlines()) == 1  # the track is there
    done = run("render", moving, "--look", look, "-o", tmp_path / "o.mkv", "--to", 7)
    assert done.returncode == 0, done.stderr
    assert "disc.json is lost at frames 6 to 7" in done.stderr
