"""Strokes that say which part of a clip is to be lifted out.

They say what is it, what is not, and are a loose line around it, on one frame or several.
"""

from typing import Annotated, Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from yearning.core.validation import Number, StrictModel, Whole

Mask = NDArray[np.uint8]

LINES = 1080
"""Of the picture that widths are told in."""

OTHERWISE = 24
"""In px@1080: about a stroke that says otherwise than what was found there, that is not sure.
Further off what looks like the stroke would go with it, though a hand has drawn to its edge."""

Point = tuple[Annotated[Number, Field(ge=-1, le=2)], Annotated[Number, Field(ge=-1, le=2)]]


class Stroke(StrictModel):
    """A line drawn on a frame."""

    frame: Whole = Field(ge=0, le=100_000_000)
    kind: Literal["this", "not this", "around"]
    points: tuple[Point, ...] = Field(min_length=1, max_length=10_000)
    width: Number = Field(16.0, ge=1, le=400, description="In px@1080; of a line around, none.")

    @model_validator(mode="after")
    def _goes_around(self) -> "Stroke":
        if self.kind == "around" and len(self.points) < 3:
            raise ValueError("a line around has three points or more")
        outside = all(not (0 <= x <= 1 and 0 <= y <= 1) for x, y in self.points)
        if outside and self.kind != "around":
            raise ValueError("all of it lies outside the frame; places are fractions, 0 to 1")
        return self


class Strokes(StrictModel):
    """All strokes of a matte."""

    strokes: tuple[Stroke, ...] = Field(min_length=1, max_length=10_000)

    @model_validator(mode="after")
    def _say_what(self) -> "Strokes":
        if all(stroke.kind == "not this" for stroke in self.strokes):
            raise ValueError(
                "no stroke says what is to be lifted out: draw one on it, or around it"
            )
        return self

    @property
    def frames(self) -> list[int]:
        """The frames that have strokes, rising."""
        return sorted({stroke.frame for stroke in self.strokes})

    @property
    def start(self) -> int:
        """The frame that is solved first: one with a line around, if there is one."""
        around = [stroke.frame for stroke in self.strokes if stroke.kind == "around"]
        this = [stroke.frame for stroke in self.strokes if stroke.kind == "this"]
        return min(around or this)

    def strokes_of(self, frame: int) -> list[Stroke]:
        """The strokes of a frame, in their order."""
        return [stroke for stroke in self.strokes if stroke.frame == frame]


def mark_strokes(strokes: list[Stroke], mask: Mask) -> Mask:
    """A mask as GrabCut takes it with a frame's strokes drawn in; another array.

    What lies outside of a line around is surely not it; inside stays as it was, or may be it where
    it was not. Strokes are drawn over that, in their order.

    Args:
        strokes: of the frame.
        mask: OpenCV's `GC_…` values, shape `(height, width)`.
    """
    height, width = mask.shape
    out = mask.copy()
    loops = [stroke for stroke in strokes if stroke.kind == "around"]
    if loops:
        inside = np.zeros_like(mask)
        for stroke in loops:
            cv2.fillPoly(inside, [_fixed_point(stroke, width, height)], 1, shift=4)
        out[inside == 0] = cv2.GC_BGD
        out[(inside == 1) & (out == cv2.GC_BGD)] = cv2.GC_PR_FGD
    for stroke in strokes:
        if stroke.kind != "around":
            _draw(stroke, out, cv2.GC_FGD if stroke.kind == "this" else cv2.GC_BGD)
    return out


def mark_unsure(strokes: list[Stroke], mask: Mask) -> Mask:
    """Return a copy of a GrabCut mask that is unsure about where a frame's strokes say otherwise.

    A stroke on a part that was wrong need not be drawn to its very edge.

    Args:
        strokes: of the frame.
        mask: OpenCV's `GC_…` values, shape `(height, width)`.
    """
    height = mask.shape[0]
    otherwise = np.zeros_like(mask)
    for stroke in strokes:
        if stroke.kind != "around":
            drawn = np.zeros_like(mask)
            _draw(stroke, drawn, 1)
            otherwise |= drawn & ((mask & 1) != (stroke.kind == "this")).astype(np.uint8)
    reach = round(OTHERWISE * height / LINES)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    out = mask.copy()
    out[cv2.dilate(otherwise, kernel) > 0] |= 2  # probable
    return out


def _draw(stroke: Stroke, mask: Mask, value: int) -> None:
    height, width = mask.shape
    thick = max(2, round(stroke.width * height / LINES))
    line = _fixed_point(stroke, width, height)
    line = np.concatenate([line, line[-1:]])  # of one point alone nothing is drawn
    cv2.polylines(mask, [line], False, value, thick, cv2.LINE_8, 4)


def _fixed_point(stroke: Stroke, width: int, height: int) -> NDArray[np.int32]:
    """A stroke's points in sixteenths of a pixel."""
    points = np.array(stroke.points) * (width, height) - 0.5
    return np.round(points * 16).astype(np.int32)
