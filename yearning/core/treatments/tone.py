"""Tone."""

import math

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import fill_luma_line
from yearning.core.colour.power import power
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly, FitsClip
from yearning.core.treatment.clip_tones import ClipTones
from yearning.core.treatment.settings import setting
from yearning.core.treatment.tone_values import ToneValue, tone_number, tone_setting

SPREAD = 0.5
"""What a clip's middle tones are spread over when contrast is set from it."""

BLACKS = 0.2
"""How far full blacks move black."""

BUMP = 0.14
"""How far full shadows or highlights move the tone they move most, a third from the end."""

PEAK = 27 / 4
"""1 over the highest value of y(1 − y)², at y = 1/3."""


class Tone(ColourOnly, FitsClip, Treatment[NDArray[np.float32]]):
    """Contrast, the ends of the scale, and colour.

    Contrast c bends luma y about a pivot p with slope k = 2^c there, black and white held:
    p (y/p)^k below, 1 − (1 − p) ((1 − y)/(1 − p))^k above. Blacks add (1 − y)³, shadows y(1 − y)²,
    highlights y²(1 − y), scaled. Then luma is laid under the colour differences, which saturation
    multiplies, and `pale_colours` most where colour is weak (common practice, no source).
    """

    kind = "tone"
    stage = "colour"
    summary = "contrast, shadows and highlights, saturation"
    keywords = ("saturation", "contrast", "shadows", "highlights", "fade", "weak colours")
    shown = {"contrast": 0.4, "saturation": 1.3}
    max_added_change = 0.002

    contrast: float = setting(
        0.0,
        -1,
        1,
        minimum=-3,
        maximum=3,
        label="Contrast",
        help="Steeper or flatter about the pivot.",
    )
    pivot: ToneValue = tone_setting(
        0.45,
        0.1,
        0.9,
        minimum=0.01,
        maximum=0.99,
        enabled_by="contrast",
        label="Pivot",
        help="The luma contrast leaves.",
    )
    blacks: float = setting(
        0.0, -1, 1, minimum=-3, maximum=3, label="Blacks", help="Black lifted, or crushed."
    )
    shadows: float = setting(
        0.0, -1, 1, minimum=-3, maximum=3, label="Shadows", help="The dark tones."
    )
    highlights: float = setting(
        0.0, -1, 1, minimum=-3, maximum=3, label="Highlights", help="The bright tones."
    )
    saturation: float = setting(
        1.0, 0, 2, unit="fraction", minimum=0, maximum=10, label="Saturation", help="0 % is grey."
    )
    pale_colours: float = setting(
        0.0,
        -1,
        1,
        minimum=-1,
        maximum=3,
        label="Pale colours",
        help="How far pale colours are strengthened, or weakened, while strong ones stay.",
    )

    @classmethod
    def fit_to_clip(cls, tones: ClipTones) -> dict[str, float]:
        """The pivot at the clip's median, and contrast that spreads its tones over half the scale.

        The tones are those between the darkest and the brightest tenth.
        """
        contrast = math.log2(SPREAD / max(tones.bright - tones.dark, 0.05))
        pivot = min(max(tones.median, 0.1), 0.9)
        return {"contrast": round(min(max(contrast, -1), 1), 2), "pivot": round(pivot, 2)}

    def prepare(self, context: FrameContext) -> NDArray[np.float32]:
        """What the kernel takes, in its order."""
        values = [
            2**self.contrast,
            tone_number(self.pivot),
            BLACKS * self.blacks,
            BUMP * PEAK * self.shadows,
            BUMP * PEAK * self.highlights,
            self.saturation,
            self.pale_colours,
        ]
        return np.array(values, np.float32)

    def apply(self, band: Band[NDArray[np.float32]]) -> None:
        """The picture with its tones and colours moved."""
        _apply_tone(band.picture, band.prepared, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"}, error_model="numpy")
def _apply_tone(picture: Picture, values: NDArray[np.float32], out: Picture, out_top: int) -> None:
    zero, one = np.float32(0), np.float32(1)
    slope, pivot, blacks, shadows, highlights, saturation, pale = values
    per_low, per_high = one / pivot, one / (one - pivot)
    width = picture.shape[2]
    luma, toned, strength = (
        new_line(width),
        new_line(width),
        new_line(width),
    )
    for y in range(picture.shape[1]):
        r, g, b = picture[0, y], picture[1, y], picture[2, y]
        fill_luma_line(r, g, b, luma)
        if slope == one:
            for x in range(width):
                toned[x] = min(max(luma[x], zero), one)
        else:
            for x in range(width):
                inside = min(max(luma[x], zero), one)
                strength[x] = inside * per_low if inside < pivot else (one - inside) * per_high
            power(strength, slope, toned)
            for x in range(width):
                above = one - (one - pivot) * toned[x]
                toned[x] = pivot * toned[x] if luma[x] < pivot else above
        for x in range(width):
            t = toned[x]
            rest = one - t
            bent = t + rest * rest * (blacks * rest + shadows * t) + highlights * t * t * rest
            toned[x] = bent + (luma[x] - min(max(luma[x], zero), one))
        for x in range(width):
            spread = max(r[x], max(g[x], b[x])) - min(r[x], min(g[x], b[x]))
            weak = one - min(max(spread, zero), one)
            strength[x] = saturation * (one + pale * weak)
        for c in range(3):
            for x in range(width):
                out[c, out_top + y, x] = toned[x] + strength[x] * (picture[c, y, x] - luma[x])
