"""Treatments at 1080p, those of colour aside; some against libavfilter's, or plain OpenCV."""

from collections.abc import Callable
from itertools import count

import av
import cv2
import numpy as np
from av.filter import Graph
from av.filter.context import FilterContext

from benchmarks.timing import in_turn, seconds
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.fused_pass import RowSource
from yearning.core.look.document import parse_look
from yearning.core.picture import Picture, Size
from yearning.core.treatments import TREATMENTS
from yearning.core.treatments.brush import Brush
from yearning.demo import MEDIA, PLATES
from yearning.media.decode.footage import Footage
from yearning.media.plates.assets import assets_in

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

    def rows(self, frame: int) -> RowSource:
        """Rows of it as an array of their own, as decoded footage gives them."""
        return lambda top, bottom: self._pictures[frame][:, top:bottom].copy()

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


def _shifted(size: Size) -> Callable[[av.VideoFrame], None]:
    """rgbashift by whole pixels, on planar R'G'B' of 16 bits: it takes no floats."""
    graph, source = _begun(size, "gbrp16le")
    shift = graph.add("rgbashift", "rh=8:bh=-8:edge=smear")
    source.link_to(shift)
    return _ended(graph, shift)


def _kuwahara(picture: Picture, radius: int) -> Picture:
    """A generalized Kuwahara filter in plain OpenCV and NumPy: eight sectors, no orientation."""
    y, x = np.mgrid[-radius : radius + 1, -radius : radius + 1]
    bell = np.exp(-(x**2 + y**2) / (2 * (radius / 2) ** 2))
    sums, weights = np.zeros_like(picture), np.zeros(picture.shape[1:], np.float32)
    for sector in range(8):
        apart = np.angle(np.exp(1j * (np.arctan2(y, x) - sector * np.pi / 4)))
        window = cv2.GaussianBlur((np.abs(apart) <= np.pi / 8).astype(np.float32), (0, 0), 1) * bell
        kernel = (window / window.sum()).astype(np.float32)
        means = np.stack([cv2.filter2D(plane, -1, kernel) for plane in picture])
        squares = np.stack([cv2.filter2D(plane * plane, -1, kernel) for plane in picture])
        spread = np.maximum((squares - means**2).sum(axis=0), 0)
        weight = (spread + np.float32(3e-4)) ** -4
        sums += weight * means
        weights += weight
    return np.asarray(sums / weights)


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
    cache = Cache(1 << 28)

    def of(kind: str, settings: dict[str, object]) -> Callable[[], object]:
        step = {"id": "a", "treatment": kind, "settings": settings}
        path = Evaluator(
            parse_look({"format": "yearning-look/2", "steps": [step]}),
            memory,
            memory.size,
            cache,
            keep="nothing",
            assets=assets_in(PLATES),
        )
        frames = iter(range(memory.frames))
        return lambda: path.picture(next(frames))

    print("treatments at 1920x1080, from a picture to the next, median")
    for kind, treatment in TREATMENTS.items():
        if treatment.stage != "colour":
            work = of(kind, AS_ASKED.get(kind, {}))
            print(f"  {kind}: {_median(work):.1f} ms")
    print(f"  halftone, four inks: {_median(of('halftone', {'inks': 'four'})):.1f} ms")
    painted = _median(of("brush", {}), 5)
    plainly = _median(lambda: _kuwahara(pictures[0], round(Brush().size)), 3)
    print(
        f"  brush: {painted:.0f} ms; plain OpenCV, not oriented nor settled {plainly:.0f} ms: "
        f"{plainly / painted:.1f} times as fast"
    )
    glow, grain = of("glow", {"spread": SPREAD}), of("grain", {})
    split = of("split", {})
    for mine, name, peer, pixels, what in (
        (glow, f"glow, spread {SPREAD}, settled", _blurred, "gbrpf32le", "gblur and blend"),
        (grain, "grain, 16 mm, three dyes and clumps", _noisy, "gbrp", "noise, 8 bit"),
        (split, "split, by whole pixels", _shifted, "gbrp16le", "rgbashift, 16 bit"),
    ):
        theirs = _fed(peer(memory.size), frame.reformat(format=pixels))
        took, others, ratio = in_turn(mine, theirs, ROUNDS)
        print(
            f"  {name}: {1e3 * took:.1f} ms; {what} {1e3 * others:.1f} ms: "
            f"{ratio:.2f} times as fast"
        )


def _median(work: Callable[[], object], rounds: int = ROUNDS) -> float:
    """Milliseconds."""
    times = sorted(seconds(work) for _ in range(rounds))
    return 1e3 * times[rounds // 2]


def _fed(peer: Callable[[av.VideoFrame], None], frame: av.VideoFrame) -> Callable[[], None]:
    """The filters with the same frame again, as the next one."""
    numbers = count()

    def run() -> None:
        frame.pts = next(numbers)
        peer(frame)

    return run
