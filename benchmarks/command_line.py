"""The command line, from a shell's point of view: start of Python and all imports included."""

import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import in_turn
from yearning.demo import MEDIA
from yearning.demo.seed import LOOKS

LIBRARIES = "import numpy, numba, cv2, av, pydantic, typer"


def _python(*words: str) -> None:
    subprocess.run([sys.executable, *words], check=True, stdout=subprocess.DEVNULL)


def run(effort: Effort) -> Iterator[Row]:
    """Seconds to a first picture, and to the list of commands."""
    clip, look = str(MEDIA / "lantern-barge.mp4"), str(LOOKS / "lamps-at-dusk.json")
    with tempfile.TemporaryDirectory() as folder:
        out = str(Path(folder) / "frame.png")
        still = ("frame", clip, "96", "--look", look, "-o", out, "--height", "540")
        for what, words, target in (
            ("a frame through a look of three steps", still, Target("at most", 1.5, "found")),
            ("the list of commands", ("--help",), None),
        ):
            took, bare, ratio = in_turn(
                lambda words=words: _python("-m", "yearning.cli", *words),
                lambda: _python("-c", LIBRARIES),
                effort.rounds(5),
            )
            peer = "imports of the libraries alone"
            yield against(what, took, peer, bare, "s", ratio, target)
