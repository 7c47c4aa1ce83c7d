"""Sharpen."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import bt709_luma, fill_luma_line
from yearning.core.image import filters
from yearning.core.image.convolution import convolve_across, convolve_down, half_gaussian
from yearning.core.kernel_arrays import Integer, new_line
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import UsesFrameStatistics
from yearning.core.treatment.settings import setting
from yearning.core.treatment.statistics import StatisticsSpec

Line = NDArray[np.float32]

NO_TAPS = np.empty(0, np.float32)


class Blurred(NamedTuple):
    """Luma, and half of the taps by which it is still to be blurred down."""

    luma: Plane
    down: Line


class Sharpen(UsesFrameStatistics, Treatment[Blurred]):
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
        """Luma, blurred across where the blur is narrow; shape `(1, height, width)`."""
        half = self._narrow(size)

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            _gather_luma(band, half, values[0, top : top + band.shape[1]])

        return StatisticsSpec(("luma", half.tobytes()), (1, size.height, size.width), 1, gather)

    def prepare(self, context: FrameContext) -> Blurred:
        """Luma that is blurred but for what the taps blur down."""
        luma = context.frame_statistics()
        half = self._narrow(context.size)
        if len(half):
            return Blurred(luma[0], half)
        blurred = filters.gaussian(luma, self.radius * context.scale)
        return Blurred(blurred[0], half_gaussian(0.0))

    def _narrow(self, size: Size) -> Line:
        """Half of the taps of a blur that is narrow enough to be done row by row; else none."""
        sigma = self.radius * size.scale
        return half_gaussian(sigma) if sigma < filters.DIRECT_BELOW else NO_TAPS

    def apply(self, band: Band[Blurred]) -> None:
        """The picture with its detail added."""
        blurred: Blurred = band.prepared
        strength, floor = np.float32(self.strength), np.float32(self.floor)
        _add_detail(
            band.picture,
            blurred.luma,
            blurred.down,
            band.top,
            strength,
            floor,
            band.out,
            band.out_top,
        )


@numba.njit(nogil=True, cache=True, fastmath=True)
def _gather_luma(band: Picture, half: Line, values: Plane) -> None:
    for y in range(band.shape[1]):
        fill_luma_line(band[0, y], band[1, y], band[2, y], values[y])
        if half.shape[0]:
            convolve_across(values[y], half, values[y])


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _add_detail(
    picture: Picture,
    luma: Plane,
    half: Line,
    top: Integer,
    strength: np.float32,
    floor: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    zero = np.float32(0)
    width = picture.shape[2]
    blurred, detail = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        convolve_down(luma, top + y, half, blurred)
        for x in range(width):
            own = bt709_luma(picture[0, y, x], picture[1, y, x], picture[2, y, x])
            d = own - blurred[x]
            more = max(d - floor, zero) - max(-d - floor, zero)
            detail[x] = strength * more
        for c in range(3):
            for x in range(width):
                out[c, out_top + y, x] = picture[c, y, x] + detail[x]
