"""Border."""

from typing import Literal, NamedTuple

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.image.marks import supersampling
from yearning.core.image.window import (
    centre_offset,
    draw_window,
    map_to_window,
    ratio_box,
    scale_box,
)
from yearning.core.noise.value_noise import noise_2d
from yearning.core.picture import Box, Picture, Plane, Size
from yearning.core.smoothstep import smoothstep
from yearning.core.treatment.assets import PlateSource
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import NamesPlate, WarpsFrame
from yearning.core.treatment.settings import Points, setting
from yearning.core.treatments.plate import Plate

NOISE = np.int64(510)
"""The first layer of noise that edges are rough by."""

FINER = 0.46
"""How far the two finer ones move an edge at most, as a part of how rough it is."""

LEAST = 0.51
"""How far out all of them together do, likewise."""

ROUGH = 15.0
"""px@1080 by which the roughest edge goes in and out, torn ones five times as far."""


CLEAR = 0.5
"""Of a plate that hides less than this, the picture is seen."""

SMALL_LINES = 270
"""Lines at which an opening is looked for before there is a frame."""


class Opening(NamedTuple):
    """The picture, where it is seen, how much of it fills that, and the plate around it."""

    picture: Picture
    box: Box
    part: float
    plate: Picture | None = None
    cover: Plane | None = None


