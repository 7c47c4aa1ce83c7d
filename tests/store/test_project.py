"""The project folder: clips by what they hold, looks as revisions, nothing lost over a restart."""

import sqlite3

import pytest

from tests.conftest import a_look, step
from yearning.store.migrations import MIGRATIONS, NewerProject
from yearning.store.project import (
    DATABASE,
    NothingLeft,
    NotThere,
    Project,
    ProjectError,
    Stale,
)

PROBE = {"frames": 40}


@pytest.fixture
def project(tmp_path):
    return Project(tmp_path / "work")


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "a.mp4"
    path.write_bytes(b"footage")
    return path


def test_a_clip_is_kept_by_its_contents_once(project, file):
    first = project.add_clip(file, "A", "d1", PROBE)
    again = project.add_clip(file, "Another name", "d1", PROBE)
    assert first == again
    assert [clip.name for clip in project.clips()] == ["A"]
    assert first.path == project.folder / "media" / "d1.mp4"
    assert first.path.read_bytes() == b"footage"
    assert file.exists()


def test_an_arriving_file_is_moved_in(project):
    place = project.incoming("x.MOV")
    place.write_bytes(b"footage")
    clip = project.add_clip(place, "X", "d2", PROBE)
    assert not place.exists()
    assert clip.path.suffix == ".mov"


def test_what_was_left_half_arrived_is_cleared(project):
    place = project.incoming("x.mov")
    place.write_bytes(b"half")
    Project(project.folder)
    assert not place.exists()


def _edits(project, count=3):
    standing = project.new_look(a_look())
    for n in range(count):
        look = a_look(step("glow", {"spread": 10 + n}))
        standing = project.change_look(standing.id, standing.revision, look)
    return standing


def _spread(standing):
    return standing.look.steps[0].settings.spread if standing.look.steps else None


def test_undo_and_redo_walk_the_revisions(project):
    look_id = _edits(project).id
    walked = [_spread(project.undo(look_id)) for _ in range(3)]
    assert walked == [11, 10, None]
    with pytest.raises(NothingLeft):
        project.undo(look_id)
    assert [_spread(project.redo(look_id)) for _ in range(3)] == [10, 11, 12]
    with pytest.raises(NothingLeft):
        project.redo(look_id)


def test_undo_and_redo_survive_a_restart(project):
    look_id = _edits(project).id
    project.undo(look_id)
    opened = Project(project.folder)
    assert _spread(opened.look(look_id)) == 11
    assert _spread(opened.redo(look_id)) == 12
    assert _spread(opened.undo(look_id)) == 11


def test_a_new_edit_after_undo_takes_the_lead(project):
    look_id = _edits(project).id
    standing = project.undo(look_id)
    changed = project.change_look(look_id, standing.revision, a_look(step("grain")))
    assert not changed.can_redo
    assert _spread(project.undo(look_id)) == 11
    assert project.redo(look_id).look == changed.look


def test_an_edit_from_an_older_revision_is_refused_and_changes_nothing(project):
    standing = _edits(project)
    with pytest.raises(Stale, match="load it again"):
        project.change_look(standing.id, standing.revision - 1, a_look())
    assert project.look(standing.id) == standing


def test_an_edit_that_changes_nothing_is_no_revision(project):
    standing = _edits(project)
    assert project.change_look(standing.id, standing.revision, standing.look) == standing


def test_what_is_not_there_says_so(project):
    for ask in (project.clip, project.look, project.render, project.undo):
        with pytest.raises(NotThere, match="99"):
            ask(99)


def test_renders_are_noted(project, file):
    clip = project.add_clip(file, "Lantern barge", "d1", PROBE)
    made = project.new_render(clip, a_look(), 40)
    assert made.path.name == f"lantern-barge-test-{made.id}.mp4"
    project.note_render(made.id, "done", 40, ended=True)
    found = Project(project.folder).render(made.id)
    assert (found.state, found.done, found.total) == ("done", 40, 40)
    assert found.ended >= found.asked


def test_a_project_of_a_later_version_is_left_alone(project):
    with sqlite3.connect(project.folder / DATABASE) as db:
        db.execute(f"PRAGMA user_version = {len(MIGRATIONS) + 1}")
    with pytest.raises(NewerProject, match="newer"):
        Project(project.folder)


def test_a_folder_that_can_not_be_a_project_says_why(tmp_path):
    (tmp_path / "file").write_text("no folder")
    with pytest.raises(ProjectError, match="can't be used"):
        Project(tmp_path / "file")
    (tmp_path / "other").mkdir()
    (tmp_path / "other" / DATABASE).write_text("no database" * 999)
    with pytest.raises(ProjectError, match="can't be used"):
        Project(tmp_path / "other")
