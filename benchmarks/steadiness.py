"""Steadiness and flashes of 200 frames at 1080p."""

from collections.abc import Iterator
from itertools import islice, pairwise

import cv2
import numpy as np

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import seconds
from yearning.core.look.document import parse_look
from yearning.core.measure.sampled_steadiness import EVERY, SampledSteadiness
from yearning.core.measure.steadiness import LINES, SteadinessAnalysis
from yearning.core.motion.flow import luma_codes
from yearning.demo import MEDIA
from yearning.media.decode.footage import Footage

FRAMES = 200

LOOK = {
    "format": "yearning-look/3",
    "steps": [
        {"id": "glow", "treatment": "glow"},
        {"id": "sharpen", "treatment": "sharpen"},
        {"id": "curve", "treatment": "curve", "settings": {"luma": [[0, 0.1], [1, 0.95]]}},
        {"id": "tone", "treatment": "tone", "settings": {"contrast": 0.2}},
        {"id": "grain", "treatment": "grain"},
    ],
}


def _seconds_a_frame(found: SteadinessAnalysis, frames: int) -> float:
    """From the second few frames on: statistics of the whole clip come with the first."""
    done = found.run()
    next(islice(done, EVERY, None))
    return seconds(lambda: list(islice(done, frames))) / frames


def run(effort: Effort) -> Iterator[Row]:
    """Seconds for 200 frames, from those of the clip's."""
    with Footage(MEDIA / "lantern-barge.mp4") as footage:
        frames = EVERY * max(1, effort.rounds(footage.frames - 2 * EVERY) // EVERY)
        footage.reserve_cache(2 * EVERY)
        rate, look = float(footage.probe.rate), parse_look(LOOK)
        ours = _seconds_a_frame(SteadinessAnalysis(look, footage, rate), frames)
        sampled = _seconds_a_frame(SampledSteadiness(look, footage, rate), frames)
        size = footage.size.with_height(LINES)
        codes = [
            luma_codes(footage.picture(frame, size)) for frame in range(max(2, effort.rounds(25)))
        ]
        search = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)

        def flows() -> None:
            for before, now in pairwise(codes):
                for a, b in ((before, now), (now, before)):
                    search.calc(a, b, np.zeros((*a.shape, 2), np.float32))

        plain = seconds(flows) / (len(codes) - 1)
    yield against(
        "five steps", FRAMES * ours, "OpenCV's flows there and back alone", FRAMES * plain, "s",
        target=Target("at most", 60, "found"),
    )  # fmt: skip
    yield against(
        "a long clip, by samples", FRAMES * sampled, "exactly", FRAMES * ours, "s",
        target=Target("at most", 0.25, "ratio"),
    )  # fmt: skip
