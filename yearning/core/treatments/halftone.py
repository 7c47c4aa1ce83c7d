"""Halftone."""

import math
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.colour.inks import PROCESS, separate_four, separate_one, separate_two
from yearning.core.colour.luma import fill_luma
from yearning.core.halftone.raster import print_rows, roughness_tile
from yearning.core.halftone.screens import cell_means, screen_thresholds
from yearning.core.halftone.spot_functions import DOTS, Dot, spot_thresholds
from yearning.core.image.block_means import block_grid, block_side, gather_means
from yearning.core.picture import Picture, Plane, Size
from yearning.core.smoothstep import smoothstep
from yearning.core.treatment.base import Band, FrameContext, Reach, Treatment
from yearning.core.treatment.capabilities import FixedPattern, UsesFrameStatistics
from yearning.core.treatment.settings import setting
from yearning.core.treatment.statistics import StatisticsSpec

ANGLES: dict[str, tuple[float, ...]] = {
    "black": (45.0,),
    "two": (45.0, 75.0),
    "four": (15.0, 75.0, 0.0, 45.0),
}
"""Of the screens, in degrees: the darkest ink at 45, cyan, magenta and yellow at 15, 75 and 0.
Common practice, no source."""

BLOCKS_PER_CELL = 4
"""Blocks along a cell's side over which the picture is averaged, at least."""

EDGE = 1.3
"""Width of a dot's edge with no softness, in pixels of the full size."""

SAMPLES_PER_CELL = 8
"""Along a cell's side, at which a smaller picture's pixels are sampled, at the most."""

APART, SEEN = 2.6, 4.0
"""Pixels of the full size from dot to dot at which dots begin to be seen, and are seen whole: finer
ones beat with the pixels, which hold no pattern of less than two (Nyquist)."""

FINE, FINER = 6.0, 2
"""Pixels from dot to dot below which a pixel is sampled more than once at the full size, and how
often along each side."""

ROUGHEST = 0.11
"""Of a cell: how far the noise moves an edge, in rms, at full roughness."""


MAX_CELLS = 1 << 24
"""Of a screen. More than seven times as wide as high, a picture has that many cells of 1.5 px@1080,
which is the least pitch; its cells are wider then."""


class Printed(NamedTuple):
    """What `print_rows` takes, but for the rows."""

    dot: int
    grids: NDArray[np.float32]
    tones: NDArray[np.float32]
    seen: float
    places: NDArray[np.float64]
    absorbs: Plane
    paper: NDArray[np.float32]
    tile: Plane
    rough: NDArray[np.float64]
    finer: int


