"""A real server on the demo, and a real browser."""

import subprocess
import sys
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, sync_playwright

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
VIEW = {"width": 1280, "height": 800}


def start_server(
    project: Path, *flags: str, python: Path | str = sys.executable, **more: Any
) -> tuple[subprocess.Popen[str], str]:
    """Start a server on a project folder, in a process of its own; return it and its address.

    It listens before it prints its address, so nothing has to wait for it.
    """
    words = ["serve", *flags, "--project", str(project), "--port", "0"]
    process = subprocess.Popen(
        [str(python), "-m", "yearning.cli", *words], stdout=subprocess.PIPE, text=True, **more
    )
    assert process.stdout is not None
    for line in process.stdout:
        if " is open " in line:
            address = line.split()[-1].rstrip("/")
            urllib.request.urlopen(f"{address}/api/v1/project").read()
            return process, address
    raise AssertionError(f"the server ended with {process.wait()}")


@contextmanager
def serving(project: Path, *flags: str, **more: Any) -> Iterator[str]:
    """A server on a project folder while it is wanted; gives its address."""
    process, address = start_server(project, *flags, **more)
    try:
        yield address
    finally:
        process.terminate()
        process.wait(timeout=120)


@contextmanager
def browsing() -> Iterator[Browser]:
    """Debian's Chromium, headless."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield browser
        browser.close()
