"""Steadiness of a clip under five steps, against its two flows a frame alone, in OpenCV."""

from itertools import pairwise

import cv2
import numpy as np

from benchmarks.timing import seconds
from yearning.core.look.document import parse_look
from yearning.core.measure.steadiness import LINES, SteadinessAnalysis
from yearning.core.motion.flow import luma_codes
from yearning.demo import MEDIA
from yearning.media.decode.footage import Footage

FRAMES = 200

LOOK = {
    "format": "yearning-look/2",
    "steps": [
        {"id": "glow", "treatment": "glow"},
        {"id": "sharpen", "treatment": "sharpen"},
        {"id": "curve", "treatment": "curve", "settings": {"luma": [[0, 0.1], [1, 0.95]]}},
        {"id": "tone", "treatment": "tone", "settings": {"contrast": 0.2}},
        {"id": "grain", "treatment": "grain"},
    ],
}


def run() -> None:
    """Print how long both take for a clip of 200 frames at 1080p."""
    with Footage(MEDIA / "lantern-barge.mp4") as footage:
        found = SteadinessAnalysis(parse_look(LOOK), footage, float(footage.probe.rate))
        ours = seconds(lambda: all(found.run())) / footage.frames
        size = footage.size.with_height(LINES)
        codes = [luma_codes(footage.picture(frame, size)) for frame in range(25)]
        search = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)

        def flows() -> None:
            for before, now in pairwise(codes):
                for a, b in ((before, now), (now, before)):
                    search.calc(a, b, np.zeros((*a.shape, 2), np.float32))

        plain = seconds(flows) / (len(codes) - 1)
    print(
        f"steadiness of five steps at 1080p: {FRAMES * ours:.0f} s for {FRAMES} frames; "
        f"{ours / plain:.2f} times OpenCV's flows there and back alone"
    )