class Halftone(FixedPattern, UsesFrameStatistics, Treatment[Printed]):
    """The picture printed: dots of ink whose area is the tone.

    Where it is dark or coloured the picture asks for ink: 1 − luma of one, or of several as much as
    together come nearest to the colour. Each cell of an ink's screen takes the average of that over
    it, of as many frames as it is settled over, brought along the motion; its dot covers as much of
    the cell, and the mean over an even area is that tone (Murray–Davies). Values are
    display-coded; the picture's white is the paper. Screens are fixed to the frame. At reduced
    sizes the dots are those of the full size, averaged over each pixel. Dots less than 4 pixels of
    the full size apart fade into their tone, since finer patterns beat with the pixels.
    """

    kind = "halftone"
    stage = "ink & signal"
    max_added_change = 0.05
    summary = "dots of ink on paper, as large as the tone is dark"
    keywords = ("print", "dots", "newspaper", "comic", "screen print", "photocopy", "riso", "ink")
    shown = {"inks": "four", "pitch": 26}

    pitch: float = setting(
        8.0,
        3,
        60,
        unit="px@1080",
        minimum=1.5,
        maximum=400,
        label="Pitch",
        help="From dot to dot; where that is too few of the footage's pixels there is even grey.",
        visible_from=SEEN,
    )
    inks: Literal["black", "two", "four"] = setting(
        "black", unit="choice", label="Inks", help="One, two of any colour, or cyan to black."
    )
    dot: Dot = setting("round", unit="choice", label="Dot", help="Its shape.")
    turn: float = setting(
        0.0, -45, 45, unit="degrees", label="Turn", help="Of all screens, from their usual angles."
    )
    softness: float = setting(
        0.6,
        0,
        8,
        unit="px@1080",
        minimum=0,
        maximum=60,
        label="Softness",
        help="How soft ink's edges are.",
    )
    roughness: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=2,
        label="Roughness",
        help="Edges worn as by a photocopier; they hold.",
    )
    paper: Colour = setting("#f5f1e6", unit="colour", label="Paper", help="What is not printed on.")
    ink: Colour = setting("#1f1c1a", unit="colour", label="Ink", help="The black one.")
    second_ink: Colour = setting(
        "#e2452c",
        unit="colour",
        label="Second ink",
        help="As it looks on white.",
        visible_if={"inks": ["two"]},
    )
    ucr: float = setting(
        0.6,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Under-colour removal",
        help="Of what three inks have in common, how much black takes.",
        visible_if={"inks": ["four"]},
    )
    keep_fine_dots: bool = setting(
        False,
        unit="switch",
        label="Keep fine dots",
        help="Also where they beat with the footage's pixels.",
    )
    temporal_smoothing: int = setting(
        1,
        0,
        6,
        unit="frames",
        minimum=0,
        maximum=24,
        label="Smooth over time",
        help="Frames before and after over which tones are smoothed.",
    )

    def neighbours(self) -> Reach:
        """`temporal_smoothing` frames on both sides."""
        return Reach(self.temporal_smoothing, self.temporal_smoothing)

    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """The picture, or with one ink its luma, over blocks, shape `(planes, rows, columns)`."""
        block = self._block(size)
        one = self.inks == "black"

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            seen = band
            if one:
                seen = new_array((1, *band.shape[1:]))
                fill_luma(band, seen[0])
            gather_means(seen, top, size.height, block, False, values)

        shape = (1 if one else 3, *block_grid(size, block))
        key = ("luma means" if one else "means", block)
        return StatisticsSpec(key, shape, block, gather, luma_plane=0 if one else 1)

    def _block(self, size: Size) -> int:
        return block_side(self.pitch * size.scale / BLOCKS_PER_CELL)

    def prepare(self, context: FrameContext) -> Printed:
        """The screens' thresholds, and where pixels lie in them."""
        means, block = (
            context.temporally_filtered(self.temporal_smoothing),
            self._block(context.size),
        )
        pitch = self._pitch(context.full_size)
        pixel, full = 1 / context.size.scale, 1 / context.full_size.scale
        apart = pitch / full
        finer = math.ceil(round(pixel / max(full, pitch / SAMPLES_PER_CELL), 6))
        if APART < apart < FINE and not self.keep_fine_dots:
            finer *= FINER
        soft = (EDGE * max(full, pixel / finer) + self.softness) / pitch
        table = spot_thresholds(self.dot, round(soft, 4))
        grids: list[NDArray[np.float32]] = []
        wanted: list[NDArray[np.float32]] = []
        places: list[list[float]] = []
        for amount, angle in zip(self._amounts(means), ANGLES[self.inks], strict=True):
            degrees = angle + self.turn
            tones = cell_means(amount, block, context.size, pitch, degrees)
            screen = screen_thresholds(tones, pitch, degrees, context.size, finer, table)
            begins = sum(grid.size for grid in grids)
            grids.append(screen.grid.reshape(-1))
            wanted.append(np.clip(tones, 0, 1).reshape(-1))
            u0, v0 = screen.u0 - screen.left, screen.v0 - screen.top
            columns = screen.grid.shape[1]
            places.append([begins, columns, u0, v0, screen.along, screen.across, 1 / soft])
        step = pixel / finer
        rough = [ROUGHEST * self.roughness, step / 2, step / 2, step, table[0], table[-1]]
        return Printed(
            DOTS.index(self.dot),
            np.concatenate(grids),
            np.concatenate(wanted),
            1.0 if self.keep_fine_dots else _visibility(apart),
            np.array(places),
            self._absorbs(),
            rgb_of(self.paper),
            roughness_tile(1),
            np.array(rough),
            finer,
        )

    def _pitch(self, full_size: Size) -> float:
        """The pitch in px@1080, of a flat picture what its screen has not too many cells with."""
        wide, high = full_size.width / full_size.scale, full_size.height / full_size.scale
        return max(self.pitch, (wide + high) / math.sqrt(2 * MAX_CELLS))

    def _absorbs(self) -> Plane:
        """What each ink absorbs, in the order of the screens."""
        black = 1 - rgb_of(self.ink)
        if self.inks == "black":
            return black[None]
        if self.inks == "two":
            return np.stack([black, 1 - rgb_of(self.second_ink)])
        return np.concatenate([PROCESS, black[None]])

    def _amounts(self, means: Picture) -> Picture:
        """How much of each ink the picture asks for where, 0..1, shape `(inks, rows, columns)`."""
        absorbs = self._absorbs()
        out = new_array((len(absorbs), *means.shape[1:]))

        def work(top: int, bottom: int) -> None:
            rows = np.ascontiguousarray(means[:, top:bottom])
            amounts = new_array((len(absorbs), *rows.shape[1:]))
            colours, flat = rows.reshape(len(rows), -1), amounts.reshape(len(absorbs), -1)
            if self.inks == "black":
                separate_one(colours, flat)
            elif self.inks == "two":
                separate_two(colours, absorbs, flat)
            else:
                separate_four(colours, absorbs[-1], np.float32(self.ucr), flat)
            out[:, top:bottom] = amounts

        parallel.for_each_band(means.shape[1], work, parallel.band_rows(means.shape[2]))
        return out

    def apply(self, band: Band[Printed]) -> None:
        """Rows of the print."""
        printed: Printed = band.prepared
        print_rows(*printed[:-1], band.top, printed.finer, *band.result_rows)


def _visibility(apart: float) -> float:
    """How far dots so many pixels apart are seen, 0..1."""
    return float(smoothstep(np.float32((apart - APART) / (SEEN - APART))))
