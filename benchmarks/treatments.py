"""Treatments of glass, light, film and gate at 1080p; glow and grain against libavfilter's."""

from collections.abc import Callable
from itertools import count

import av
import numpy as np
from av.filter import Graph
from av.filter.context import FilterContext

from benchmarks.timing import in_turn, seconds
from yearning.core.cache import PictureCache
from yearning.core.look import look_of
from yearning.core.path import Path, Rows
from yearning.core.picture import Picture, Size
from yearning.core.treatments import TREATMENTS
from yearning.demo import MEDIA, PLATES
from yearning.media.footage import Footage
from yearning.media.materials import materials_in

ROUNDS = 15
AS_ASKED: dict[str, dict[str, object]] = {
    "flurry": {"amount": 2000},
    "plate": {"file": "dust-and-hairs.mp4"},
}
"""Settings that a figure is wanted for, where they are not the defaults."""

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


def _blurred(size: Size) -> Callable[[av.VideoFrame], None]:
    """gblur and blend screen on planar R'G'B' of 32 bits."""
    graph, source = _begun(size, "gbrpf32le")
    split, blur = graph.add("split"), graph.add("gblur", f"sigma={SPREAD}")
    blend = graph.add("blend", "all_mode=screen:all_opacity=0.75")
    source.link_to(split)
    split.link_to(blend, 0, 0)
    split.link_to(blur, 1, 0)
    blur.link_to(blend, 0, 1)
    return _ended(graph, blend)


def _noisy(size: Size) -> Callable[[av.VideoFrame], None]:
    """noise, another on each frame, on planar R'G'B' of 8 bits: it takes no more."""
    graph, source = _begun(size, "gbrp")
    noise = graph.add("noise", "alls=8:allf=t")
    source.link_to(noise)
    return _ended(graph, noise)


def _begun(size: Size, pixels: str) -> tuple[Graph, FilterContext]:
    graph = Graph()
    return graph, graph.add_buffer(
        width=size.width, height=size.height, format=pixels, time_base="1/24"
    )


def _ended(graph: Graph, last: FilterContext) -> Callable[[av.VideoFrame], None]:
    last.link_to(graph.add("buffersink"))
    graph.configure()

    def run(frame: av.VideoFrame) -> None:
        graph.push(frame)
        graph.pull()

    return run


def run() -> None:
    """Print milliseconds a frame, and the ratio."""
    with Footage(MEDIA / "lantern-barge.mp4") as footage:
        pictures = [footage.picture(n).copy() for n in range(30, 30 + 2 * ROUNDS + 6)]
        frame = footage.video_frame(30)
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
            materials=materials_in(PLATES),
        )
        frames = iter(range(memory.frames))
        return lambda: path.picture(next(frames))

    print("treatments at 1920x1080, from a picture to the next, median")
    for kind, treatment in TREATMENTS.items():
        if treatment.stage in ("glass", "light", "film", "gate"):
            work = of(kind, AS_ASKED.get(kind, {}))
            times = sorted(seconds(work) for _ in range(ROUNDS))
            print(f"  {kind}: {1e3 * times[ROUNDS // 2]:.1f} ms")
    glow, grain = of("glow", {"spread": SPREAD}), of("grain", {})
    for mine, name, peer, pixels, what in (
        (glow, f"glow, spread {SPREAD}, settled", _blurred, "gbrpf32le", "gblur and blend"),
        (grain, "grain, 16 mm, three dyes and clumps", _noisy, "gbrp", "noise, 8 bit"),
    ):
        theirs = _fed(peer(memory.size), frame.reformat(format=pixels))
        took, others, ratio = in_turn(mine, theirs, ROUNDS)
        print(
            f"  {name}: {1e3 * took:.1f} ms; {what} {1e3 * others:.1f} ms: "
            f"{ratio:.2f} times as fast"
        )


def _fed(peer: Callable[[av.VideoFrame], None], frame: av.VideoFrame) -> Callable[[], None]:
    """The filters with the same frame again, as the next one."""
    numbers = count()

    def run() -> None:
        frame.pts = next(numbers)
        peer(frame)

    return run
