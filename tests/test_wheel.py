"""The wheel, installed where there is nothing else: it serves the page, and compiles on the way."""

import shutil
import subprocess
import sys
import time
from pathlib import Path

import pytest

from tests.ui.serving import browsing, started

ROOT = Path(__file__).parent.parent


@pytest.fixture(scope="module")
def installed(tmp_path_factory):
    """The Python of a new environment in which the wheel is installed."""
    folder = tmp_path_factory.mktemp("wheel")
    source = folder / "source"
    shutil.copytree(ROOT / "yearning", source / "yearning",
                    ignore=shutil.ignore_patterns("__pycache__"))  # fmt: skip
    for name in ("pyproject.toml", "README.md"):
        shutil.copy(ROOT / name, source)
    pip = [sys.executable, "-m", "pip", "-q", "--disable-pip-version-check"]
    build = ["wheel", "--no-deps", "--no-build-isolation", "-w", str(folder), str(source)]
    subprocess.run([*pip, *build], check=True)
    (wheel,) = folder.glob("*.whl")
    subprocess.run(
        [sys.executable, "-m", "venv", "--without-pip", str(folder / "venv")], check=True
    )
    python = folder / "venv" / "bin" / "python"
    pins = ["-c", str(ROOT / "requirements.lock")]
    subprocess.run([*pip, "--python", str(python), "install", *pins, str(wheel)], check=True)
    return python


@pytest.mark.timeout(900)
def test_the_installed_wheel_serves_the_page_and_gets_ready_meanwhile(installed, tmp_path):
    (tmp_path / "bin").mkdir()  # no Node there, and nothing else
    elsewhere = {
        "PATH": str(tmp_path / "bin"),
        "HOME": str(tmp_path),
        "NUMBA_CACHE_DIR": str(tmp_path / "cache"),
    }
    process, address = started(
        tmp_path / "Tidewater Lamps", "--demo", python=installed, env=elsewhere, cwd=tmp_path
    )
    try:
        with browsing() as browser:
            page = browser.new_page(bypass_csp=True)
            page.set_default_timeout(300_000)
            page.goto(address)
            page.get_by_text("Getting ready, ").wait_for()
            page.wait_for_function(
                """() => {
                  const canvas = document.querySelector("main canvas[aria-label^=Frame]");
                  return canvas?.width && canvas.getContext("2d")
                    .getImageData(canvas.width >> 1, canvas.height >> 1, 1, 1).data[3] > 0;
                }"""
            )
            ready = page.evaluate("fetch('/api/v1/readiness').then((r) => r.json())")
            assert ready["done"] < ready["of"]  # a picture is there before all is compiled
            further = ready["done"]
            end = time.monotonic() + 300
            while further == ready["done"] and time.monotonic() < end:
                time.sleep(1)
                further = page.evaluate("fetch('/api/v1/readiness').then((r) => r.json())")["done"]
            assert further > ready["done"]
            page.get_by_text(f"Getting ready, {ready['done']} of").wait_for(state="hidden")
    finally:
        process.terminate()
        process.wait(timeout=120)
