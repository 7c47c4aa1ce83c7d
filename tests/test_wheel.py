"""The wheel: it holds all that the program needs but its packages, and the page is served from it.

In an environment of its own, with its packages installed anew: `make fresh-wheel`.
"""

import site
import subprocess

from tests.conftest import encode
from tests.wheel import build, cold_server, make_environment, run_pip, wait_for_first_picture
from yearning.media.decode.probe import probe_file
from yearning.store.content_store import file_digest
from yearning.store.project import Project


def test_the_installed_wheel_serves_the_page_and_gets_ready_meanwhile(browser, tmp_path):
    python = make_environment(tmp_path / "venv")
    run_pip("--python", str(python), "install", "--no-deps", str(build(tmp_path)))
    told = subprocess.run(
        [python, "-c", "import site; print(site.getsitepackages()[0])"],
        capture_output=True, text=True, check=True,
    )  # fmt: skip
    own = tmp_path / "venv" / told.stdout.strip()
    (own / "packages.pth").write_text(site.getsitepackages()[0])  # what it depends on
    clip = encode(tmp_path / "small.mp4", "libx264", frames=4)
    project = Project(tmp_path / "work")
    project.clips.add(clip, "Small", file_digest(clip), probe_file(clip).as_json())
    with cold_server(python, project.folder, tmp_path) as address:
        wait_for_first_picture(browser, address)
    where = [python, "-c", "import yearning; print(yearning.__file__)"]
    found = subprocess.run(where, capture_output=True, text=True, check=True, cwd=tmp_path)
    assert found.stdout.startswith(str(tmp_path / "venv"))
