"""Keys: values pinned at frames, how one eases to the next, and interpolation between them."""

import math
from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import AfterValidator, Field

from yearning.core.colour.curves import pchip
from yearning.core.colour.hues import COLOUR
from yearning.core.compositing.tone_window import MIN_SPACING
from yearning.core.treatment.tone_values import Percentile
from yearning.core.validation import StrictModel

MAX_FRAME = 10_000_000
MAX_KEYS = 10_000

CSS_EASE = (0.25, 0.1, 0.25, 1.0)
"""The cubic Bezier named `ease` (W3C CSS Easing Functions Level 1, §2.2)."""

BISECTIONS = 48
"""Halvings of 0..1 that leave less than the precision of a float64."""


def _validate_handles(
    handles: tuple[float, float, float, float],
) -> tuple[float, float, float, float]:
    x1, y1, x2, y2 = handles
    if not (0 <= x1 <= 1 and 0 <= x2 <= 1):
        raise ValueError("the handles [x1, y1, x2, y2] of an ease have x1 and x2 within 0 and 1")
    if max(abs(y1), abs(y2)) > 10:
        raise ValueError("the handles [x1, y1, x2, y2] of an ease have y1 and y2 within -10 and 10")
    return handles


Handles = Annotated[tuple[float, float, float, float], AfterValidator(_validate_handles)]

Ease = Literal["hold", "straight", "ease"] | Handles
"""How a key moves to the next: it stays, goes straight, or along a cubic Bezier."""


class Key(StrictModel):
    """A value pinned at a frame."""

    frame: int = Field(ge=0, le=MAX_FRAME)
    value: Any = Field(description="As the setting itself is written.")
    ease: Ease = Field(
        "straight",
        description="How it moves to the next key: hold, straight, ease, or the handles "
        "[x1, y1, x2, y2] of a CSS cubic-bezier.",
    )


def ease_progress(ease: Ease, time: float) -> float:
    """How far a value has come from one key to the next.

    Args:
        ease: of the first of the two keys. `hold` stays at 0 until the second.
        time: 0 at the first key, 1 at the second.

    Returns:
        0 at the first value and 1 at the second; handles may lead beyond both.

    Source: W3C CSS Easing Functions Level 1, §2.2: a cubic Bezier from (0, 0) to (1, 1) with two
    handles, x being time and y progress.

    >>> ease_progress("straight", 0.25), ease_progress("hold", 0.99)
    (0.25, 0.0)
    >>> round(ease_progress("ease", 0.5), 4)
    0.8024
    """
    if ease == "hold":
        return 0.0
    if ease == "straight":
        return time
    x1, y1, x2, y2 = CSS_EASE if ease == "ease" else ease
    low, high = 0.0, 1.0
    for _ in range(BISECTIONS):  # x is monotone, since x1 and x2 lie within 0..1
        t = 0.5 * (low + high)
        if _bezier(x1, x2, t) < time:
            low = t
        else:
            high = t
    return _bezier(y1, y2, 0.5 * (low + high))


def _bezier(first: float, second: float, t: float) -> float:
    s = 1 - t
    return 3 * s * s * t * first + 3 * s * t * t * second + t * t * t


def value_at(keys: Sequence[Key], frame: int, *, smooth: bool = False) -> Any:
    """The value that keys give a setting at a frame.

    Args:
        keys: at least one, in the order of their frames; before the first and after the last the
            value stays.
        frame: number of the frame.
        smooth: whether points of a curve are interpolated along the curve through them, rather
            than straight.

    >>> value_at([Key(frame=0, value=1.0), Key(frame=10, value=2.0)], 5)
    1.5
    """
    if frame <= keys[0].frame:
        return keys[0].value
    for before, after in pairwise(keys):
        if frame < after.frame:
            time = (frame - before.frame) / (after.frame - before.frame)
            progress = ease_progress(before.ease, time)
            return interpolate(before.value, after.value, progress, smooth=smooth)
    return keys[-1].value


def interpolate(first: Any, second: Any, t: float, *, smooth: bool = False) -> Any:
    """Return the value at `t` on the way from one value to another.

    Whole numbers are rounded, percentiles move by their per cent, colours go straight in their code
    values. Points along an axis move with each other if there are as many in both; else both rows
    are first given points at the places of the other. Values that can't be interpolated stay as the
    first.

    Args:
        first: the value at 0.
        second: the value at 1.
        t: may overshoot 0..1, as eases do.
        smooth: find the points of a row at places of the other on a smooth curve.

    >>> interpolate("#000000", "#ffffff", 0.5)
    '#808080'
    """
    match first, second:
        case bool(), _:
            return first
        case Percentile(start), Percentile(end):
            return Percentile(start + (end - start) * t)
        case int(), int():
            return math.floor(first + (second - first) * t + 0.5)
        case float() | int(), float() | int():
            return first + (second - first) * t
        case str(), str() if COLOUR.fullmatch(first) and COLOUR.fullmatch(second):
            codes = [
                interpolate(int(first[i : i + 2], 16), int(second[i : i + 2], 16), t)
                for i in (1, 3, 5)
            ]
            return "#" + "".join(f"{min(max(code, 0), 255):02x}" for code in codes)
        case tuple(), tuple():
            if len(first) != len(second):
                first, second = _with_shared_places(first, second, smooth)
            within = min(max(t, 0.0), 1.0)
            return tuple(interpolate(a, b, within) for a, b in zip(first, second, strict=True))
    return first


Row = tuple[tuple[float, Any], ...]
"""Points (place, value), ascending."""


def _with_shared_places(first: Row, second: Row, smooth: bool) -> tuple[Row, Row]:
    """Both rows resampled at the places of both."""
    places: list[float] = []
    for place in sorted({place for place, _ in (*first, *second)}):
        if not places or place - places[-1] >= MIN_SPACING:
            places.append(place)
    resampled = (
        tuple((place, _sample(row, place, smooth)) for place in places) for row in (first, second)
    )
    return next(resampled), next(resampled)


def _sample(row: Row, place: float, smooth: bool) -> Any:
    """The value of a row at a place; level beyond its ends."""
    if smooth:
        return float(pchip(row, np.array([place]))[0])
    if place <= row[0][0]:
        return row[0][1]
    for (low, value), (high, other) in pairwise(row):
        if place < high:
            return interpolate(value, other, (place - low) / (high - low))
    return row[-1][1]


def next_frame_to_check(frames: int, checked: Iterable[int]) -> int | None:
    """The frame of a clip that tells most about what keys do, given those that were looked at.

    First the first frame, then the last, then the middle of the widest gap between those checked.

    Args:
        frames: how many the clip has.
        checked: frames that have keys, or were looked at.

    Returns:
        A frame, or None where all have been checked.

    >>> next_frame_to_check(100, [0, 99])
    49
    """
    seen = sorted({frame for frame in checked if 0 <= frame < frames})
    for end in (0, frames - 1):
        if end not in seen:
            return end
    widest, first = max(((b - a, -a) for a, b in pairwise(seen)), default=(1, 0))
    return widest // 2 - first if widest > 1 else None
