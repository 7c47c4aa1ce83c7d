"""Commands with fittings: one look on many clips, each as it is fitted to."""

import json

import av
import pytest

import yearning as yn
from tests.conftest import THREE_STEPS
from tests.test_cli import run

LOOK = {"format": "yearning-look/3", "name": "Shared", "steps": THREE_STEPS}
IDS = [step["id"] for step in THREE_STEPS]


@pytest.fixture
def look(tmp_path):
    path = tmp_path / "shared.look.json"
    path.write_text(json.dumps(LOOK))
    return path


def fitting(path, steps, **more):
    path.parent.mkdir(exist_ok=True)
    path.write_text(json.dumps({"format": "yearning-fitting/2", "steps": steps} | more))
    return path


def by_hand(path, **changes):
    """The look with the settings of steps changed."""
    steps = [
        step | {"settings": step.get("settings", {}) | changes.get(step["id"], {})}
        for step in THREE_STEPS
    ]
    path.write_text(json.dumps(LOOK | {"steps": steps}))
    return path


def frames(path):
    with av.open(str(path)) as container:
        return [frame.to_ndarray(format="rgb24").tobytes() for frame in container.decode(video=0)]


def test_a_frame_with_a_fitting_is_that_of_the_look_written_out(look, clip, tmp_path):
    own = fitting(tmp_path / "a.fitting.json", {IDS[0]: {"settings": {"spread": 9}}})
    other = by_hand(tmp_path / "other.json", **{IDS[0]: {"spread": 9}})
    pictures = []
    for n, words in enumerate([(look, "--fitting", own), (other,), (look,)]):
        out = tmp_path / f"{n}.png"
        assert run("frame", clip, 5, "-o", out, "--look", *words).returncode == 0
        pictures.append(out.read_bytes())
    assert pictures[0] == pictures[1] != pictures[2]
    with yn.open_clip(clip) as opened:
        fitted = yn.read_look(look).with_fitting(yn.read_fitting(own))
        assert (fitted.picture(opened, 5) == yn.read_look(other).picture(opened, 5)).all()


def test_clips_rendered_with_their_fittings_are_as_each_rendered_alone(look, make_clip, tmp_path):
    clips = [make_clip(f"c{n}.mp4", "libx264", frames=6 + n) for n in range(5)]
    folder = tmp_path / "fittings"
    for n, clip in enumerate(clips[1:], start=1):
        changes = {IDS[0]: {"settings": {"spread": 8 + n}}, IDS[2]: {"settings": {"seed": n}}}
        fitting(folder / f"{clip.stem}.fitting.json", changes)
    out = tmp_path / "{name}.mkv"
    done = run("render", *clips, "--look", look, "--fittings", folder, "-o", out)
    assert (done.returncode, done.stderr) == (0, "")
    found = [frames(tmp_path / f"{clip.stem}.mkv") for clip in clips]
    for n, clip in enumerate(clips):
        alone = tmp_path / f"alone{n}.mkv"
        changed = {IDS[0]: {"spread": 8 + n}, IDS[2]: {"seed": n}} if n else {}
        one = by_hand(tmp_path / f"{n}.json", **changed)
        assert run("render", clip, "--look", one, "-o", alone).returncode == 0
        assert frames(alone) == found[n]


def test_a_fitting_says_how_its_clip_is_read_and_read_says_otherwise(look, clip, tmp_path):
    own = fitting(tmp_path / "a.fitting.json", {}, input={"rate": "50"})
    words = ["render", clip, "--look", look, "--fitting", own, "--to", 3]
    for more, rate in ([], 50), (["--read", "rate=30"], 30):
        out = tmp_path / f"{rate}.mp4"
        assert run(*words, *more, "-o", out).returncode == 0
        with av.open(str(out)) as container:
            assert container.streams.video[0].average_rate == rate


def test_what_of_a_fitting_holds_no_more_is_told_and_the_rest_is_rendered(look, clip, tmp_path):
    steps = {"gone": {"on": False}, IDS[0]: {"settings": {"spread": "wide", "warmth": 1}}}
    own = fitting(tmp_path / "a.fitting.json", steps)
    done = run("frame", clip, 5, "--look", look, "--fitting", own, "-o", tmp_path / "a.png")
    assert done.returncode == 0
    lines = done.stderr.splitlines()
    assert lines[0] == f"{clip.name}: fitting: steps.gone: the look has no such step"
    assert lines[1].startswith(f"{clip.name}: fitting: steps.{IDS[0]}.settings.spread: ")
    assert len(lines) == 2


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["a.mp4", "b.mp4", "--fitting", "f.json"], "give those of several as --fittings"),
        (["a.mp4", "--fitting", "f.json", "--fittings", "dir"], "give those of several"),
        (["a.mp4", "--fittings", "none"], "none: is no folder of fittings"),
        (["a.mp4", "--fitting", "dir"], "dir: is a folder"),
        (["a.mp4", "--fitting", "none.json"], "none.json: No such file"),
        (["a.mp4", "--fitting", "f.json"], "f.json: format: 'yearning-fitting/9' is of a later"),
        (["a.mp4", "--fitting", "r.json"], "r.json: input: "),
    ],
)
def test_fittings_that_can_not_be_used(words, says, look, clip, tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "dir").mkdir()
    for name in ("a.mp4", "b.mp4"):
        (tmp_path / name).write_bytes(clip.read_bytes())
    (tmp_path / "f.json").write_text('{"format": "yearning-fitting/9"}')
    fitting(tmp_path / "r.json", {}, input={"rate": "fast"})
    done = run("render", *words, "--look", look, "-o", "out-{name}.mp4")
    assert (done.returncode, done.stderr.count("\n")) == (2, 1)
    assert says in done.stderr
