"""The wheel where there is nothing else: `python -m tests.wheel`.

It is built, installed with all it names into a new environment, and serves the page there,
compiling on the way. `make test` does the same beside the packages that are here; see
`tests/test_wheel.py`.
"""

import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from tests.ui.serving import browsing, start_server
from tests.waiting import wait_for

ROOT = Path(__file__).parents[1]

SHOWS_A_PICTURE = """() => {
  const canvas = document.querySelector("main canvas[aria-label^=Frame]");
  return canvas?.width && canvas.getContext("2d")
    .getImageData(canvas.width >> 1, canvas.height >> 1, 1, 1).data[3] > 0;
}"""


def build(folder: Path) -> Path:
    """Build the wheel from a copy of the source, and return its path."""
    source = folder / "source"
    ignored = shutil.ignore_patterns("__pycache__")
    shutil.copytree(ROOT / "yearning", source / "yearning", ignore=ignored)
    for name in ("pyproject.toml", "README.md"):
        shutil.copy(ROOT / name, source)
    words = ["wheel", "--no-deps", "--no-build-isolation", "-w", str(folder), str(source)]
    run_pip(*words)
    (wheel,) = folder.glob("*.whl")
    return wheel


def run_pip(*words: str) -> None:
    """Run pip of the environment that the tests are in."""
    pip = [sys.executable, "-m", "pip", "-q", "--disable-pip-version-check"]
    subprocess.run([*pip, *words], check=True)


def make_environment(folder: Path) -> Path:
    """Make an environment without packages, and return its Python."""
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(folder)], check=True)
    return folder / "bin" / "python"


@contextmanager
def cold_server(python: Path, project: Path, folder: Path, *flags: str) -> Iterator[str]:
    """A server of an environment, with no other program to be found and no kernel compiled."""
    (folder / "bin").mkdir()
    elsewhere = {
        "PATH": str(folder / "bin"),
        "HOME": str(folder),
        "NUMBA_CACHE_DIR": str(folder / "cache"),
    }
    process, address = start_server(project, *flags, python=python, env=elsewhere, cwd=folder)
    try:
        yield address
    finally:
        process.terminate()
        process.wait()


def wait_for_first_picture(browser: Any, address: str) -> dict[str, Any]:
    """Wait for the first picture; return how far compiling is then: not at its end."""
    page = browser.new_page(bypass_csp=True)
    page.set_default_timeout(0)
    try:
        page.goto(address)
        page.get_by_text("Getting ready, ").wait_for()
        page.wait_for_function(SHOWS_A_PICTURE)
        ready: dict[str, Any] = page.request.get(f"{address}/api/v1/readiness").json()
        assert ready["done"] < ready["of"], ready
        return ready
    finally:
        page.close()


def main() -> None:
    """Install the wheel in a new environment and see that its page shows the demo's look."""
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        python = make_environment(folder / "venv")
        pins = ["-c", str(ROOT / "requirements.lock")]
        run_pip("--python", str(python), "install", *pins, str(build(folder)))
        with cold_server(python, folder / "Tidewater Lamps", folder, "--demo") as address:
            with browsing() as browser:
                ready = wait_for_first_picture(browser, address)
                page = browser.new_page()
                where = f"{address}/api/v1/readiness"
                further = wait_for(
                    lambda: page.request.get(where).json(), lambda now: now["done"] > ready["done"]
                )
            print(f"a picture with {ready['done']} of {ready['of']} compiled, then {further}")


if __name__ == "__main__":
    main()
