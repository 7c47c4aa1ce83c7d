"""What of a look holds for one clip alone, over HTTP."""

import jsonschema
import pytest

from tests.api.conftest import problem
from yearning.core.look.fitting import fitting_schema

GLOW = {"id": "g", "treatment": "glow", "settings": {"spread": 60}}
LOOK = {"format": "yearning-look/3", "name": "Shared", "steps": [GLOW]}
OWN = {"format": "yearning-fitting/2", "steps": {"g": {"settings": {"spread": 9}}}}


@pytest.fixture
def look(client, clip_id):
    made = client.post("/api/v1/looks", json=LOOK).json()
    body = {"revision": made["revision"], "look": LOOK, "fittings": {str(clip_id): OWN}}
    answer = client.put(f"/api/v1/looks/{made['id']}", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def address(look, *more):
    return "/".join(["/api/v1/looks", str(look["id"]), *map(str, more)])


def test_it_is_answered_with_the_look_and_undone_with_it(client, clip_id, look):
    (own,) = look["fittings"].values()
    assert own["steps"]["g"]["settings"] == {"spread": 9}
    assert look["digests"][str(clip_id)] != look["digest"]
    assert client.get(address(look)).json() == look
    assert client.post(address(look, "undo")).json()["fittings"] == {}
    assert client.post(address(look, "redo")).json()["fittings"] == look["fittings"]


def test_an_edit_that_says_nothing_of_fittings_leaves_them(client, look):
    body = {"revision": look["revision"], "look": LOOK | {"name": "Else"}}
    changed = client.put(address(look), json=body).json()
    assert (changed["name"], changed["fittings"]) == ("Else", look["fittings"])


def test_pictures_and_files_are_of_the_look_as_it_stands_on_the_clip(client, clip_id, look):
    def spread(**params):
        file = client.get(address(look, "file"), params=params).json()
        return file["steps"][0]["settings"]["spread"]

    assert (spread(), spread(clip=clip_id)) == (60, 9)
    shown = client.get(address(look, "pictures", clip_id, 3), params={"file": "png"}).content
    written = LOOK | {"steps": [GLOW | {"settings": {"spread": 9}}]}
    by_hand = client.post("/api/v1/looks", json=written).json()
    same = client.get(address(by_hand, "pictures", clip_id, 3), params={"file": "png"}).content
    shared = client.post("/api/v1/looks", json=LOOK).json()
    other = client.get(address(shared, "pictures", clip_id, 3), params={"file": "png"}).content
    assert shown == same != other


def test_the_file_of_a_fitting_says_what_differs_and_how_the_clip_is_read(client, clip_id, look):
    client.put(f"/api/v1/clips/{clip_id}/reading", json={"range": "full"})
    answer = client.get(address(look, "fittings", clip_id, "file"))
    assert answer.json() == OWN | {"input": {"range": "full"}}
    assert "fitting.json" in answer.headers["content-disposition"]
    jsonschema.validate(answer.json(), fitting_schema())


def test_a_fitting_file_is_checked_against_the_look(client, look):
    steps = {"gone": {"on": False}, "g": {"settings": {"spread": 12, "sprad": 1}}}
    checked = client.post(address(look, "fittings", "check"), json=OWN | {"steps": steps}).json()
    assert checked["fitting"]["steps"]["g"]["settings"]["spread"] == 12
    places = sorted(note.partition(": ")[0] for note in checked["notes"])
    assert places == ["steps.g.settings.sprad", "steps.gone"]
    assert client.get(address(look)).json() == look


REFUSED = {
    "of no clip": ({"front": OWN}, 422, "fittings: 'front' is no clip's number"),
    "of a clip that is gone": ({"99": OWN}, 404, "fittings.99"),
    "of a later version": ({"1": OWN | {"format": "yearning-fitting/3"}}, 422, "later version"),
    "no fitting": ({"1": LOOK}, 422, "fittings.1.format: not a fitting"),
    "a value out of range": (
        {"1": OWN | {"steps": {"g": {"settings": {"spread": -4}}}}},
        422,
        "fittings.1.steps.g.settings.spread",
    ),
}


@pytest.mark.parametrize("what", REFUSED)
def test_what_is_no_fitting_is_refused_with_its_place(what, client, look):
    fittings, status, words = REFUSED[what]
    body = {"revision": look["revision"], "look": LOOK, "fittings": fittings}
    assert words in problem(client.put(address(look), json=body), status)
    assert client.get(address(look)).json() == look


def test_a_render_made_again_with_the_look_as_it_is_has_the_clips_own(client, clip_id, look):
    ask = {"clip": clip_id, "look": LOOK, "look_id": look["id"], "result": {"last": 1}}
    first = client.post("/api/v1/renders", json=ask).json()
    assert first["look_digest"] == look["digest"]
    again = client.post(f"/api/v1/renders/{first['id']}/repeat", params={"look": "now"}).json()
    assert again["look_digest"] == look["digests"][str(clip_id)]
    for render in (first, again):
        client.post(f"/api/v1/renders/{render['id']}/stop")


def test_a_file_that_a_clip_alone_needs_is_not_deleted(client, clip_id, look):
    cube = b"LUT_3D_SIZE 2\n" + b"0 0 0\n" * 8
    file = client.post("/api/v1/tables?name=dark.cube", content=cube).json()["file"]
    table = {"id": "t", "treatment": "table"}
    own = OWN | {"steps": {"t": {"settings": {"file": file}}}}
    body = {
        "revision": look["revision"],
        "look": LOOK | {"steps": [GLOW, table]},
        "fittings": {str(clip_id): own},
    }
    assert client.put(address(look), json=body).status_code == 200
    assert "Shared" in problem(client.delete(f"/api/v1/tables/{file}"), 409)
