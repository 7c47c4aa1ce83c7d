"""The command line, as it is typed: what it prints, and exit code 2 with one line."""

import io
import json
import os
import signal
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from typing import NamedTuple

import cv2
import numpy as np
import OpenEXR
import pytest

from tests.conftest import THREE_STEPS
from tests.waiting import wait_for
from yearning.cli import main
from yearning.core.treatments import TREATMENTS

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": THREE_STEPS}


class Done(NamedTuple):
    """How a command ended, and what it printed."""

    returncode: int
    stdout: str
    stderr: str


def run(*words):
    """A command, run in this process by what a process calls."""
    out, err, code = io.StringIO(), io.StringIO(), 0
    with redirect_stdout(out), redirect_stderr(err):
        try:
            main([str(word) for word in words])
        except SystemExit as ended:
            code = ended.code
    return Done(code, out.getvalue(), err.getvalue())


@pytest.fixture
def look(tmp_path):
    path = tmp_path / "a.look.json"
    path.write_text(json.dumps(LOOK))
    return path


def test_a_command_that_can_not_be_met_ends_its_process_with_2_and_one_line(tmp_path):
    words = [sys.executable, "-m", "yearning.cli", "probe", tmp_path / "none.mp4"]
    done = subprocess.run(words, capture_output=True, text=True)
    assert (done.returncode, done.stdout, done.stderr.count("\n")) == (2, "", 1)
    assert done.stderr.startswith("yearning: ")


def test_probe_prints_json(clip):
    found = json.loads(run("probe", clip, "--json").stdout)
    assert (found["frames"], found["matrix"]) == (40, "bt709")
    assert "192x112" in run("probe", clip).stdout


def test_treatments_and_schema_are_printed():
    assert {t["kind"] for t in json.loads(run("treatments", "--json").stdout)} == set(TREATMENTS)
    assert "spread" in run("treatments").stdout
    assert json.loads(run("schema").stdout)["title"] == "Look"


def test_a_starter_look_is_taken_by_its_name(clip, tmp_path):
    listed = run("looks").stdout
    assert "Faded monochrome: Black and white" in listed
    assert [each["name"] for each in json.loads(run("looks", "--json").stdout)] == [
        line.partition(": ")[0] for line in listed.splitlines()
    ]
    done = run("frame", clip, 0, "--look", "faded monochrome", "-o", tmp_path / "a.png")
    assert done.returncode == 0
    grey = cv2.imread(str(tmp_path / "a.png"))
    assert np.ptp(grey, axis=2).mean() < np.ptp(grey, axis=(0, 1)).mean() / 4
    refused = run("frame", clip, 0, "--look", "faded colours", "-o", tmp_path / "a.png")
    _assert_refused(refused, "'faded colours'; there are Soft mist")


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


def test_a_render_is_written_as_its_ending_and_options_say(clip, look, tmp_path):
    out = tmp_path / "a.webm"
    words = ["--codec", "VP9", "--quality", "draft", "--height", 56, "--to", 3]
    done = run("render", clip, "--look", look, "-o", out, *words)
    assert (done.returncode, done.stderr) == (0, "")
    found = json.loads(run("probe", out, "--json").stdout)
    assert (found["codec"], found["width"], found["height"], found["frames"]) == ("vp9", 96, 56, 4)


def test_one_look_is_rendered_on_several_clips(clip, make_clip, look, tmp_path):
    other = make_clip("other.mkv", "ffv1", frames=3)
    done = run("render", clip, other, "--look", look, "-o", tmp_path / "{name}-lit.mp4", "--to", 2)
    assert done.returncode == 0
    assert sorted(p.name for p in tmp_path.glob("*.mp4")) == ["other-lit.mp4", "small-lit.mp4"]


def test_a_clip_that_fails_does_not_stop_the_others(clip, look, tmp_path):
    (tmp_path / "broken.mp4").write_bytes(b"no video")
    words = [tmp_path / "broken.mp4", clip, "--look", look, "-o", tmp_path / "out-{name}.mp4"]
    done = run("render", *words, "--to", 1)
    assert done.returncode == 2
    assert "1 of 2 not rendered: broken.mp4" in done.stderr
    assert done.stderr.count("\n") == 1
    assert (tmp_path / "out-small.mp4").exists()


def test_a_clip_is_read_as_said(clip, look, tmp_path):
    found = json.loads(run("probe", clip, "--read", "rate=50", "--json").stdout)
    assert (found["rate"], found["frames"]) == (50, 80)
    plain, full = tmp_path / "a.png", tmp_path / "b.png"
    assert run("frame", clip, 5, "--look", look, "-o", plain).returncode == 0
    words = ["--read", "range=full", "--bits", 8]
    assert run("frame", clip, 5, "--look", look, "-o", full, *words).returncode == 0
    assert cv2.imread(str(full), -1).dtype == np.uint8
    assert np.abs(cv2.imread(str(plain)).astype(int) - cv2.imread(str(full))).mean() > 2


