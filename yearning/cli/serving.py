"""The page, served."""

import logging
import secrets
import socket
from pathlib import Path
from typing import Annotated

import typer

from yearning.cli.options import CommandError, app
from yearning.store.lock import served_by
from yearning.store.project import Project

PORT = 8765
CACHE_MB = 1500
DEMO_PROJECT = Path(".demo") / "Tidewater Lamps"
OWN_PROJECT = Path("yearning-project")


@app.command()
def serve(
    demo: Annotated[bool, typer.Option("--demo", help="Open the demo project.")] = False,
    project: Annotated[Path | None, typer.Option(help="The project's folder.")] = None,
    host: Annotated[str, typer.Option(help="Address to listen on.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)] = PORT,
    cache: Annotated[
        int, typer.Option(help="MB of memory that pictures are kept in.", min=64, max=1 << 20)
    ] = CACHE_MB,
) -> None:
    """Open a project in the browser."""
    import uvicorn

    from yearning.api.app import create_app
    from yearning.api.guard import is_loopback

    folder = project or (DEMO_PROJECT if demo else OWN_PROJECT)
    shown = f"[{host}]" if ":" in host else host
    _check_free(host, port, shown)
    with served_by(folder, f"http://{shown}:{port}/"):
        opened = Project(folder)
        if opened.swept:
            print(f"{opened.swept} left-overs of a server that was killed are cleared away")
        if demo:
            from yearning.demo.seed import seed

            seed(opened)
        token = None if is_loopback(host) else secrets.token_urlsafe(24)
        address = f"http://{shown}:{port}/" + (f"?token={token}" if token else "")
        print(f"{opened.name} is open at {address}", flush=True)
        # an open page listens for ever: that it is cut off at the end is no error
        logging.getLogger("uvicorn.error").addFilter(
            lambda record: "graceful shutdown" not in record.getMessage()
        )
        uvicorn.run(
            create_app(opened, token, compiles=True, cache_bytes=cache * 1_000_000),
            host=host,
            port=port,
            log_level="warning",
            timeout_graceful_shutdown=2,
            ws_per_message_deflate=False,  # play's frames are compressed as they are
        )


def _check_free(host: str, port: int, shown: str) -> None:
    """Make sure that a server can listen on an address."""
    try:
        family = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0][0]
        with socket.socket(family) as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            probe.bind((host, port))
    except OSError as error:
        raise CommandError(
            f"{shown}:{port}: {error.strerror}; choose another with --host or --port"
        ) from None
