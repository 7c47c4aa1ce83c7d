"""Treatments at 1080p, from a picture in memory to the next.

The peer is a copy of the picture: 25 MB read and 25 written. What libavfilter's noise adds is one
evenly spread integer a pixel, with the same spread in black as in white.
"""

import tempfile
from collections.abc import Callable, Iterator
from itertools import count
from pathlib import Path

import av
import cv2
import numpy as np
from av.filter import Graph
from av.filter.context import FilterContext

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import in_turn
from yearning.core.cache import Cache
from yearning.core.engine.as_shot import AsShot
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.fused_pass import RowSource
from yearning.core.look.document import parse_look
from yearning.core.noise.scanned_grain import PAIRS, ScannedGrain, grain_json
from yearning.core.picture import Picture, Size
from yearning.core.treatment.capabilities import WarpsFrame
from yearning.core.treatments import TREATMENTS
from yearning.core.treatments.brush import Brush
from yearning.demo import MEDIA, PLATES
from yearning.media.decode.footage import Footage
from yearning.media.plates.assets import assets_in

ROUNDS = 15
AS_ASKED: dict[str, dict[str, object]] = {
    "flurry": {"amount": 2000},
    "plate": {"file": "dust-and-hairs.mp4"},
    **{kind: dict(each.shown) for kind, each in TREATMENTS.items() if each.stage == "colour"},
}
"""Settings that a figure is wanted for, where they are not the defaults."""

COPIES = {"bend": 6, "focus": 6, "brush": 20}
"""How many copies some may take; three for most, four for those that move the picture."""

WHITE = ScannedGrain.model_validate(
    {
        "lines": 1080,
        "tones": [{"luma": 0.5, "rms": [0.03, 0.03, 0.03]}],
        "correlation": {pair: [[float(a == b)]] for pair, (a, b) in PAIRS.items()},
    }
)

FOUR_INKS = Target("at most", 6, "ratio")
SPREAD = 60


class InMemory(AsShot):
    """Frames of a clip, decoded before any is asked for."""

    id = "in memory"

    def __init__(self, pictures: list[Picture]) -> None:
        self._pictures = pictures
        self.frames = len(pictures)
        self.size = Size(pictures[0].shape[2], pictures[0].shape[1])
        self._small: dict[tuple[int, Size], Picture] = {}

    def picture(self, frame: int, size: Size) -> Picture:
        """Return the frame, which at another size is made small once.

        Args:
            frame: from 0.
            size: of the picture.
        """
        if size == self.size:
            return self._pictures[frame]
        step = self.size.height // size.height
        return np.ascontiguousarray(self._pictures[frame][:, ::step, ::step])

    def rows(self, frame: int) -> RowSource:
        """Rows of it as an array of their own, as decoded footage gives them."""
        return lambda top, bottom: self._pictures[frame][:, top:bottom].copy()

    def ready(self, frame: int) -> None:
        """It is."""


def _blur_and_screen(size: Size) -> Callable[[av.VideoFrame], None]:
    """Run gblur and blend screen on planar R'G'B' of 32 bits."""
    graph, source = _begin_graph(size, "gbrpf32le")
    split, blur = graph.add("split"), graph.add("gblur", f"sigma={SPREAD}")
    blend = graph.add("blend", "all_mode=screen:all_opacity=0.75")
    source.link_to(split)
    split.link_to(blend, 0, 0)
    split.link_to(blur, 1, 0)
    blur.link_to(blend, 0, 1)
    return _end_graph(graph, blend)


def _noisy(size: Size) -> Callable[[av.VideoFrame], None]:
    """noise, another on each frame, on planar R'G'B' of 8 bits: it takes no more."""
    graph, source = _begin_graph(size, "gbrp")
    noise = graph.add("noise", "alls=8:allf=t")
    source.link_to(noise)
    return _end_graph(graph, noise)


def _shift_channels(size: Size) -> Callable[[av.VideoFrame], None]:
    """Run rgbashift by whole pixels, on planar R'G'B' of 16 bits: it takes no floats."""
    graph, source = _begin_graph(size, "gbrp16le")
    shift = graph.add("rgbashift", "rh=8:bh=-8:edge=smear")
    source.link_to(shift)
    return _end_graph(graph, shift)


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


