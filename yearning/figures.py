"""Pictures of the guide in which several looks, or frames, stand side by side."""

import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.overlay import overlay_sequence
from yearning.core.look.document import parse_look
from yearning.core.picture import Picture, Size
from yearning.demo import MEDIA
from yearning.media.decode.clip import open_clip
from yearning.media.plates.assets import assets_in
from yearning.media.plates.plate_writer import write_generated_plate
from yearning.media.stills.stills import jpeg, write_still

Steps = list[dict[str, Any]]


class Figure(NamedTuple):
    """Parts of frames of a clip at true pixels, side by side: every look's, or every frame's."""

    clip: str
    looks: tuple[Steps, ...]
    frames: tuple[int, ...]
    left: int
    top: int
    width: int
    height: int


def _step(treatment: str, id: str = "", **settings: Any) -> dict[str, Any]:
    return {"id": id or treatment, "treatment": treatment, "settings": settings}


def _film(gauge: int) -> Steps:
    return [_step("soften", shape="film", gauge=gauge), _step("grain", gauge=gauge)]


def _scan_step(id: str, turn: int, seed: int) -> dict[str, Any]:
    scan = _step("plate", id, file="scan.png", reposition_every=2, turn=turn, seed=seed, colour=0)
    return scan | {"mix": {"blend": "overlay", "amount": 0.7}}


DUST = [
    _step("dust", specks=240, hairs=24, blotches=12, scratches=6, size=2.5),
]
"""Steps whose overlay is the plate `dust.%02d.png`."""

FIGURES = {
    "gauges": Figure(
        "reed-walker", (_film(8), _film(16), _film(35)), (60,), 480, 380, 420, 420
    ),
    "living-scan": Figure(
        "glasshouse", ([_scan_step("one", 0, 1), _scan_step("two", 90, 2)],),
        (0, 2, 70, 142), 600, 300, 320, 300,
    ),
    "pale-leak": Figure(
        "reed-walker",
        tuple([_step("leak", from_edge="top right", reach=0.8, on_pale=k)] for k in (0, 1)),
        (60,), 1200, 0, 640, 460,
    ),
    "clear-dust": Figure(
        "reed-walker",
        ([_step("plate", file="dust.%02d.png", loop="repeat") | {"mix": {"blend": "normal"}}],),
        (65, 66, 67), 50, 448, 420, 420,
    ),
}  # fmt: skip
"""By the names of their files."""


def figures(folder: Path) -> None:
    """Write the pictures, as JPEG."""
    folder.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as plates:
        write_generated_plate("scanned film", Path(plates, "scan.png"), 1, Size(1920, 1080))
        _write_dust(Path(plates))
        for name, figure in FIGURES.items():
            row = np.concatenate(list(_parts(figure, Path(plates))), axis=2)
            (folder / f"{name}.jpg").write_bytes(jpeg(np.ascontiguousarray(row), 88))


def _write_dust(folder: Path) -> None:
    with open_clip(MEDIA / "lantern-barge.mp4") as clip:
        look = parse_look({"format": "yearning-look/3", "steps": DUST})
        for frame, colour, alpha in overlay_sequence(look, clip, clip.size, range(72), 2):
            write_still(colour, folder / f"dust.{frame:02d}.png", 8, alpha)


def _parts(figure: Figure, plates: Path) -> Iterator[Picture]:
    with open_clip(MEDIA / f"{figure.clip}.mp4") as footage:
        for steps in figure.looks:
            look = parse_look({"format": "yearning-look/3", "steps": steps})
            path = Evaluator(look, footage, footage.size, Cache(1 << 28), assets=assets_in(plates))
            for frame in figure.frames:
                rows = slice(figure.top, figure.top + figure.height)
                columns = slice(figure.left, figure.left + figure.width)
                yield path.picture(frame)[:, rows, columns]