def _bad_look(tmp_path, **changes):
    path = tmp_path / "bad.json"
    path.write_text(json.dumps(LOOK | changes))
    return path


def test_an_interrupted_render_says_so_in_one_line_and_goes_on(make_clip, look, tmp_path):
    source = make_clip("long.mp4", "libx264", frames=144, tone=True)
    out = tmp_path / "a.mp4"
    words = ["render", source, "--look", look, "-o", out]
    process = subprocess.Popen(
        [sys.executable, "-m", "yearning.cli", *map(str, words)],
        stderr=subprocess.PIPE, text=True, start_new_session=True,
    )  # fmt: skip
    manifest = tmp_path / ".a.mp4.pieces" / "manifest.jsonl"
    wait_for(lambda: manifest.exists() or process.poll() is not None)
    assert process.poll() is None
    os.killpg(process.pid, signal.SIGINT)  # as Ctrl+C does, to the workers too
    said = process.communicate(timeout=120)[1]
    assert process.returncode == 2
    *progress, last = said.splitlines()
    assert last == (
        "yearning: stopped; a render goes on from what is done when the same is asked again"
    )
    assert all(line.startswith("a.mp4: ") for line in progress)  # on a slow machine
    assert not out.exists()
    assert run(*words).returncode == 0
    assert [path.name for path in tmp_path.glob("*a.mp4*")] == ["a.mp4"]


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
    "a name too long": lambda c, l, t: (
        "render", c, "--look", l, "-o", t / ("x" * 240 + ".mp4"),
    ),
    "more workers than any machine has": lambda c, l, t: (
        "render", c, "--look", l, "-o", t / "a.mp4", "--workers", 10**10,
    ),
    "a seed of many digits": lambda c, l, t: (
        "plate", "paper", "-o", t / "a.png", "--seed", "9" * 24,
    ),
    "a plate of no size": lambda c, l, t: ("plate", "paper", "-o", t / "a.png", "--size", "0x0"),
    "a size in strange digits": lambda c, l, t: (
        "plate", "paper", "-o", t / "a.png", "--size", "²x3",
    ),
    "a rate without end": lambda c, l, t: (
        "frame", c, 0, "--look", l, "-o", t / "a.png", "--read", "rate=1e999999999",
    ),
    "no scheduler's address": lambda c, l, t: ("serve", "--cluster", "here"),
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


def test_a_plate_is_made_and_laid_over_a_frame(clip, tmp_path):
    assert run("plate", "paper", "-o", tmp_path / "p.png", "--size", "192x112").returncode == 0
    step = {"id": "p", "treatment": "plate", "settings": {"file": "p.png"}}
    step["mix"] = {"blend": "normal", "amount": 1}
    look = tmp_path / "l.json"
    look.write_text(json.dumps(LOOK | {"steps": [step]}))
    assert run("frame", clip, 3, "--look", look, "-o", tmp_path / "a.png").returncode == 0
    found, paper = (cv2.imread(str(tmp_path / name)).astype(int) for name in ("a.png", "p.png"))
    assert np.abs(found - paper).max() <= 1
    (tmp_path / "p.png").unlink()
    for words, out in ((("frame", clip, 3), "b.png"), (("render", clip), "b.mp4")):
        _assert_refused(run(*words, "--look", look, "-o", tmp_path / out), "steps[0].settings.file")
    for kind, out, size, says in (
        ("fog", "a.png", "40x40", "'fog' is no kind of plate"),
        ("paper", "a.png", "wide", "--size wide"),
        ("paper", "a.mp4", "40x40", "written as .png"),
    ):
        _assert_refused(run("plate", kind, "-o", tmp_path / out, "--size", size), says)


def _assert_refused(done, says):
    assert done.returncode == 2
    assert says in done.stderr
    assert done.stderr.count("\n") == 1


def test_a_look_of_colours_is_baked_and_one_with_grain_is_not(tmp_path, look):
    grade = LOOK | {"steps": [{"id": "t", "treatment": "tone", "settings": {"contrast": 0.3}}]}
    (tmp_path / "g.json").write_text(json.dumps(grade))
    done = run("bake", "--look", tmp_path / "g.json", "-o", tmp_path / "g.cube", "--side", 17)
    assert "17³ points; no channel is off by more than 0." in done.stdout
    through = LOOK | {"steps": [{"id": "t", "treatment": "table", "settings": {"file": "g.cube"}}]}
    (tmp_path / "t.json").write_text(json.dumps(through))
    done = run("bake", "--look", tmp_path / "t.json", "-o", tmp_path / "again.cube")
    assert done.returncode == 0
    refused = run("bake", "--look", look, "-o", tmp_path / "l.cube")
    assert (refused.returncode, refused.stderr.count("\n")) == (2, 1)
    assert "steps[0]: glow works on more than" in refused.stderr
    assert not (tmp_path / "l.cube").exists()


