"""The project folder: clips by what they hold, looks as revisions, nothing lost over a restart."""

import hashlib
import os
import sqlite3

import pytest

from tests.conftest import a_look, step
from yearning.store.assets import delete, keep, restore
from yearning.store.errors import ClipLost, NothingLeft, NotThere, ProjectError, Stale
from yearning.store.migrations import MIGRATIONS, NewerProject
from yearning.store.project import DATABASE, Project

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
    first = project.clips.add(file, "A", "d1", PROBE)
    again = project.clips.add(file, "Another name", "d1", PROBE)
    assert first == again
    assert [clip.name for clip in project.clips.all()] == ["A"]
    assert first.path == project.folder / "media" / "d1.mp4"
    assert first.path.read_bytes() == b"footage"
    assert file.exists()


DIGEST = hashlib.sha256(b"footage").hexdigest()


@pytest.mark.parametrize(
    ("damage", "says"),
    [
        (lambda p: p.unlink(), "is gone"),
        (lambda p: p.write_bytes(b"other"), "has changed"),
        (lambda p: p.write_bytes(b"FOOTAGE"), "has changed"),  # as long as it was
    ],
)
def test_a_clips_file_that_was_lost_is_said_and_put_back_by_bringing_it_again(
    damage, says, project, file
):
    clip = project.clips.add(file, "A", DIGEST, PROBE)
    project.clips.check(clip)
    damage(clip.path)
    with pytest.raises(ClipLost, match=f"A: its file {says}"):
        project.clips.check(clip)
    again = project.clips.add(file, "B", DIGEST, PROBE)
    assert again._replace(stamp=clip.stamp) == clip
    assert clip.path.read_bytes() == b"footage"
    project.clips.check(again)


def test_a_file_that_was_touched_but_holds_the_same_is_the_clip_still(project, file):
    clip = project.clips.add(file, "A", DIGEST, PROBE)
    os.utime(clip.path, (1, 1))
    project.clips.check(clip)
    assert project.clips.get(clip.id).stamp != clip.stamp  # and is not read again the next time


def test_a_project_of_version_3_gains_stamps_ranks_and_settings(tmp_path, file):
    project = Project(tmp_path / "old")
    clip = project.clips.add(file, "Old", DIGEST, {"frames": 3})
    project.renders.new(clip, a_look(), 3)
    with sqlite3.connect(tmp_path / "old" / "project.sqlite") as db:
        for table, column in (("clip", "stamp"), ("render", "rank"), ("render", "seconds")):
            db.execute(f"ALTER TABLE {table} DROP COLUMN {column}")
        db.execute("DROP TABLE setting")
        db.execute("PRAGMA user_version = 3")
    again = Project(tmp_path / "old")
    again.clips.check(again.clips.get(1))
    assert (again.renders.get(1).rank, again.renders.get(1).seconds) == (0, 0)
    again.set_setting("farm", {"workers": 3})
    again.set_setting("farm", {"workers": 2})
    assert Project(tmp_path / "old").setting("farm") == {"workers": 2}
    assert again.setting("nothing") == {}


def test_a_render_can_be_put_before_the_others(project, file):
    clip = project.clips.add(file, "A", DIGEST, PROBE)
    first, second, third = (project.renders.new(clip, a_look(), 40).id for _ in range(3))
    project.renders.prioritize(third)
    project.renders.prioritize(second)
    ranked = sorted(project.renders.all(), key=lambda render: render.rank)
    assert [render.id for render in ranked] == [second, third, first]


def test_an_arriving_file_is_moved_in(project):
    place = project.incoming("x.MOV")
    place.write_bytes(b"footage")
    clip = project.clips.add(place, "X", "d2", PROBE)
    assert not place.exists()
    assert clip.path.suffix == ".mov"


def test_what_a_killed_server_left_is_cleared_and_counted(project):
    left = [
        project.incoming("x.mov"),
        project.assets / "tmpab12" / "made.mp4",
        project.folder / "renders" / ".one.mp4.12-34.part",
        project.folder / "renders" / "stills" / ".0001.png.12-34.part",
        project.folder / "media" / "0123.mp4.part",
        project.folder / "media" / ".0123.strip16.jpg.12-34.part",
    ]
    stay = [project.assets / "tmp.0123.png", project.folder / "renders" / "one.part.mp4"]
    for path in left + stay:
        path.parent.mkdir(exist_ok=True)
        path.write_bytes(b"half")
    assert Project(project.folder).swept == 6
    assert not any(path.exists() for path in left)
    assert all(path.exists() for path in stay)
    assert Project(project.folder).swept == 0


def _edits(project, count=3):
    standing = project.looks.new(a_look())
    for n in range(count):
        look = a_look(step("glow", {"spread": 10 + n}))
        standing = project.looks.change(standing.id, standing.revision, look)
    return standing


def _spread(standing):
    return standing.look.steps[0].settings.spread if standing.look.steps else None


def test_undo_and_redo_walk_the_revisions(project):
    look_id = _edits(project).id
    walked = [_spread(project.looks.undo(look_id)) for _ in range(3)]
    assert walked == [11, 10, None]
    with pytest.raises(NothingLeft):
        project.looks.undo(look_id)
    assert [_spread(project.looks.redo(look_id)) for _ in range(3)] == [10, 11, 12]
    with pytest.raises(NothingLeft):
        project.looks.redo(look_id)


