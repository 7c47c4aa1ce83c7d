"""Vignette."""

from typing import Literal

import numba
import numpy as np

from yearning.core.colour.luma import bt709_luma
from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.picture import Picture
from yearning.core.smoothstep import smoothstep
from yearning.core.treatment.base import Band, Treatment
from yearning.core.treatment.settings import Place, setting

MAX_STOPS = 3.0
"""Stops by which the edges are darker, or lighter, at full strength."""

PROTECTED_FROM, PROTECTED_AT = 0.55, 0.95
"""Lumas between which highlights come to be left as they are."""

MIN_SOFT = 0.02

OFFSET = 0.5
"""Of the change in a white, what is taken from every channel alike where nothing is protected."""


class Vignette(Treatment[None]):
    """The picture falls off, or brightens, towards its edges.

    With x and y from the centre, 1 at the sides of what crops leave, the distance is
    d = (1 − s) max(|x|, |y|) + s √(x² + y²), from a box at the shape s = 0 to an ellipse at 1. From
    d = 1 − reach on the light changes, by a smooth step, to 3 stops at full strength. Light is
    multiplied, so hues stay; what would go beyond white is held there. The form is common practice,
    no source.
    """

    kind = "vignette"
    stage = "gate"
    summary = "edges darker, or lighter"
    keywords = ("dark corners", "edges", "spotlight", "oval", "falloff")
    max_added_change = 0.006
    handle = "point"

    strength: float = setting(
        -0.4,
        -1,
        1,
        minimum=-2,
        maximum=2,
        label="Strength",
        help="Darker edges below 0, lighter above.",
    )
    reach: float = setting(
        0.6,
        0,
        1,
        minimum=0,
        maximum=1.5,
        label="Reach",
        help="How far in from the edges it begins.",
    )
    shape: float = setting(
        1.0, 0, 1, minimum=0, maximum=1, label="Shape", help="From a box to an ellipse."
    )
    softness: float = setting(
        0.75, 0, 1, minimum=0, maximum=2, label="Softness", help="How slowly it grows."
    )
    centre: Place = setting(
        (0.5, 0.5), 0, 1, unit="place", label="Centre", help="Where it is lightest."
    )
    protect: Literal["hue", "highlights", "none"] = setting(
        "hue",
        unit="choice",
        label="Protect",
        help="Hues; hues and highlights, so that lamps at the edge stay bright; or neither, which "
        "burns colours in.",
    )

    def apply(self, band: Band[None]) -> None:
        """The picture with its edges changed."""
        context = band.context
        edge = 2.0 ** (MAX_STOPS * self.strength / float(DISPLAY_GAMMA))
        box = context.visible_box
        half = box.width / 2, box.height / 2
        _fall_off(
            band.picture,
            band.top,
            np.float32(box.left + self.centre[0] * box.width),
            np.float32(box.top + self.centre[1] * box.height),
            np.float32(half[0]),
            np.float32(half[1]),
            np.float32(self.shape),
            np.float32(1 - self.reach),
            np.float32(max(1.2 * self.softness, MIN_SOFT)),
            np.float32(edge - 1),
            ("hue", "highlights", "none").index(self.protect),
            band.out,
            band.out_top,
        )


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _fall_off(
    picture: Picture,
    top: int,
    centre_x: np.float32,
    centre_y: np.float32,
    half_x: np.float32,
    half_y: np.float32,
    shape: np.float32,
    start: np.float32,
    soft: np.float32,
    change: np.float32,
    protect: int,
    out: Picture,
    out_top: int,
) -> None:
    zero, one = np.float32(0), np.float32(1)
    low, per = np.float32(PROTECTED_FROM), np.float32(1 / (PROTECTED_AT - PROTECTED_FROM))
    height, width = picture.shape[1:]
    weight = np.empty(width, np.float32)
    for i in range(height):
        y = abs(np.float32(top + i) + np.float32(0.5) - centre_y) / half_y
        for x in range(width):
            across = abs(np.float32(x) + np.float32(0.5) - centre_x) / half_x
            box, round_ = max(across, y), np.sqrt(across * across + y * y)
            weight[x] = change * smoothstep((box + shape * (round_ - box) - start) / soft)
        if protect == 1:
            for x in range(width):
                luma = bt709_luma(picture[0, i, x], picture[1, i, x], picture[2, i, x])
                weight[x] *= one - smoothstep((luma - low) * per)
        if protect == 2:
            for c in range(3):
                for x in range(width):
                    out[c, out_top + i, x] = picture[c, i, x] + np.float32(OFFSET) * weight[x]
            continue
        if change > zero:
            for x in range(width):
                most = max(picture[0, i, x], max(picture[1, i, x], picture[2, i, x]))
                room = max(one / max(most, np.float32(1e-6)) - one, zero)
                weight[x] = min(weight[x], room)
        for c in range(3):
            for x in range(width):
                out[c, out_top + i, x] = picture[c, i, x] * (one + weight[x])
