"""The page, served."""

import ipaddress
import logging
import os
import secrets
import socket
from asyncio import CancelledError
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer

from yearning.cli.options import CommandError, app
from yearning.core.buffers import share_heaps
from yearning.farm.address import check_address
from yearning.store.lock import served_by
from yearning.store.project import Project

PORT = 8765
KEEP_ALIVE_SECONDS = 75
"""For which a connection stays open between two requests, as clients are told (RFC 2068, 19.7.1.1).

A request that is sent as its connection is closed is lost: after uvicorn's five seconds that
happened to clients that ask every few seconds.
"""

CACHE_MB = 1500
"""Where the machine has memory enough."""

ENOUGH_MB = 8000
"""Of a machine; where it has less, so much less is kept."""

LEAST_MB = 64

CGROUP_LIMIT = Path("/sys/fs/cgroup/memory.max")
"""What a container may take (cgroup v2 of Linux): bytes, or `max`."""

DEMO_PROJECT = Path(".demo") / "Tidewater Lamps"
OWN_PROJECT = Path("yearning-project")

BACKLOG = 2048
"""Connections that may wait to be accepted, as uvicorn has it."""

ELSEWHERE = ("192.0.2.1", "2001:db8::1")
"""Addresses for documentation (RFC 5737, RFC 3849), to ask the system which of its own it would
use; nothing is sent there."""


@app.command()
def serve(
    demo: Annotated[bool, typer.Option("--demo", help="Open the demo project.")] = False,
    project: Annotated[Path | None, typer.Option(help="The project's folder.")] = None,
    host: Annotated[str, typer.Option(help="Address to listen on.")] = "127.0.0.1",
    port: Annotated[
        int, typer.Option(help="Port to listen on; 0 is any that is free.", min=0, max=65535)
    ] = PORT,
    cache: Annotated[
        int | None,
        typer.Option(
            help=f"MB of memory that pictures are kept in; {CACHE_MB}, or less on a machine of "
            f"less than {ENOUGH_MB // 1000} GB.",
            min=LEAST_MB,
            max=1 << 20,
            show_default=False,
        ),
    ] = None,
    read_only: Annotated[
        bool,
        typer.Option(
            "--read-only", help="Open it for looking: nothing is kept. Another may serve it too."
        ),
    ] = False,
    media: Annotated[
        list[Path] | None,
        typer.Option(
            metavar="DIR",
            help="A folder in which media that timelines name are looked for; may be said several "
            "times.",
        ),
    ] = None,
    cluster: Annotated[
        list[str] | None,
        typer.Option(
            metavar="tcp://HOST:PORT",
            help="A Dask scheduler that renders may be given to; may be said several times.",
        ),
    ] = None,
) -> None:
    """Open a project in the browser."""
    import uvicorn

    from yearning.api.app import create_app
    from yearning.api.connections import MAX_HEADER_BYTES, TimedConnection
    from yearning.api.guard import is_loopback

    share_heaps()
    folder = project or (DEMO_PROJECT if demo else OWN_PROJECT)
    for scheduler in cluster or []:
        check_address(scheduler)
    listening = listen(host, port)
    address = f"http://{_in_address(own_address(host))}:{listening.getsockname()[1]}/"
    with listening, _open_project(folder, address, read_only) as opened:
        if opened.swept:
            print(f"{opened.swept} left-overs of a server that was killed are cleared away")
        if demo and not read_only:
            from yearning.demo.seed import seed

            seed(opened)
        token = None if is_loopback(host) else secrets.token_urlsafe(24)
        how = " for looking" if read_only else ""
        query = f"?token={token}" if token else ""
        print(f"{opened.name} is open{how} at {address}{query}", flush=True)
        logging.getLogger("uvicorn.error").addFilter(is_error)
        application = create_app(
            opened,
            token,
            compiles=True,
            cache_bytes=(cache or cache_mb(machine_mb())) * 1_000_000,
            schedulers=cluster or [],
            media_folders=media or [],
        )
        config = uvicorn.Config(
            application,
            http=TimedConnection,
            h11_max_incomplete_event_size=MAX_HEADER_BYTES,
            log_level="warning",
            timeout_graceful_shutdown=2,
            timeout_keep_alive=KEEP_ALIVE_SECONDS,
            headers=[("Keep-Alive", f"timeout={KEEP_ALIVE_SECONDS}")],
            ws_per_message_deflate=False,  # play's frames are compressed as they are
        )
        uvicorn.Server(config).run(sockets=[listening])


def machine_mb() -> int:
    """Return the memory in MB that there is for this process: the machine's, or the container's."""
    whole = os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE")
    try:
        limit = CGROUP_LIMIT.read_text().strip()
    except OSError:
        limit = "max"
    return min(whole, int(limit) if limit.isdigit() else whole) // 1_000_000


def cache_mb(machine: int) -> int:
    """Return the MB that pictures are kept in on a machine of so many.

    >>> cache_mb(16_000), cache_mb(4000), cache_mb(100)
    (1500, 750, 64)
    """
    return max(LEAST_MB, min(CACHE_MB, CACHE_MB * machine // ENOUGH_MB))


def is_error(record: logging.LogRecord) -> bool:
    """Whether what the server logs is an error.

    That requests are cut off at its end is none: an open page listens for ever, and a picture may
    wait for a kernel.
    """
    error = record.exc_info[1] if record.exc_info else None
    return "graceful shutdown" not in record.getMessage() and not isinstance(error, CancelledError)


@contextmanager
def _open_project(folder: Path, address: str, read_only: bool) -> Iterator[Project]:
    """A project: for this process alone, or for looking, whoever else has it."""
    if read_only:
        yield Project(folder, read_only=True)
        return
    with served_by(folder, address):
        yield Project(folder)


def _in_address(host: str) -> str:
    """A host as it stands in an address (RFC 3986, 3.2.2)."""
    return f"[{host}]" if ":" in host else host


def own_address(host: str) -> str:
    """The host that a browser can open: of "any address of this machine", one of those."""
    try:
        if not ipaddress.ip_address(host).is_unspecified:
            return host
    except ValueError:  # a name
        return host
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    with socket.socket(family, socket.SOCK_DGRAM) as asking:
        try:
            asking.connect((ELSEWHERE[family == socket.AF_INET6], 9))
        except OSError:  # no network
            return "::1" if family == socket.AF_INET6 else "127.0.0.1"
        return str(asking.getsockname()[0])


def listen(host: str, port: int) -> socket.socket:
    """Return a socket that listens on an address: who connects is answered once the server runs.

    Args:
        host: a name or an IP address of this machine.
        port: 0 is any that is free.

    Raises:
        CommandError: there is no such address here, or another program has it.
    """
    try:
        family, _, _, _, place = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
        listening = socket.socket(family)
        try:
            listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            listening.bind(place)
            listening.listen(BACKLOG)
        except OSError:
            listening.close()
            raise
        return listening
    except OSError as error:
        raise CommandError(
            f"{_in_address(host)}:{port}: {error.strerror}; choose another with --host or --port"
        ) from None