def test_a_look_finds_its_table_beside_it_and_nowhere_else(tmp_path, clip):
    (tmp_path / "turned.cube").write_text("LUT_1D_SIZE 2\n1 1 1\n0 0 0\n")
    for file, code in (("turned.cube", 0), ("gone.cube", 2), ("../turned.cube", 2)):
        steps = [{"id": "t", "treatment": "table", "settings": {"file": file}}]
        (tmp_path / "t.json").write_text(json.dumps(LOOK | {"steps": steps}))
        done = run("frame", clip, 3, "--look", tmp_path / "t.json", "-o", tmp_path / "a.png")
        assert done.returncode == code, done.stderr
        out = tmp_path / "a.mkv"
        assert (
            run("render", clip, "--look", tmp_path / "t.json", "-o", out, "--to", 2).returncode
            == code
        )


STROBE = {"id": "s", "treatment": "exposure", "settings": {"stops": 4}} | {
    "bursts": [{"from": n, "to": n + 1} for n in range(2, 38, 4)]
}


def test_steadiness_is_printed(clip, look):
    found = json.loads(run("steady", clip, "--look", look, "--json").stdout)
    assert [frame["frame"] for frame in found["frames"]] == list(range(40))
    wanted = {"frame", "change_footage", "change_result", "added", "added_steady", "lift"}
    assert wanted <= set(found["frames"][0])
    assert set(found["steps"]) == {"g", "c", "n"}
    assert found["summary"]["frames"] == 40
    assert "n (lively) adds" in run("steady", clip, "--look", look).stdout


def test_flashes_are_printed_with_the_step_that_causes_them(clip, tmp_path):
    assert json.loads(run("flashes", clip, "--json").stdout)["passes"] is True
    look = tmp_path / "strobe.look.json"
    look.write_text(json.dumps(LOOK | {"steps": [STROBE]}))
    found = json.loads(run("flashes", clip, "--look", look, "--json").stdout)
    assert found["passes"] is False
    assert found["footage"]["passes"] is True
    (fault,) = found["faults"]
    assert (fault["kind"], fault["step"]) == ("general", "s")
    assert fault["area"] > 0.25
    assert "by s" in run("flashes", clip, "--look", look).stdout


LATE = {"bursts": [{"from": 30, "to": 40}]}


@pytest.mark.parametrize("command", ["frame", "render", "steady", "flashes"])
def test_a_burst_beyond_the_clip_is_told_with_its_place(command, clip, tmp_path):
    look = tmp_path / "late.look.json"
    look.write_text(json.dumps(LOOK | {"steps": [THREE_STEPS[0] | LATE]}))
    out = tmp_path / "a.png" if command == "frame" else tmp_path / "a.mp4"
    words = {"frame": [3, "-o", out], "render": ["-o", out]}.get(command, [])
    done = run(command, clip, *words, "--look", look)
    assert done.returncode == 0, done.stderr
    assert "steps[0].bursts[0]: it names frame 40; the clip has frames 0 to 39" in done.stderr


def test_a_render_with_keys_and_bursts_is_its_frames_bit_for_bit(clip, tmp_path):
    """Chunks cut anywhere, frames asked for alone: the same numbers."""
    keyed = THREE_STEPS[0] | {
        "keys": {"spread": [{"frame": 0, "value": 10}, {"frame": 39, "value": 60}]},
        "bursts": [{"from": 5, "to": 30, "ramp": 4}],
    }
    look = tmp_path / "keyed.look.json"
    look.write_text(json.dumps(LOOK | {"steps": [keyed, *THREE_STEPS[1:]]}))
    numbered = tmp_path / "whole" / "%05d.png"
    assert run("render", clip, "--look", look, "-o", numbered).returncode == 0
    for frame in (0, 7, 33):
        alone = tmp_path / f"{frame}.png"
        assert run("frame", clip, frame, "--look", look, "-o", alone).returncode == 0
        assert alone.read_bytes() == (tmp_path / "whole" / f"{frame:05d}.png").read_bytes()


def test_a_clip_is_rendered_slower(clip, look, tmp_path):
    out = tmp_path / "slow.mkv"
    words = ["--read", "speed=0.5", "--read", "between=dissolve"]
    assert run("render", clip, "--look", look, *words, "-o", out).returncode == 0
    found = json.loads(run("probe", out, "--json").stdout)
    assert found["frames"] == 80
    assert found["audio"] == []
    refused = run("probe", clip, "--read", "speed=0")
    assert refused.returncode == 2
    assert "speed: 0 is not 0.1 to 8 times" in refused.stderr
