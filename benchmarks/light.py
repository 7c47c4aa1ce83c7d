"""Treatments of light and glass at 1080p, and glow against libavfilter's gblur and blend."""

from collections.abc import Callable

import av
import numpy as np
from av.filter import Graph

from benchmarks.timing import in_turn, seconds
from yearning.core.cache import PictureCache
from yearning.core.look import look_of
from yearning.core.path import Path, Rows
from yearning.core.picture import Picture, Size
from yearning.core.treatments import TREATMENTS
from yearning.demo import MEDIA
from yearning.media.footage import Footage

ROUNDS = 15
SPREAD = 60


class InMemory:
    """Frames of a clip, decoded before any is asked for."""

    id = "in memory"

    def __init__(self, pictures: list[Picture]) -> None:
        self._pictures = pictures
        self.frames = len(pictures)
        self.size = Size(pictures[0].shape[2], pictures[0].shape[1])
        self._small: dict[tuple[int, Size], Picture] = {}

    def picture(self, frame: int, size: Size) -> Picture:
        """The frame, which at another size is made small once."""
        if size == self.size:
            return self._pictures[frame]
        step = self.size.height // size.height
        return np.ascontiguousarray(self._pictures[frame][:, ::step, ::step])

    def rows(self, frame: int) -> Rows:
        """Rows of it, as they lie."""
        return lambda top, bottom: self._pictures[frame][:, top:bottom]

    def ready(self, frame: int) -> None:
        """It is."""


def _libavfilter(size: Size) -> Callable[[av.VideoFrame], None]:
    """gblur and blend screen on planar R'G'B' of 32 bits."""
    graph = Graph()
    source = graph.add_buffer(
        width=size.width, height=size.height, format="gbrpf32le", time_base="1/24"
    )
    split, blur = graph.add("split"), graph.add("gblur", f"sigma={SPREAD}")
    blend = graph.add("blend", "all_mode=screen:all_opacity=0.75")
    sink = graph.add("buffersink")
    source.link_to(split)
    split.link_to(blend, 0, 0)
    split.link_to(blur, 1, 0)
    blur.link_to(blend, 0, 1)
    blend.link_to(sink)
    graph.configure()

    def run(frame: av.VideoFrame) -> None:
        graph.push(frame)
        graph.pull()

    return run


def run() -> None:
    """Print milliseconds a frame, and the ratio."""
    with Footage(MEDIA / "lantern-barge.mp4") as footage:
        pictures = [footage.picture(n).copy() for n in range(30, 30 + 2 * ROUNDS + 6)]
        frame = footage.video_frame(30).reformat(format="gbrpf32le")
    memory = InMemory(pictures)
    cache = PictureCache(1 << 28)

    def of(kind: str, settings: dict[str, object]) -> Callable[[], object]:
        step = {"id": "a", "treatment": kind, "settings": settings}
        path = Path(
            look_of({"format": "yearning-look/1", "steps": [step]}),
            memory,
            memory.size,
            cache,
            keep="nothing",
        )
        frames = iter(range(memory.frames))
        return lambda: path.picture(next(frames))

    print("treatments of light and glass at 1920x1080, from a picture to the next, median")
    for kind, treatment in TREATMENTS.items():
        if treatment.stage in ("light", "glass", "gate"):
            work = of(kind, {})
            times = sorted(seconds(work) for _ in range(ROUNDS))
            print(f"  {kind}: {1e3 * times[ROUNDS // 2]:.1f} ms")
    peer = _libavfilter(memory.size)
    count = 0

    def theirs() -> None:
        nonlocal count
        count += 1
        frame.pts = count
        peer(frame)

    mine, other, ratio = in_turn(of("glow", {"spread": SPREAD}), theirs, ROUNDS)
    print(
        f"  glow, spread {SPREAD}, settled: {1e3 * mine:.1f} ms; gblur and blend "
        f"{1e3 * other:.1f} ms: {ratio:.2f} times as fast"
    )
