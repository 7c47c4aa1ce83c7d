"""Tape."""

import math
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import KB, KG, KR, bt709_luma
from yearning.core.image.row_shift import shift_row
from yearning.core.kernel_arrays import copy_line, new_line, new_lines
from yearning.core.noise.value_noise import noise_1d, noise_2d
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import Lively
from yearning.core.treatment.settings import setting

LINE = 2.25
"""Height of a line of tape in px@1080: 480 of them."""

SWAY, SHAKE, HEAD = np.int64(530), np.int64(531), np.int64(532)
"""Layers of noise."""


class Played(NamedTuple):
    """How far each row is shifted right, and how much of the pixel before a row's colour keeps."""

    moved: NDArray[np.float64]
    kept: np.float32


class Tape(Lively, Treatment[Played]):
    """Worn video tape: colour that runs to the right, lines that tremble, the heads' switch below.

    Colour differences of BT.709 are low-passed along each line by a one-sided exponential, as tape
    keeps far less of them than of luma. Lines are moved sideways by noise of (seed, frame, line):
    neighbouring ones together, and each by itself. In the lowest lines, where the next head takes
    over, they are skewed more and more. The form is common practice, no source.
    """

    kind = "tape"
    stage = "ink & signal"
    summary = "worn tape: smeared colour, trembling lines"
    keywords = ("vhs", "video", "glitch", "jitter", "chroma bleed", "analogue", "tracking")
    shown = {"smear": 60, "jitter": 12, "head_switch": 140, "skew": 240}
    max_added_change = 0.06

    smear: float = setting(
        14.0,
        0,
        80,
        unit="px@1080",
        minimum=0,
        maximum=1000,
        label="Smear",
        help="How far colour runs, to 1/e.",
    )
    jitter: float = setting(
        1.6,
        0,
        20,
        unit="px@1080",
        minimum=0,
        maximum=400,
        label="Jitter",
        help="How far lines tremble, at the most.",
    )
    head_switch: float = setting(
        26.0,
        0,
        160,
        unit="px@1080",
        minimum=0,
        maximum=1080,
        label="Head switch",
        help="Height of the skewed band at the lower edge.",
    )
    skew: float = setting(
        90.0,
        -400,
        400,
        unit="px@1080",
        minimum=-4000,
        maximum=4000,
        label="Skew",
        help="How far the band's last line is thrown.",
        enabled_by="head_switch",
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, other tape.")

    def prepare(self, context: FrameContext) -> Played:
        """How far each row is moved."""
        moved = np.empty(context.size.height)
        sway = float(noise_1d(self.seed, HEAD, context.frame / 9))
        high = self.head_switch * (1 + 0.25 * sway)
        _row_offsets(self.seed, context.frame, context.scale, self.jitter, high, self.skew, moved)
        wide = self.smear * context.scale
        return Played(moved, np.float32(math.exp(-1 / wide) if wide > 0 else 0))

    def apply(self, band: Band[Played]) -> None:
        """Rows as they are played."""
        played: Played = band.prepared
        _play(band.picture, played.moved[slice(*band.rows)], played.kept, band.out, band.out_top)


@numba.njit(nogil=True, cache=True)
def _row_offsets(
    seed: int,
    frame: int,
    scale: float,
    jitter: float,
    high: float,
    skew: float,
    out: NDArray[np.float64],
) -> None:
    """How far rows are moved to the right, in pixels."""
    for row in range(out.shape[0]):
        y = (row + 0.5) / scale
        line = y / LINE
        together = noise_2d(seed, SWAY, line / 14, 1.7 * frame)
        alone = noise_2d(seed, SHAKE, line, 2.0 * frame)
        by = jitter * (0.55 * together + 0.45 * alone)
        below = y - (1080 - high)
        if below > 0:
            t = below / high
            by += skew * t * t * (1 + 0.35 * noise_2d(seed, HEAD, line / 3, 2.0 * frame))
        out[row] = by * scale


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _play(
    picture: Picture, moved: NDArray[np.float64], kept: np.float32, out: Picture, out_top: int
) -> None:
    _, rows, width = picture.shape
    drawn = new_lines(3, width)
    luma = new_line(width)
    first = np.int64(0)
    for y in range(rows):
        for c in range(3):
            shift_row(picture[c, y], moved[y], first, width, drawn[c])
        red, green, blue = drawn[0], drawn[1], drawn[2]
        if kept == 0:
            for c in range(3):
                copy_line(drawn[c], out[c, out_top + y])
            continue
        for x in range(width):
            luma[x] = bt709_luma(red[x], green[x], blue[x])
        more = np.float32(1) - kept
        from_red, from_blue = red[0] - luma[0], blue[0] - luma[0]
        for x in range(width):
            from_red = kept * from_red + more * (red[x] - luma[x])
            from_blue = kept * from_blue + more * (blue[x] - luma[x])
            red[x], blue[x] = from_red, from_blue
        r, g, b = out[0, out_top + y], out[1, out_top + y], out[2, out_top + y]
        for x in range(width):
            r[x] = luma[x] + red[x]
            b[x] = luma[x] + blue[x]
            g[x] = luma[x] - (KR * red[x] + KB * blue[x]) / KG
