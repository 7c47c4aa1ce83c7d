"""A project of `yearning-look/2`, opened: fittings, reels, sheets, reports and results go along."""

import hashlib
import json

import pytest

from yearning.core.look.document import parse_look, steps_digest
from yearning.store.migrations import MIGRATIONS
from yearning.store.project import Project
from yearning.store.renamed_fields import rename_fields
from yearning.store.renders import result_digest
from yearning.store.reports import steps_digest as report_digest

MIX = {"blend": "screen", "amount": 1.0, "tones": None, "mask": [], "layer": "own"}
GLOW = {
    "id": "g",
    "treatment": "glow",
    "settings": {
        "from_light": 0.4,
        "gain": 1.0,
        "roll_in": 0.3,
        "spread": 52.0,
        "warmth": 0.15,
        "hold_light": 0.6,
        "settle": 2,
        "linear": False,
    },
    "mix": {**MIX, "beyond": "cut", "reads": "so far"},
    "keys": {},
    "bursts": [],
    "on": True,
    "seed_by_clip": False,
    "note": "",
}
OLD = {"format": "yearning-look/2", "name": "Old", "steps": [GLOW]}
"""As the last version that wrote `yearning-look/2` wrote it."""

OWN = {"steps": {"g": {"settings": {"from_light": 0.2}, "mix": {"reads": "as shot"}}}}
SHEET = {
    "kind": "pair",
    "rows": {"kind": "span", "step": "g", "name": "from_light", "span": {}},
    "columns": {"kind": "choices", "step": "g", "name": "mix.beyond", "values": ["cut", "keep"]},
}


def drop_fields(step, *names):
    return {name: value for name, value in step.items() if name not in names}


def on_clip():
    """The steps of the old look with its fitting, as reports were found by them."""
    fitted = {**GLOW, "settings": {**GLOW["settings"], "from_light": 0.2}}
    fitted["mix"] = {**GLOW["mix"], "reads": "as shot"}
    return [drop_fields(fitted, "note", "seed_by_clip")]


@pytest.fixture
def older(tmp_path):
    """A project with one of each, as the former version left it."""
    project = Project(tmp_path / "work")
    for name in ("One", "Two"):
        place = project.incoming(f"{name}.mp4")
        place.write_bytes(name.encode())
        project.clips.add(place, name, name, {"frames": 40})
    project.looks.new(parse_look(OLD))
    project.renders.new(project.clips.get(1), parse_look(OLD), 6)
    tables = project._tables
    tables.Revision.update(body=json.dumps(OLD), fittings=json.dumps({"2": OWN})).execute()
    fitted = {"kind": "shot", "id": "a", "name": "A", "clip": 1, "first": 0, "last": 5, "look": 1}
    shot = {**fitted, "fitting": {"format": "yearning-fitting/1", **OWN}}
    reel = tables.Reel.create(changed=0)
    body = {"name": "Cut", "rate": {"numerator": 25, "denominator": 1}, "items": [shot]}
    reel.head = tables.ReelRevision.create(reel=reel, body=json.dumps(body), made=0).id
    reel.save()
    plain = json.dumps([drop_fields(GLOW, "note", "seed_by_clip")])
    digest = hashlib.sha256(plain.encode()).hexdigest()
    sheet = {"id": "s", "name": "S", "sheet": {"subject": SHEET, "shots": []}, "digest": digest}
    project.set_setting("proof sheets of 1", {"kept": [sheet]})
    for clip, steps in ((1, [drop_fields(GLOW, "note", "seed_by_clip")]), (2, on_clip())):
        digest = report_digest({}, {"steps": steps})
        tables.Steadiness.create(clip=clip, digest=digest, report='{"flags": []}', made=0)
    request = {"handles": 3}
    made_of = result_digest("One", OLD, request)
    text = json.dumps({**request, "made_of": made_of})
    tables.Render.update(look=json.dumps(OLD), request=text).execute()
    tables.db.execute_sql(f"PRAGMA user_version = {MIGRATIONS.index(rename_fields)}")
    return project.folder


def test_nothing_that_was_kept_is_lost(older):
    project = Project(older)
    current = project.looks.get(1)
    assert current.look == parse_look(OLD)
    fitted = current.look_on(2)
    assert (fitted.steps[0].settings.threshold, fitted.steps[0].mix.input) == (0.2, "footage")
    shot = project.reels.get(1).body.items[0]
    assert shot.fitting.format == "yearning-fitting/2"
    assert shot.fitting.steps["g"].settings == {"threshold": 0.2}
    for clip, look in ((1, current.look), (2, fitted)):
        assert project.steadiness.of(project.clips.get(clip), look) == {"flags": []}


def test_a_sheet_is_of_the_look_it_was_kept_of_and_varies_what_it_did(older):
    project = Project(older)
    (kept,) = project.setting("proof sheets of 1")["kept"]
    assert kept["digest"] == steps_digest(project.looks.get(1).look)
    subject = kept["sheet"]["subject"]
    assert subject["rows"]["name"] == "threshold"
    assert subject["columns"]["name"] == "mix.out_of_range"
    assert subject["columns"]["values"] == ["limit", "keep"]


def test_a_result_is_still_of_what_it_was_made_of(older):
    (render,) = Project(older).renders.all()
    look = render.look.model_dump(mode="json")
    assert render.request["made_of"] == result_digest("One", look, {"handles": 3})


def test_a_look_that_cannot_be_read_is_left_as_it_is(older):
    project = Project(older)
    tables = project._tables
    tables.Revision.update(body='{"format": "yearning-look/2", "steps": [3]}').execute()
    tables.db.execute_sql(f"PRAGMA user_version = {MIGRATIONS.index(rename_fields)}")
    assert Project(older).setting("proof sheets of 1")["kept"][0]["name"] == "S"
