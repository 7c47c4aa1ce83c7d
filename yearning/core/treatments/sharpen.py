"""Sharpen."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import bt709_luma, fill_luma_line
from yearning.core.image import filters
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import UsesFrameStatistics
from yearning.core.treatment.settings import setting
from yearning.core.treatment.statistics import StatisticsSpec


class Sharpen(UsesFrameStatistics, Treatment[Plane]):
    """Fine detail made stronger: an unsharp mask on luma.

    What luma differs by from its gaussian blur, less `floor` on both sides of 0, is added to all
    three channels `strength` times (common practice, no source). Colours do not fringe, and noise
    below the floor is left alone.
    """

    kind = "sharpen"
    stage = "glass"
    summary = "fine detail made stronger, noise left alone"
    keywords = ("unsharp", "detail", "clarity", "crisp", "acutance")
    shown = {"strength": 2, "radius": 4}
    max_added_change = 0.02

    radius: float = setting(
        1.6,
        0.3,
        20,
        unit="px@1080",
        minimum=0.05,
        maximum=200,
        label="Radius",
        help="The σ of the blur that tells detail from the rest.",
    )
    strength: float = setting(0.6, 0, 3, unit="factor", minimum=-5, maximum=20, label="Strength")
    floor: float = setting(
        0.01,
        0,
        0.1,
        minimum=0,
        maximum=1,
        label="Floor",
        help="Differences below it are left alone.",
    )

    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """Luma, shape `(1, height, width)`."""
        return StatisticsSpec(("luma",), (1, size.height, size.width), 1, _gather_luma)

    def prepare(self, context: FrameContext) -> Plane:
        """Blurred luma."""
        blurred: Plane = filters.gaussian(context.frame_statistics(), self.radius * context.scale)[
            0
        ]
        return blurred

    def apply(self, band: Band[Plane]) -> None:
        """The picture with its detail added."""
        top, bottom = band.rows
        blurred: Plane = band.prepared[top:bottom]
        strength, floor = np.float32(self.strength), np.float32(self.floor)
        _sharpened(band.picture, blurred, strength, floor, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _gather_luma(band: Picture, top: int, values: NDArray[np.float32]) -> None:
    for y in range(band.shape[1]):
        line = values[0, top + y]
        fill_luma_line(band[0, y], band[1, y], band[2, y], line)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _sharpened(
    picture: Picture,
    blurred: Plane,
    strength: np.float32,
    floor: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    zero = np.float32(0)
    width = picture.shape[2]
    detail = new_line(width)
    for y in range(picture.shape[1]):
        for x in range(width):
            luma = bt709_luma(picture[0, y, x], picture[1, y, x], picture[2, y, x])
            d = luma - blurred[y, x]
            more = max(d - floor, zero) - max(-d - floor, zero)
            detail[x] = strength * more
        for c in range(3):
            for x in range(width):
                out[c, out_top + y, x] = picture[c, y, x] + detail[x]
