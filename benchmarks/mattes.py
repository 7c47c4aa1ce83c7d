"""Mattes at 1080p: time for 200 frames, distance from the true ones, and what more strokes cost.

The strokes are a loose line and a few lines on the figure, on one frame each.
"""

import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import seconds
from yearning.core.motion.hard_mattes import Solved
from yearning.core.motion.matting import Matting
from yearning.core.motion.strokes import Strokes
from yearning.core.picture import Plane
from yearning.demo import MEDIA, lamplighter
from yearning.media.decode.clip import open_clip
from yearning.media.plates.matte_writer import matte_writer
from yearning.media.plates.plates import OpenPlate

FRAMES = 200

AROUND = [[0.177, 1.02], [0.208, 0.7], [0.281, 0.093], [0.51, 0.056], [0.615, 0.278],
          [0.599, 0.574], [0.693, 0.741], [0.719, 1.02]]  # fmt: skip
ON_IT = [[0.406, 0.185], [0.385, 0.444], [0.365, 0.556], [0.375, 0.972]]

STROKES: list[dict[str, Any]] = [
    {"frame": 0, "kind": "around", "points": AROUND},
    {"frame": 0, "kind": "this", "points": ON_IT, "width": 24},
]
MORE = {"kind": "not this", "points": [[0.1, 0.5]]}
"""Where it is not the figure already: nothing of it is to change."""

EVERY = 24
"""Frames between those that are compared; painting a true one takes seconds."""


def run(effort: Effort) -> Iterator[Row]:
    """Seconds for 200 frames, from those of the clip's; how near it is; and again with a stroke."""
    with tempfile.TemporaryDirectory() as folder, open_clip(MEDIA / "lamplighter.mp4") as clip:
        frames = max(effort.rounds(clip.frames), 2)
        path, more = Path(folder) / "matte.mkv", [{**MORE, "frame": frames * 3 // 4}]

        def solve_matte(strokes: list[dict[str, Any]], known: Sequence[Solved] = ()) -> Matting:
            drawn = Strokes.model_validate({"strokes": strokes})
            matting = Matting(drawn, clip.picture, clip.size, frames, known)
            list(matting.solve())
            return matting

        def write() -> None:
            with matte_writer(path, clip.size, clip.probe.rate) as out:
                for frame in range(frames):
                    out(matting.matte(frame))

        solved_in, matting = time_solving(lambda: solve_matte(STROKES))
        spent = solved_in + seconds(write)
        decoded = seconds(lambda: [clip.prefetch(n) for n in range(frames)])
        by = FRAMES / frames
        yield against(
            "a matte of 200 frames", spent * by, "decoding alone", decoded * by, "s",
            target=Target("at most", 360, "found"),
        )  # fmt: skip
        yield from _nearness(OpenPlate(path))
        solved = matting.solved
        anew, matting = time_solving(lambda: solve_matte(STROKES + more, [solved]))
        yield against(
            "solved again with a stroke at three quarters more",
            anew * by,
            "from scratch",
            solved_in * by,
            "s",
        )
        changed = sum(matting.is_changed(frame, solved) for frame in range(frames))
        yield Row("frames that this has changed", 100 * changed / frames, "%")


def time_solving(made: Callable[[], Matting]) -> tuple[float, Matting]:
    """How many seconds it takes to solve one, and what it is."""
    began = time.perf_counter()
    matting = made()
    return time.perf_counter() - began, matting


def _nearness(plate: OpenPlate) -> Iterator[Row]:
    overlaps, errors, changes, true_changes = [], [], [], []
    for frame in range(0, plate.frames - 1, EVERY):
        found = [plate.picture(n, plate.size)[0] for n in (frame, frame + 1)]
        true = [lamplighter.matte(n) for n in (frame, frame + 1)]
        overlaps.append(_overlap(found[0], true[0]))
        errors.append(_edge_error(found[0], true[0]))
        changes.append(float(np.abs(found[1] - found[0]).mean()))
        true_changes.append(float(np.abs(true[1] - true[0]).mean()))
    overlap, edge, change = (
        Target("at least", 0.97, "found"),
        Target("at most", 1.0, "found"),
        Target("at most", 1.2, "ratio"),
    )
    yield Row("overlap with the true one, at the worst", min(overlaps), "", target=overlap)
    yield Row("error of its edge, at the worst", max(errors), "px", target=edge)
    moved, truly = 100 * sum(changes), 100 * sum(true_changes)
    yield against("change from frame to frame", moved, "the true one's", truly, "%", target=change)


def _overlap(found: Plane, true: Plane) -> float:
    """Intersection over union of weights over 0.5."""
    one, other = found > 0.5, true > 0.5
    return float((one & other).sum() / (one | other).sum())


def _edge_error(found: Plane, true: Plane) -> float:
    """How far the one's edge is from the other's, on the mean, in pixels."""
    edges = [cv2.Canny(np.asarray(255 * (m > 0.5), np.uint8), 50, 150) > 0 for m in (found, true)]
    away = cv2.distanceTransform(np.asarray(~edges[1], np.uint8), cv2.DIST_L2, 5)
    return float(away[edges[0]].mean())
