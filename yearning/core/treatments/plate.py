"""Plate."""

import math
from typing import Annotated, Any, Literal, NamedTuple

import cv2
import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator, Field

from yearning.core.colour.curves import apply_curve, curve_segments
from yearning.core.colour.luma import bt709_luma
from yearning.core.image.plate_drawing import (
    LEAST_ALPHA,
    WITHIN,
    cut_beyond,
    dissolve_layers,
    drawn_plate,
)
from yearning.core.kernel_arrays import copy_line, new_line
from yearning.core.noise.shuffle import shuffled_frame
from yearning.core.noise.throws import placement_matrix, throw
from yearning.core.picture import Box, Picture, Plane, Size
from yearning.core.treatment.assets import PlateSource
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import (
    AppliesLayer,
    Coverage,
    CoversPart,
    Lively,
    NamesPlate,
    Ride,
    RidesOnTrack,
)
from yearning.core.treatment.curve_points import STRAIGHT, CurvePoints
from yearning.core.treatment.settings import Place, setting, track_setting


def _check_span(span: tuple[int, int]) -> tuple[int, int]:
    if span[0] > span[1]:
        raise ValueError(f"it ends at {span[1]}, before it begins at {span[0]}")
    return span


Frame = Annotated[int, Field(ge=0)]
Span = Annotated[tuple[Frame, Frame], AfterValidator(_check_span)]
"""Frames from one to another, both among them."""


class Laid(NamedTuple):
    """The plate as it lies over the whole picture, and how much of each pixel it hides."""

    picture: Picture | None
    cover: Plane | None


