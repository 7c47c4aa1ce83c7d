"""Commands beside a project, in a folder that is watched, and what they print for programs."""

import json
import os
import shutil
import signal
import subprocess
import sys
import threading

import av
import cv2
import pytest

from tests.conftest import THREE_STEPS
from tests.test_cli import run
from tests.ui.serving import serving
from yearning.cli import watching
from yearning.cli.progress import progress_of
from yearning.core.look.document import parse_look
from yearning.core.look.fitting import FITTING_FORMAT, parse_fitting
from yearning.media.decode.probe import probe_file
from yearning.media.plates.plate_writer import write_generated_plate
from yearning.store.assets import keep
from yearning.store.content_store import file_digest
from yearning.store.project import DATABASE, Project

LOOK = {"format": "yearning-look/3", "name": "Three of them", "steps": THREE_STEPS}


@pytest.fixture
def project(tmp_path, clip):
    """A folder of a project with a clip, a look, and one that has a plate of it."""
    made = Project(tmp_path / "work")
    added = made.clips.add(clip, "Small boat", file_digest(clip), probe_file(clip).as_json())
    made.clips.read(added.id, {"rate": "50"}, probe_file(clip).as_json())
    made.looks.new(parse_look(LOOK))
    place = tmp_path / "dirt.png"
    write_generated_plate("lens dirt", place, 1)
    file = keep(place, made.assets, "dirt").name
    step = {"id": "p", "treatment": "plate", "settings": {"file": file}}
    made.looks.new(parse_look(LOOK | {"name": "Dirty 1.2", "steps": [step]}))
    return made.folder


def pixels(path):
    return cv2.imread(str(path)).tolist()


def test_a_projects_look_is_on_its_clip_as_it_is_fitted_to(project, clip, tmp_path):
    opened = Project(project)
    (look,) = [each for each in opened.looks.all() if each.look.name == "Three of them"]
    own = parse_fitting(
        {"format": FITTING_FORMAT, "steps": {LOOK["steps"][0]["id"]: {"on": False}}}
    )
    opened.looks.change(look.id, look.revision, look.look, {1: own})
    other = tmp_path / "none.fitting.json"
    other.write_text(json.dumps({"format": FITTING_FORMAT}))
    written = tmp_path / "written.json"
    steps = [LOOK["steps"][0] | {"on": False}, *LOOK["steps"][1:]]
    written.write_text(json.dumps(LOOK | {"steps": steps}))
    asked = {
        "fitted": ("small boat", "--look", "three of them"),
        "written out": ("small boat", "--look", written),
        "another fitting": ("small boat", "--look", "three of them", "--fitting", other),
        "another file": (clip, "--look", "three of them", "--read", "rate=50"),
    }
    found = {}
    for name, (file, *words) in asked.items():
        out = tmp_path / f"{name}.png"
        done = run("frame", file, 7, *words, "-o", out, "--project", project)
        assert done.returncode == 0, done.stderr
        found[name] = out.read_bytes()
    assert found["fitted"] == found["written out"] != found["another fitting"]
    assert found["another fitting"] == found["another file"]


def test_looks_clips_and_plates_of_a_project_are_taken_by_name(project, clip, tmp_path):
    out = tmp_path / "a.png"
    named = run("frame", "small boat", 7, "--look", "dirty 1.2", "-o", out, "--project", project)
    assert (named.returncode, named.stderr) == (0, "")
    plain, grey = tmp_path / "b.png", tmp_path / "empty.json"
    grey.write_text(json.dumps(LOOK | {"steps": []}))
    run("frame", clip, 7, "--look", grey, "-o", plain)
    assert pixels(out) != pixels(plain)

    listed = run("looks", "--project", project).stdout.splitlines()
    assert listed[:2] == ["Dirty 1.2: plate", "Three of them: glow, curve, grain"]
    assert any(line.startswith("Worn print: ") for line in listed)
    found = json.loads(run("looks", "--project", project, "--json").stdout)
    assert [one["of"] for one in found[:3]] == ["project", "project", "starters"]

    movie = tmp_path / "{name}.mp4"
    run("render", "Small boat", "--look", "Three of them", "-o", movie, "--project", project)
    with av.open(str(tmp_path / "Small boat.mp4")) as container:
        assert container.streams.video[0].average_rate == 50  # as the project reads it


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["frame", "nothing", 0, "--look", "Dirty 1.2", "-o", "a.png"], "it has Small boat"),
        (
            ["frame", "small boat", 0, "--look", "none", "-o", "a.png"],
            "the project has Dirty 1.2, Thr",
        ),
        (["frame", "small boat", 0, "--look", "Dirty 1.2", "-o", "work/a.png"], "own folder"),
        (["render", "small boat", "--look", "Dirty 1.2", "-o", "work/a.mp4"], "own folder"),
        (["bake", "--look", "Dirty 1.2", "-o", "work/a.cube"], "own folder"),
    ],
)
def test_what_a_project_has_not_and_where_results_may_not_lie(words, says, project, monkeypatch):
    monkeypatch.chdir(project.parent)
    done = run(*words, "--project", project)
    assert (done.returncode, done.stderr.count("\n")) == (2, 1)
    assert says in done.stderr


