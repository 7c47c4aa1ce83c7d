"""Exposure."""

import numpy as np

from yearning.core.colour.transfer import DISPLAY_GAMMA
from yearning.core.treatment.base import Band, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting


class Exposure(ColourOnly, Treatment[None]):
    """More or less light, in stops.

    A stop is twice the light. Light is the display's (BT.1886 annex 1: L = V^2.4), so that s stops
    multiply display-coded values by 2^(s/2.4), whatever the value.
    """

    kind = "exposure"
    stage = "light"
    summary = "more or less light, in stops"
    keywords = ("brightness", "brighter", "darker", "stops", "gain", "light")
    effect = "mid-tones"
    shown = {"stops": 0.8}

    stops: float = setting(
        0.0,
        -5,
        5,
        unit="stops",
        minimum=-20,
        maximum=20,
        label="Stops",
        help="One more is twice the light.",
    )

    def apply(self, band: Band[None]) -> None:
        """The picture with its light multiplied."""
        gain = np.float32(2.0 ** (self.stops / float(DISPLAY_GAMMA)))
        np.multiply(band.picture, gain, out=band.result)
