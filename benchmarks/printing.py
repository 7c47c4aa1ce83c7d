"""How steady a print is: change added to glasshouse, of full scale.

Dots that stay in the frame are change along the motion wherever the footage moves.
"""

from collections.abc import Iterator

import numpy as np

from benchmarks.report import Effort, Row, Target, against
from yearning.core.cache import Cache
from yearning.core.colour.luma import luma_of_rgb
from yearning.core.engine.as_shot import AsShot
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.fused_pass import RowSource
from yearning.core.halftone.spot_functions import spot_thresholds
from yearning.core.look.document import Look
from yearning.core.measure.steadiness import LINES
from yearning.core.motion.flow import flow_between, flow_consistency, flow_targets, luma_codes
from yearning.core.motion.warping_error import warping_error
from yearning.core.picture import Picture, Size
from yearning.core.treatments.halftone import Halftone
from yearning.demo import MEDIA
from yearning.media.decode.footage import Footage
from yearning.starters import starters

FRAMES = range(12, 140, 24)

PEER = "plain thresholding, frame by frame"
HALF = Target("at most", 0.5, "ratio")

NOISE = 0.02
"""Rms of the noise of a camera in dim light, about."""


def threshold_picture(picture: Picture, print_: Halftone) -> Picture:
    """Return ink where the pixel is darker than the screen is there, paper elsewhere.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        print_: whose screen and colours are taken.
    """
    _, height, width = picture.shape
    y, x = np.mgrid[:height, :width] + 0.5
    cell = print_.pitch * height / 1080
    across, down = (x - width / 2) / cell, (y - height / 2) / cell
    c = 0.5**0.5
    u, v = c * (across + down), c * (down - across)
    away = np.hypot(u - np.rint(u), v - np.rint(v))
    table = spot_thresholds("round", 0.02)
    tones = np.interp(away, table, np.linspace(0, 1, len(table)))
    inked = 1 - luma_of_rgb(picture) > tones
    paper, ink = (
        np.array([int(h[i : i + 2], 16) for i in (1, 3, 5)]) / 255
        for h in (print_.paper, print_.ink)
    )
    return np.where(inked, (paper * ink)[:, None, None], paper[:, None, None]).astype(np.float32)


def run(effort: Effort) -> Iterator[Row]:
    """Change added as steadiness has it of patterns fixed to the frame; and along the motion."""
    look = next(s.look for s in starters() if s.look.name == "News print")
    print_ = look.steps[-1].settings
    assert isinstance(print_, Halftone)
    before = Look(steps=look.steps[:-1], **look.model_dump(include={"format", "name"}))
    frames = FRAMES[: effort.rounds(len(FRAMES))]
    with Footage(MEDIA / "glasshouse.mp4") as footage:
        for lines in (LINES,) if effort.is_smoke else (1080, LINES):
            size = footage.size.with_height(lines)
            for sigma in (0.0, NOISE):
                noisy = _Noisy(footage, size, sigma)
                found = [_added_changes(noisy, n, look, before, print_) for n in frames]
                (ours, along), (plain, plain_along) = 100 * np.mean(found, axis=0)
                what = f"news print at {lines} lines{f', noise {sigma}' if sigma else ''}"
                yield against(what, ours, PEER, plain, "%", target=None if sigma else HALF)
                yield against(f"{what}, along the motion", along, PEER, plain_along, "%")


class _Noisy(AsShot):
    """A clip at a size, with noise that is another on each frame."""

    def __init__(self, footage: Footage, size: Size, sigma: float) -> None:
        self._footage, self._sigma = footage, sigma
        self.id, self.frames, self.size = f"{sigma}", footage.frames, size

    def picture(self, frame: int, size: Size) -> Picture:
        """Return the frame, always at its own size.

        Args:
            frame: from 0.
            size: is not looked at.
        """
        shot = self._footage.picture(frame, self.size)
        noise = np.random.default_rng(frame).normal(0, self._sigma, shot.shape)
        return (shot + noise).astype(np.float32)

    def rows(self, frame: int) -> RowSource:
        """Rows of it."""
        shot = self.picture(frame, self.size)
        return lambda top, bottom: shot[:, top:bottom].copy()

    def ready(self, frame: int) -> None:
        """It comes when it is asked for."""


def _added_changes(
    footage: _Noisy, n: int, look: Look, before: Look, print_: Halftone
) -> list[tuple[float, float]]:
    """What the print and plain thresholding add to a frame; and along the motion alone."""
    cache = Cache(1 << 29)
    whole, bare = (Evaluator(given, footage, footage.size, cache) for given in (look, before))
    shot = [footage.picture(k, footage.size) for k in (n - 1, n)]
    codes = [luma_codes(picture) for picture in shot]
    flow = flow_between(codes[1], codes[0], "fine")
    mask = flow_consistency(flow, flow_between(codes[0], codes[1], "fine"))
    at = flow_targets(flow)
    pairs = [
        [whole.picture(k) for k in (n - 1, n)],
        [threshold_picture(bare.picture(k), print_) for k in (n - 1, n)],
    ]

    def added_change(pair: list[Picture], fixed: bool) -> float:
        result, footage = (
            warping_error(second, first, at, mask, fixed=fixed) for first, second in (pair, shot)
        )
        return result - footage

    return [(added_change(pair, True), added_change(pair, False)) for pair in pairs]
