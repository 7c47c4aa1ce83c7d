"""What crop and letterbox share: a window of the picture, shown in a box of a given ratio."""

from yearning.core.image.window import draw_window, map_to_window, ratio_box, scale_box
from yearning.core.picture import Box, Picture, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import WarpsFrame
from yearning.core.treatment.settings import Place, Points, setting


class FramedWindow(WarpsFrame, Treatment[Picture]):
    """Base of treatments that show a window of the picture in the largest box of a ratio."""

    stage = "gate"
    handle = "window"

    ratio: float
    size: float = setting(
        1.0,
        0.2,
        1,
        minimum=0.02,
        maximum=1,
        label="Size",
        help="How much of the largest frame's width is shown, enlarged to fill it.",
    )
    place: Place = setting(
        (0.5, 0.5),
        0,
        1,
        unit="place",
        label="Place",
        help="The middle of what is shown, in the picture; held so that it stays within.",
    )
    align: bool = setting(
        False,
        unit="switch",
        label="Align to edge",
        help="Counts the place from edge to edge: at 0 and 1 what is shown ends with the picture.",
    )

    def surround(self) -> tuple[float, float, float]:
        """R', G', B' around the box."""
        return 0.0, 0.0, 0.0

    def visible_box(self, full_size: Size) -> Box:
        """The box that is left of the frame."""
        return ratio_box(self.ratio, full_size)

    def map_points(self, points: Points, frame: int, full_size: Size) -> Points:
        """Return where points are seen in the box.

        Args:
            points: shape `(n, 2)`, x then y, in footage pixels.
            frame: of the footage.
            full_size: of the footage.
        """
        box = ratio_box(self.ratio, full_size)
        return map_to_window(points, box, self.size, self._offset(full_size, full_size))

    def source_box(self, box: Box, full_size: Size) -> Box:
        """Return what of the picture is seen in a box of the result.

        Args:
            box: in footage pixels.
            full_size: of the footage.
        """
        frame = ratio_box(self.ratio, full_size)
        left, top = self._offset(full_size, full_size)
        return Box(
            (box.left - frame.left) * self.size + left,
            (box.top - frame.top) * self.size + top,
            box.width * self.size,
            box.height * self.size,
        )

    def _offset(self, full_size: Size, size: Size) -> tuple[float, float]:
        """Where the window begins, in pixels of a picture of `size`."""
        box = scale_box(ratio_box(self.ratio, full_size), full_size, size)
        along = []
        for whole, part, place in zip(
            size, (box.width * self.size, box.height * self.size), self.place, strict=True
        ):
            start = place * (whole - part) if self.align else place * whole - part / 2
            along.append(min(max(start, 0.0), whole - part))
        return along[0], along[1]

    def prepare(self, context: FrameContext) -> Picture:
        """The whole picture."""
        return context.whole_picture()

    def apply(self, band: Band[Picture]) -> None:
        """Draw the window in its box, on the surround."""
        full, size = band.context.full_size, band.context.size
        box = scale_box(ratio_box(self.ratio, full), full, size)
        offset = self._offset(full, size)
        surround = self.surround()
        draw_window(band.prepared, box, self.size, offset, surround, band.top, *band.result_rows)


def ratio_setting(default: float, help: str) -> float:
    """Return the setting of a box's ratio, width to height.

    Args:
        default: the ratio as it is made.
        help: what it does, in a sentence.
    """
    ratio: float = setting(
        default, 0.5, 2.76, unit="ratio", minimum=0.1, maximum=10, label="Ratio", help=help
    )
    return ratio
