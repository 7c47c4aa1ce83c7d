"""Requests that mean no good, or are garbled: refused in one line, and the server goes on."""

import json
from urllib.parse import quote

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import clip_added, problem
from tests.openapi import operations
from yearning.api.app import create_app
from yearning.api.body_limits import MAX_BYTES, MAX_DEPTH, MAX_LOOK_BYTES
from yearning.api.uploads import NAME_BYTES, file_name
from yearning.store.project import Project

BAD = [1 << 63, -(1 << 63) - 1, 10**30, "9" * 5000, "²", "a\0b", "a\nb", "x" * 400, "..", "%09999d"]

LEFT_OUT = {"/api/v1/renders/events"}
"""Goes on for ever."""


def routes():
    """Every operation that takes something in its address."""
    for method, path, operation in operations():
        if operation.get("parameters") and path not in LEFT_OUT:
            yield pytest.param(method, path, operation["parameters"], id=f"{method} {path}")


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    app = create_app(Project(tmp_path_factory.mktemp("hostile") / "work"))
    where = "http://127.0.0.1:8765"
    with TestClient(app, base_url=where, raise_server_exceptions=False) as opened:
        yield opened


@pytest.mark.parametrize(("method", "path", "parameters"), list(routes()))
def test_whatever_stands_in_an_address_is_no_failure_of_the_server(
    method, path, parameters, client
):
    for bad in BAD:
        address, query = path, {}
        for parameter in parameters:
            name = parameter["name"]
            if parameter["in"] == "path":
                address = address.replace(f"{{{name}}}", quote(str(bad), safe=""))
            else:
                query[name] = bad
        body = None if method in ("get", "delete") else b"{}"
        answer = client.request(method, address, params=query, content=body)
        assert answer.status_code < 500, (bad, answer.text)
        if answer.status_code >= 400:
            assert answer.headers["content-type"] == "application/problem+json"


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/v1/pictures", {"look": {"format": "yearning-look/3"}, "frame": 0, "height": 90}),
        ("/api/v1/mattes/previews", {"frame": 0, "strokes": [], "height": 90}),
        ("/api/v1/renders", {"look": {"format": "yearning-look/3"}}),
    ],
)
@pytest.mark.parametrize("number", [1 << 63, 10**30, 0, -1])
def test_clips_of_numbers_that_no_row_has_are_not_there(path, body, number, client):
    problem(client.post(path, json=body | {"clip": number}), 404)


@pytest.mark.parametrize(
    ("reading", "says"),
    [
        ({"rate": "1e999999999"}, "is no frame rate"),
        ({"rate": "1e-9"}, "is no frame rate"),
        ({"rate": "9999999"}, "is no frame rate"),
        ({"rate": "1/3"}, "is no frame rate"),
        ({"rate": "1/0"}, "is no frame rate"),
        ({"rate": "²"}, "is no frame rate"),
        ({"deflicker": 10**30}, "frames on each side"),
        ({"speed": 1e99}, "is not 0.1 to 8"),
    ],
)
def test_numbers_are_bounded_before_they_are_made_exact(reading, says, client, clip):
    number = clip_added(client, clip)
    assert says in problem(client.put(f"/api/v1/clips/{number}/reading", json=reading), 422)


@pytest.mark.parametrize(
    ("name", "kept"),
    [("a\0b\nc", "a b c"), ("墨 и €", "墨 и €"), ('"; a', '"; a')],
)
def test_looks_are_called_in_one_line(name, kept, client):
    body = json.dumps({"format": "yearning-look/3", "name": name, "steps": []})
    made = client.post("/api/v1/looks", content=body, headers={"Content-Type": "application/json"})
    assert made.json()["name"] == kept
    file = client.get(f"/api/v1/looks/{made.json()['id']}/file")
    assert file.status_code == 200
    assert file.json()["name"] == kept
    disposition = file.headers["content-disposition"]
    assert disposition.startswith("attachment; filename")
    assert ("filename*=utf-8''" in disposition) == (not kept.isascii())


def test_half_of_a_surrogate_pair_is_no_text(client):
    body = b'{"format": "yearning-look/3", "name": "half \\ud800 a pair", "steps": []}'
    json_type = {"Content-Type": "application/json"}
    problem(client.post("/api/v1/looks", content=body, headers=json_type), 422)


@pytest.mark.parametrize(
    ("name", "kept"),
    [
        ("a.png", "a.png"),
        ("../../a.png", "a.png"),
        ("C:\\pictures\\a.png", "a.png"),
        ("a\0\n.png", "a  .png"),
        ("no ending", "no ending"),
        ("墨" * 400 + ".png", None),
        ("x" * 400, None),
        ("x." + "y" * 400, None),
    ],
)
def test_files_that_are_sent_have_names_that_can_be_kept(name, kept):
    found = file_name(name)
    assert kept in (None, found)
    assert len(found.encode()) <= NAME_BYTES
    assert found[0] == name.replace("\\", "/").rpartition("/")[2][0]


@pytest.mark.parametrize("name", ["", "..", ".", "/", "\0", " ", "...."])
@pytest.mark.parametrize("path", ["/api/v1/plates", "/api/v1/tracks"])
def test_files_without_a_name_are_refused(path, name, client):
    assert "is no name of a file" in problem(
        client.post(path, params={"name": name}, content=b"a"), 422
    )


