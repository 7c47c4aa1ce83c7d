"""Lines."""

import numpy as np
from numpy.typing import NDArray

from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import AddsTexture, FixedPattern, Lively
from yearning.core.treatment.settings import setting


class Lines(FixedPattern, Lively, AddsTexture, Treatment[NDArray[np.float32]]):
    """Scan lines: dark ones between light ones, half of the picture each.

    Values are multiplied by 1 − darkness · p, with p from 0 to 1 and back over each pitch, along
    edges that run as 3s² − 2s³; each pixel's row has the mean of it over its height, so that
    no pitch aliases, and a smaller picture shows the full size's lines averaged.
    """

    kind = "lines"
    stage = "ink & signal"
    summary = "scan lines, still or rolling"
    keywords = ("scan lines", "interlace", "monitor", "tube", "crt", "television")
    shown = {"pitch": 18, "darkness": 0.6}
    max_added_change = 0.1

    pitch: float = setting(
        4.0,
        2,
        40,
        unit="px@1080",
        minimum=0.5,
        maximum=400,
        label="Pitch",
        help="From line to line.",
    )
    darkness: float = setting(
        0.35, 0, 1, minimum=0, maximum=1, label="Darkness", help="Of the dark lines' middles."
    )
    softness: float = setting(
        0.6,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Softness",
        help="How softly dark goes over to light.",
    )
    roll: float = setting(
        0.0,
        -12,
        12,
        unit="pace",
        minimum=-240,
        maximum=240,
        label="Roll",
        help="How many lines pass downwards in 24 frames.",
    )

    def is_lively(self) -> bool:
        """It changes from frame to frame where it rolls."""
        return self.roll != 0

    def prepare(self, context: FrameContext) -> NDArray[np.float32]:
        """What each row is multiplied by."""
        edges = np.arange(context.size.height + 1) / (self.pitch * context.size.scale)
        passed = np.fmod(self.roll * context.frame / 24, 1.0)
        dark = np.diff(self._darkness_integral(edges - passed)) * self.pitch * context.size.scale
        return (1 - self.darkness * dark).astype(np.float32)

    def _darkness_integral(self, at: NDArray[np.float64]) -> NDArray[np.float64]:
        """The integral of p from the middle of a light line on, in pitches."""
        whole = np.floor(at)
        far = at - whole - 0.5  # from the dark line's middle
        away, soft = np.abs(far), max(0.5 * self.softness, 1e-6)
        inner = 0.25 - soft / 2
        t = np.clip((away - inner) / soft, 0, 1)
        half = np.minimum(away, inner) + soft * (t - t**3 + t**4 / 2)
        return 0.5 * whole + 0.25 + np.sign(far) * half

    def apply(self, band: Band[NDArray[np.float32]]) -> None:
        """The picture with lines."""
        rows: NDArray[np.float32] = band.prepared[slice(*band.rows)]
        np.multiply(band.picture, rows[:, None], out=band.result)
