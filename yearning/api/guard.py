"""Who may talk to the server: this machine's own pages, or those who hold the token."""

import ipaddress
import secrets
from urllib.parse import SplitResult, parse_qsl, quote, urlencode, urlsplit

from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.responses import RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from yearning.api.problem_kinds import NOT_ALLOWED, TOO_LARGE
from yearning.api.problems import Problem, problem_response

COOKIE, PARAMETER = "yearning_token", "token"


def is_loopback(host: str) -> bool:
    """Whether a host's name or address is this machine alone.

    >>> is_loopback("127.0.0.1"), is_loopback("example.org")
    (True, False)
    """
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


MAX_HEADERS = 200
"""Browsers send some twenty."""


class Guard:
    """Refuses requests under a foreign Host, from a foreign Origin, or without the token.

    Args:
        app: the application behind it.
        token: asked for when the server listens on another address than this machine's own.
    """

    def __init__(self, app: ASGIApp, token: str | None = None) -> None:
        self._app = app
        self._token = token

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or refuse it."""
        if scope["type"] not in ("http", "websocket"):
            await self._app(scope, receive, send)
            return
        if len(scope["headers"]) > MAX_HEADERS and scope["type"] == "http":
            detail = f"more than {MAX_HEADERS} headers were sent, where that is the most"
            await problem_response(Problem.of(TOO_LARGE, detail))(scope, receive, send)
            return
        reason = self._refusal(scope)
        if (
            reason is None
            and scope["type"] == "http"
            and self._is_right(self._token_in_query(scope))
        ):
            await self._without_token(scope)(scope, receive, send)
        elif reason is None:
            await self._app(scope, receive, send)
        elif scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 4403, "reason": reason})
        else:
            await problem_response(Problem.of(NOT_ALLOWED, reason))(scope, receive, send)

    def _refusal(self, scope: Scope) -> str | None:
        headers = Headers(scope=scope)
        host = _parts(f"//{headers.get('host', '')}").hostname or ""
        if self._token is None and not is_loopback(host):
            return f"the host '{host}' is not this machine; open http://127.0.0.1 instead"
        origin = headers.get("origin")
        if origin is not None and _parts(origin).netloc != headers.get("host"):
            return f"a page from {origin} may not use this server"
        if self._token is not None and not self._has_token(scope, headers):
            return "the token is missing; open the address that the server printed at its start"
        return None

    def _has_token(self, scope: Scope, headers: Headers) -> bool:
        cookies = cookie_parser(headers.get("cookie", ""))
        return self._is_right(self._token_in_query(scope)) or self._is_right(
            cookies.get(COOKIE, "")
        )

    def _is_right(self, given: str) -> bool:
        if self._token is None:
            return False
        return secrets.compare_digest(given.encode(errors="replace"), self._token.encode())

    def _token_in_query(self, scope: Scope) -> str:
        return dict(_query(scope)).get(PARAMETER, "")

    def _without_token(self, scope: Scope) -> Response:
        """The way to the same address without the token, which is a cookie from then on."""
        rest = urlencode([(name, value) for name, value in _query(scope) if name != PARAMETER])
        path = quote("/" + scope["path"].lstrip("/"))  # never the address of another host
        answer = RedirectResponse(path + (f"?{rest}" if rest else ""), status_code=303)
        answer.set_cookie(COOKIE, self._token or "", httponly=True, samesite="strict", path="/")
        return answer


def _parts(address: str) -> SplitResult:
    """The parts of an address; none of what is no address."""
    try:
        return urlsplit(address)
    except ValueError:  # brackets that do not close
        return urlsplit("")


def _query(scope: Scope) -> list[tuple[str, str]]:
    query: str = scope["query_string"].decode("latin-1")
    return parse_qsl(query, keep_blank_values=True)
