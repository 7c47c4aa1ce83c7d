"""Flicker."""

from typing import NamedTuple

import numba
import numpy as np

from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.noise.value_noise import noise_1d
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import Lively
from yearning.core.treatment.settings import setting


class Lamp(NamedTuple):
    """A frame's gain in the middle, and its slopes towards the right and down."""

    gain: np.float32
    right: np.float32
    down: np.float32


class Flicker(Lively, Treatment[Lamp]):
    """A projector's lamp that flutters: a little more and less light, never a flash.

    Light is multiplied by 1 + s · n, with n smooth noise within ±1 of (seed, frame) around 0, so
    that the clip is as bright as before; of a display as of BT.1886 that multiplies values by the
    2.4th root. `uneven` lets it be another on each side of the picture, which sways along.
    """

    kind = "flicker"
    stage = "film"
    summary = "a lamp that flutters"
    keywords = ("flutter", "pulse", "jitter", "old projector", "brightness")
    shown = {"strength": 0.4, "uneven": 1}
    max_added_change = 0.06

    strength: float = setting(
        0.08, 0, 0.4, minimum=0, maximum=0.8, label="Strength", help="Of the light, at the most."
    )
    pace: float = setting(
        4.0,
        0.2,
        10,
        unit="pace",
        minimum=0.01,
        maximum=24,
        label="Speed",
        help="How often it turns, in 24 frames.",
    )
    uneven: float = setting(
        0.3,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Irregularity",
        help="How much each side has its own.",
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, another lamp.")

    def prepare(self, context: FrameContext) -> Lamp:
        """The lamp at this frame."""
        slow = context.frame * self.pace / 24
        n, right, down = (float(noise_1d(self.seed, 310 + k, slow)) for k in range(3))
        power = 1 / float(DISPLAY_GAMMA)
        lean = 0.5 * self.strength * self.uneven * power
        return Lamp(
            np.float32((1 + self.strength * n) ** power),
            np.float32(lean * right * 2 / context.size.width),
            np.float32(lean * down * 2 / context.size.height),
        )

    def apply(self, band: Band[Lamp]) -> None:
        """The picture in that light."""
        lamp: Lamp = band.prepared
        height = band.context.size.height
        _apply_gain(band.picture, band.top - 0.5 * height + 0.5, *lamp, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _apply_gain(
    picture: Picture,
    top: float,
    gain: np.float32,
    right: np.float32,
    down: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    height, width = picture.shape[1:]
    middle = np.float32(0.5 * width - 0.5)
    for y in range(height):
        line = gain * (np.float32(1) + down * np.float32(top + y))
        for c in range(3):
            for x in range(width):
                by = line * (np.float32(1) + right * (np.float32(x) - middle))
                out[c, out_top + y, x] = picture[c, y, x] * by
