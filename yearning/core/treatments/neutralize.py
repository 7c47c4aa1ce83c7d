"""Neutralize."""

import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.colour.luma import luma_of_rgb
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting

MIN_CHANNEL = 0.02
"""A picked channel below it is taken as it: noise near black would else be blown up."""


class Neutralize(ColourOnly, Treatment[NDArray[np.float32]]):
    """A colour cast taken out by a colour that should be grey.

    Each channel is divided by that of the picked colour and multiplied by its luma, so the picked
    colour becomes the grey of its own luma (common practice, no source).
    """

    kind = "neutralize"
    stage = "colour"
    summary = "a colour cast taken out by what should be grey"
    keywords = ("white balance", "neutral", "remove tint", "colour cast", "grey card")
    shown = {"colour": "#a08060"}

    colour: Colour = setting(
        "#808080", unit="colour", label="Grey reference", help="Pick it from the picture."
    )
    strength: float = setting(
        1.0, 0, 1, label="Strength", help="How far the cast is taken out.", enabled_by="colour"
    )

    def prepare(self, context: FrameContext) -> NDArray[np.float32]:
        """What each channel is multiplied by, shape `(3, 1, 1)`."""
        picked = np.maximum(rgb_of(self.colour), np.float32(MIN_CHANNEL))
        gains = 1 + np.float32(self.strength) * (luma_of_rgb(picked) / picked - 1)
        return gains.astype(np.float32)[:, None, None]

    def apply(self, band: Band[NDArray[np.float32]]) -> None:
        """The picture without the cast."""
        np.multiply(band.picture, band.prepared, out=band.result)
