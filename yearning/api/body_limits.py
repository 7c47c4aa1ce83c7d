"""What is sent as JSON: whole, in time, bounded in size and depth, before any of it is parsed."""

import asyncio
import re

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yearning.api.problem_kinds import NOT_UNDERSTOOD, TOO_LARGE, TOO_SLOW
from yearning.api.problems import Problem, problem_response
from yearning.core.json_text import JsonError, check_json

MAX_BYTES, MAX_LOOK_BYTES = 4 << 20, 1 << 20
MAX_DEPTH = 64

SECONDS = 60.0
"""In which a body is here."""

CHECKED_AT_ONCE = 1 << 14
"""Bytes that are checked on the event loop; more is left to a thread."""

FILES = tuple(
    f"/api/v1/{kind}"
    for kind in (
        *("clips", "plates", "tracks", "tables", "grades", "grains", "sounds"),
        "reels/timelines",
    )
)
"""Where files are sent, which have limits of their own."""

LOOK = re.compile(r"/api/v1/looks(/check|/\d+)?")


class _Disconnected(Exception):
    """The client went before its body was here."""


class _TooLarge(Exception):
    """More was sent than is taken."""


class BodyLimits:
    """Passes requests on once their body of JSON is here, whole.

    Bodies that are too large (413), too slow (408), nested too deeply or with numbers that are none
    (422) are refused. Of a client that went before its body was here nothing is done.

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
        try:
            async with asyncio.timeout(SECONDS):
                body = await _read_body(scope, receive, most)
            if len(body) <= CHECKED_AT_ONCE:
                check_json(body, MAX_DEPTH)
            else:
                await run_in_threadpool(check_json, body, MAX_DEPTH)
        except _Disconnected:
            return
        except _TooLarge:
            detail = f"more than {most >> 20} MB were sent, where that is the most"
            await problem_response(Problem.of(TOO_LARGE, detail))(scope, receive, send)
            return
        except TimeoutError:
            detail = f"the body was not here within {SECONDS:g} s; send it anew"
            await problem_response(Problem.of(TOO_SLOW, detail))(scope, receive, send)
            return
        except JsonError as error:
            await problem_response(Problem.of(NOT_UNDERSTOOD, str(error)))(scope, receive, send)
            return
        given = False

        async def receive_again() -> Message:
            nonlocal given
            if given:
                return await receive()
            given = True
            return {"type": "http.request", "body": body, "more_body": False}

        await self._app(scope, receive_again, send)


async def _read_body(scope: Scope, receive: Receive, most: int) -> bytes:
    """Return a request's body.

    Raises:
        _Disconnected: the client went before it was here.
        _TooLarge: it is larger than `most` bytes, or says so.
    """
    said = Headers(scope=scope).get("content-length", "")
    if said.isdecimal() and (len(said) > 12 or int(said) > most):
        raise _TooLarge
    body = bytearray()
    while True:
        message = await receive()
        if message["type"] != "http.request":
            raise _Disconnected
        body += message.get("body", b"")
        if len(body) > most:
            raise _TooLarge
        if not message.get("more_body", False):
            return bytes(body)
