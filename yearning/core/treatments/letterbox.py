"""Letterbox."""

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.treatment.framed_window import FramedWindow, ratio_setting
from yearning.core.treatment.settings import setting


class Letterbox(FramedWindow):
    """Bars that leave a frame of another shape; the result keeps its size.

    What is behind the bars can be brought out from under them by `place`.
    """

    kind = "letterbox"
    summary = "bars that leave another shape"
    keywords = ("bars", "cinema", "widescreen", "scope", "ratio")

    ratio: float = ratio_setting(2.39, "Of the width to the height, between the bars.")
    colour: Colour = setting("#000000", unit="colour", label="Bars", help="The bars' colour.")

    def surround(self) -> tuple[float, float, float]:
        """R', G', B' of the bars."""
        red, green, blue = map(float, rgb_of(self.colour))
        return red, green, blue
