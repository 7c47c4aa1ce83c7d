"""What a response says of the file that it is."""

from typing import Any
from urllib.parse import quote

BYTES = {"type": "string", "format": "binary"}
"""The schema of what is no JSON."""

IMMUTABLE = {"Cache-Control": "private, max-age=31536000, immutable"}
"""The header of what is never another at its address (RFC 9111, RFC 8246)."""


def attachment(name: str) -> dict[str, str]:
    """The header by which a browser saves a response under a name (RFC 6266, RFC 8187).

    >>> attachment("a.zip")
    {'Content-Disposition': 'attachment; filename="a.zip"'}
    >>> attachment("é.zip")
    {'Content-Disposition': "attachment; filename*=utf-8''%C3%A9.zip"}
    """
    quoted = quote(name, safe="")
    named = f'filename="{name}"' if quoted == name else f"filename*=utf-8''{quoted}"
    return {"Content-Disposition": f"attachment; {named}"}


def file_stem(title: str) -> str:
    """A title as a file's name may begin: letters, digits, and dashes for the rest.

    >>> file_stem("Night: 2/3")
    'Night--2-3'
    """
    return "".join(c if c.isalnum() else "-" for c in title)


def answers(*media_types: str) -> dict[int | str, dict[str, Any]]:
    """For the `responses` of a route that answers a file or a picture: what kinds it may be."""
    content = {kind: {"schema": BYTES} for kind in media_types}
    return {200: {"content": content, "description": "The file"}}
