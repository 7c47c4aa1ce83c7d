"""A project folder written by the first version of the program opens with all it held."""

import shutil

import pytest

from tests.data import DATA
from yearning.core.look.document import look_from_json
from yearning.store.project import Project


@pytest.fixture
def opened(tmp_path):
    shutil.copytree(DATA / "first-project", tmp_path / "first")
    return Project(tmp_path / "first")


def test_its_clip_is_there_and_intact(opened):
    (clip,) = opened.clips.all()
    assert (clip.name, clip.probe["frames"], clip.reading) == ("Small", 6, {"range": "full"})
    opened.clips.check(clip)
    assert opened.clips.get(clip.id).path.stat().st_size == 2478


def test_its_look_can_be_undone_and_redone(opened):
    (current,) = opened.looks.all()
    assert current.look.name == "Renamed"
    assert current.undoes.words == current.redoes.words == "the look's name"
    assert opened.looks.redo(current.id).look.name == "Renamed again"
    opened.looks.undo(current.id)
    written = look_from_json((DATA / "first-format.look.json").read_text())
    assert opened.looks.undo(current.id).look == written


def test_its_stopped_render_keeps_what_was_asked(opened):
    (render,) = opened.renders.all()
    assert (render.state, render.done, render.total) == ("stopped", 2, 6)
    assert render.request["result"] == {"codec": "H.264", "quality": "draft"}
    assert render.request["reading"] == {"range": "full"}
    assert render.path.name == "small-everything-of-the-first-format-1.mp4"


def test_its_settings_snapshots_and_tables_are_there(opened):
    assert opened.setting("farm") == {"workers": 1}
    (snapshot,) = opened.setting("snapshots of 1")["kept"]
    assert (snapshot["id"], snapshot["name"]) == ("a", "Before")
    assert [path.name for path in opened.assets.iterdir()] == ["inverse.0123456789ab.cube"]


def test_what_was_found_of_its_steadiness_is_found_again(opened):
    (clip,) = opened.clips.all()
    written = look_from_json((DATA / "first-format.look.json").read_text())
    assert opened.steadiness.of(clip, written) == {"added": [0]}
