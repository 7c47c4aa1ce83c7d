"""Errors as RFC 9457 problem details, which say what happened and what to do."""

from collections.abc import Sequence
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException
from starlette.routing import BaseRoute, Match, Route

from yearning.core.engine.evaluator import Cancelled
from yearning.core.errors import LookError, TreatmentError
from yearning.core.look.document import format_location
from yearning.farm.errors import FarmError
from yearning.farm.state import InvalidTransition
from yearning.media.disk import FULL, is_full
from yearning.media.errors import MediaError
from yearning.store.errors import ClipLost, NothingLeft, NotThere, Stale


class Problem(BaseModel):
    """RFC 9457, section 3.1."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str


PROBLEM_TYPE = "application/problem+json"
"""The media type of a problem (RFC 9457, section 3)."""


def problems(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """What a route answers that does not follow from what it is, for its `responses`."""
    return {status: {"model": Problem} for status in statuses}


OF_CLIP = problems(404, 410)
"""Of routes whose request names a clip: there is none, or its file is gone."""


class Refused(Exception):
    """A request that can't be met."""

    def __init__(self, status: int, title: str, detail: str) -> None:
        super().__init__(detail)
        self.problem = Problem(title=title, status=status, detail=detail)


KNOWN: tuple[tuple[type[Exception], int, str], ...] = (
    (NotThere, 404, "Not there"),
    (Stale, 409, "Changed meanwhile"),
    (NothingLeft, 409, "Nothing left"),
    (LookError, 422, "Not a look that can be used"),
    (TreatmentError, 422, "A treatment failed"),
    (MediaError, 422, "Not a file that can be used"),
    (ClipLost, 410, "Gone"),
    (FarmError, 422, "Not a farm that can be used"),
    (InvalidTransition, 409, "Not now"),
    (IndexError, 422, "Out of range"),
    (Cancelled, 409, "Overtaken"),
)
"""What each kind of error answers."""


def problem_response(problem: Problem) -> JSONResponse:
    """The problem as a response."""
    return JSONResponse(problem.model_dump(), problem.status, media_type=PROBLEM_TYPE)


def add_unknown(app: FastAPI, routes: Sequence[BaseRoute]) -> None:
    """Answer what none of the API's routes does: 405 where another method may be asked, else 404.

    Without it the built page, which takes every other address, would say that nothing is there.
    """

    async def unknown(request: Request) -> None:
        here = [
            route
            for route in routes
            if isinstance(route, Route) and route.matches(request.scope)[0] is not Match.NONE
        ]
        named = [route for route in here if route.path == request.url.path]  # not by a number
        methods = {method for route in named or here for method in route.methods or ()}
        if methods:  # RFC 9110, section 10.2.1
            raise HTTPException(405, headers={"Allow": ", ".join(sorted(methods))})
        raise HTTPException(404)

    asked = ["GET", "POST", "PUT", "DELETE", "PATCH", "OPTIONS", "TRACE"]
    app.router.routes.append(Route("/api/{rest:path}", unknown, methods=asked))


def add_problems(app: FastAPI) -> None:
    """Answer every error with a problem."""

    def known(status: int, title: str) -> Any:
        async def answer(request: Request, error: Exception) -> JSONResponse:
            return problem_response(Problem(title=title, status=status, detail=str(error)))

        return answer

    for kind, status, title in KNOWN:
        app.add_exception_handler(kind, known(status, title))

    @app.exception_handler(Refused)
    async def refused(request: Request, error: Refused) -> JSONResponse:
        return problem_response(error.problem)

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> JSONResponse:
        detail = f"{request.method} {request.url.path}: {error.detail}"
        problem = Problem(title=str(error.detail), status=error.status_code, detail=detail)
        answer = problem_response(problem)
        answer.headers.update(error.headers or {})
        return answer

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        lines = [
            f"{format_location(e['loc'][1:]) or e['loc'][0]}: {e['msg'].lower()}"
            for e in error.errors()
        ]
        return problem_response(
            Problem(title="Not understood", status=422, detail="; ".join(lines[:5]))
        )

    @app.exception_handler(OSError)
    async def on_disk(request: Request, error: OSError) -> JSONResponse:
        if not is_full(error):
            return await unexpected(request, error)
        return problem_response(Problem(title="No room", status=507, detail=FULL))

    @app.exception_handler(Exception)
    async def unexpected(request: Request, error: Exception) -> JSONResponse:
        return problem_response(
            Problem(
                title="Went wrong here",
                status=500,
                detail="Yearning failed at this; the project is as it was. The server's own "
                "output says more.",
            )
        )
