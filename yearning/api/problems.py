"""Errors as RFC 9457 problem details, which say what happened and what to do."""

from collections.abc import Sequence
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, Field
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect
from starlette.routing import BaseRoute, Match, Route

from yearning.api import problem_kinds as kinds
from yearning.api.problem_kinds import ProblemKind
from yearning.core.engine.evaluator import Cancelled
from yearning.core.errors import InvalidLookError, TreatmentError
from yearning.core.look.document import format_location
from yearning.core.look.reel import ReelError
from yearning.farm.errors import FarmError
from yearning.farm.state import InvalidTransition
from yearning.media.disk import FULL, is_full
from yearning.media.errors import MediaError
from yearning.store.errors import ClipLost, NothingLeft, NotThere, Stale


class Problem(BaseModel):
    """RFC 9457, section 3.1."""

    type: str = Field(description="The URI of its kind, which is described there.")
    title: str
    status: int
    detail: str = Field(description="What happened, and what to do.")

    @staticmethod
    def of(kind: ProblemKind, detail: str) -> "Problem":
        """Return a problem of a kind.

        Args:
            kind: with its status and title.
            detail: in words.
        """
        return Problem(type=kind.uri, title=kind.title, status=kind.status, detail=detail)


PROBLEM_TYPE = "application/problem+json"
"""The media type of a problem (RFC 9457, section 3)."""


def problems(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """What a route answers that does not follow from what it is, for its `responses`."""
    return {status: {"model": Problem} for status in statuses}


OF_CLIP = problems(404, 410)
"""Of routes whose request names a clip: there is none, or its file is gone."""


class Refused(Exception):
    """A request that can't be met."""

    def __init__(self, kind: ProblemKind, detail: str) -> None:
        super().__init__(detail)
        self.problem = Problem.of(kind, detail)


KNOWN: tuple[tuple[type[Exception], ProblemKind], ...] = (
    (NotThere, kinds.NOT_THERE),
    (Stale, kinds.STALE),
    (NothingLeft, kinds.NOTHING_LEFT),
    (InvalidLookError, kinds.NOT_A_LOOK),
    (ReelError, kinds.NOT_A_REEL),
    (TreatmentError, kinds.TREATMENT_FAILED),
    (MediaError, kinds.NOT_A_FILE),
    (ClipLost, kinds.GONE),
    (FarmError, kinds.NOT_A_FARM),
    (InvalidTransition, kinds.NOT_NOW),
    (IndexError, kinds.OUT_OF_RANGE),
    (Cancelled, kinds.OVERTAKEN),
    (ClientDisconnect, kinds.UNREADABLE),
)
"""What each kind of error answers."""


def problem_response(problem: Problem) -> JSONResponse:
    """The problem as a response."""
    return JSONResponse(problem.model_dump(), problem.status, media_type=PROBLEM_TYPE)


def add_unknown(app: FastAPI, routes: Sequence[BaseRoute]) -> None:
    """Answer what none of the API's routes does: 405 where another method may be asked, else 404.

    Without it the built page, which takes every other address, would say that nothing is there.

    Args:
        app: the application.
        routes: of the API.
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

    def answer_problem(kind: ProblemKind) -> Any:
        async def answer(request: Request, error: Exception) -> JSONResponse:
            return problem_response(Problem.of(kind, str(error)))

        return answer

    for raised, kind in KNOWN:
        app.add_exception_handler(raised, answer_problem(kind))

    @app.exception_handler(Refused)
    async def answer_refusal(request: Request, error: Refused) -> JSONResponse:
        return problem_response(error.problem)

    @app.exception_handler(HTTPException)
    async def http(request: Request, error: HTTPException) -> JSONResponse:
        detail = f"{request.method} {request.url.path}: {error.detail}"
        kind = kinds.OF_STATUS.get(error.status_code)
        said = Problem(
            type=kind.uri if kind else "about:blank",  # RFC 9457, section 4.2.1
            title=kind.title if kind else str(error.detail),
            status=error.status_code,
            detail=detail,
        )
        answer = problem_response(said)
        answer.headers.update(error.headers or {})
        return answer

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        lines = [
            f"{format_location(e['loc'][1:]) or e['loc'][0]}: {e['msg'].lower()}"
            for e in error.errors()
        ]
        return problem_response(Problem.of(kinds.NOT_UNDERSTOOD, "; ".join(lines[:5])))

    @app.exception_handler(OSError)
    async def on_disk(request: Request, error: OSError) -> JSONResponse:
        if not is_full(error):
            return await answer_unexpected(request, error)
        return problem_response(Problem.of(kinds.NO_ROOM, FULL))

    @app.exception_handler(Exception)
    async def answer_unexpected(request: Request, error: Exception) -> JSONResponse:
        detail = (
            "Yearning failed at this; the project is as it was. The server's own output says more."
        )
        return problem_response(Problem.of(kinds.FAILED, detail))
