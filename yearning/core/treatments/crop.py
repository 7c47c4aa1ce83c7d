"""Crop."""

from typing import Any

from yearning.core.image.window import (
    box_of,
    draw_window,
    seen_at,
    window_carried,
    window_place,
    window_size,
)
from yearning.core.picture import Box, Size
from yearning.core.treatment.base import Band, Moment, Place, Points, Treatment, setting


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
        return box_of(self.ratio, full)

    def prepare(self, at: Moment) -> Any:
        """The picture."""
        return at.whole()

    def carried(self, points: Points, frame: int, full: Size) -> Points:
        """Where places are seen in the box."""
        return window_carried(points, box_of(self.ratio, full), self.size, self.place, full)

    def apply(self, band: Band) -> None:
        """The window in its box, on black."""
        box = seen_at(box_of(self.ratio, band.at.full), band.at.full, band.at.size)
        draw_window(band.prepared, band, box, self.size, self.place, (0.0, 0.0, 0.0))
