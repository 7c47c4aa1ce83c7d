"""The OpenAPI document, in which every operation lists the problems that it answers.

What follows from an operation's kind is added here: what may be refused of its address, of its
body, and where there is no room for what it keeps. A route lists only what is its own.
"""

from http import HTTPStatus
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from yearning.api.addresses import V1
from yearning.api.problem_kinds import KINDS
from yearning.api.problems import PROBLEM_TYPE, Problem
from yearning.api.read_only import COMPUTES
from yearning.api.schemas.look_document import with_components
from yearning.api.schemas.play import PlayRequest, ReelPlayRequest

ABOUT = """\
Everything the page does, over HTTP. Addresses under `{v1}` stay as they are within version 1.

**Looks** are documents of the format `yearning-look/3`: `LookInput` as they are sent, what has a
default left out; `Look` as they are answered. A step is a union by its treatment; `OpenStep` is one
of a treatment of another package.

**Edits** name the revision they were made from; 409 where another is current by now.

**Lists that grow** come by pages: `limit` and `offset`; the header `Link` leads to the next
(RFC 8288).

**Pictures that are asked for by GET** have an `ETag`; with `If-None-Match` one that is known is not
sent again (304).

**Renders as they change** come as Server-Sent Events; play is a WebSocket at `{v1}/play`, begun by
a `PlayRequest` or a `ReelPlayRequest`.

**Problems** are those of RFC 9457. `type` says the kind, and is an address of this server:

| kind | status | |
|---|---|---|
{problems}
"""
"""What the document says of the API as a whole, in Markdown."""


def _about_text() -> str:
    rows = [f"| [`{k.name}`]({k.uri}) | {k.status} | {k.title}. {k.summary} |" for k in KINDS]
    return ABOUT.format(v1=V1, problems="\n".join(rows))


def document(app: FastAPI) -> dict[str, Any]:
    """The document of all routes, as OpenAPI 3.1 has it."""
    made = get_openapi(
        title="Yearning",
        version=app.version,
        summary="Looks for moving footage: pictures, play, renders and measures.",
        description=_about_text(),
        routes=app.routes,
    )
    schemas = made["components"]["schemas"]
    for model in (Problem, PlayRequest, ReelPlayRequest):
        schemas[model.__name__] = model.model_json_schema()
    made = with_components(made)
    schemas = made["components"]["schemas"]
    for unused in ("HTTPValidationError", "ValidationError"):
        schemas.pop(unused, None)
    for path, operations in made["paths"].items():
        for method, operation in operations.items():
            answers = operation["responses"]
            for status in _implied_problems(path, method, operation):
                answers.setdefault(str(status), {})
            for status in sorted(answers):
                answer = answers.pop(status)  # to stand in this order
                answers[status] = answer if status < "400" else _problem(int(status))
    return made


def _problem(status: int) -> dict[str, Any]:
    content = {PROBLEM_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
    return {"description": HTTPStatus(status).phrase, "content": content}


def _implied_problems(path: str, method: str, operation: dict[str, Any]) -> list[int]:
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
