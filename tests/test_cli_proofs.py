"""Proof sheets by command: every cell is the frame that `frame` writes."""

import json

import cv2
import numpy as np
import pytest

import yearning as yn
from tests.conftest import THREE_STEPS
from tests.media.stills.test_contact_sheet import places_in
from tests.test_cli import run
from yearning.core.treatments.glow import Glow

LOOK = {"format": "yearning-look/3", "name": "Shared", "steps": THREE_STEPS}


@pytest.fixture
def look(tmp_path):
    path = tmp_path / "shared.look.json"
    path.write_text(json.dumps(LOOK))
    return path


def frame_of(tmp_path, clip, number, height=None, **settings):
    """What `frame` writes of the look with other settings of its first step, 8 bits a channel."""
    steps = [THREE_STEPS[0] | {"settings": settings}, *THREE_STEPS[1:]]
    path, out = tmp_path / "other.json", tmp_path / "frame.png"
    path.write_text(json.dumps(LOOK | {"steps": steps}))
    more = ("--height", height) if height else ()
    words = ("frame", clip, number, "--look", path, "-o", out, "--bits", 8, *more)
    assert run(*words).returncode == 0
    return cv2.imread(str(out))


def test_values_are_rows_and_clips_columns(look, clip, tmp_path):
    out = tmp_path / "sheet.png"
    words = ("proof", clip, clip, "--look", look, "--vary", "g.spread=8,40", "--frame", 4)
    assert run(*words, "-o", out).returncode == 0
    found = cv2.imread(str(out))
    tops = [places_in(found, frame_of(tmp_path, clip, 4, spread=spread))[1] for spread in (8, 40)]
    assert tops[1] > tops[0] + 50


def test_two_settings_are_rows_and_columns_at_a_height(look, clip, tmp_path):
    out = tmp_path / "sheet.png"
    vary = ("--vary", "g.spread=8..40:2", "--vary", "g.warmth=0.2,0.9")
    done = run("proof", clip, "--look", look, *vary, "--height", 40, "-o", out, "--json")
    assert json.loads(done.stdout)["vary"] == {"g.spread": [8, 40], "g.warmth": [0.2, 0.9]}
    with yn.open_clip(clip) as opened:
        middle = opened.frames // 2
    found = cv2.imread(str(out))
    (left, top), (right, below) = (
        places_in(found, frame_of(tmp_path, clip, middle, 40, spread=spread, warmth=warmth))
        for spread, warmth in ((8, 0.2), (40, 0.9))
    )
    assert right > left
    assert below > top


def test_each_clip_is_as_it_is_fitted(look, clip, tmp_path):
    own = {"format": "yearning-fitting/2", "steps": {"g": {"settings": {"spread": 9}}}}
    file = tmp_path / "own.json"
    file.write_text(json.dumps(own))
    out = tmp_path / "sheet.png"
    words = ("--look", look, "--fitting", file, "--frame", 4, "-o", out)
    assert run("proof", clip, *words).returncode == 0
    places_in(cv2.imread(str(out)), frame_of(tmp_path, clip, 4, spread=9))


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["--vary", "g.spread"], "write STEP.SETTING=A,B,C"),
        (["--vary", "g.spread=1..9:65"], "a span has 2 to 64 values"),
        (["--vary", "g.spread=1..2..3:4"], "write a span like"),
        (["--vary", "g.spread=" + ",".join(map(str, range(65)))], "1 to 64 pictures, not 65"),
        (["--vary", "g.spread=1", "--vary", "g.spread=2"], "named twice"),
        (
            ["--vary", "g.spread=1,2", "--vary", "g.warmth=0,1", "--frame", 0, "--frame", 1],
            "2 on 2",
        ),
        (["--vary", "gone.spread=1"], "no step 'gone'; there are g, c, n"),
        (["--frame", 9999], "frame 9999 is out of range"),
    ],
)
def test_what_can_not_be_is_one_line(words, said, look, clip, tmp_path):
    done = run("proof", clip, "--look", look, "-o", tmp_path / "sheet.png", *words)
    assert done.returncode == 2
    assert said in done.stderr
    assert done.stderr.count("\n") == 1
    assert not (tmp_path / "sheet.png").exists()


def test_steps_before_what_is_varied_are_computed_once(tmp_path, monkeypatch):
    made = []
    before = Glow.prepare
    monkeypatch.setattr(
        Glow, "prepare", lambda self, *given: made.append(1) or before(self, *given)
    )
    clip = yn.ArrayClip(np.full((1, 3, 36, 64), 0.5, np.float32))
    look = yn.Look([yn.Step(yn.Glow(), "g"), yn.Step(yn.Exposure(), "e")])
    stops = {"e.stops": [-1, -0.5, 0.5, 1]}
    yn.proof_sheet([yn.Shot(clip, 0, look)], stops, tmp_path / "sheet.png")
    assert len(made) == 1
