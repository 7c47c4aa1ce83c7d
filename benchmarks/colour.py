"""Colour at 1080p.

Six pointwise steps from a decoded frame to the result, against each of them alone; and a
three-dimensional table, tetrahedral, from R'G'B' to R'G'B'.
"""

import tempfile
from collections.abc import Iterator
from itertools import count
from pathlib import Path

import av
import numpy as np
from av.filter import Graph

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import in_turn
from yearning.core import parallel
from yearning.core.cache import Cache
from yearning.core.engine.baking import lattice
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import parse_look
from yearning.demo import MEDIA
from yearning.media.decode.footage import Footage
from yearning.media.plates.assets import assets_in
from yearning.media.tables.cube import write_cube

STEPS: dict[str, dict[str, object]] = {
    "exposure": {"stops": 0.3},
    "levels": {"black": 0.04, "gamma": 1.1},
    "curve": {"luma": [[0, 0.06], [0.25, 0.22], [1, 1]]},
    "balance": {"shadows_strength": 0.3, "highlights_strength": 0.2},
    "tone": {"contrast": 0.2, "pale_colours": 0.3},
    "mono": {"blue": -0.3, "tinted": 0.2},
}
SIDE = 33
ROUNDS = 15


def _path(kinds: list[str], footage: Footage, folder: Path) -> Evaluator:
    settings = STEPS | {"table": {"file": "bent.cube"}}
    steps = [{"id": kind, "treatment": kind, "settings": settings[kind]} for kind in kinds]
    look = parse_look({"format": "yearning-look/3", "steps": steps})
    cache = Cache(1 << 28)
    return Evaluator(look, footage, footage.size, cache, keep="nothing", assets=assets_in(folder))


def _libavfilter(template: av.VideoFrame, table: Path, pixels: str) -> Graph:
    """lut3d, tetrahedral."""
    graph = Graph()
    source = graph.add_buffer(
        width=template.width, height=template.height, format=pixels, time_base="1/24"
    )
    through = graph.add("lut3d", f"file={table}:interp=tetrahedral")
    sink = graph.add("buffersink")
    source.link_to(through)
    through.link_to(sink)
    graph.configure()
    return graph


def run(effort: Effort) -> Iterator[Row]:
    """Milliseconds of all six steps against each, and of a table against libavfilter's."""
    rounds = effort.rounds(ROUNDS)
    with (
        Footage(MEDIA / "glasshouse.mp4") as footage,
        tempfile.TemporaryDirectory() as name,
    ):
        folder = Path(name)
        size = footage.size
        picture = footage.picture(30)
        colours = lattice(SIDE).reshape(3, SIDE, SIDE, SIDE).transpose(1, 2, 3, 0)
        write_cube(folder / "bent.cube", "Bent", colours**1.3)
        six = _path(list(STEPS), footage, folder)
        for kind in STEPS:
            one = _path([kind], footage, folder)
            all_, alone, ratio = in_turn(
                lambda: six.picture(30), lambda one=one: one.picture(30), rounds
            )
            yield against(
                "six colour steps", 1e3 * all_, f"{kind} alone", 1e3 * alone, ratio=ratio,
                target=Target("at most", 2.5, "ratio"),
            )  # fmt: skip
        prepared, out = assets_in(folder).table("bent.cube"), np.empty_like(picture)

        def ours() -> None:
            def work(top: int, bottom: int) -> None:
                prepared.apply(picture[:, top:bottom], out, top)

            parallel.for_each_band(size.height, work, parallel.band_rows(size.width))

        for pixels in ("gbrpf32le", "gbrp16le", "rgb24"):
            frame = footage.video_frame(30).reformat(format=pixels)
            graph = _libavfilter(frame, folder / "bent.cube", pixels)
            numbers = count()

            def theirs(
                frame: av.VideoFrame = frame, graph: Graph = graph, numbers: "count[int]" = numbers
            ) -> None:
                frame.pts = next(numbers)
                graph.push(frame)
                graph.pull()

            mine, peer, ratio = in_turn(ours, theirs, rounds)
            yield against(
                f"a {SIDE}³ table", 1e3 * mine, f"lut3d of libavfilter in {pixels}", 1e3 * peer,
                ratio=ratio, target=Target("at most", 0.5, "ratio"),
            )  # fmt: skip
