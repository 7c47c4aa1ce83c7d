"""Six pointwise steps against one, and a three-dimensional table against libavfilter, at 1080p."""

import tempfile
from pathlib import Path

import av
import numpy as np
from av.filter import Graph

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
    look = parse_look({"format": "yearning-look/2", "steps": steps})
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


def run() -> None:
    """Print milliseconds and ratios."""
    with (
        Footage(MEDIA / "glasshouse.mp4") as footage,
        tempfile.TemporaryDirectory() as name,
    ):
        folder = Path(name)
        size = footage.size
        picture = footage.picture(30)
        colours = lattice(SIDE).reshape(3, SIDE, SIDE, SIDE).transpose(1, 2, 3, 0)
        write_cube(folder / "bent.cube", "Bent", colours**1.3)
        print("pointwise steps at 1920x1080, from a decoded frame to the result")
        six = _path(list(STEPS), footage, folder)
        for kind in STEPS:
            one = _path([kind], footage, folder)
            alone, all_, ratio = in_turn(
                lambda one=one: one.picture(30), lambda: six.picture(30), ROUNDS
            )
            print(
                f"  {kind} {1000 * alone:.1f} ms; all six {1000 * all_:.1f} ms: {ratio:.2f} times"
            )
        print(f"a {SIDE}³ table at 1920x1080, from R'G'B' to R'G'B'")
        prepared, out = assets_in(folder).table("bent.cube"), np.empty_like(picture)

        def ours() -> None:
            def work(top: int, bottom: int) -> None:
                prepared.apply(picture[:, top:bottom], out, top)

            parallel.for_each_band(size.height, work, parallel.band_rows(size.width))

        for pixels in ("gbrpf32le", "gbrp16le", "rgb24"):
            frame = footage.video_frame(30).reformat(format=pixels)
            graph = _libavfilter(frame, folder / "bent.cube", pixels)
            count = 0

            def theirs(frame: av.VideoFrame = frame, graph: Graph = graph) -> None:
                nonlocal count
                count += 1
                frame.pts = count
                graph.push(frame)
                graph.pull()

            mine, peer, ratio = in_turn(ours, theirs, ROUNDS)
            print(
                f"  ours {1000 * mine:.1f} ms, libavfilter in {pixels} {1000 * peer:.1f} ms: "
                f"{ratio:.2f} times as fast"
            )
