"""The command line, as it is typed: what it prints, and exit code 2 with one line."""

import json
import subprocess
import sys

import cv2
import numpy as np
import OpenEXR
import pytest

from tests.conftest import THREE_STEPS
from yearning.core.treatments import TREATMENTS

LOOK = {"format": "yearning-look/1", "name": "Test", "steps": THREE_STEPS}


def run(*words, **how):
    return subprocess.run(
        [sys.executable, "-m", "yearning.cli", *map(str, words)],
        capture_output=True, text=True, timeout=120, **how,
    )  # fmt: skip


@pytest.fixture
def look(tmp_path):
    path = tmp_path / "a.look.json"
    path.write_text(json.dumps(LOOK))
    return path


def test_probe_prints_json(clip):
    found = json.loads(run("probe", clip, "--json").stdout)
    assert (found["frames"], found["matrix"]) == (40, "bt709")
    assert "192x112" in run("probe", clip).stdout


def test_treatments_and_schema_are_printed():
    assert {t["kind"] for t in json.loads(run("treatments", "--json").stdout)} == set(TREATMENTS)
    assert "spread" in run("treatments").stdout
    assert json.loads(run("schema").stdout)["title"] == "Look"


def test_a_frame_is_the_renders_frame_bit_for_bit(clip, look, tmp_path):
    assert run("frame", clip, 23, "--look", look, "-o", tmp_path / "a.png").returncode == 0
    numbered = tmp_path / "whole" / "%05d.png"
    assert run("render", clip, "--look", look, "-o", numbered).returncode == 0
    alone = (tmp_path / "a.png").read_bytes()
    assert alone == (tmp_path / "whole" / "00023.png").read_bytes()


def test_a_frame_after_a_step_at_a_height(clip, look, tmp_path):
    out = tmp_path / "a.png"
    assert (
        run("frame", clip, 5, "--look", look, "-o", out, "--height", 56, "--after", "g").returncode
        == 0
    )
    assert cv2.imread(str(out)).shape == (56, 96, 3)


def test_an_exr_holds_display_light(clip, look, tmp_path):
    for name in ("a.png", "a.exr"):
        assert run("frame", clip, 5, "--look", look, "-o", tmp_path / name).returncode == 0
    code = cv2.imread(str(tmp_path / "a.png"), -1)[..., ::-1] / 65535
    with OpenEXR.File(str(tmp_path / "a.exr")) as file:
        light = file.channels()["RGB"].pixels
    inside = (code > 0) & (code < 1)
    np.testing.assert_allclose(light[inside], (code**2.4)[inside], atol=2e-4)  # BT.1886


def test_a_render_of_a_range(clip, look, tmp_path):
    out = tmp_path / "a.mp4"
    assert run("render", clip, "--look", look, "-o", out, "--from", 3, "--to", 9).returncode == 0
    assert json.loads(run("probe", out, "--json").stdout)["frames"] == 7


def _bad_look(tmp_path, **changes):
    path = tmp_path / "bad.json"
    path.write_text(json.dumps(LOOK | changes))
    return path


BAD = {
    "no such clip": lambda c, l, t: ("probe", t / "none.mp4"),
    "a clip of no bytes": lambda c, l, t: ("probe", (t / "e.mp4", (t / "e.mp4").touch())[0]),
    "a frame out of range": lambda c, l, t: ("frame", c, 40, "--look", l, "-o", t / "a.png"),
    "a still of unknown kind": lambda c, l, t: ("frame", c, 0, "--look", l, "-o", t / "a.gif"),
    "a step that is not there": lambda c, l, t: (
        "frame", c, 0, "--look", l, "-o", t / "a.png", "--after", "zz",
    ),
    "more lines than there are": lambda c, l, t: (
        "frame", c, 0, "--look", l, "-o", t / "a.png", "--height", 999,
    ),
    "no such look": lambda c, l, t: ("frame", c, 0, "--look", t / "no", "-o", t / "a.png"),
    "an unknown treatment": lambda c, l, t: (
        "render", c, "--look", _bad_look(t, steps=[{"id": "a", "treatment": "x"}]),
        "-o", t / "a.mp4",
    ),
    "an unknown setting": lambda c, l, t: (
        "render", c, "--look",
        _bad_look(t, steps=[{"id": "a", "treatment": "glow", "settings": {"x": 1}}]),
        "-o", t / "a.mp4",
    ),
    "a result of unknown kind": lambda c, l, t: ("render", c, "--look", l, "-o", t / "a.wmv"),
    "a range that goes back": lambda c, l, t: (
        "render", c, "--look", l, "-o", t / "a.mp4", "--from", 9, "--to", 3,
    ),
    "no such folder": lambda c, l, t: ("render", c, "--look", l, "-o", t / "no" / "a.mp4"),
    "a project that is a file": lambda c, l, t: ("serve", "--project", c),
    "an unknown command": lambda c, l, t: ("paint",),
    "a missing argument": lambda c, l, t: ("probe",),
    "a word for a number": lambda c, l, t: ("frame", c, "x", "--look", l, "-o", t / "a.png"),
}  # fmt: skip


@pytest.mark.parametrize("what", BAD)
def test_what_can_not_be_met_ends_with_2_and_one_line(what, clip, look, tmp_path):
    done = run(*BAD[what](clip, look, tmp_path))
    assert done.returncode == 2
    assert done.stdout == ""
    assert len(done.stderr.strip().splitlines()) == 1
    assert done.stderr.startswith("yearning: ")
    assert not (tmp_path / "a.mp4").exists()
