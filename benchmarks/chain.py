"""Glow, curve and grain at 1080p.

From the decoder's frame to the finished R'G'B' picture, against the same chain in libavfilter and
in OpenCV with NumPy, and against a copy of the picture. libavfilter blurs and blends in 32-bit
float; its curves and noise take integers, so they run in 16 and 8 bits.
"""

from collections.abc import Callable, Iterator
from itertools import count
from typing import Any

import av
import cv2
import numpy as np
from av.filter import Graph
from numpy.typing import NDArray

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import in_turn
from yearning.core.cache import Cache
from yearning.core.colour.curves import pchip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import Look, parse_look
from yearning.core.picture import Picture
from yearning.demo import MEDIA
from yearning.media.decode.footage import Footage

CURVE = [[0, 0.06], [0.25, 0.22], [1, 1]]
GREY = {"gauge": "free", "strength": 0.03, "size": 1.2, "clumping": 0, "colour": 0}
LOOKS = {
    "one plane of noise": GREY,
    "as made: 16 mm grain, three dyes and clumps": {},
}
ROUNDS = 15
COPIES = Target("at most", 4, "ratio")


def _look(grain: dict[str, object]) -> Look:
    steps = [
        {"id": "g", "treatment": "glow", "settings": {"temporal_smoothing": 0}},
        {"id": "c", "treatment": "curve", "settings": {"luma": CURVE}},
        {"id": "n", "treatment": "grain", "settings": grain},
    ]
    return parse_look({"format": "yearning-look/3", "steps": steps})


def _ours(look: Look, footage: Footage) -> Callable[[], object]:
    """Return the chain on one frame, its statistics gathered anew by each call.

    Those of the whole clip, which all frames share, are kept.
    """
    of_clip = Cache[Any](1 << 24)

    def work() -> None:
        kept_nothing = Cache[Any](1 << 28)
        Evaluator(
            look, footage, footage.size, kept_nothing, keep="nothing", clip_cache=of_clip
        ).picture(30)

    return work


def libavfilter(template: av.VideoFrame) -> Graph:
    """gblur, blend screen, curves, noise on planar R'G'B'."""
    graph = Graph()
    source = graph.add_buffer(
        width=template.width,
        height=template.height,
        format=template.format.name,
        time_base="1/24",
    )
    to_float, split = graph.add("format", "gbrpf32le"), graph.add("split")
    blur, blend = (
        graph.add("gblur", "sigma=52"),
        graph.add("blend", "all_mode=screen:all_opacity=0.75"),
    )
    to_16, curves = (
        graph.add("format", "gbrp16le"),
        graph.add("curves", "master=0/0.06 0.25/0.22 1/1"),
    )
    to_8, noise = graph.add("format", "gbrp"), graph.add("noise", "alls=8:allf=t")
    sink = graph.add("buffersink")
    source.link_to(to_float)
    to_float.link_to(split)
    split.link_to(blend, 0, 0)
    split.link_to(blur, 1, 0)
    blur.link_to(blend, 0, 1)
    for a, b in ((blend, to_16), (to_16, curves), (curves, to_8), (to_8, noise), (noise, sink)):
        a.link_to(b)
    graph.configure()
    return graph


def opencv(picture: Picture, table: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return the same chain's result by OpenCV's blur and NumPy's arithmetic, in float32.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        table: of the curve.
    """
    blurred = np.stack([cv2.GaussianBlur(p, (0, 0), 52) for p in picture])
    screened = picture + 0.75 * blurred * (1 - picture)
    curved = np.interp(screened, np.linspace(0, 1, len(table)), table).astype(np.float32)
    noise = cv2.GaussianBlur(
        np.random.default_rng(1).standard_normal(curved.shape[1:], np.float32), (0, 0), 0.6
    )
    return curved + 0.03 * noise


def run(effort: Effort) -> Iterator[Row]:
    """Milliseconds a frame against each peer."""
    with Footage(MEDIA / "lantern-barge.mp4") as footage:
        frame, picture = footage.video_frame(30), footage.picture(30)
        graph = libavfilter(frame)
        numbers = count()

        def theirs() -> None:
            frame.pts = next(numbers)
            graph.push(frame)
            graph.pull()

        out = np.empty_like(picture)
        table = pchip(CURVE, np.linspace(0, 1, 4097)).astype(np.float32)
        peers: list[tuple[str, Callable[[], object], int, Target | None]] = [
            ("libavfilter", theirs, ROUNDS, Target("at most", 0.33, "ratio")),
            ("a copy of a picture", lambda: np.copyto(out, picture), ROUNDS, COPIES),
            ("OpenCV and NumPy", lambda: opencv(footage.picture(30), table), 3, None),
        ]
        for name, grain in LOOKS.items():
            ours = _ours(_look(grain), footage)
            for peer, other, rounds, target in peers:
                mine, its, ratio = in_turn(ours, other, effort.rounds(rounds))
                yield against(name, 1e3 * mine, peer, 1e3 * its, ratio=ratio, target=target)