class Plate(Lively, CoversPart, NamesPlate, RidesOnTrack, AppliesLayer, Treatment[Laid]):
    """A picture or a clip laid over the picture: a scan of grain, a burn, a second exposure.

    It fits itself to what crops have left of the frame. Its frames are those from `first` to
    `last` without those that are left out; one of them stands for each of the clip's, `speed` of
    them further on, and when they are over they come again: as they were, back and forth, dissolved
    into each other, or shuffled so that no frame follows another twice in as many rounds as there
    are frames. Beyond the plate, and where it is clear, the picture stays as it is. One that is
    thrown anew every few frames lies elsewhere each time, turned by quarters and flipped, and its
    mirrored neighbours cover what it leaves: a scan of grain or dirt neither stands nor slides.
    """

    kind = "plate"
    stage = "film"
    summary = "a picture or a clip laid over the picture"
    keywords = (
        "texture",
        "overlay",
        "double exposure",
        "paper",
        "scan",
        "picture in picture",
        "second clip",
        "image",
    )
    handle = "plate"
    default_blend = "screen"
    default_amount = 0.7
    max_added_change = 0.2

    file: str = setting("", unit="plate", label="Plate", help="A plate of the project.")
    fit: Literal["fill", "fit", "stretch"] = setting(
        "fill", unit="choice", label="Fit", help="Fills the frame, lies in it whole, or stretched."
    )
    scale: float = setting(
        1.0, 0.1, 4, unit="factor", minimum=0.01, maximum=50, label="Scale", help="Of that size."
    )
    turn: float = setting(0.0, -180, 180, unit="degrees", label="Turn", help="To the right.")
    flip: Literal["no", "across", "down", "both"] = setting(
        "no", unit="choice", label="Flip", help="Left for right, or top for bottom."
    )
    place: Place = setting(
        (0.5, 0.5),
        0,
        1,
        unit="place",
        label="Place",
        visible_if={"reposition_every": [0]},
        help="Where its middle lies in the frame.",
    )
    align: bool = setting(
        False,
        unit="switch",
        label="Align to edge",
        visible_if={"reposition_every": [0]},
        help="Counts the place from edge to edge: at 0 and 1 its edges lie on the frame's.",
    )
    reposition_every: int = setting(
        0,
        0,
        24,
        unit="frames",
        minimum=0,
        maximum=10_000,
        label="New position every",
        help="So often it is thrown down elsewhere, turned and flipped: a scan lives. 0: it lies.",
    )
    speed: float = setting(
        1.0,
        0.1,
        4,
        unit="speed",
        minimum=0.0,
        maximum=100,
        label="Speed",
        help="Its frames to one.",
    )
    first: int = setting(0, 0, 500, unit="frame", minimum=0, label="In", help="The first one used.")
    last: int = setting(
        -1, -1, 500, unit="frame", minimum=-1, label="Out", help="The last one; -1 its last."
    )
    exclude: tuple[Span, ...] = setting(
        (), unit="spans", label="Leave out", help="Frames left out."
    )
    loop: Literal["repeat", "shuffle", "back-and-forth", "dissolve"] = setting(
        "dissolve", unit="choice", label="Loop", help="What comes when its frames are over."
    )
    seam: int = setting(
        8,
        1,
        48,
        unit="frames",
        minimum=1,
        maximum=1000,
        label="Seam",
        visible_if={"loop": ["dissolve"]},
        help="Over how many frames its end is dissolved into its beginning.",
    )
    seed: int = setting(
        1,
        0,
        9999,
        unit="seed",
        label="Seed",
        help="Another order of what is shuffled, and other throws.",
    )
    colour: float = setting(
        1.0, 0, 1, minimum=0, maximum=4, label="Colour", help="None: the plate's own tint is gone."
    )
    black: float = setting(
        0.0, 0, 1, minimum=-4, maximum=4, label="Black", help="What of the plate becomes black."
    )
    white: float = setting(
        1.0, 0, 1, minimum=-4, maximum=4, label="White", help="What of the plate becomes white."
    )
    contrast: float = setting(
        0.0, -1, 1, minimum=-1, maximum=1, label="Contrast", help="About mid-grey."
    )
    curve: CurvePoints = setting(
        STRAIGHT, unit="points", label="Curve", help="Its tones redrawn, each channel alike."
    )
    invert: bool = setting(False, unit="switch", label="Invert", help="White for black.")
    alpha: Literal["as found", "premultiplied", "straight"] = setting(
        "as found",
        unit="choice",
        label="Alpha",
        help="Whether its colour has its alpha in it already, where that was not found right.",
    )
    dim_below: float = setting(
        0.0,
        0,
        0.8,
        minimum=0,
        maximum=1,
        label="Darken the picture below",
        help="The picture below is dimmed by it.",
    )

    track: str = track_setting()

    def settings_on_track(self, ride: Ride) -> dict[str, Any]:
        """The plate where its track has taken its middle; it is turned and sized as that."""
        if self.align or self.reposition_every:
            return {}
        turn, size = ride.turn_and_size(self.place)
        return {
            "place": ride.place(self.place),
            "scale": self.scale * size,
            "turn": self.turn + turn,
        }

    def is_lively(self) -> bool:
        """Whether there is a plate, which may be a clip."""
        return bool(self.file)

    def used_frames(self, frames: int) -> list[int]:
        """The frames of a plate of so many that are used, in their order."""
        last = frames - 1 if self.last < 0 else min(self.last, frames - 1)
        return [
            n
            for n in range(self.first, last + 1)
            if not any(first <= n <= end for first, end in self.exclude)
        ]

    def validate_plate(self, source: PlateSource) -> str | None:
        """Why nothing of a plate is seen, and what to do; None where something is."""
        if source.frames == 0 or self.used_frames(source.frames):
            return None
        last = source.frames - 1
        if self.first > last:
            return f"first: the plate has frames 0 to {last}; begin there"
        if 0 <= self.last < self.first:
            return "last: it lies before first; put it behind"
        return f"exclude: all of its frames are left out, of 0 to {last}; keep at least one"

    def frames_at(self, frame: int, frames: int) -> list[tuple[int, float]]:
        """Return which frames of a plate are seen at a frame, and how much of each.

        Args:
            frame: of the footage.
            frames: of the plate.
        """
        used = self.used_frames(frames)
        if not used:
            return []
        count = len(used)
        position = math.floor(frame * self.speed + 1e-6)
        if self.loop == "shuffle":
            return [(used[shuffled_frame(self.seed, count, position)], 1.0)]
        if self.loop == "back-and-forth" and count > 1:
            way = position % (2 * count - 2)
            return [(used[min(way, 2 * count - 2 - way)], 1.0)]
        join = min(self.seam, count // 2) if self.loop == "dissolve" else 0
        at = position % (count - join)
        if at < join and position >= count - join:
            part = (at + 1) / (join + 1)
            return [(used[at], part), (used[count - join + at], 1 - part)]
        return [(used[at], 1.0)]

    def prepare(self, context: FrameContext) -> Laid:
        """The plate, laid over the whole picture."""
        if not self.file:
            return Laid(None, None)
        source = context.assets.plate(self.file)
        seen = self.frames_at(context.frame, source.frames)
        if not seen:
            return Laid(None, None)
        (first, part), *others = seen
        picture, cover = self._draw_plate(source, first, context)
        for other, _ in others:
            layer = self._draw_plate(source, other, context)
            picture, cover = dissolve_layers((picture, cover), layer, 1 - part)
        return Laid(picture, cover)

    def _draw_plate(
        self, source: PlateSource, frame: int, context: FrameContext
    ) -> tuple[Picture, Plane | None]:
        place, size = self._placement(source.size, context.visible_box, context.size)
        picture, matte = source.picture(frame, size), source.matte(frame, size)
        if matte is not None and self.alpha != "as found":
            premultiplied = self.alpha == "premultiplied"
            if premultiplied and not source.was_premultiplied:
                picture = np.divide(picture, np.maximum(matte, LEAST_ALPHA))
            elif source.was_premultiplied and not premultiplied:
                picture = np.multiply(picture, matte)
        if self.reposition_every:
            place = self._thrown_placement(place[:, :2], source.size, size, context)
            return drawn_plate(picture, matte, place, context.size, cv2.BORDER_REFLECT)
        across, down = place[0, 2], place[1, 2]
        upright = np.array_equal(place[:, :2], np.eye(2)) and size == context.size
        if upright and abs(across) < WITHIN and abs(down) < WITHIN:
            return picture, matte
        drawn, cover = drawn_plate(picture, matte, place, context.size, cv2.BORDER_REPLICATE)
        if cover is None:
            cover = np.ones((context.size.height, context.size.width), np.float32)
        back = cv2.invertAffineTransform(place).astype(np.float64)
        whole = cut_beyond(back, size.width, size.height, cover)
        return drawn, None if whole and matte is None else cover

    def _thrown_placement(
        self, linear: NDArray[np.float64], own: Size, drawn: Size, context: FrameContext
    ) -> NDArray[np.float64]:
        box, larger = context.visible_box, context.full_size.height / context.size.height
        full = [min(whole, round(side * larger)) for side, whole in zip(drawn, own, strict=True)]
        return placement_matrix(
            throw(self.seed, context.frame // self.reposition_every),
            linear,
            (drawn.width, drawn.height),
            (full[0], full[1]),
            (box.left + box.width / 2, box.top + box.height / 2),
        )

    def _placement(self, own: Size, box: Box, size: Size) -> tuple[NDArray[np.float64], Size]:
        """Where the plate's pixels come to lie, 2×3, and at which of its sizes it is drawn."""
        angle = math.radians(self.turn)
        c, s = abs(math.cos(angle)), abs(math.sin(angle))
        wide, high = box.width * c + box.height * s, box.width * s + box.height * c
        by_x, by_y = wide / own.width, high / own.height
        if self.fit == "fill":
            by_x = by_y = max(by_x, by_y)
        elif self.fit == "fit":
            across = box.width / (own.width * c + own.height * s)
            by_x = by_y = min(across, box.height / (own.width * s + own.height * c))
        by_x, by_y = by_x * self.scale, by_y * self.scale
        drawn = Size(
            max(1, min(own.width, round(own.width * by_x))),
            max(1, min(own.height, round(own.height * by_y))),
        )
        if abs(drawn.width - own.width * by_x) < 0.51 > abs(drawn.height - own.height * by_y):
            by_x, by_y = drawn.width / own.width, drawn.height / own.height  # whole pixels
        flips = np.diag([-1.0 if self.flip in ("across", "both") else 1.0,
                         -1.0 if self.flip in ("down", "both") else 1.0])  # fmt: skip
        turn = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
        grow = np.diag([own.width * by_x / drawn.width, own.height * by_y / drawn.height])
        linear = np.round(turn @ flips @ grow, 12)
        tall = np.abs(linear) @ (drawn.width, drawn.height)
        frame = np.array([box.width, box.height])
        along = (frame - tall) * self.place + tall / 2 if self.align else frame * self.place
        middle = np.array([box.left, box.top]) + along
        # OpenCV counts from the middle of the first pixel
        shift = middle - 0.5 - linear @ (drawn.width / 2 - 0.5, drawn.height / 2 - 0.5)
        return np.column_stack([linear, shift]), drawn

    def apply(self, band: Band[Laid]) -> None:
        """The plate's rows, in the tones that are asked for."""
        laid: Laid = band.prepared
        if laid.picture is None:
            band.copy_through()
            return
        span = self.white - self.black
        gain = (1.0 if abs(span) < 1e-4 else 1 / span) * 4.0**self.contrast
        _tone_plate(
            laid.picture,
            *band.rows,
            np.float32(self.colour),
            self.invert,
            np.float32(gain),
            np.float32(0.5 - gain * self.black - 0.5 * 4.0**self.contrast),
            band.out,
            band.out_top,
        )
        if self.curve != STRAIGHT:
            _apply_response(curve_segments(self.curve), *band.result_rows)

    def coverage(self, band: Band[Laid]) -> Coverage:
        """Coverage of the plate, and how far the picture below is dimmed."""
        laid: Laid = band.prepared
        if laid.picture is None:
            return Coverage(np.zeros(band.picture.shape[1:], np.float32), 0.0)
        top, bottom = band.rows
        return Coverage(None if laid.cover is None else laid.cover[top:bottom], self.dim_below)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _tone_plate(
    picture: Picture,
    top: int,
    bottom: int,
    colour: np.float32,
    invert: bool,
    gain: np.float32,
    lift: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    zero, one = np.float32(0), np.float32(1)
    for y in range(top, bottom):
        r, g, b = picture[0, y], picture[1, y], picture[2, y]
        for c in range(3):
            own, to = picture[c, y], out[c, out_top + y - top]
            for x in range(own.shape[0]):
                luma = bt709_luma(r[x], g[x], b[x])
                value = luma + colour * (own[x] - luma)
                if invert:
                    value = one - value
                to[x] = min(max(gain * value + lift, zero), one)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _apply_response(segments: NDArray[np.float32], out: Picture, top: int, bottom: int) -> None:
    line = new_line(out.shape[2])
    for c in range(3):
        for y in range(top, bottom):
            apply_curve(out[c, y], segments, line)
            copy_line(line, out[c, y])
