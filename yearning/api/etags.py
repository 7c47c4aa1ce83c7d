"""Entity tags: a picture that a client has already is not sent again (RFC 9110, section 13)."""

import hashlib
from collections.abc import Callable
from typing import Any

from fastapi import Request
from fastapi.responses import Response

REVALIDATE = "private, no-cache"
"""Kept by the client, and asked about each time."""


def entity_tag(*content: object) -> str:
    """The tag of what is made from `content`: equal only for equal content."""
    return f'"{hashlib.sha256(repr(content).encode()).hexdigest()[:32]}"'


def is_known(request: Request, tag: str) -> bool:
    """Tell whether the client has what a tag is of (If-None-Match, section 13.1.2).

    Args:
        request: of the client.
        tag: quoted.
    """
    given = request.headers.get("if-none-match", "")
    known = [one.strip().removeprefix("W/") for one in given.split(",")]
    return tag in known or "*" in known


KNOWN: dict[int | str, dict[str, Any]] = {304: {"description": "The client has it"}}
"""For the `responses` of routes that answer what is tagged."""


def tagged_response(
    request: Request, tag: str, media_type: str, make: Callable[[], bytes]
) -> Response:
    """Return a response under a tag; 304 without a body where the client has it.

    Args:
        request: of the client.
        tag: quoted.
        media_type: of the body.
        make: gives the body.
    """
    headers = {"ETag": tag, "Cache-Control": REVALIDATE}
    if is_known(request, tag):
        return Response(status_code=304, headers=headers)
    return Response(make(), media_type=media_type, headers=headers)
