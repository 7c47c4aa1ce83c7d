"""The OpenAPI document, in which every operation lists the problems that it answers.

What follows from an operation's kind is added here: what may be refused of its address, of its
body, and where there is no room for what it keeps. A route lists only what is its own.
"""

from http import HTTPStatus
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from yearning.api.problems import PROBLEM_TYPE, Problem
from yearning.api.read_only import COMPUTES


def document(app: FastAPI) -> dict[str, Any]:
    """The document of all routes, as OpenAPI 3.1 has it."""
    made = get_openapi(title=app.title, version=app.version, routes=app.routes)
    schemas = made["components"]["schemas"]
    schemas["Problem"] = Problem.model_json_schema()
    for unused in ("HTTPValidationError", "ValidationError"):
        schemas.pop(unused, None)
    for path, operations in made["paths"].items():
        for method, operation in operations.items():
            answers = operation["responses"]
            for status in _implied(path, method, operation):
                answers.setdefault(str(status), {})
            for status in sorted(answers):
                answer = answers.pop(status)  # to stand in this order
                answers[status] = answer if status < "400" else _problem(int(status))
    return made


def _problem(status: int) -> dict[str, Any]:
    content = {PROBLEM_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
    return {"description": HTTPStatus(status).phrase, "content": content}


def _implied(path: str, method: str, operation: dict[str, Any]) -> list[int]:
    """The problems that an operation answers because of what it is."""
    statuses = [403]
    if "{" in path:
        statuses.append(404)
    if operation.get("parameters"):
        statuses.append(422)
    if "requestBody" in operation:
        statuses += [400, 413, 422]
    if method != "get" and operation["operationId"] not in COMPUTES:
        statuses.append(507)
    return statuses
