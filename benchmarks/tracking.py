"""Tracks at 1080p: how long 200 frames of one take, and how near it is to known motions.

The time is that of the demo's walker, decoding and all. The motions are those of the tests: frames
warped, with noise of 2 % and light that changes by 20 %; errors are the median over the part's
edge.
"""

from collections.abc import Iterator
from itertools import islice
from typing import get_args

import numpy as np

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import seconds
from tests.core.motion.moving_parts import HEIGHT, OUTLINE, WIDTH, Scene
from yearning.analysis.tracks import Tracking, Wanted
from yearning.core.masks.shapes import Ellipse
from yearning.core.motion.tracking import follow
from yearning.core.motion.tracks import Kind, map_places
from yearning.demo import MEDIA
from yearning.media.decode.clip import open_clip

FRAMES = 200

HEAD = Ellipse(id="head", kind="ellipse", centre=(0.5, 0.36), size=(0.03, 0.06))
"""The walker's, at frame 96."""


def run(effort: Effort) -> Iterator[Row]:
    """Seconds for 200 frames, from those of the clip's; and errors in pixels."""
    yield _time(effort)
    for kind in get_args(Kind):
        for bar in (False, True):
            yield from _errors(kind, bar, effort.rounds(40))


def _time(effort: Effort) -> Row:
    with open_clip(MEDIA / "reed-walker.mp4") as clip:
        tracking = Tracking(clip, "", Wanted(HEAD, 96))
        steps = max(effort.rounds(tracking.total), 2)
        spent = seconds(lambda: list(islice(tracking.run(), steps))) * FRAMES / steps
    with open_clip(MEDIA / "reed-walker.mp4") as clip:
        frames = max(effort.rounds(clip.frames), 2)
        decoded = seconds(lambda: [clip.prefetch(n) for n in range(frames)])
        decoded *= FRAMES / frames
    return against(
        "a track of 200 frames", spent, "decoding alone", decoded, "s",
        target=Target("at most", 20, "found"),
    )  # fmt: skip


def _errors(kind: Kind, bar: bool, frames: int) -> Iterator[Row]:
    scene = Scene(kind, frames=max(frames, 3), bar=bar)
    off = []
    for found in follow(scene, (WIDTH, HEIGHT), range(scene.frames), OUTLINE, kind):
        away = map_places(found.matrix, OUTLINE) - map_places(scene.matrix(found.frame), OUTLINE)
        off.append(float(np.median(np.hypot(*away.T))))
    what = f"{kind}, another thing passes before it" if bar else kind
    yield Row(
        f"{what}: error", float(np.median(off)), "px", target=Target("at most", 0.25, "found")
    )
    largest = float(np.percentile(off, 95))
    yield Row(f"{what}: error, 95 %", largest, "px", target=Target("at most", 1, "found"))
    kept = 100 * len(off) / scene.frames
    yield Row(f"{what}: frames found", kept, "%", target=Target("at least", 100, "found"))
