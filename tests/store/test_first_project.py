"""A project folder written by the first version of the program opens with all it held."""

import shutil

import pytest

from tests.data import DATA
from yearning.core.look.document import look_from_json
from yearning.store.project import Project


@pytest.fixture
def first_project(tmp_path):
    shutil.copytree(DATA / "first-project", tmp_path / "first")
    return Project(tmp_path / "first")


def test_its_clip_is_there_and_intact(first_project):
    (clip,) = first_project.clips.all()
    assert (clip.name, clip.probe["frames"], clip.reading) == ("Small", 6, {"range": "full"})
    first_project.clips.check(clip)
    assert first_project.clips.get(clip.id).path.stat().st_size == 2478


def test_its_look_can_be_undone_and_redone(first_project):
    (current,) = first_project.looks.all()
    assert current.look.name == "Renamed"
    assert current.undoes.words == current.redoes.words == "the look's name"
    assert first_project.looks.redo(current.id).look.name == "Renamed again"
    first_project.looks.undo(current.id)
    written = look_from_json((DATA / "first-format.look.json").read_text())
    assert first_project.looks.undo(current.id).look == written


def test_its_stopped_render_keeps_what_was_asked(first_project):
    (render,) = first_project.renders.all()
    assert (render.state, render.done, render.total) == ("stopped", 2, 6)
    assert render.request["result"] == {"codec": "H.264", "quality": "draft"}
    assert render.request["reading"] == {"range": "full"}
    assert render.path.name == "small-everything-of-the-first-format-1.mp4"


def test_its_settings_snapshots_and_tables_are_there(first_project):
    assert first_project.setting("farm") == {"workers": 1}
    (snapshot,) = first_project.setting("snapshots of 1")["kept"]
    assert (snapshot["id"], snapshot["name"]) == ("a", "Before")
    assert [path.name for path in first_project.assets.iterdir()] == ["inverse.0123456789ab.cube"]


def test_what_was_found_of_its_steadiness_is_found_again(first_project):
    (clip,) = first_project.clips.all()
    written = look_from_json((DATA / "first-format.look.json").read_text())
    assert first_project.steadiness.of(clip, written) == {"added": [0]}
