"""Crop."""

from typing import Any

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


class Crop(Treatment):
    """The frame cut to another shape.

    The largest box of that ratio stays, and what is rendered is that box alone; until then the rest
    is black, whatever follows, and nothing is lost. With a smaller `size` less of the picture fills
    the box, and `place` says which.
    """

    kind = "crop"
    stage = "gate"
    says = "the frame cut to another shape"
    handle = "window"
    geometry = True
    cuts = True

    ratio: float = setting(
        1.0,
        0.5,
        2.76,
        unit="ratio",
        least=0.1,
        most=10,
        label="Ratio",
        help="Of the width to the height.",
    )
    size: float = window_size()
    place: Place = window_place()

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
        """The window in its box, on black."""
        box = scale_box(ratio_box(self.ratio, band.at.full), band.at.full, band.at.size)
        draw_window(band.prepared, band, box, self.size, self.place, (0.0, 0.0, 0.0))