class Border(WarpsFrame, NamesPlate, Treatment[Opening]):
    """The picture scaled into an opening: of a plate, or a gate, an oval, or torn paper.

    The whole height or width of the picture fills the opening, whichever leaves none of it empty;
    it is drawn by cubic convolution, widened where it is made smaller. A plate's opening is what is
    clear of it about the frame's middle. Edges of the others are rough by smooth noise of (seed,
    place), the same on every frame.
    """

    kind = "border"
    stage = "gate"
    summary = "the picture scaled into an opening"
    keywords = ("frame", "edge", "print edge", "film border", "mount", "opening")

    file: str = setting("", unit="plate", label="Plate", help="One with an opening; or none.")
    shape: Literal["rounded", "oval", "torn"] = setting(
        "rounded", unit="choice", visible_if={"file": [""]}, label="Outline", help="Of the opening."
    )
    ratio: float = setting(
        4 / 3,
        0.5,
        2.76,
        unit="ratio",
        minimum=0.1,
        maximum=10,
        visible_if={"file": [""]},
        label="Ratio",
        help="Of the opening.",
    )
    opening: float = setting(
        0.92,
        0.3,
        1,
        minimum=0.02,
        maximum=1,
        visible_if={"file": [""]},
        label="Opening",
        help="Of the largest one in the frame.",
    )
    corner: float = setting(
        0.12,
        0,
        0.5,
        minimum=0,
        maximum=0.5,
        label="Corner",
        visible_if={"file": [""], "shape": ["rounded"]},
        help="How round its corners are, of its height.",
    )
    roughness: float = setting(
        0.25,
        0,
        1,
        minimum=0,
        maximum=4,
        visible_if={"file": [""]},
        label="Roughness",
        help="How far the edge goes in and out.",
    )
    softness: float = setting(
        1.6,
        0.5,
        40,
        unit="px@1080",
        minimum=0.1,
        maximum=400,
        visible_if={"file": [""]},
        label="Softness",
        help="The edge's width.",
    )
    colour: Colour = setting(
        "#0b0a09", unit="colour", visible_if={"file": [""]}, label="Colour", help="Of the border."
    )
    seed: int = setting(
        1,
        0,
        9999,
        unit="seed",
        visible_if={"file": [""]},
        label="Seed",
        help="Another seed, another edge.",
    )

    def validate_plate(self, source: PlateSource) -> str | None:
        """Why nothing is seen in a plate's opening."""
        if source.frames == 0:
            return None
        small = source.size.with_height(min(SMALL_LINES, source.size.height))
        matte = source.matte(0, small)
        if matte is None or _clear(matte) is None:
            return "the plate is not clear in its middle; choose one with an opening there"
        return None

    def prepare(self, context: FrameContext) -> Opening:
        """The picture, and its opening."""
        if self.file:
            laid = Plate(file=self.file).prepare(context)
            box = None if laid.cover is None else _clear(laid.cover)
            if box is None:
                box = Box(0, 0, context.size.width, context.size.height)
            part = min(context.size.width / box.width, context.size.height / box.height)
            return Opening(context.whole_picture(), box, part, *laid)
        box, part = self._opening(context.full_size)
        return Opening(
            context.whole_picture(), scale_box(box, context.full_size, context.size), part
        )

    def _opening(self, full_size: Size) -> tuple[Box, float]:
        """The opening, and how much of a picture as large as it would fill it."""
        whole = ratio_box(self.ratio, full_size)
        wide, high = whole.width * self.opening, whole.height * self.opening
        box = Box((full_size.width - wide) / 2, (full_size.height - high) / 2, wide, high)
        return box, min(full_size.width / wide, full_size.height / high)

    def map_points(self, points: Points, frame: int, full_size: Size) -> Points:
        """Return where places are seen in the opening; in a plate's they are left where they were.

        Args:
            points: shape `(n, 2)`, x then y, in footage pixels.
            frame: of the footage.
            full_size: of the footage.
        """
        if self.file:
            return points
        box, part = self._opening(full_size)
        return map_to_window(points, box, part, centre_offset(box, part, full_size))

    def apply(self, band: Band[Opening]) -> None:
        """The picture in its opening, and the border around."""
        opening: Opening = band.prepared
        box, scale = opening.box, band.context.scale
        colour = rgb_of(self.colour).astype(np.float32)
        far = 0.0 if self.file else ROUGH * self.roughness * (5 if self.shape == "torn" else 1)
        more = (0.6 * far + self.softness + 2) * scale
        drawn = Box(box.left - more, box.top - more, box.width + 2 * more, box.height + 2 * more)
        red, green, blue = map(float, colour)
        surround = red, green, blue
        offset = centre_offset(drawn, opening.part, band.context.size)
        draw_window(
            opening.picture, drawn, opening.part, offset, surround, band.top, *band.result_rows
        )
        if self.file:
            self._lay(opening, band)
            return
        corner = {"rounded": self.corner, "oval": -1.0, "torn": 0.0}[self.shape]
        _border_coverage(
            *band.result_rows,
            band.top,
            np.array([box.left, box.top, box.width, box.height]) / scale,
            corner * box.height / scale,
            far,
            max(self.softness, 1 / band.context.full_size.scale),
            1 / scale,
            supersampling(band.context.size, band.context.full_size),
            self.seed,
            colour,
        )

    def _lay(self, opening: Opening, band: Band[Opening]) -> None:
        """The plate's rows over the picture in its opening."""
        if opening.plate is None:
            return
        top, bottom = band.rows
        rows, plate = band.result, opening.plate[:, top:bottom]
        cover = np.float32(1) if opening.cover is None else opening.cover[top:bottom]
        rows += cover * (plate - rows)


