"""Who may talk to the server: this machine's own pages, or those who hold the token."""

import ipaddress
import secrets
from urllib.parse import parse_qs, urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import cookie_parser
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yearning.api.problems import Problem, problem_response

COOKIE = "yearning_token"


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
        reason = self._refusal(scope)
        if reason is None:
            await self._app(scope, receive, self._with_cookie(scope, send))
        elif scope["type"] == "websocket":
            await send({"type": "websocket.close", "code": 4403, "reason": reason})
        else:
            problem = Problem(title="Not allowed", status=403, detail=reason)
            await problem_response(problem)(scope, receive, send)

    def _refusal(self, scope: Scope) -> str | None:
        headers = Headers(scope=scope)
        host = urlsplit(f"//{headers.get('host', '')}").hostname or ""
        if self._token is None and not is_loopback(host):
            return f"the host '{host}' is not this machine; open http://127.0.0.1 instead"
        origin = headers.get("origin")
        if origin is not None and urlsplit(origin).netloc != headers.get("host"):
            return f"a page from {origin} may not use this server"
        if self._token is not None and not self._has_token(scope, headers):
            return "the token is missing; open the address that the server printed at its start"
        return None

    def _has_token(self, scope: Scope, headers: Headers) -> bool:
        cookies = cookie_parser(headers.get("cookie", ""))
        given = cookies.get(COOKIE) or self._queried(scope)
        return secrets.compare_digest(given, self._token or "")

    def _queried(self, scope: Scope) -> str:
        query: str = scope["query_string"].decode("latin-1")
        return parse_qs(query).get("token", [""])[0]

    def _with_cookie(self, scope: Scope, send: Send) -> Send:
        if self._token is None or not self._queried(scope):
            return send
        carrier = Response()
        carrier.set_cookie(COOKIE, self._token, httponly=True, samesite="strict", path="/")
        cookie = carrier.headers["set-cookie"]

        async def send_with_cookie(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).append("set-cookie", cookie)
            await send(message)

        return send_with_cookie
