"""Headers by which browsers keep other sites' pages out, and this one's to itself."""

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yearning.api.problem_kinds import NOT_ALLOWED
from yearning.api.problems import Problem, problem_response

POLICY = "; ".join(
    (
        "default-src 'self'",
        "img-src 'self' blob: data:",
        "media-src 'self' blob:",
        "style-src 'self' 'unsafe-inline'",  # styles are made as the page is drawn
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'none'",
        "frame-ancestors 'none'",
    )
)
"""Content Security Policy Level 3 (W3C): all comes from this server, and no script is inline."""

HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}

OWN_SITES = ("same-origin", "none")
"""What browsers say of requests of this page, and of addresses that are typed (Fetch Metadata)."""


class SecurityHeaders:
    """Adds the headers to every response, and refuses what another site's page asks of the API.

    Args:
        app: the application behind it.
    """

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Pass the request on, or refuse it."""

        async def send_with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(HEADERS)
            await send(message)

        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        site = Headers(scope=scope).get("sec-fetch-site", "none")
        if site not in OWN_SITES and scope["path"].startswith("/api/"):
            problem = Problem.of(NOT_ALLOWED, "a page of another site may not ask for this")
            await problem_response(problem)(scope, receive, send_with_headers)
            return
        await self._app(scope, receive, send_with_headers)
