"""Masks at 1080p: four shapes on a step, and the coverage of a drawn path.

The peer of the path is OpenCV: `fillPoly` at eight times the size, reduced, and a gaussian as wide
as the feather. Errors are the largest of any pixel against the formula in float64, at 216 lines.
"""

from collections.abc import Iterator

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.signal import fftconvolve

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import in_turn
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import parse_look
from yearning.core.masks.coverage import fill_coverage
from yearning.core.masks.feather import Coverage
from yearning.core.masks.outlines import Polygon, bezier_polygon
from yearning.core.picture import Plane, Size

SIZE = Size(1920, 1080)
SMALL = Size(384, 216)
ROUNDS = 20
FINE = 8
PATH = ((0.2, 0.2, 0, 0.1, 0.1, -0.1), (0.8, 0.3, -0.1, 0, 0, 0.2), (0.5, 0.8, 0.2, 0.1, -0.1, 0))
SHAPES = [
    {"id": "a", "kind": "ellipse", "centre": [0.4, 0.5], "size": [0.2, 0.3], "feather": 100},
    {"id": "b", "kind": "box", "centre": [0.6, 0.5], "size": [0.2, 0.3], "feather": 100},
    {"id": "c", "kind": "drawn", "points": PATH, "feather": 100, "join": "take away"},
    {"id": "d", "kind": "ellipse", "feather": 100, "turn": 30, "join": "keep common"},
]
MOVED = {
    f"mix.mask.{id}.centre": [
        {"frame": 0, "value": [0.4, 0.4]},
        {"frame": 999, "value": [0.6, 0.6]},
    ]
    for id in "abd"
}


def run(effort: Effort) -> Iterator[Row]:
    """Milliseconds a frame that shapes add, and those of a path's coverage."""
    yield from _on_a_step(effort)
    yield from _of_a_path(effort)


def _on_a_step(effort: Effort) -> Iterator[Row]:
    random = np.random.default_rng(1)
    picture = random.random((3, SIZE.height, SIZE.width), np.float32)
    clip = ArrayClip([picture] * 1000)
    plain = _evaluator(clip, {})
    for says, masked in (
        ("that stay", _evaluator(clip, {"mask": SHAPES})),
        ("of which three move", _evaluator(clip, {"mask": SHAPES}, MOVED)),
    ):
        frames = iter(range(1, 1000))

        def with_mask(masked: Evaluator = masked, frames: Iterator[int] = frames) -> None:
            masked.picture(next(frames))

        def draw_plain(frames: Iterator[int] = frames) -> None:
            plain.picture(next(frames))

        ours, theirs, _ = in_turn(with_mask, draw_plain, effort.rounds(ROUNDS))
        target = Target("at most", 12, "found")
        added = 1e3 * (ours - theirs)
        yield Row(f"four shapes with a feather of 100 px, {says}: added", added, target=target)


def _evaluator(clip: ArrayClip, mix: dict, keys: dict | None = None) -> Evaluator:
    step = {"id": "s", "treatment": "exposure", "mix": {"amount": 0.5} | mix, "keys": keys or {}}
    look = parse_look({"format": "yearning-look/3", "steps": [step]})
    return Evaluator(look, clip, SIZE, Cache(1), keep="nothing")


def _of_a_path(effort: Effort) -> Iterator[Row]:
    for feather in (0, 20, 100):
        polygon, small = bezier_polygon(PATH, SIZE), bezier_polygon(PATH, SMALL)
        ours, theirs, ratio = in_turn(
            lambda polygon=polygon, feather=feather: _ours(polygon, feather, SIZE),
            lambda polygon=polygon, feather=feather: _opencv(polygon, feather, SIZE),
            effort.rounds(ROUNDS // 2),
        )
        says = f"a drawn path, feather {feather} px"
        target = Target("at most", 1 / 20, "ratio")
        yield against(says, 1e3 * ours, "OpenCV", 1e3 * theirs, ratio=ratio, target=target)
        part = feather * SMALL.scale
        exact = _by_formula(small, part, SMALL)
        errors = [100 * np.abs(made(small, part, SMALL) - exact).max() for made in (_ours, _opencv)]
        smaller = Target("at most", 1, "ratio")
        yield against(f"{says}: error", errors[0], "OpenCV", errors[1], "%", target=smaller)


def _ours(polygon: Polygon, feather: float, size: Size) -> Plane:
    out = np.zeros((size.height, size.width), np.float32)
    coverage = Coverage(polygon, feather, size)
    left, top, right, bottom = coverage.span
    rows = np.empty((bottom - top, right - left), np.float32)
    coverage.fill(top, rows)
    out[top:bottom, left:right] = rows
    return out


def _opencv(polygon: Polygon, feather: float, size: Size) -> Plane:
    fine = np.zeros((FINE * size.height, FINE * size.width), np.uint8)
    bits = 4
    corners = np.rint((polygon * FINE - 0.5) * (1 << bits)).astype(np.int32)
    cv2.fillPoly(fine, [corners], 255, shift=bits)
    reduced = cv2.resize(fine, (size.width, size.height), interpolation=cv2.INTER_AREA)
    plane = reduced.astype(np.float32) / 255
    sigma = feather * _deviation()
    return cv2.GaussianBlur(plane, (0, 0), sigma) if sigma > 0 else plane


def _deviation() -> float:
    """σ along one axis of a raised cosine one pixel wide."""
    bell = _bell(1001)
    axis = np.linspace(-0.5, 0.5, 1001)
    return float(np.sqrt((bell.sum(axis=0) * axis**2).sum()))


def _bell(side: int) -> NDArray[np.float64]:
    at = np.linspace(-0.5, 0.5, side)
    r = np.hypot(at[:, None], at[None])
    bell = np.where(r <= 0.5, 1 + np.cos(2 * np.pi * r), 0.0)
    return bell / bell.sum()


def _by_formula(polygon: Polygon, feather: float, size: Size) -> NDArray[np.float64]:
    margin = int(np.ceil((feather / 2 + 1) * FINE))
    shape = size.height * FINE + 2 * margin, size.width * FINE + 2 * margin
    fine = np.empty(shape, np.float32)
    fill_coverage(polygon, -margin / FINE, -margin / FINE, 1 / FINE, fine)
    wide = fine.astype(np.float64)
    if feather:
        wide = fftconvolve(wide, _bell(2 * round(feather * FINE / 2) + 1), mode="same")
    inner = wide[margin:-margin, margin:-margin]
    return inner.reshape(size.height, FINE, size.width, FINE).mean((1, 3))
