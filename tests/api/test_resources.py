"""What every resource of the API has: single reads, pages, deletion and its way back, tags."""

import json
import re
from pathlib import Path

import pytest

from tests.api.conftest import HOST, problem
from tests.conftest import SCANNED, THREE_STEPS
from tests.openapi import PATHS
from yearning.api.app import create_app
from yearning.api.problem_kinds import KINDS
from yearning.api.problems import KNOWN
from yearning.core.noise.scanned_grain import grain_json
from yearning.store.project import Project

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": THREE_STEPS}
CUBE = b"LUT_3D_SIZE 2\n" + b"".join(
    b"%d %d %d\n" % (r, g, b) for b in (0, 1) for g in (0, 1) for r in (0, 1)
)
TRACK = {
    "format": "yearning-track/1",
    "clip": "ab" * 32,
    "size": [192, 108],
    "from": 0,
    "shape": {"id": "head", "kind": "ellipse"},
    "frames": [{"frame": 0, "matrix": [[1, 0, 0], [0, 1, 0], [0, 0, 1]], "sure": 1}],
}


def add_resource(client, kind, name, data):
    answer = client.post(f"/api/v1/{kind}", params={"name": name}, content=data)
    assert answer.status_code == 201, answer.text
    return answer.json()["file"]


@pytest.fixture(params=["tables", "tracks", "plates", "grains"])
def asset(request, client, tmp_path):
    """The address of a file that looks name, and a step that names it."""
    kind = request.param
    if kind == "tables":
        file = add_resource(client, kind, "a.cube", CUBE)
        step = {"id": "t", "treatment": "table", "settings": {"file": file}}
    elif kind == "tracks":
        file = add_resource(client, kind, "a.json", json.dumps(TRACK).encode())
        step = {"id": "v", "treatment": "vignette", "settings": {"track": file}}
    elif kind == "grains":
        file = add_resource(client, kind, "a.grain", grain_json(SCANNED).encode())
        step = {"id": "g", "treatment": "grain", "settings": {"gauge": "scan", "scan": file}}
    else:
        file = client.post("/api/v1/plates/generated", json={"kind": "lens dirt"}).json()["file"]
        step = {"id": "p", "treatment": "plate", "settings": {"file": file}}
    return f"/api/v1/{kind}", file, step


def test_a_file_that_looks_name_is_read_deleted_and_brought_back(asset, client):
    list_address, file, _ = asset
    one = f"{list_address}/{file}"
    read = client.get(one).json()
    assert read["file"] == file
    assert client.delete(one).status_code == 204
    problem(client.get(one), 404)
    problem(client.delete(one), 404)
    assert client.get(list_address).json() == []
    back = client.post(f"{one}/restore")
    assert back.status_code == 200
    assert client.get(one).json() == read
    problem(client.post(f"{list_address}/never.there{Path(file).suffix}/restore"), 404)
    client.delete(one)
    for kind in {"tables", "tracks", "plates", "grains"} - {list_address.rpartition("/")[2]}:
        problem(client.post(f"/api/v1/{kind}/{file}/restore"), 404)
        problem(client.get(one), 404)


def test_a_file_that_a_look_needs_stays_until_the_look_is_without_it(asset, client):
    list_address, file, step = asset
    look = client.post("/api/v1/looks", json=LOOK | {"steps": [step]}).json()
    answer = client.delete(f"{list_address}/{file}")
    assert "used by Test" in problem(answer, 409)
    assert answer.json()["type"].endswith("/problems/in-use")
    change = {"revision": look["revision"], "look": LOOK | {"steps": []}}
    client.put(f"/api/v1/looks/{look['id']}", json=change)
    assert client.delete(f"{list_address}/{file}").status_code == 204


def test_a_file_that_a_shots_own_fitting_names_stays_while_the_reel_is_there(
    asset, client, clip_id
):
    list_address, file, step = asset
    plain = LOOK | {"steps": [{key: step[key] for key in ("id", "treatment")}]}
    look = client.post("/api/v1/looks", json=plain).json()
    fitting = {"steps": {step["id"]: {"settings": step["settings"]}}}
    shot = {"kind": "shot", "id": "a", "name": "a", "clip": clip_id, "first": 0, "last": 5}
    shot |= {"look": look["id"], "fitting": fitting}
    made = client.post("/api/v1/reels", json={"name": "Quay", "items": [shot]})
    assert made.status_code == 201, made.text
    assert "used by Quay" in problem(client.delete(f"{list_address}/{file}"), 409)
    client.delete(f"/api/v1/reels/{made.json()['id']}")
    assert client.delete(f"{list_address}/{file}").status_code == 204


