"""Errors as RFC 9457 problem details, which say what happened and what to do."""

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from yearning.core.engine.evaluator import Cancelled
from yearning.core.look.document import LookError, format_location
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
    return JSONResponse(problem.model_dump(), problem.status, media_type="application/problem+json")


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
        return problem_response(
            Problem(title=str(error.detail), status=error.status_code, detail=detail)
        )

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
