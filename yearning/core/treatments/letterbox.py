"""Letterbox."""

from typing import Any

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.image.window import (
    draw_window,
    map_to_window,
    ratio_box,
    scale_box,
    window_place,
    window_size,
)
from yearning.core.picture import Box, Size
from yearning.core.treatment.base import Band, FrameContext, Place, Points, Treatment, setting


class Letterbox(Treatment):
    """Bars that leave a frame of another shape; the result keeps its size.

    What is behind the bars can be brought out from under them by `place`.
    """

    kind = "letterbox"
    stage = "gate"
    says = "bars that leave another shape"
    handle = "window"
    geometry = True

    ratio: float = setting(
        2.39,
        0.5,
        2.76,
        unit="ratio",
        least=0.1,
        most=10,
        label="Ratio",
        help="Of the width to the height, between the bars.",
    )
    size: float = window_size()
    place: Place = window_place()
    colour: Colour = setting("#000000", unit="colour", label="Bars", help="The bars' colour.")

    def shown(self, full: Size) -> Box:
        """The box that is left."""
        return ratio_box(self.ratio, full)

    def prepare(self, at: FrameContext) -> Any:
        """The picture."""
        return at.whole()

    def carried(self, points: Points, frame: int, full: Size) -> Points:
        """Where places are seen in the box."""
        return map_to_window(points, ratio_box(self.ratio, full), self.size, self.place, full)

    def apply(self, band: Band) -> None:
        """The picture between bars."""
        box = scale_box(ratio_box(self.ratio, band.at.full), band.at.full, band.at.size)
        around = tuple(float(c) for c in rgb_of(self.colour))
        draw_window(band.prepared, band, box, self.size, self.place, around)