@pytest.mark.parametrize(
    "host", ["[", "[::1", "a b", "", "127.0.0.1.example", "\xff".encode("latin-1")]
)
def test_hosts_that_are_none_are_refused(host, client):
    assert "is not this machine" in problem(
        client.get("/api/v1/clips", headers={"Host": host}), 403
    )


@pytest.mark.parametrize("origin", ["[", "http://[", "null", "", "http://127.0.0.1:1"])
def test_origins_that_are_none_are_refused(origin, client):
    said = problem(client.get("/api/v1/clips", headers={"Origin": origin}), 403)
    assert "may not use this server" in said


RIGHT = "s3cret"


@pytest.fixture
def guarded_client(tmp_path):
    app = create_app(Project(tmp_path / "work"), token=RIGHT)
    with TestClient(app, base_url="http://192.168.0.9:8765", follow_redirects=False) as client:
        yield client


def test_the_token_of_the_address_wins_and_leaves_it_at_once(guarded_client):
    guarded_client.cookies.set("yearning_token", "of the server before")
    problem(guarded_client.get("/api/v1/clips"), 403)
    answer = guarded_client.get(f"/api/v1/clips?a=1&token={RIGHT}&b=%20")
    assert (answer.status_code, answer.headers["location"]) == (303, "/api/v1/clips?a=1&b=+")
    guarded_client.cookies.clear()
    guarded_client.cookies.set("yearning_token", answer.cookies["yearning_token"])
    assert guarded_client.get(answer.headers["location"]).status_code == 200


@pytest.mark.parametrize("token", ["", "wrong", "s3cret ", "тайна", "%FF%00", "s3cret%C3"])
def test_wrong_tokens_are_refused_whatever_they_are_made_of(token, guarded_client):
    problem(guarded_client.get(f"/api/v1/clips?token={token}"), 403)
    problem(
        guarded_client.get("/api/v1/clips", headers={"cookie": f"yearning_token={quote(token)}"}),
        403,
    )


def test_the_way_on_never_leads_to_another_host(guarded_client):
    answer = guarded_client.get(f"http://192.168.0.9:8765//evil.example/?token={RIGHT}")
    assert answer.status_code == 303
    assert answer.headers["location"].startswith("/evil.example")


@pytest.mark.parametrize("path", ["/", "/api/v1/clips", "/api/v1/nothing", "/api/v1/openapi.json"])
def test_browsers_are_told_to_keep_other_sites_out(path, client):
    headers = client.get(path).headers
    policy = headers["content-security-policy"]
    assert "default-src 'self'" in policy
    assert "frame-ancestors 'none'" in policy
    assert "script-src" not in policy  # that is default-src's, without exceptions
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["referrer-policy"] == "no-referrer"
    assert headers["cross-origin-resource-policy"] == "same-origin"


@pytest.mark.parametrize("site", ["cross-site", "same-site", "anything"])
def test_what_other_sites_ask_of_the_api_is_refused(site, client):
    told = {"sec-fetch-site": site}
    problem(client.get("/api/v1/clips", headers=told), 403)
    assert client.get("/", headers=told).status_code in (200, 404)  # a link to the page is none
    for own in ("same-origin", "none"):
        assert client.get("/api/v1/clips", headers={"sec-fetch-site": own}).status_code == 200


def test_undo_and_redo_are_of_the_revision_that_is_shown(client):
    look = {"format": "yearning-look/3", "name": "One", "steps": []}
    made = client.post("/api/v1/looks", json=look).json()
    address = f"/api/v1/looks/{made['id']}"
    change = {"revision": made["revision"], "look": look | {"name": "Two"}}
    changed = client.put(address, json=change).json()
    stale = client.post(f"{address}/undo", params={"revision": made["revision"]})
    assert "changed elsewhere" in problem(stale, 409)
    assert client.get(address).json()["name"] == "Two"
    shown = {"revision": changed["revision"]}
    assert client.post(f"{address}/undo", params=shown).json()["name"] == "One"
    problem(client.post(f"{address}/redo", params=shown), 409)
    assert client.post(f"{address}/redo").json()["name"] == "Two"


def nested_lists(depth):
    return b"[" * depth + b"]" * depth


@pytest.mark.parametrize(
    "path", ["/api/v1/looks", "/api/v1/looks/check", "/api/v1/pictures", "/api/v1/farm"]
)
def test_what_is_too_large_or_too_deep_is_refused_before_it_is_parsed(path, client):
    method = "PUT" if path == "/api/v1/farm" else "POST"

    def refusal_of(body, status):
        headers = {"content-type": "application/json"}
        return problem(client.request(method, path, content=body, headers=headers), status)

    most = MAX_LOOK_BYTES if path.startswith("/api/v1/looks") else MAX_BYTES
    assert "MB were sent" in refusal_of(b" " * (most + 1), 413)
    assert "MB were sent" in refusal_of((b" " * (1 << 16) for _ in range(100)), 413)  # in pieces
    assert "deep" in refusal_of(nested_lists(MAX_DEPTH + 1), 422)
    assert "deep" in refusal_of(nested_lists(100_000), 422)
    assert "deep" not in refusal_of(nested_lists(MAX_DEPTH), 422)
    refusal_of(b'"' + b"[" * 1000 + b'"', 422)  # brackets in text are none


def test_what_is_as_large_as_it_may_be_comes_whole(client):
    look = {"format": "yearning-look/3", "name": "Long", "steps": []}
    body = json.dumps(look).encode().ljust(MAX_LOOK_BYTES)
    answer = client.post(
        "/api/v1/looks", content=body, headers={"content-type": "application/json"}
    )
    assert answer.status_code == 201
