"""Levels."""

from typing import NamedTuple, Self

import numba
import numpy as np
from pydantic import model_validator

from yearning.core.colour.power import power
from yearning.core.kernel_arrays import copy_line, new_line
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly, FitsClip
from yearning.core.treatment.clip_tones import ClipTones
from yearning.core.treatment.settings import setting
from yearning.core.treatment.tone_values import Percentile, ToneValue, tone_number, tone_setting

MIN_APART = 1e-3


class Mapping(NamedTuple):
    """out_black + span · t^exponent, with t = gain · V + offset held between floor and ceiling."""

    gain: np.float32
    offset: np.float32
    exponent: np.float32
    span: np.float32
    out_black: np.float32
    floor: np.float32
    ceiling: np.float32


class Levels(ColourOnly, FitsClip, Treatment[Mapping]):
    """Black and white set anew, and the tones between bent.

    t = (V − black) / (white − black); V' = out_black + (out_white − out_black) · t^(1/gamma), for
    each channel (common practice, no source). What a black above 0 or a white below 1 crushes is
    cut, t held to 0..1, unless it is told to keep what lies beyond: then later steps can bring it
    back, and below black the power goes on mirrored.
    """

    kind = "levels"
    stage = "colour"
    summary = "black and white set anew, mid-tones bent between"
    keywords = ("contrast", "black point", "white point", "gamma", "crush", "threshold")
    shown = {"black": 0.1, "white": 0.85, "gamma": 1.2}
    max_added_change = 0.05

    black: ToneValue = tone_setting(0.0, 0, 1, label="Black", help="What becomes black.")
    gamma: float = setting(
        1.0,
        0.2,
        5,
        unit="factor",
        minimum=0.05,
        maximum=20,
        label="Gamma",
        help="Above 1 lightens what is between black and white.",
    )
    white: ToneValue = tone_setting(1.0, 0, 1, label="White", help="What becomes white.")
    out_black: float = setting(0.0, 0, 1, label="Black out", help="What black is shown as.")
    out_white: float = setting(1.0, 0, 1, label="White out", help="What white is shown as.")
    keep_beyond: bool = setting(
        False,
        unit="switch",
        label="Keep what is crushed",
        help="What is crushed lives on unseen, so that a later step can bring it back.",
    )

    @model_validator(mode="after")
    def _black_below_white(self) -> Self:
        match self.black, self.white:
            case Percentile(black), Percentile(white) if white <= black:
                raise ValueError("white's percentile lies above that of black")
            case int() | float(), int() | float() if self._span() < MIN_APART:
                raise ValueError(f"white lies above black, by at least {MIN_APART}")
        return self

    def _span(self) -> float:
        return tone_number(self.white) - tone_number(self.black)

    @classmethod
    def fit_to_clip(cls, tones: ClipTones) -> dict[str, float]:
        """Black and white where the clip's lie; the mid-tones as they are."""
        white = max(tones.white, tones.black + 2 * MIN_APART)
        return {"black": round(tones.black, 3), "white": round(white, 3)}

    def prepare(self, context: FrameContext) -> Mapping:
        """Return the mapping of the settings."""
        black, white = tone_number(self.black), tone_number(self.white)
        gain = 1 / max(self._span(), MIN_APART)  # percentiles of a flat clip lie together
        span = self.out_white - self.out_black
        floor = 0.0 if black > 0 and not self.keep_beyond else -np.inf
        ceiling = 1.0 if white < 1 and not self.keep_beyond else np.inf
        values = (gain, -black * gain, 1 / self.gamma, span, self.out_black, floor, ceiling)
        return Mapping(*map(np.float32, values))

    def apply(self, band: Band[Mapping]) -> None:
        """The picture at its new levels."""
        _apply_levels(band.picture, *band.prepared, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _apply_levels(
    picture: Picture,
    gain: np.float32,
    offset: np.float32,
    exponent: np.float32,
    span: np.float32,
    low: np.float32,
    floor: np.float32,
    ceiling: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    width = picture.shape[2]
    line, bent = new_line(width), new_line(width)
    for c in range(3):
        for y in range(picture.shape[1]):
            for x in range(width):
                line[x] = min(max(gain * picture[c, y, x] + offset, floor), ceiling)
            if exponent != np.float32(1):
                power(line, exponent, bent)
            else:
                copy_line(line, bent)
            for x in range(width):
                out[c, out_top + y, x] = span * bent[x] + low