def test_a_deleted_clip_is_on_no_list_and_comes_back_as_it_was(client, clip_id, clip):
    one = f"/api/v1/clips/{clip_id}"
    before = client.get(one).json()
    assert before["id"] == clip_id
    assert client.delete(one).status_code == 204
    problem(client.get(one), 404)
    problem(client.delete(one), 404)
    assert client.get("/api/v1/clips").json() == []
    assert client.post(f"{one}/restore").json() == before
    problem(client.post("/api/v1/clips/99/restore"), 404)
    client.delete(one)
    again = client.post("/api/v1/clips", params={"name": clip.name}, content=clip.read_bytes())
    assert again.json()["id"] == clip_id
    assert client.get("/api/v1/clips").json() == [again.json()]


def test_the_renders_of_a_deleted_clip_stay(client, clip_id):
    made = client.post("/api/v1/renders", json={"clip": clip_id, "look": LOOK}).json()
    client.delete(f"/api/v1/clips/{clip_id}")
    assert client.get(f"/api/v1/renders/{made['id']}").json()["clip_name"] == "small"


def test_kept_steps_snapshots_starters_and_treatments_are_read_by_their_names(client):
    kept = {"name": "my glow", "step": {**THREE_STEPS[0], "mix": {}, "on": True}}
    other = kept | {"name": "other"}
    client.put("/api/v1/kept-steps", json=[kept, other])
    assert client.get("/api/v1/kept-steps/my glow").json()["name"] == "my glow"
    assert client.delete("/api/v1/kept-steps/my glow").status_code == 204
    assert [k["name"] for k in client.get("/api/v1/kept-steps").json()] == ["other"]
    problem(client.delete("/api/v1/kept-steps/my glow"), 404)

    look = client.post("/api/v1/looks", json=LOOK).json()
    snapshots = f"/api/v1/looks/{look['id']}/snapshots"
    client.put(f"{snapshots}/a", json={"name": "A", "look": LOOK})
    assert client.get(f"{snapshots}/a").json()["look"]["name"] == "Test"
    problem(client.get(f"{snapshots}/b"), 404)

    for starter in client.get("/api/v1/starters").json():
        assert client.get(f"/api/v1/starters/{starter['name']}").json() == starter
    assert "Worn print" in problem(client.get("/api/v1/starters/none"), 404)
    for treatment in client.get("/api/v1/catalogue").json()["treatments"]:
        assert client.get(f"/api/v1/treatments/{treatment['kind']}").json() == treatment
    assert "glow" in problem(client.get("/api/v1/treatments/glimmer"), 404)


def next_of(answer):
    """The address in a `Link` header that leads to the next page (RFC 8288)."""
    found = re.fullmatch(r'<([^>]*)>; rel="next"', answer.headers.get("link", ""))
    return found and found[1]


@pytest.mark.parametrize("kind", ["looks", "renders", "tables"])
def test_long_lists_come_by_pages_of_which_each_names_the_next(kind, client, clip_id):
    for n in range(5):
        if kind == "looks":
            client.post("/api/v1/looks", json=LOOK | {"name": f"Look {n}"})
        elif kind == "renders":
            client.post("/api/v1/renders", json={"clip": clip_id, "look": LOOK})
        else:
            add_resource(client, kind, f"{n}.cube", CUBE.replace(b"1 1 1", b"1 1 0.%d" % n))
    key = "file" if kind == "tables" else "id"
    whole = [one[key] for one in client.get(f"/api/v1/{kind}").json()]
    address, pages = f"/api/v1/{kind}?limit=2", []
    while address:
        answer = client.get(address)
        pages.append([one[key] for one in answer.json()])
        address = next_of(answer)
    assert pages == [whole[:2], whole[2:4], whole[4:]]
    assert next_of(client.get(f"/api/v1/{kind}?limit=5")) is None
    for wrong in ("limit=0", "limit=1001", "offset=-1"):
        problem(client.get(f"/api/v1/{kind}?{wrong}"), 422)


