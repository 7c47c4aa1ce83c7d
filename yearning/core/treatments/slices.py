"""Slices."""

from typing import Annotated, Literal

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yearning.core.image.row_shift import shift_row
from yearning.core.kernel_arrays import copy_line, new_line
from yearning.core.noise.fields import uniforms
from yearning.core.picture import Picture, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import Lively
from yearning.core.treatment.settings import setting
from yearning.core.validation import StrictModel

BANDS, BLOCKS = 500, 501
"""Layers of random numbers."""

MAX_PLACED = 200

EVERYWHERE = 10**6
"""Pixels: further than any throw, so that a band fills its rows."""


class PlacedBlock(StrictModel):
    """A block of the picture that was drawn by hand, and how far it is thrown."""

    left: float = Field(ge=-1, le=2, description="Of the width.")
    top: float = Field(ge=-1, le=2, description="Of the height.")
    width: float = Field(gt=0, le=3, description="Of the width.")
    height: float = Field(gt=0, le=3, description="Of the height.")
    throw: float = Field(ge=-8000, le=8000, description="To the right, in px@1080.")


class Slices(Lively, Treatment[NDArray[np.float64]]):
    """Bands or blocks of the picture thrown sideways, as by a signal that has lost its timing.

    Each slice is drawn by (seed, pattern, number), the pattern being the frame by `hold`: more of
    them leaves those that are there where they are. Its red and its blue are thrown apart by
    `channel_throw` at most. Edges and throws are whole pixels of the full size, and what is thrown
    in from beyond the frame is mirrored. Slices lie over the picture and over earlier ones, those
    placed by hand, which stay, over all.
    """

    kind = "slices"
    stage = "ink & signal"
    summary = "bands or blocks of the picture thrown sideways"
    keywords = ("glitch", "blocks", "datamosh", "tear", "shift", "broken", "displace")
    shown = {"count": 16, "height": 70, "throw": 220, "channel_throw": 50}
    handle = "blocks"
    max_added_change = 0.4

    shape: Literal["bands", "blocks"] = setting(
        "bands", unit="choice", label="Shape", help="Across the whole frame, or pieces of it."
    )
    count: int = setting(
        9, 0, 60, unit="count", minimum=0, maximum=400, label="Count", help="Slices in a pattern."
    )
    height: float = setting(
        46.0,
        2,
        400,
        unit="px@1080",
        minimum=0.5,
        maximum=2000,
        label="Height",
        help="About; they vary.",
    )
    width: float = setting(
        420.0,
        10,
        1600,
        unit="px@1080",
        minimum=1,
        maximum=8000,
        label="Width",
        help="About; they vary.",
        visible_if={"shape": ["blocks"]},
    )
    throw: float = setting(
        110.0, 0, 600, unit="px@1080", minimum=0, maximum=8000, label="Throw", help="At the most."
    )
    channel_throw: float = setting(
        14.0,
        0,
        120,
        unit="px@1080",
        minimum=0,
        maximum=4000,
        label="Channel throw",
        help="How far red and blue come apart in a slice, at the most.",
    )
    hold: int = setting(
        3,
        1,
        24,
        unit="frames",
        minimum=1,
        maximum=1000,
        label="Hold",
        help="Frames a pattern stays.",
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, other slices.")
    placed: Annotated[tuple[PlacedBlock, ...], Field(max_length=MAX_PLACED)] = setting(
        (), unit="blocks", label="Placed", help="Blocks drawn on the picture by hand; they stay."
    )

    def prepare(self, context: FrameContext) -> NDArray[np.float64]:
        """The slices at this frame, in pixels of this size, shape `(n, 7)`.

        Left, top, right, bottom of what is thrown, and how far red, green and blue are, to the
        right.
        """
        slices = [
            *self._random_slices(context.frame, context.full_size),
            *self._by_hand(context.full_size),
        ]
        down, across = (
            context.size.height / context.full_size.height,
            context.size.width / context.full_size.width,
        )
        ratio = np.array([across, down, across, down, across, across, across])
        return np.asarray(np.array(slices, np.float64).reshape(-1, 7) * ratio)

    def _random_slices(self, frame: int, full_size: Size) -> list[list[float]]:
        """Those of chance, in whole pixels of the full size."""
        layer = BANDS if self.shape == "bands" else BLOCKS
        pattern, found = frame // self.hold, []
        for n in range(self.count):
            u = uniforms(self.seed, layer, pattern, n, 7)
            high = self.height * (0.25 + 1.75 * u[0] ** 2) * full_size.scale
            top = u[1] * (full_size.height + high) - high
            left, right = -EVERYWHERE, EVERYWHERE
            if self.shape == "blocks":
                wide = self.width * (0.3 + 1.4 * u[2]) * full_size.scale
                left = round(u[3] * (full_size.width + wide) - wide)
                right = left + max(round(wide), 1)
            throw = self.throw * (2 * u[4] - 1) * (0.3 + 0.7 * u[5]) * full_size.scale
            apart = self.channel_throw * (2 * u[6] - 1) * full_size.scale
            throws = [round(throw + apart), round(throw), round(throw - apart)]
            found.append([left, round(top), right, round(top) + max(round(high), 1), *throws])
        return found

    def _by_hand(self, full_size: Size) -> list[list[float]]:
        """Those that were placed."""
        return [
            [
                round(block.left * full_size.width),
                round(block.top * full_size.height),
                round((block.left + block.width) * full_size.width),
                round((block.top + block.height) * full_size.height),
                *[round(block.throw * full_size.scale)] * 3,
            ]
            for block in self.placed
        ]

    def apply(self, band: Band[NDArray[np.float64]]) -> None:
        """The picture with what is thrown."""
        _throw(band.picture, band.top, band.prepared, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, inline="always")
def _pixel_share(begin: float, end: float, pixel: int) -> np.float32:
    """What of a pixel lies between two places."""
    return np.float32(max(min(end, pixel + 1.0) - max(begin, float(pixel)), 0.0))


@numba.njit(nogil=True, cache=True)
def _throw(
    picture: Picture, top: int, slices: NDArray[np.float64], out: Picture, out_top: int
) -> None:
    _, rows, width = picture.shape
    drawn = new_line(width)
    for y in range(rows):
        for c in range(3):
            copy_line(picture[c, y], out[c, out_top + y])
        for n in range(slices.shape[0]):
            high = _pixel_share(slices[n, 1], slices[n, 3], top + y)
            if high == 0:
                continue
            for c in range(3):
                by = slices[n, 4 + c]
                left, right = slices[n, 0] + by, slices[n, 2] + by
                begin, end = max(int(np.floor(left)), 0), min(int(np.ceil(right)), width)
                if begin >= end:
                    continue
                shift_row(picture[c, y], by, begin, end, drawn)
                to = out[c, out_top + y]
                if high == 1 and begin >= left and end <= right:
                    copy_line(drawn[begin:], to[begin:end])
                    continue
                for x in range(begin, end):
                    to[x] += high * _pixel_share(left, right, x) * (drawn[x] - to[x])