def test_a_clip_of_the_project_whose_file_is_gone_is_told(project, tmp_path):
    for file in (project / "media").iterdir():
        file.unlink()
    for words in (["frame", "small boat", 0, "-o", tmp_path / "a.png"],
                  ["render", "small boat", "-o", tmp_path / "a.mp4"]):  # fmt: skip
        done = run(*words, "--look", "Dirty 1.2", "--project", project)
        assert (done.returncode, done.stderr.count("\n")) == (2, 1)
        assert "its file is gone" in done.stderr


def test_a_folder_without_a_project_is_none_and_gains_nothing(tmp_path, clip):
    done = run("looks", "--project", tmp_path)
    assert done.returncode == 2
    assert f"is no project; it has no {DATABASE}" in done.stderr
    assert list(tmp_path.iterdir()) == []


def test_a_project_is_read_beside_the_server_that_has_it_open(project, tmp_path):
    before = {path for path in project.rglob("*") if path.is_file()}
    with serving(project):
        words = ["frame", "Small boat", 3, "--look", "Dirty 1.2", "-o", tmp_path / "a.png"]
        assert run(*words, "--project", project).returncode == 0
        after = {path for path in project.rglob("*") if path.is_file()}
    assert {path for path in after - before if not path.name.startswith(DATABASE)} <= {
        project / "served.lock"
    }


def test_clips_dropped_into_a_watched_folder_are_rendered_once(clip, tmp_path):
    folder, out = tmp_path / "in", tmp_path / "out"
    folder.mkdir()
    look = tmp_path / "a.look.json"
    look.write_text(json.dumps(LOOK))
    shutil.copy(clip, folder / "first.mp4")
    words = ["--watch", folder, "--look", look, "-o", out / "{name}.mp4", "--to", 5, "--json"]
    command = [sys.executable, "-m", "yearning.cli", "render", *map(str, words)]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    ) as process:
        first = json.loads(process.stdout.readline())
        assert (first["clip"], first["frames"]) == ("first.mp4", 6)
        (folder / "notes.txt").write_text("no clip")
        (folder / ".hidden.mp4").write_bytes(clip.read_bytes())
        shutil.copy(clip, folder / "second.mp4")
        second = json.loads(process.stdout.readline())
        assert second["file"] == str(out / "second.mp4")
        process.send_signal(signal.SIGINT)
        rest, said = process.communicate(timeout=120)
    assert process.returncode == 0
    assert rest == ""
    assert said.count("notes.txt: not rendered") == 1
    assert sorted(path.name for path in out.iterdir()) == ["first.mp4", "second.mp4"]


def test_a_watched_file_is_due_when_it_is_whole_and_again_when_it_has_changed(tmp_path):
    halt, done = threading.Event(), set()
    found = watching.whole_files(tmp_path, lambda path: path.name in done, halt.is_set, 0.01)

    def following():
        return next(found)

    assert following() is None
    place = tmp_path / "a.mp4"
    place.write_bytes(b"a")
    assert following() is None  # seen for the first time
    place.write_bytes(b"ab")
    assert following() is None  # it grows
    assert following() == place
    assert following() is None
    place.write_bytes(b"abc")
    assert following() is None
    assert following() == place
    (tmp_path / "b.mp4").write_bytes(b"b")
    done.add("b.mp4")
    assert [following() for _ in range(4)] == [None] * 4
    (tmp_path / "empty.mp4").touch()
    assert [following() for _ in range(3)] == [None] * 3
    halt.set()
    assert list(found) == []


