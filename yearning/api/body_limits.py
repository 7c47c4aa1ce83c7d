"""How large and how deep what is sent as JSON may be: told before any of it is parsed."""

import re

from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yearning.api.problem_kinds import NOT_UNDERSTOOD, TOO_LARGE
from yearning.api.problems import Problem, problem_response

MAX_BYTES, MAX_LOOK_BYTES = 4 << 20, 1 << 20
MAX_DEPTH = 64

FILES = tuple(
    f"/api/v1/{kind}"
    for kind in (
        *("clips", "plates", "tracks", "tables", "grades", "grains", "sounds"),
        "reels/timelines",
    )
)
"""Where files are sent, which have limits of their own."""

LOOK = re.compile(r"/api/v1/looks(/check|/\d+)?")

_STRINGS = re.compile(rb'"(?:[^"\\]|\\.)*"')
_BRACKETS = re.compile(rb"[][{}]")


class BodyLimits:
    """Refuses bodies of JSON that are too large (413) or nested too deeply (422).

    Args:
        app: the application behind it.
    """

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or refuse it."""
        if scope["type"] != "http" or scope["method"] in ("GET", "HEAD") or scope["path"] in FILES:
            await self._app(scope, receive, send)
            return
        most = MAX_LOOK_BYTES if LOOK.fullmatch(scope["path"]) else MAX_BYTES
        body = await _body(scope, receive, most)
        problem = _problem(body, most)
        if problem is not None:
            await problem_response(problem)(scope, receive, send)
            return
        given = False

        async def receive_again() -> Message:
            nonlocal given
            if given:
                return await receive()
            given = True
            return {"type": "http.request", "body": body, "more_body": False}

        await self._app(scope, receive_again, send)


async def _body(scope: Scope, receive: Receive, most: int) -> bytes | None:
    """A request's body; None where it is larger than `most`."""
    said = Headers(scope=scope).get("content-length", "")
    if said.isdecimal() and (len(said) > 12 or int(said) > most):
        return None
    body = b""
    while True:
        message = await receive()
        body += bytes(message.get("body", b""))
        if len(body) > most:
            return None
        if message["type"] != "http.request" or not message.get("more_body", False):
            return body


def _problem(body: bytes | None, most: int) -> Problem | None:
    if body is None:
        detail = f"more than {most >> 20} MB were sent, where that is the most"
        return Problem.of(TOO_LARGE, detail)
    if depth_of(body) > MAX_DEPTH:
        detail = f"it is nested more than {MAX_DEPTH} deep"
        return Problem.of(NOT_UNDERSTOOD, detail)
    return None


def depth_of(body: bytes) -> int:
    """How deep a JSON text is nested, at the most.

    >>> depth_of(b'{"a": [[1, "[[["]]}')
    3
    """
    depth = deepest = 0
    for bracket in _BRACKETS.findall(_STRINGS.sub(b"", body)):
        depth += 1 if bracket in b"[{" else -1
        deepest = max(deepest, depth)
    return deepest
