"""Vignette."""

from typing import Any

import numba
import numpy as np

from yearning.core.colour.luma import bt709_luma
from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture
from yearning.core.smoothstep import smoothstep
from yearning.core.treatment.base import Band, Treatment
from yearning.core.treatment.capabilities import FillsFinalFrame, Ride, RidesOnTrack
from yearning.core.treatment.settings import Place, setting, track_setting

LIGHTS_FROM, LIGHTS_AT = 0.55, 0.95
"""Lumas between which lights come to be left as they are."""

MIN_SOFT = 0.02
"""The narrowest edge, in halves of the frame."""

MIN_SIZE = 1e-4
"""Of the frame, below which there is no opening but a point."""

OFFSET = 0.5
"""Of the change in a white, what is taken from every channel alike where no hue is kept."""


class Vignette(FillsFinalFrame, RidesOnTrack, Treatment[None]):
    """Outside an opening the picture is darker, or lighter.

    The opening is an ellipse, a box, or between: with x and y from its centre in its half axes,
    d = (1 − r) max(|x|, |y|) + r √(x² + y²), and it ends at d = 1. Its sides can be pushed out
    while its corners stay: d goes over to k (|x| + |y|), k = (1 + r (√2 − 1)) / 2, whose line goes
    through the same places on the diagonals. The light changes by a smooth step as wide as the
    softness, half of it within; outside it is multiplied by 2^(stops), so hues stay. Not keeping
    them, all channels change alike, which burns colours in. What would go beyond white is held
    there. The form is common practice, no source.

    It belongs to the frame that is left at the end of the path.
    """

    kind = "vignette"
    stage = "gate"
    summary = "darker, or lighter, outside an opening"
    keywords = ("dark corners", "edges", "spotlight", "oval", "falloff")
    effect = "edges"
    shown = {"stops": -3, "corners": 0.4}
    max_added_change = 0.01
    handle = "opening"

    stops: float = setting(
        -1.2,
        -3,
        3,
        unit="stops",
        minimum=-6,
        maximum=6,
        label="Light",
        help="Lost outside below 0, won above.",
    )
    centre: Place = setting(
        (0.5, 0.5), 0, 1, unit="place", label="Centre", help="The opening's middle."
    )
    size: Place = setting(
        (0.425, 0.425),
        0,
        1,
        unit="place",
        label="Size",
        help="Half the opening, of the width and of the height of the frame that is left.",
    )
    roundness: float = setting(
        1.0, 0, 1, minimum=0, maximum=1, label="Roundness", help="From a box to an ellipse."
    )
    corners: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Push out the sides",
        help="How far its sides are pushed out, so that only the corners change.",
    )
    softness: float = setting(
        0.9,
        0,
        1.5,
        minimum=0,
        maximum=4,
        label="Softness",
        help="How wide its edge is, of half the frame.",
    )
    keep_lights: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Keep lights",
        help="How far lamps and other lights stay as they are.",
    )
    keep_hue: float = setting(
        1.0,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Keep hue",
        help="Hues stay, or colours are burnt in.",
    )

    track: str = track_setting()

    def settings_on_track(self, ride: Ride) -> dict[str, Any]:
        """The opening where its track has taken it; it is not turned."""
        _, size = ride.turn_and_size(self.centre)
        wide, high = self.size
        return {"centre": ride.place(self.centre), "size": (wide * size, high * size)}

    def apply(self, band: Band[None]) -> None:
        """The picture changed outside the opening."""
        box = band.context.final_box
        wide, high = (max(axis, MIN_SIZE) for axis in self.size)
        outside = 2.0 ** (self.stops / float(DISPLAY_GAMMA))
        _darken_outside(
            band.picture,
            band.top,
            np.float32(box.left + self.centre[0] * box.width),
            np.float32(box.top + self.centre[1] * box.height),
            np.float32(wide * box.width),
            np.float32(high * box.height),
            np.float32(wide + high),  # the mean half axis, in halves of the frame
            np.float32(self.roundness),
            np.float32(self.corners),
            np.float32(max(self.softness, MIN_SOFT)),
            np.float32(outside - 1),
            np.float32(self.keep_lights),
            np.float32(self.keep_hue),
            band.out,
            band.out_top,
        )


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _darken_outside(
    picture: Picture,
    top: int,
    centre_x: np.float32,
    centre_y: np.float32,
    half_x: np.float32,
    half_y: np.float32,
    mean_axis: np.float32,
    roundness: np.float32,
    corners: np.float32,
    soft: np.float32,
    change: np.float32,
    keep_lights: np.float32,
    keep_hue: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    zero, half, one = np.float32(0), np.float32(0.5), np.float32(1)
    low, per = np.float32(LIGHTS_FROM), np.float32(1 / (LIGHTS_AT - LIGHTS_FROM))
    offset = np.float32(OFFSET) * (one - keep_hue)
    cut = half * (one + roundness * np.float32(np.sqrt(2.0) - 1))
    height, width = picture.shape[1:]
    weight, times = new_line(width), new_line(width)
    for i in range(height):
        y = abs(np.float32(top + i) + half - centre_y) / half_y
        for x in range(width):
            across = abs(np.float32(x) + half - centre_x) / half_x
            box, round_ = max(across, y), np.sqrt(across * across + y * y)
            far = box + roundness * (round_ - box)
            far += corners * (cut * (across + y) - far)
            weight[x] = change * smoothstep(half + mean_axis * (far - one) / soft)
        if keep_lights > zero:
            for x in range(width):
                luma = bt709_luma(picture[0, i, x], picture[1, i, x], picture[2, i, x])
                weight[x] *= one - keep_lights * smoothstep((luma - low) * per)
        for x in range(width):
            times[x] = weight[x]
            if change > zero:
                highest = max(picture[0, i, x], max(picture[1, i, x], picture[2, i, x]))
                times[x] = min(times[x], max(one / max(highest, np.float32(1e-6)) - one, zero))
        for c in range(3):
            for x in range(width):
                value = picture[c, i, x]
                out[c, out_top + i, x] = value + (keep_hue * times[x] * value + offset * weight[x])