def _clear(cover: Plane) -> Box | None:
    """Return the box of the clear part around a plate's middle."""
    height, width = cover.shape
    clear = (cover < CLEAR).astype(np.uint8)
    if not clear[height // 2, width // 2]:
        return None
    _, parts, stats, _ = cv2.connectedComponentsWithStats(clear)
    left, top, wide, high, _ = stats[parts[height // 2, width // 2]]
    return Box(float(left), float(top), float(wide), float(high))


@numba.njit(nogil=True, cache=True, fastmath=True)
def _border_coverage(
    whole: Picture,
    first: int,
    last: int,
    top: int,
    box: NDArray[np.float64],
    corner: float,
    rough: float,
    soft: float,
    pixel: float,
    samples: int,
    seed: int,
    colour: NDArray[np.float32],
) -> None:
    """Cover what lies outside the opening, in px@1080; a corner below 0 is an oval's."""
    rows = whole[:, first:last]
    half_x, half_y = 0.5 * box[2], 0.5 * box[3]
    middle_x, middle_y = box[0] + half_x, box[1] + half_y
    edge = 1.4 * rough + soft + pixel
    beyond = LEAST * rough + soft + pixel
    for y in range(rows.shape[1]):
        down = (top + y + 0.5) * pixel - middle_y
        left, right_of = _not_outside(
            rows.shape[2], middle_x, down, half_x, half_y, corner, beyond, pixel
        )
        for c in range(3):
            rows[c, y, :left] = colour[c]
            rows[c, y, right_of:] = colour[c]
        x = left - 1
        while x + 1 < right_of:
            x += 1
            right = (x + 0.5) * pixel - middle_x
            inside = _distance_inside(right, down, half_x, half_y, corner)
            if inside > edge:  # and so is all as far on the other side: an opening is convex
                x = max(x, int((middle_x - right) / pixel - 0.5) - 1)
                continue
            seen = np.float32(0)
            for j in range(samples):
                v = down + ((j + 0.5) / samples - 0.5) * pixel
                for i in range(samples):
                    u = right + ((i + 0.5) / samples - 0.5) * pixel
                    deep = _distance_inside(u, v, half_x, half_y, corner)
                    if rough > 0:
                        deep -= rough * _rough(seed, u, v, deep / rough, soft / rough)
                    seen += smoothstep(np.float32((deep + 0.5 * soft) / soft))
            cover = np.float32(1) - np.float32(seen / (samples * samples))
            for c in range(3):
                rows[c, y, x] += cover * (colour[c] - rows[c, y, x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _not_outside(
    width: int,
    middle_x: float,
    down: float,
    half_x: float,
    half_y: float,
    corner: float,
    beyond: float,
    pixel: float,
) -> tuple[int, int]:
    """Return the first pixel of a row that is not farther out than `beyond`, and the one after all.

    From the middle outwards, on either side alike, a row goes ever farther out: where it does is
    found by halving, to within a pixel, which is left in.
    """
    if _distance_inside(0.0, down, half_x, half_y, corner) <= -beyond:
        return width, width
    near, far = 0.0, max(middle_x, width * pixel - middle_x)
    while far - near > pixel:
        right = 0.5 * (near + far)
        if _distance_inside(right, down, half_x, half_y, corner) > -beyond:
            near = right
        else:
            far = right
    left = int(max((middle_x - far) / pixel - 0.5, 0.0))
    return left, min(int((middle_x + far) / pixel + 0.5) + 1, width)


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _distance_inside(
    right: float, down: float, half_x: float, half_y: float, corner: float
) -> float:
    """Return the distance inside the edge in px@1080; below 0 outside."""
    if corner < 0:
        u, v = right / half_x, down / half_y
        q = np.sqrt(u * u + v * v)
        slope = np.sqrt((u / half_x) ** 2 + (v / half_y) ** 2)
        return float(q * (1 - q) / max(slope, 1e-9))
    u, v = abs(right) - half_x + corner, abs(down) - half_y + corner
    return float(corner - np.sqrt(max(u, 0.0) ** 2 + max(v, 0.0) ** 2) - min(max(u, v), 0.0))


@numba.njit(nogil=True, cache=True, fastmath=True)
def _rough(seed: int, right: float, down: float, deep: float, soft: float) -> float:
    """Return how far a rough edge comes in at a place, 0..1; nearly, where it is not near there.

    `deep` and `soft` are how far inside the even edge the place is, and how wide the edge is, as
    parts of how rough it is.
    """
    wide = float(0.55 + 0.6 * noise_2d(seed, NOISE, right / 90, down / 90))
    if abs(deep - wide) > FINER + soft:
        return wide
    fine = noise_2d(seed, NOISE + 1, right / 17, down / 17)
    grit = noise_2d(seed, NOISE + 2, right / 4.5, down / 4.5)
    return float(wide + 0.3 * fine + 0.16 * grit)
