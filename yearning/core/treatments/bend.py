"""Bend."""

from typing import Any, Literal, NamedTuple

import numba
import numpy as np

from yearning.core.buffers import new_array
from yearning.core.image.remap import remap_plane
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import WarpsFrame
from yearning.core.treatment.settings import Points, setting

FRINGE = 0.006
"""Of the picture, by which red is larger and blue smaller at full fringe."""

MIN_GROWN = 0.3
"""Of the picture, at least, that is left when it is enlarged to hide its corners."""


class Bent(NamedTuple):
    """The picture, and how much of it, for R, G and B, is shown."""

    picture: Picture
    parts: tuple[float, float, float]


class Bend(WarpsFrame, Treatment[Bent]):
    """Lines bent as by an old lens, and its colours drawn at sizes of their own.

    Each place p, from the centre and 1 at the corners, shows what was at p (1 + k1 r² + k2 r⁴),
    with k1 the barrel and k2 the edge barrel: the radial terms of Brown's model (D. C. Brown,
    Close-Range Camera Calibration, Photogrammetric Engineering 37, 1971), in the direction in which
    OpenCV undistorts. Positive ones bend lines outwards at their middle.
    """

    kind = "bend"
    stage = "glass"
    summary = "lines bent, and colours parted, as by an old lens"
    keywords = (
        "lens distortion",
        "barrel",
        "pincushion",
        "fisheye",
        "chromatic aberration",
        "fringe",
    )
    shown = {"barrel": 0.3, "fringe": 1}
    handle = "bow"

    barrel: float = setting(
        0.12, -0.5, 0.5, minimum=-1, maximum=2, label="Barrel", help="Bends all of the picture."
    )
    edge_barrel: float = setting(
        0.0, -0.5, 0.5, minimum=-1, maximum=2, label="Edge barrel", help="Bends its corners most."
    )
    fringe: float = setting(
        0.2,
        -1,
        1,
        minimum=-10,
        maximum=10,
        label="Fringe",
        help="Red drawn larger and blue smaller: coloured edges towards the corners.",
    )
    cover: Literal["grow", "mirror", "black"] = setting(
        "grow",
        unit="choice",
        label="Cover",
        help="Corners left empty: hidden by enlarging the picture, mirrored, or black.",
    )

    def prepare(self, context: FrameContext) -> Bent:
        """The picture, and how much of it is shown."""
        part = self._part(context.size) if self.cover == "grow" else 1.0
        by = FRINGE * self.fringe
        return Bent(context.whole_picture(), (part / (1 + by), part, part / (1 - by)))

    def map_points(self, points: Points, frame: int, full_size: Size) -> Points:
        """Map points as they are seen in the green plane, to about a thousandth of a pixel.

        Args:
            points: shape `(n, 2)`, x then y, in footage pixels.
            frame: of the footage.
            full_size: of the footage.
        """
        middle = np.array([full_size.width, full_size.height]) / 2
        unit = float(np.hypot(*middle))
        was = (points - middle) / unit
        now = was
        for _ in range(40):
            q = np.sum(now**2, axis=1, keepdims=True)
            now = was / (1 + q * (self.barrel + q * self.edge_barrel))
        part = self._part(full_size) if self.cover == "grow" else 1.0
        return now / part * unit + middle

    def apply(self, band: Band[Bent]) -> None:
        """Rows of the picture bent."""
        bent: Bent = band.prepared
        height, width = bent.picture.shape[1:]
        right, down = new_array((2, band.picture.shape[1], width))
        drawn: Plane = new_array(right.shape)
        for plane, part in enumerate(bent.parts):
            if plane == 0 or part != bent.parts[plane - 1]:
                _bent_places(
                    band.top,
                    height,
                    np.float32(part),
                    np.float32(self.barrel),
                    np.float32(self.edge_barrel),
                    right,
                    down,
                )
            remap_plane(bent.picture[plane], right, down, self.cover == "black", drawn)
            band.result[plane] = drawn

    def _part(self, size: Size) -> float:
        """Return the part of the picture that can be shown with nothing from beyond its edges."""
        half = np.array([size.width, size.height]) / np.hypot(size.width, size.height)
        along = np.linspace(0, 1, 65)
        rim = np.concatenate(
            [np.hypot(half[0], half[1] * along), np.hypot(half[0] * along, half[1])]
        )
        low, high = MIN_GROWN, 1.0
        if self._stretch(high * rim) <= 1:
            low = high
        while high - low > 1e-5:
            part = (low + high) / 2
            if part * self._stretch(part * rim) <= 1:
                low = part
            else:
                high = part
        return low * (1 - FRINGE * abs(self.fringe))

    def _stretch(self, radius: Any) -> float:
        """Return the largest outward move at some distance from the centre."""
        return float(np.max(1 + self.barrel * radius**2 + self.edge_barrel * radius**4))


@numba.njit(nogil=True, cache=True, fastmath=True)
def _bent_places(
    top: int,
    height: int,
    part: np.float32,
    k1: np.float32,
    k2: np.float32,
    right: Plane,
    down: Plane,
) -> None:
    """Compute the picture coordinates that each pixel of the rows from `top` on is drawn from."""
    rows, width = right.shape
    middle_x, middle_y = np.float32(width / 2), np.float32(height / 2)
    one, half = np.float32(1), np.float32(0.5)
    per = one / np.float32(np.sqrt(width * width + height * height) / 2)
    for i in range(rows):
        y = (np.float32(top + i) + half - middle_y) * part
        for x in range(width):
            across = (np.float32(x) + half - middle_x) * part
            q = (across * across + y * y) * per * per
            by = one + q * (k1 + q * k2)
            right[i, x] = across * by + middle_x - half
            down[i, x] = y * by + middle_y - half
