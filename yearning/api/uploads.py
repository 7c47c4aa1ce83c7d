"""Files sent as a request's body."""

import asyncio
from collections.abc import AsyncIterator
from pathlib import Path

from fastapi import Request
from fastapi.concurrency import run_in_threadpool

from yearning.api.attachments import BYTES
from yearning.api.problem_kinds import NOT_SUITED, TOO_LARGE, TOO_SLOW
from yearning.api.problems import Refused
from yearning.core.validation import plain_text

BINARY_BODY = {
    "requestBody": {"required": True, "content": {"application/octet-stream": {"schema": BYTES}}}
}
"""The OpenAPI description of such a body."""


NAME_BYTES = 200
"""Of a file's name, in UTF-8: file systems take 255, and something is written before and after."""


def file_name(name: str) -> str:
    r"""Return the name of a file that is sent, without folders and control characters.

    >>> file_name("../a\tb.png")
    'a b.png'

    Raises:
        Refused: nothing is left of it.
    """
    plain = plain_text(name).replace("\\", "/").rpartition("/")[2].strip()
    stem, dot, ending = plain.rpartition(".")
    ending = ending.encode()[:20].decode(errors="ignore")
    room = NAME_BYTES - len(ending.encode()) - 1
    kept = (stem if dot else plain).encode()[:room].decode(errors="ignore")
    if not kept.strip(". "):
        raise Refused(NOT_SUITED, f"name: '{plain}' is no name of a file")
    return f"{kept}.{ending}" if dot else kept


def _too_large(name: str, max_bytes: int) -> Refused:
    limit = f"{max_bytes >> 30} GB" if max_bytes >= 1 << 30 else f"{max_bytes >> 20} MB"
    return Refused(TOO_LARGE, f"{name}: more than {limit}")


SECONDS = 60.0
"""In which something more of a file is here."""


async def _parts(request: Request) -> AsyncIterator[bytes]:
    """The parts of a request's body as they come.

    Raises:
        Refused: nothing came for so long that nothing is waited for any more.
        ClientDisconnect: the client went before all was here.
    """
    stream = request.stream()
    while True:
        try:
            async with asyncio.timeout(SECONDS):
                part = await anext(stream, None)
        except TimeoutError:
            detail = f"nothing came for {SECONDS:g} s; send it anew"
            raise Refused(TOO_SLOW, detail) from None
        if part is None:
            return
        yield part


async def save_body(request: Request, path: Path, name: str, max_bytes: int) -> None:
    """Write a request's body to a file as it comes.

    Args:
        request: of the client.
        path: of the file.
        name: what errors begin with.
        max_bytes: of the body.

    Raises:
        Refused: it is larger than `max_bytes`, or stopped coming.
        ClientDisconnect: the client went before all was here.
        OSError: there is no room.
    """
    size = 0
    with path.open("wb") as file:
        async for part in _parts(request):
            size += len(part)
            if size > max_bytes:
                raise _too_large(name, max_bytes)
            await run_in_threadpool(file.write, part)


async def read_body(request: Request, name: str, max_bytes: int) -> bytes:
    """Return a request's body.

    Args:
        request: of the client.
        name: what errors begin with.
        max_bytes: of the body.

    Raises:
        Refused: it is larger than `max_bytes`, or stopped coming.
        ClientDisconnect: the client went before all was here.
    """
    data = bytearray()
    async for part in _parts(request):
        data += part
        if len(data) > max_bytes:
            raise _too_large(name, max_bytes)
    return bytes(data)
