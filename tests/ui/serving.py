"""A real server on the demo, and a real browser."""

import socket
import subprocess
import sys
import time
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


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def started(
    project: Path, *flags: str, python: Path | str = sys.executable, **more: Any
) -> tuple[subprocess.Popen[bytes], str]:
    """A server on a project folder, in a process of its own, and its address."""
    port = _free_port()
    words = ["serve", *flags, "--project", str(project), "--port", str(port)]
    process = subprocess.Popen([str(python), "-m", "yearning.cli", *words], **more)
    address = f"http://127.0.0.1:{port}"
    for _ in range(1200):
        try:
            urllib.request.urlopen(f"{address}/api/v1/project", timeout=1).read()
            return process, address
        except OSError:
            assert process.poll() is None, "the server ended"
            time.sleep(0.1)
    process.kill()
    raise AssertionError("the server does not answer after two minutes")


@contextmanager
def serving(project: Path, *flags: str, **more: Any) -> Iterator[str]:
    """A server on a project folder while it is wanted; gives its address."""
    process, address = started(project, *flags, **more)
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
