"""Balance."""

from typing import Annotated, Literal

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator

from yearning.core.colour.cdl import grade
from yearning.core.colour.hues import tint_of
from yearning.core.colour.luma import fill_luma_line
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture
from yearning.core.smoothstep import smoothstep, smoothstep_array
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting

TINT = 0.25
"""How far full strength moves a colour from grey, in parts of the way to its hue."""

LIFT = 0.25
"""How far full lightness moves luma."""

SHADOWS_END, HIGHLIGHTS_BEGIN = 0.6, 0.4

Channels = tuple[float, float, float]


def _not_negative(values: Channels) -> Channels:
    if min(values) < 0:
        raise ValueError("slopes and saturation are 0 or more")
    return values


def _positive(values: Channels) -> Channels:
    if min(values) <= 0:
        raise ValueError("powers are above 0")
    return values


def ranges(luma: NDArray[np.float64]) -> NDArray[np.float64]:
    """How much of a shadow, mid-tone and highlight a luma is, shape `(3, …)`; they sum to 1."""
    shadow = 1 - smoothstep_array(luma / SHADOWS_END)
    highlight = smoothstep_array((luma - HIGHLIGHTS_BEGIN) / (1 - HIGHLIGHTS_BEGIN))
    return np.stack([shadow, 1 - shadow - highlight, highlight])


_IN_RANGES = {"mode": ["ranges"]}
_AS_CDL = {"mode": ["cdl"]}


class Balance(ColourOnly, Treatment[NDArray[np.float32] | None]):
    """Shadows, mid-tones and highlights each turned towards a colour, lighter or darker.

    In `ranges` three smooth, overlapping windows over luma that sum to 1 weigh the three; a colour
    is added without its luma, so strength changes none (common practice, no source). In `cdl` the
    picture is graded by slope, offset, power and saturation, as ASC CDL v1.2 has it:
    V' = clamp(V · slope + offset)^power, then luma + saturation · (V' − luma), clamped.
    """

    kind = "balance"
    stage = "colour"
    summary = "shadows, mid-tones and highlights, each towards a colour"
    keywords = (
        "colour grade",
        "tint",
        "teal and orange",
        "lift gamma gain",
        "white balance",
        "cdl",
        "cold",
        "warm",
    )
    shown = {
        "shadows_hue": 220,
        "shadows_strength": 0.4,
        "highlights_hue": 40,
        "highlights_strength": 0.4,
    }
    max_added_change = 0.004

    mode: Literal["ranges", "cdl"] = setting(
        "ranges",
        unit="choice",
        label="By",
        help="Three ranges of tone, or slope, offset, power and saturation (ASC CDL).",
    )
    shadows_hue: float = setting(
        210.0,
        0,
        360,
        unit="degrees",
        label="Shadows hue",
        visible_if=_IN_RANGES,
        enabled_by="shadows_strength",
    )
    shadows_strength: float = setting(0.0, 0, 1, label="Shadows strength", visible_if=_IN_RANGES)
    shadows_lightness: float = setting(0.0, -1, 1, label="Shadows lightness", visible_if=_IN_RANGES)
    mids_hue: float = setting(
        30.0,
        0,
        360,
        unit="degrees",
        label="Mids hue",
        visible_if=_IN_RANGES,
        enabled_by="mids_strength",
    )
    mids_strength: float = setting(0.0, 0, 1, label="Mids strength", visible_if=_IN_RANGES)
    mids_lightness: float = setting(0.0, -1, 1, label="Mids lightness", visible_if=_IN_RANGES)
    highlights_hue: float = setting(
        45.0,
        0,
        360,
        unit="degrees",
        label="Highlights hue",
        visible_if=_IN_RANGES,
        enabled_by="highlights_strength",
    )
    highlights_strength: float = setting(
        0.0, 0, 1, label="Highlights strength", visible_if=_IN_RANGES
    )
    highlights_lightness: float = setting(
        0.0, -1, 1, label="Highlights lightness", visible_if=_IN_RANGES
    )
    slope: Annotated[Channels, AfterValidator(_not_negative)] = setting(
        (1.0, 1.0, 1.0), 0, 2, unit="channels", label="Slope", visible_if=_AS_CDL
    )
    offset: Channels = setting(
        (0.0, 0.0, 0.0), -0.5, 0.5, unit="channels", label="Offset", visible_if=_AS_CDL
    )
    power: Annotated[Channels, AfterValidator(_positive)] = setting(
        (1.0, 1.0, 1.0), 0.2, 3, unit="channels", label="Power", visible_if=_AS_CDL
    )
    saturation: float = setting(
        1.0, 0, 2, unit="fraction", minimum=0, maximum=20, label="Saturation", visible_if=_AS_CDL
    )

    def prepare(self, context: FrameContext) -> NDArray[np.float32] | None:
        """What each range adds, or slopes, offsets and powers; None for a grade of nothing."""
        if self.mode == "ranges":
            return self._moves()
        if (self.slope, self.offset, self.power) == _NEUTRAL and self.saturation == 1:
            return None
        return np.array([self.slope, self.offset, self.power], np.float32)

    def apply(self, band: Band[NDArray[np.float32] | None]) -> None:
        """The picture in balance."""
        if band.prepared is None:
            band.copy_through()
        elif self.mode == "cdl":
            saturation = np.float32(self.saturation)
            grade(band.picture, band.prepared, saturation, True, band.out, band.out_top)
        else:
            _by_ranges(band.picture, band.prepared, band.out, band.out_top)

    def _moves(self) -> NDArray[np.float32]:
        """What each range adds to R, G and B, shape `(3 ranges, 3 channels)`."""
        parts = (
            (self.shadows_hue, self.shadows_strength, self.shadows_lightness),
            (self.mids_hue, self.mids_strength, self.mids_lightness),
            (self.highlights_hue, self.highlights_strength, self.highlights_lightness),
        )
        moves = [TINT * strength * tint_of(hue) + LIFT * light for hue, strength, light in parts]
        return np.array(moves, np.float32)


_NEUTRAL = ((1.0, 1.0, 1.0), (0.0, 0.0, 0.0), (1.0, 1.0, 1.0))


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _by_ranges(picture: Picture, moves: NDArray[np.float32], out: Picture, out_top: int) -> None:
    one = np.float32(1)
    begin, end = np.float32(HIGHLIGHTS_BEGIN), np.float32(SHADOWS_END)
    per_low, per_high = one / end, one / (one - begin)
    width = picture.shape[2]
    luma = new_line(width)
    low, high = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        fill_luma_line(picture[0, y], picture[1, y], picture[2, y], luma)
        for x in range(width):
            low[x] = one - smoothstep(luma[x] * per_low)
        for x in range(width):
            high[x] = smoothstep((luma[x] - begin) * per_high)
        for c in range(3):
            shadow, mid, light = moves[0, c], moves[1, c], moves[2, c]
            for x in range(width):
                out[c, out_top + y, x] = picture[c, y, x] + (
                    low[x] * shadow + (one - low[x] - high[x]) * mid + high[x] * light
                )