def test_undo_and_redo_survive_a_restart(project):
    look_id = _edits(project).id
    project.looks.undo(look_id)
    opened = Project(project.folder)
    assert _spread(opened.looks.get(look_id)) == 11
    assert _spread(opened.looks.redo(look_id)) == 12
    assert _spread(opened.looks.undo(look_id)) == 11


def test_a_new_edit_after_undo_takes_the_lead(project):
    look_id = _edits(project).id
    standing = project.looks.undo(look_id)
    changed = project.looks.change(look_id, standing.revision, a_look(step("grain")))
    assert changed.redoes is None
    assert _spread(project.looks.undo(look_id)) == 11
    assert project.looks.redo(look_id).look == changed.look


def test_an_edit_from_an_older_revision_is_refused_and_changes_nothing(project):
    standing = _edits(project)
    with pytest.raises(Stale, match="load it again"):
        project.looks.change(standing.id, standing.revision - 1, a_look())
    assert project.looks.get(standing.id) == standing


def test_an_edit_that_changes_nothing_is_no_revision(project):
    standing = _edits(project)
    assert project.looks.change(standing.id, standing.revision, standing.look) == standing


def test_what_is_not_there_says_so(project):
    for ask in (project.clips.get, project.looks.get, project.renders.get, project.looks.undo):
        with pytest.raises(NotThere, match="99"):
            ask(99)


def test_a_project_of_the_first_version_gains_what_is_said_of_clips(tmp_path, file):
    project = Project(tmp_path / "old")
    project.clips.add(file, "Old", "d1", {"frames": 3})
    with sqlite3.connect(tmp_path / "old" / "project.sqlite") as db:
        db.execute("ALTER TABLE clip DROP COLUMN reading")
        db.execute("PRAGMA user_version = 1")
    again = Project(tmp_path / "old")
    assert again.clips.get(1).reading == {}
    read = again.clips.read(1, {"range": "full"}, {"frames": 4})
    assert (read.reading, read.probe) == ({"range": "full"}, {"frames": 4})
    assert Project(tmp_path / "old").clips.get(1) == read


@pytest.mark.parametrize("name", ["x" * 300, "墨" * 300, "😀" * 300, "", "a\0b\nc"])
def test_names_of_any_length_make_files_that_can_be_written(project, file, name):
    clip = project.clips.add(file, name, "d1", PROBE)
    assert len(clip.name) <= 200
    assert clip.name.isprintable()
    look = a_look().model_copy(update={"name": name[:100] or "x"})
    numbered = project.renders.new(clip, look, 40, ".png", {}, True)
    for path in (project.renders.new(clip, look, 40).path, numbered.path):
        path.parent.mkdir(exist_ok=True)
        path.with_name(f".{path.name}.{1 << 22}-{1 << 47}.part").write_bytes(b"result")
    data = project.incoming("a.png")
    data.write_bytes(b"plate")
    assert keep(data, project.assets, name).read_bytes() == b"plate"


def test_renders_are_noted(project, file):
    clip = project.clips.add(file, "Lantern barge", "d1", PROBE)
    made = project.renders.new(clip, a_look(), 40)
    assert made.path.name == f"lantern-barge-test-{made.id}.mp4"
    project.renders.note(made.id, "done", 40, ended=True)
    found = Project(project.folder).renders.get(made.id)
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


def test_steadiness_is_kept_by_the_steps_and_how_the_clip_is_read(project, file):
    clip = project.clips.add(file, "A", "d1", PROBE)
    look = a_look(step("levels", {"gamma": 1.2}))
    assert project.steadiness.of(clip, look) is None
    project.steadiness.keep(clip, look, {"flags": []})
    project.steadiness.keep(clip, look, {"flags": [1]})
    named = look.model_copy(update={"name": "Another name"})
    assert project.steadiness.of(clip, named) == {"flags": [1]}
    assert project.steadiness.of(clip, a_look()) is None
    read = project.clips.read(clip.id, {"matrix": "bt601"}, PROBE)
    assert project.steadiness.of(read, look) is None


def test_a_number_that_the_database_can_not_hold_is_no_clips(project, file):
    project.clips.add(file, "A", "d1", PROBE)
    for number in (2**63, -(2**70)):
        with pytest.raises(NotThere):
            project.clips.get(number)


def test_a_project_for_looking_gains_no_files_beside_its_clips(project, file):
    clip = project.clips.add(file, "A", "d1", PROBE)
    beside = project.clips.derived_path(clip, ".levels")
    assert beside == clip.path.with_suffix(".levels")
    looking = Project(project.folder, read_only=True).clips
    assert looking.derived_path(clip, ".levels").parent != clip.path.parent
    beside.write_bytes(b"of before")
    assert looking.derived_path(clip, ".levels") == beside


def test_a_file_that_was_deleted_is_brought_back(tmp_path):
    (tmp_path / "a.cube").write_bytes(b"table")
    delete(tmp_path, "a.cube")
    assert not (tmp_path / "a.cube").exists()
    assert restore(tmp_path, "a.cube").read_bytes() == b"table"
    assert restore(tmp_path, "a.cube").read_bytes() == b"table"  # it stays
    for change in (delete, restore):
        with pytest.raises(NotThere, match=r"no file b\.cube"):
            change(tmp_path, "b.cube")