@pytest.mark.parametrize(
    ("pattern", "made"),
    [("a.mp4", "a.mp4"), ("%05d.png", "00012.png"), ("[a]-%d.png", "[a]-3.png")],
)
def test_a_result_counts_that_is_no_older_than_its_clip(pattern, made, tmp_path):
    file = tmp_path / "clip.mp4"
    file.touch()
    folder = tmp_path / "out"
    assert not watching.is_made_since(folder / pattern, file)
    folder.mkdir()
    (folder / "other.mov").touch()
    assert not watching.is_made_since(folder / pattern, file)
    (folder / made).touch()
    assert watching.is_made_since(folder / pattern, file)
    os.utime(folder / made, (1, 1))
    assert not watching.is_made_since(folder / pattern, file)
    file.unlink()
    assert watching.is_made_since(folder / pattern, file)


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["--watch", "in", "-o", "out/a.mp4"], "need {name}"),
        (["--watch", "in", "-o", "in/{name}.mp4"], "would be taken for clips"),
        (["--watch", "none", "-o", "out/{name}.mp4"], "is no folder"),
        (["-o", "a.mp4"], "or a folder to --watch"),
        (["a.mp4", "--watch", "in", "-o", "out/{name}.mp4"], "or a folder to --watch"),
    ],
)
def test_a_watch_that_can_not_be(words, says, tmp_path, monkeypatch):
    (tmp_path / "in").mkdir()
    monkeypatch.chdir(tmp_path)
    done = run("render", "--look", "Worn print", *words)
    assert (done.returncode, done.stderr.count("\n")) == (2, 1)
    assert says in done.stderr


def test_what_commands_say_is_there_as_json(clip, tmp_path):
    look = tmp_path / "a.look.json"
    look.write_text(json.dumps(LOOK | {"steps": THREE_STEPS[1:2]}))

    def json_of(*words):
        return json.loads(run(*words, "--json").stdout)

    still = json_of("frame", clip, 3, "--look", look, "-o", tmp_path / "a.png", "--height", 54)
    assert still == {"file": str(tmp_path / "a.png"), "frame": 3, "width": 93, "height": 54}
    baked = json_of("bake", "--look", look, "-o", tmp_path / "a.cube", "--side", 17)
    assert (baked["side"], baked["error"] < 0.01) == (17, True)
    plate = json_of("plate", "paper", "-o", tmp_path / "p.png", "--size", "64x48", "--seed", 3)
    assert (plate["kind"], plate["seed"]) == ("paper", 3)
    (made,) = json_of(
        "render", clip, "--look", look, "-o", tmp_path / "a.mp4", "--from", 2, "--to", 9
    )
    assert (made["from"], made["to"], made["frames"]) == (2, 9, 8)
    plain = run("render", clip, "--look", look, "-o", tmp_path / "b.mp4", "--to", 4).stdout
    assert plain.startswith(f"{tmp_path / 'b.mp4'}: 5 frames in ")


def test_without_a_terminal_progress_is_a_line_now_and_then(capsys, monkeypatch):
    now = 0.0
    # there alone: elsewhere in this process the workers' event loops go by the same clock
    monkeypatch.setattr("yearning.cli.progress.monotonic", lambda: now)
    with progress_of("a.mp4", 200) as on_frame:
        for done in range(1, 201):
            now = done / 8
            on_frame(done)
    assert capsys.readouterr().err.splitlines() == [
        "a.mp4: 80 of 200 frames",
        "a.mp4: 160 of 200 frames",
    ]


@pytest.mark.parametrize(
    ("typed", "completed"),
    [
        ("yearning fla", ["flashes"]),
        ("yearning render --wat", ["--watch"]),
        ("yearning render --quality fi", ["fine", "finest"]),
        ("yearning render --codec AV", ["AV1"]),
    ],
)
def test_a_shell_completes_commands_options_and_choices(typed, completed):
    words = {"COMP_WORDS": typed, "COMP_CWORD": str(len(typed.split()) - 1)}
    done = subprocess.run(
        [sys.executable, "-c", "import sys; sys.argv[0] = 'yearning'; "
         "from yearning.cli import main; main()"],
        env=os.environ | words | {"_YEARNING_COMPLETE": "complete_bash"},
        capture_output=True,
        text=True,
    )  # fmt: skip
    assert done.stdout.split() == completed
