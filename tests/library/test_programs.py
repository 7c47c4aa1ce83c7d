"""The guide's code, the examples and the notebook, run as a reader runs them.

One of them in a process of its own, with workers in theirs; of the others each would start three.
"""

import re
import runpy
import shutil
import subprocess
import sys
from pathlib import Path

import cv2
import nbformat
import numpy as np
import pytest
from nbclient import NotebookClient

ROOT = Path(__file__).parents[2]
EXAMPLES = ROOT / "examples"


@pytest.fixture
def ran(monkeypatch, capsys):
    """Runs a program in a folder, in this process; returns what it prints."""

    def run(folder, *words):
        monkeypatch.chdir(folder)
        monkeypatch.setattr(sys, "argv", [str(word) for word in words])
        runpy.run_path(sys.argv[0], run_name="__main__")
        return capsys.readouterr().out

    return run


def code_of(page):
    """The Python of a page, as one program."""
    return "\n".join(re.findall(r"```python\n(.*?)```", page.read_text(), re.DOTALL))


def test_the_guide_s_code_does_what_it_says(ran, clip, tmp_path):
    shutil.copy(clip, tmp_path / "barge.mp4")
    (tmp_path / "guide.py").write_text(code_of(ROOT / "docs" / "library.md"))
    assert "% of change added from frame to frame" in ran(tmp_path, "guide.py")
    assert {"frame.png", "lamps.look.json", "out.mp4"} < {p.name for p in tmp_path.iterdir()}


def test_readme_s_lines_are_the_example_s():
    example = (EXAMPLES / "ten_lines.py").read_text()
    lines = code_of(ROOT / "README.md").splitlines()
    assert 5 < len(lines) <= 10
    for line in lines:
        assert line.strip().partition("(")[0] in example


def test_a_look_in_ten_lines(clip, tmp_path):
    words = [sys.executable, EXAMPLES / "ten_lines.py", clip, "out.mp4"]
    done = subprocess.run(words, capture_output=True, text=True, cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    assert "of 40 frames" in done.stdout
    assert "'added_steady'" in done.stdout
    assert (tmp_path / "out.mp4").stat().st_size > 5000


def test_a_folder_is_rendered_past_what_is_no_clip_and_not_twice(ran, clip, tmp_path):
    folder = tmp_path / "clips"
    folder.mkdir()
    (folder / "broken.mp4").write_bytes(b"not a film")
    shutil.copy(clip, folder / "one.mp4")
    words = [EXAMPLES / "folder.py", folder, "faded monochrome", tmp_path / "out"]
    assert "broken.mp4: " in ran(tmp_path, *words)
    (made,) = (tmp_path / "out").glob("*.mp4")
    stamp = made.stat().st_mtime_ns
    ran(tmp_path, *words)
    assert made.stat().st_mtime_ns == stamp


def test_arrays_of_another_library_come_back_treated(ran, clip, tmp_path):
    ran(tmp_path, EXAMPLES / "arrays.py", clip, "three.png")
    three = cv2.imread(str(tmp_path / "three.png"))
    assert three.shape == (112, 3 * 192, 3)
    first, second, _ = np.split(three.astype(int), 3, axis=1)
    assert 1 < np.abs(first - second).mean() < 40  # the grain of a frame is its own


@pytest.mark.filterwarnings("ignore")
def test_the_notebook_runs_and_shows_pictures_a_curve_and_a_plot():
    notebook = nbformat.read(EXAMPLES / "look.ipynb", as_version=4)
    kept = [kinds_of(cell) for cell in notebook.cells if cell.cell_type == "code"]
    done = NotebookClient(notebook, timeout=300, kernel_name="python3").execute()
    assert [kinds_of(cell) for cell in done.cells if cell.cell_type == "code"] == kept
    assert sum("image/png" in kinds for kinds in kept) == 4
    assert any("text/html" in kinds for kinds in kept)


def kinds_of(cell):
    """What a cell's outputs are, by media type."""
    return {kind for output in cell.outputs for kind in output.get("data", {})}
