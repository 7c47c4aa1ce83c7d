"""What of a look holds for one clip alone, as revisions with the look."""

import json

import pytest

from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.look.fitting import FITTING_FORMAT, apply_fitting, parse_fitting
from yearning.store.errors import NotThere
from yearning.store.migrations import MIGRATIONS, _add_fittings
from yearning.store.project import Project

PROBE = {"frames": 40}


def a_look(spread=60, *more):
    glow = {"id": "g", "treatment": "glow", "settings": {"spread": spread}}
    return parse_look({"format": "yearning-look/3", "name": "Shared", "steps": [glow, *more]})


def own(step="g", **fields):
    fields = fields or {"settings": {"spread": 9}}
    return parse_fitting({"format": FITTING_FORMAT, "steps": {step: fields}})


@pytest.fixture
def project(tmp_path):
    made = Project(tmp_path / "work")
    for name in ("One", "Two"):
        place = made.incoming(f"{name}.mp4")
        place.write_bytes(name.encode())
        made.clips.add(place, name, name, PROBE)
    made.looks.new(a_look())
    return made


def spread(current, clip):
    return current.look_on(clip).steps[0].settings.spread


def test_a_fitting_holds_for_its_clip_alone_also_when_the_look_changes(project):
    fit = project.looks.change(1, 1, a_look(), {2: own()})
    assert (spread(fit, 1), spread(fit, 2)) == (60, 9)
    assert fit.look_on(2) == apply_fitting(fit.look, own()).look
    changed = project.looks.change(1, fit.revision, a_look(80))
    assert (spread(changed, 1), spread(changed, 2)) == (80, 9)
    assert Project(project.folder).looks.get(1) == changed


def test_it_is_undone_and_made_again_with_the_look_and_named_with_its_clip(project):
    fit = project.looks.change(1, 1, a_look(), {2: own()})
    assert fit.undoes.words == "Glow: spread, on Two alone"
    assert (fit.undoes.step, fit.redoes) == ("g", None)
    before = project.looks.undo(1)
    assert (before.fittings, before.redoes.words) == ({}, "Glow: spread, on Two alone")
    assert project.looks.redo(1).fittings == fit.fittings
    both = project.looks.change(1, fit.revision, a_look(), {1: own(on=False), 2: own(on=False)})
    assert both.undoes.words == "what 2 clips have of their own"
    same = {1: own(settings={"spread": 60}), 2: own(on=False)}
    first = project.looks.change(1, both.revision, a_look(), {2: own(on=False)})
    assert project.looks.change(1, first.revision, a_look(), same).undoes.words == (
        "what One has of its own"
    )


def test_what_changes_nothing_is_no_revision(project):
    fit = project.looks.change(1, 1, a_look(), {2: own(), 1: own("g", settings={})})
    assert project.looks.change(1, fit.revision, a_look(), {2: own()}) == fit


def test_what_is_said_of_a_step_goes_with_it_and_comes_back(project):
    grain = {"id": "n", "treatment": "grain"}
    fit = project.looks.change(1, 1, a_look(60, grain), {2: own("n", on=False)})
    gone = project.looks.change(1, fit.revision, a_look())
    assert gone.fittings == {}
    assert project.looks.undo(1).fittings == fit.fittings


REFUSED = {
    "a clip that is not there": ({9: own()}, NotThere, "fittings.9: no clip has that number"),
    "a value out of range": (
        {2: own(settings={"spread": -1})},
        InvalidLookError,
        r"fittings\.2\.steps\.g\.settings\.spread",
    ),
    "a setting there is not": (
        {1: own(settings={"sprad": 1})},
        InvalidLookError,
        r"fittings\.1\.steps\.g\.settings\.sprad",
    ),
}


@pytest.mark.parametrize("what", REFUSED)
def test_what_does_not_go_with_the_look_is_refused_with_its_place(what, project):
    fittings, kind, words = REFUSED[what]
    with pytest.raises(kind, match=words):
        project.looks.change(1, 1, a_look(), fittings)
    assert project.looks.get(1).revision == 1


def test_a_project_from_before_has_none(project):
    db = project._tables.db
    with db.connection_context():
        db.execute_sql("ALTER TABLE revision DROP COLUMN fittings")
        db.execute_sql(f"PRAGMA user_version = {MIGRATIONS.index(_add_fittings)}")
    opened = Project(project.folder)
    assert opened.looks.get(1).fittings == {}
    assert opened.looks.change(1, 1, a_look(), {2: own()}).fittings == {2: own()}


def test_only_what_differs_is_kept(project):
    project.looks.change(1, 1, a_look(), {2: own()})
    with project._tables.connection():
        row = project._tables.Revision.get_by_id(2)
    assert json.loads(row.fittings) == {"2": {"steps": {"g": {"settings": {"spread": 9}}}}}