def test_a_picture_by_get_is_the_one_by_post_and_is_not_sent_twice(client, clip_id):
    look = client.post("/api/v1/looks", json=LOOK).json()
    address = f"/api/v1/looks/{look['id']}/pictures/{clip_id}/7?height=90"
    first = client.get(address)
    ask = {"clip": clip_id, "frame": 7, "look": LOOK, "height": 90}
    assert first.content == client.post("/api/v1/pictures", json=ask).content
    tag = first.headers["etag"]
    for known in (tag, f"W/{tag}", f'"other", {tag}', "*"):
        again = client.get(address, headers={"If-None-Match": known})
        assert (again.status_code, again.content, again.headers["etag"]) == (304, b"", tag)
    others = [
        address.replace("/7?", "/8?"),
        address.replace("90", "92"),
        f"{address}&after=footage",
        f"{address}&file=png",
    ]
    change = {"revision": look["revision"], "look": LOOK | {"steps": THREE_STEPS[:1]}}
    client.put(f"/api/v1/looks/{look['id']}", json=change)
    for other in [*others, address]:
        answer = client.get(other, headers={"If-None-Match": tag})
        assert answer.status_code == 200
        assert answer.headers["etag"] != tag
    problem(client.get(address.replace("/7?", "/9999?")), 422)
    problem(client.get(address.replace("/7?", "/-1?")), 422)
    problem(client.get(f"{address}&after=nothing"), 422)


def test_a_picture_is_sent_again_after_a_plate_of_it_has_gone(client, clip_id):
    file = client.post("/api/v1/plates/generated", json={"kind": "lens dirt"}).json()["file"]
    step = {"id": "p", "treatment": "plate", "settings": {"file": file}}
    look = client.post("/api/v1/looks", json=LOOK | {"steps": [step]}).json()
    address = f"/api/v1/looks/{look['id']}/pictures/{clip_id}/0?height=90"
    tag = client.get(address).headers["etag"]
    client.post("/api/v1/plates/generated", json={"kind": "lens dirt", "seed": 2})
    assert client.get(address, headers={"If-None-Match": tag}).status_code == 200


def test_every_kind_of_problem_is_described_where_its_type_leads(client):
    listed = client.get("/api/v1/problems").json()
    assert [one["type"] for one in listed] == [kind.uri for kind in KINDS]
    for one in listed:
        assert client.get(one["type"]).json() == one
    assert len({one["type"] for one in listed}) == len(listed)
    assert {kind for _, kind in KNOWN} <= set(KINDS)
    missing = client.get("/api/v1/clips/99")
    assert client.get(missing.json()["type"]).json()["status"] == 404
    problem(client.get("/api/v1/problems/none"), 404)


def test_operations_are_called_by_a_verb_and_what_it_is_done_to():
    verbs = {
        *("add", "bake", "check", "compute", "delete", "find", "fit", "generate", "keep", "list"),
        *("make", "measure", "preview", "prioritize", "read", "redo", "repeat", "replace"),
        *("request", "restore", "resume", "sample", "smooth", "stop", "undo", "change", "watch"),
        "write",
    }
    for path, operations in PATHS.items():
        assert path.startswith("/api/v1/")
        for operation in operations.values():
            verb, _, what = operation["operationId"].partition("_")
            assert verb in verbs
            assert what


@pytest.fixture(scope="module")
def docs(tmp_path_factory):
    from fastapi.testclient import TestClient

    app = create_app(Project(tmp_path_factory.mktemp("docs") / "work"))
    with TestClient(app, base_url=HOST) as opened:
        yield opened


def test_the_documentation_page_comes_with_all_that_it_needs(docs):
    page = docs.get("/api/v1/docs").text
    parts = re.findall(r'(?:href|src)="(docs/[^"]+)"', page)
    assert len(parts) == 4
    for part in parts:
        assert docs.get(f"/api/v1/{part}").status_code == 200
    assert not re.search(r'(?:href|src)="(?:https?:)?//', page)
    assert docs.get("/api/v1/openapi.json").json()["openapi"].startswith("3.1")
