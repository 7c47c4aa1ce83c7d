"""The library: what it costs to import, and beside the evaluator that it stands on."""

import subprocess
import sys
from collections.abc import Iterator

import numpy as np

import yearning as yn
from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import in_turn
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.testing import lamps

SIZE = Size(960, 540)
FRAMES = 24


def run(effort: Effort) -> Iterator[Row]:
    """Milliseconds a frame of pictures in memory, and seconds to import it."""
    frames = max(effort.rounds(FRAMES), 2)
    clip = yn.ArrayClip(np.stack(lamps(SIZE, frames)))
    look = yn.Look([yn.Glow(), yn.Curve(luma=[(0, 0.06), (1, 1)]), yn.Grain()])

    def by_library() -> None:
        for _ in look.pictures(clip):
            pass

    def by_evaluator() -> None:
        evaluator = Evaluator(look.document, clip, SIZE, Cache(1 << 28), keep="nothing")
        for frame in range(frames):
            evaluator.picture(frame)

    took, own, ratio = in_turn(by_library, by_evaluator, effort.rounds(9))
    yield against(
        "pictures of a clip in memory, three steps at 960x540",
        1000 * took / frames,
        "the evaluator, frame by frame",
        1000 * own / frames,
        ratio=ratio,
        target=Target("at most", 1.05, "ratio"),
    )
    took, bare, ratio = in_turn(
        lambda: _python("import yearning"), lambda: _python("pass"), effort.rounds(9)
    )
    limit = Target("at most", 0.2, "found")
    yield against("import yearning, a process", took, "Python alone", bare, "s", ratio, limit)


def _python(code: str) -> None:
    subprocess.run([sys.executable, "-c", code], check=True)
