"""A project whose looks have steps of a package that is not installed any more: nothing is lost."""

import pytest
from typer.testing import CliRunner

from tests.api.conftest import clip_added, problem
from tests.api.test_renders import render_at_end
from tests.core.look.test_absent_steps import DUST, LIFT, document
from yearning.cli import app
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.library.projects import OpenProject


@pytest.fixture
def look(client):
    """The look as the API gives it; it was made while the package was here."""
    looks = client.app.state.project.looks
    made = looks.new(parse_look(document(DUST, LIFT), keep_absent=True))
    client.post("/api/v1/looks", json=document(LIFT, name="Other"))
    return client.get(f"/api/v1/looks/{made.id}").json()


def change_look(client, look, **more):
    body = {"revision": look["revision"], "look": look["look"] | more}
    return client.put(f"/api/v1/looks/{look['id']}", json=body)


def test_the_lists_have_it_and_all_others(client, look):
    listed = client.get("/api/v1/looks").json()
    assert [each["name"] for each in listed] == ["Other", "Kept"]
    assert listed[1]["look"]["steps"][0]["settings"] == DUST["settings"]


def test_it_is_edited_undone_and_written_back_as_it_was(client, look):
    first, second = look["look"]["steps"]
    named = change_look(client, look, name="Named", steps=[second, first])
    assert named.status_code == 200, named.text
    assert named.json()["look"]["steps"] == [second, first]
    back = client.post(f"/api/v1/looks/{look['id']}/undo").json()
    assert back["look"] == look["look"]
    assert client.get(f"/api/v1/looks/{look['id']}/file").json() == look["look"]


def test_what_is_new_or_other_of_the_package_is_refused(client, look):
    other = [look["look"]["steps"][0] | {"settings": {}}]
    assert "film-tools" in problem(change_look(client, look, steps=other), 422)
    assert "film-tools" in problem(client.post("/api/v1/looks", json=look["look"]), 422)
    assert "film-tools" in problem(client.post("/api/v1/looks/check", json=look["look"]), 422)


def test_pictures_are_without_it(client, clip, look):
    number = clip_added(client, clip)
    ask = {"clip": number, "frame": 3, "height": 48}
    plain = client.post("/api/v1/pictures", json=ask | {"look": document(LIFT)})
    seen = client.post("/api/v1/pictures", json=ask | {"look": look["look"]})
    assert seen.status_code == 200, seen.text
    assert seen.content == plain.content


def test_a_render_is_refused_until_it_is_switched_off(client, clip, look):
    number = clip_added(client, clip)
    ask = {"clip": number, "look": look["look"], "look_id": look["id"], "result": {"last": 3}}
    said = problem(client.post("/api/v1/renders", json=ask), 422)
    assert said.startswith("steps[0].treatment: 'film-tools.dust' is of the package 'film-tools'")
    first, second = look["look"]["steps"]
    off = change_look(client, look, steps=[first | {"on": False}, second]).json()
    made = client.post("/api/v1/renders", json=ask | {"look": off["look"]})
    assert made.status_code == 201, made.text
    assert render_at_end(client, made.json()["id"])["state"] == "done"
    assert client.get("/api/v1/renders").json()[0]["look_digest"] == off["digest"]


def test_on_the_command_line_and_in_python_it_is_refused(client, look, tmp_path):
    with pytest.raises(InvalidLookError, match="the package 'film-tools', which is not installed"):
        OpenProject(tmp_path / "work").look("kept")
    assert OpenProject(tmp_path / "work").look("other") is not None
    listed = CliRunner().invoke(app, ["looks", "--project", str(tmp_path / "work")])
    assert "Kept: film-tools.dust, exposure\n" in listed.stdout


def test_one_row_that_can_t_be_read_takes_no_other_along(client, look):
    project = client.app.state.project
    with project.looks._tables.writing():
        project.looks._tables.Revision.update(body='{"format": "torn').where(
            project.looks._tables.Revision.id == look["revision"]
        ).execute()
    assert [each["name"] for each in client.get("/api/v1/looks").json()] == ["Other"]
    assert "not JSON" in problem(client.get(f"/api/v1/looks/{look['id']}"), 422)
