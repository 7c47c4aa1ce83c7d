"""Crop."""

from typing import ClassVar

from yearning.core.treatment.framed_window import FramedWindow, ratio_setting


class Crop(FramedWindow):
    """The frame cut to another shape.

    The largest box of that ratio stays, and what is rendered is that box alone; until then the rest
    is black, whatever follows, and nothing is lost. With a smaller `size` less of the picture fills
    the box, and `place` says which.
    """

    kind = "crop"
    summary = "the frame cut to another shape"
    keywords = ("reframe", "square", "ratio", "zoom in", "cut")
    crops: ClassVar[bool] = True

    ratio: float = ratio_setting(1.0, "Of the width to the height.")