def _begin_graph(size: Size, pixels: str) -> tuple[Graph, FilterContext]:
    graph = Graph()
    return graph, graph.add_buffer(
        width=size.width, height=size.height, format=pixels, time_base="1/24"
    )


def _end_graph(graph: Graph, last: FilterContext) -> Callable[[av.VideoFrame], None]:
    last.link_to(graph.add("buffersink"))
    graph.configure()

    def run(frame: av.VideoFrame) -> None:
        graph.push(frame)
        graph.pull()

    return run


def _target(kind: str) -> Target:
    copies = COPIES.get(kind, 4 if issubclass(TREATMENTS[kind], WarpsFrame) else 3)
    return Target("at most", copies, "ratio")


def run(effort: Effort) -> Iterator[Row]:
    """Milliseconds a frame, against a copy of the picture and against filters of others."""
    rounds = effort.rounds(ROUNDS)
    with Footage(MEDIA / "lantern-barge.mp4") as footage:
        pictures = [footage.picture(n).copy() for n in range(30, 30 + 2 * ROUNDS + 6)]
        frame = footage.video_frame(30)
    memory = InMemory(pictures)
    cache = Cache(1 << 28)
    to = np.empty_like(pictures[0])

    def of(kind: str, settings: dict[str, object], folder: Path = PLATES) -> Callable[[], object]:
        step = {"id": "a", "treatment": kind, "settings": settings}
        path = Evaluator(
            parse_look({"format": "yearning-look/3", "steps": [step]}),
            memory,
            memory.size,
            cache,
            keep="nothing",
            assets=assets_in(folder),
        )
        frames = iter(range(memory.frames))
        return lambda: path.picture(next(frames))

    def compare_with_copy(what: str, kind: str, settings: dict[str, object], target: Target) -> Row:
        work = of(kind, settings)
        took, its, ratio = in_turn(work, lambda: np.copyto(to, pictures[0]), rounds)
        return against(what, 1e3 * took, "a copy", 1e3 * its, ratio=ratio, target=target)

    for kind in TREATMENTS:
        if kind != "table":  # of which there are rows among those of colour
            yield compare_with_copy(kind, kind, AS_ASKED.get(kind, {}), _target(kind))
    yield compare_with_copy("halftone, four inks", "halftone", {"inks": "four"}, FOUR_INKS)
    brush, few = of("brush", {}), effort.rounds(3)
    painted, plain, ratio = in_turn(brush, lambda: _kuwahara(pictures[0], round(Brush().size)), few)
    yield against(
        "brush", 1e3 * painted, "plain OpenCV, neither oriented nor settled", 1e3 * plain,
        ratio=ratio,
    )  # fmt: skip
    for kind, what, filters, pixels, peer in (
        (
            "glow",
            f"glow, spread {SPREAD}, settled",
            _blur_and_screen,
            "gbrpf32le",
            "gblur and blend",
        ),
        ("grain", "grain, 16 mm, three dyes and clumps", _noisy, "gbrp", "noise, 8 bit"),
        ("split", "split, by whole pixels", _shift_channels, "gbrp16le", "rgbashift, 16 bit"),
    ):
        mine = of(kind, {"spread": SPREAD} if kind == "glow" else {})
        theirs = _feed_again(filters(memory.size), frame.reformat(format=pixels))
        took, others, ratio = in_turn(mine, theirs, rounds)
        yield against(what, 1e3 * took, f"{peer}, of libavfilter", 1e3 * others, ratio=ratio)
    with tempfile.TemporaryDirectory() as folder:
        Path(folder, "white.grain").write_text(grain_json(WHITE))
        scanned = of("grain", {"gauge": "scan", "scan": "white.grain"}, Path(folder))
        took, its, ratio = in_turn(scanned, of("grain", {}), rounds)
    yield against(
        "grain of a scan", 1e3 * took, "grain, 16 mm", 1e3 * its,
        ratio=ratio, target=Target("at most", 1, "ratio"),
    )  # fmt: skip


def _feed_again(peer: Callable[[av.VideoFrame], None], frame: av.VideoFrame) -> Callable[[], None]:
    """The filters with the same frame again, as the next one."""
    numbers = count()

    def run() -> None:
        frame.pts = next(numbers)
        peer(frame)

    return run
