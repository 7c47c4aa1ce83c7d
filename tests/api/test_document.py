"""The OpenAPI document, and what follows from it: problems of each operation, 404 and 405."""

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import HOST, problem
from tests.openapi import DOCUMENT, PATHS, operations
from yearning.api.app import create_app
from yearning.api.read_only import COMPUTES
from yearning.store.project import Project

OPERATIONS = [
    pytest.param(method, path, operation, id=f"{method} {path}")
    for method, path, operation in operations()
]


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    app = create_app(Project(tmp_path_factory.mktemp("document") / "work"))
    with TestClient(app, base_url=HOST) as opened:
        yield opened


def test_the_published_document_is_the_applications():
    assert create_app(None).openapi() == DOCUMENT


@pytest.mark.parametrize(("method", "path", "operation"), OPERATIONS)
def test_an_operation_lists_the_problems_it_answers(method, path, operation):
    answers = operation["responses"]
    problems = {status: answer for status, answer in answers.items() if status >= "400"}
    assert all(list(p["content"]) == ["application/problem+json"] for p in problems.values())
    assert "403" in problems
    assert ("404" in problems) >= ("{" in path)
    assert {"400", "413", "422"} <= set(problems) or "requestBody" not in operation
    keeps = method != "get" and operation["operationId"] not in COMPUTES
    assert ("507" in problems) == keeps


@pytest.mark.parametrize(
    "path", ["/api/v1/farm", "/api/v1/marks", "/api/v1/looks/1", "/api/v1/looks/check"]
)
def test_another_method_is_told_which_there_are(path, client):
    answer = client.request("PATCH", path)
    assert "Method Not Allowed" in problem(answer, 405)
    documented = PATHS.get(path, PATHS["/api/v1/looks/{look_id}"])
    assert answer.headers["allow"] == ", ".join(sorted(m.upper() for m in documented))


@pytest.mark.parametrize("path", ["/api/v1/looks/check", "/api/v1/reels/timelines"])
@pytest.mark.parametrize("method", ["GET", "PUT", "DELETE"])
def test_what_stands_where_numbers_do_is_not_taken_for_one(method, path, client):
    answer = client.request(method, path)
    assert "Method Not Allowed" in problem(answer, 405)
    assert answer.headers["allow"] == "POST"


def test_what_is_no_address_of_the_api_is_not_there(client):
    for method in ("GET", "POST", "DELETE"):
        problem(client.request(method, "/api/v1/nothing"), 404)


@pytest.mark.parametrize(
    "path", ["tracks/a", "tracks/a/file", "plates/a/strip", "mattes/a/strokes"]
)
def test_a_file_that_the_project_has_not_is_not_there(path, client):
    assert "the project has no file a" in problem(client.get(f"/api/v1/{path}"), 404)


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/v1/page", {"clip": True}),
        ("/api/v1/page", {"zoom": True}),
        ("/api/v1/farm", {"workers": True}),
    ],
)
def test_true_is_no_number(path, body, client):
    assert "not true or false" in problem(client.put(path, json=body), 422)
