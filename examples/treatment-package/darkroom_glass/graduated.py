"""A graduated filter."""

from typing import Literal, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.plugin import Band, Colour, FrameContext, Picture, Place, Treatment, setting

DISPLAY_GAMMA = 2.4
"""ITU-R BT.1886: light is the code to this power, so light times g is the code times g^(1/2.4)."""


class Slope(NamedTuple):
    """The filter's weight at a pixel is `across * x + down * y + begin`, held to 0..1."""

    across: float
    down: float
    begin: float


class Graduated(Treatment[Slope]):
    """Glass that is dark and tinted on one side, and clear on the other.

    Where the glass has weight w, light is multiplied by 2^(-w stops), and its channels go by w and
    `strength` towards the tint. The form is common practice, no source.
    """

    kind = "graduated"
    stage = "glass"
    summary = "glass that is dark and tinted on one side"
    keywords = ("sky", "gradient", "neutral density", "sunset", "darken")
    shown = {"stops": 2}

    stops: float = setting(1.0, -4, 4, unit="stops", label="Stops", help="Light that it takes.")
    tint: Colour = setting(
        "#e8a060", unit="colour", label="Tint", help="Its colour at the dark side."
    )
    strength: float = setting(
        0.3, 0, 1, minimum=0, maximum=1, label="Strength", help="How strongly it is tinted."
    )
    centre: Place = setting(
        (0.5, 0.45), unit="place", label="Centre", help="Where it is half as dark."
    )
    turn: float = setting(
        0.0, -180, 180, unit="degrees", label="Turn", help="Clockwise; at 0 its top is dark."
    )
    width: float = setting(
        400.0,
        10,
        1000,
        unit="px@1080",
        minimum=1,
        label="Width",
        help="From where it is clear to where it is dark.",
    )
    edge: Literal["smooth", "straight"] = setting(
        "smooth", unit="choice", label="Edge", help="How it goes from clear to dark."
    )
    swapped: bool = setting(False, unit="switch", label="Swapped", help="The other side is dark.")

    def prepare(self, context: FrameContext) -> Slope:
        """How its weight goes across the frame, in pixels of this size."""
        turn = np.radians(self.turn + (180 if self.swapped else 0))
        width = self.width * context.scale
        across, down = np.sin(turn) / width, -np.cos(turn) / width
        x, y = self.centre[0] * context.size.width, self.centre[1] * context.size.height
        return Slope(across, down, 0.5 - across * (x - 0.5) - down * (y - 0.5))

    def apply(self, band: Band[Slope]) -> None:
        """The picture through the glass."""
        tint = [int(self.tint[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        pull = np.array([self.strength * (part - 1) for part in tint], np.float32)
        dark = np.float32(-self.stops / DISPLAY_GAMMA)
        slope = np.array(band.prepared, np.float32)
        smooth = self.edge == "smooth"
        _through_glass(band.picture, band.top, slope, dark, pull, smooth, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _through_glass(
    picture: Picture,
    top: int,
    slope: NDArray[np.float32],
    dark: np.float32,
    pull: NDArray[np.float32],
    smooth: bool,
    out: Picture,
    out_top: int,
) -> None:
    _, height, width = picture.shape
    for y in range(height):
        for x in range(width):
            w = slope[0] * np.float32(x) + slope[1] * np.float32(top + y) + slope[2]
            w = min(max(w, np.float32(0)), np.float32(1))
            if smooth:
                w = w * w * (np.float32(3) - np.float32(2) * w)
            light = np.exp2(dark * w)
            for c in range(3):
                out[c, out_top + y, x] = picture[c, y, x] * light * (np.float32(1) + pull[c] * w)
