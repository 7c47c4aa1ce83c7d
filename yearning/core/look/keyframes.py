"""Time in a look: keys, how they lead on to each other, and bursts."""

import math
from collections.abc import Iterable, Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import AfterValidator, Field, model_validator

from yearning.core.colour.curves import pchip
from yearning.core.colour.hues import COLOUR
from yearning.core.compositing.tone_window import LEAST_APART
from yearning.core.validation import Strict

MOST_FRAME = 10_000_000
MOST_KEYS = 10_000
MOST_BURSTS = 2_000

EASE = (0.25, 0.1, 0.25, 1.0)
"""The cubic Bézier named `ease` (W3C CSS Easing Functions Level 1, §2.2)."""


def _handles(handles: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    x1, y1, x2, y2 = handles
    if not (0 <= x1 <= 1 and 0 <= x2 <= 1):
        raise ValueError("the handles [x1, y1, x2, y2] of an ease have x1 and x2 within 0 and 1")
    if max(abs(y1), abs(y2)) > 10:
        raise ValueError("the handles [x1, y1, x2, y2] of an ease have y1 and y2 within -10 and 10")
    return handles


Handles = Annotated[tuple[float, float, float, float], AfterValidator(_handles)]

Ease = Literal["hold", "straight", "ease"] | Handles
"""How a key leads on to the next: stay, go straight, or along a cubic Bézier."""


class Key(Strict):
    """A value pinned at a frame."""

    frame: int = Field(ge=0, le=MOST_FRAME)
    value: Any = Field(description="As the setting itself is written.")
    ease: Ease = Field(
        "straight",
        description="How it moves to the next key: hold, straight, ease, or the handles "
        "[x1, y1, x2, y2] of a CSS cubic-bezier.",
    )


class Burst(Strict):
    """Frames in which a step is active, the first and the last among them."""

    first: int = Field(alias="from", ge=0, le=MOST_FRAME)
    last: int = Field(alias="to", ge=0, le=MOST_FRAME)
    ramp: int = Field(
        0, ge=0, le=MOST_FRAME, description="Frames within it on which it comes, and goes."
    )

    @model_validator(mode="after")
    def _forward(self) -> Self:
        if self.last < self.first:
            raise ValueError(f"a burst goes forward; this is from {self.first} to {self.last}")
        return self


def eased(ease: Ease, time: float) -> float:
    """How far from one key to the next, for `time` from 0 to 1; it may go beyond both.

    A cubic Bézier from (0, 0) to (1, 1) with two handles; x is time and y how far (W3C CSS Easing
    Functions Level 1, §2.2). `hold` stays at 0 until the next key.
    """
    if ease == "hold":
        return 0.0
    if ease == "straight":
        return time
    x1, y1, x2, y2 = EASE if ease == "ease" else ease
    low, high = 0.0, 1.0
    for _ in range(48):  # x is monotone, since x1 and x2 lie within 0..1
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
    """What keys in the order of their frames say at a frame; level before and after them all."""
    if frame <= keys[0].frame:
        return keys[0].value
    for before, after in pairwise(keys):
        if frame < after.frame:
            part = (frame - before.frame) / (after.frame - before.frame)
            return between(before.value, after.value, eased(before.ease, part), smooth=smooth)
    return keys[-1].value


def between(first: Any, second: Any, part: float, *, smooth: bool = False) -> Any:
    """A value `part` of the way from one to another.

    Whole numbers are rounded, colours go straight in their code values. Points along an axis move
    with each other if there are as many, and else stand at the places of both, where either row is
    drawn straight from point to point, or as a curve if `smooth`. What is neither stays as the
    first.
    """
    match first, second:
        case bool(), _:
            return first
        case int(), int():
            return math.floor(first + (second - first) * part + 0.5)
        case float() | int(), float() | int():
            return first + (second - first) * part
        case str(), str() if COLOUR.fullmatch(first) and COLOUR.fullmatch(second):
            codes = [
                between(int(first[i : i + 2], 16), int(second[i : i + 2], 16), part)
                for i in (1, 3, 5)
            ]
            return "#" + "".join(f"{min(max(code, 0), 255):02x}" for code in codes)
        case tuple(), tuple():
            if len(first) != len(second):
                first, second = _at_both(first, second, smooth)
            within = min(max(part, 0.0), 1.0)
            return tuple(between(a, b, within) for a, b in zip(first, second, strict=True))
    return first


Row = tuple[tuple[float, Any], ...]
"""Points (place, value), ascending."""


def _at_both(first: Row, second: Row, smooth: bool) -> tuple[Row, Row]:
    """Both rows, with points at the places of both."""
    places: list[float] = []
    for place in sorted({place for place, _ in (*first, *second)}):
        if not places or place - places[-1] >= LEAST_APART:
            places.append(place)
    at_first, at_second = (
        tuple((place, _on(row, place, smooth)) for place in places) for row in (first, second)
    )
    return at_first, at_second


def _on(row: Row, place: float, smooth: bool) -> Any:
    """The value of a row at a place; level beyond its ends."""
    if smooth:
        return float(pchip(row, np.array([place]))[0])
    if place <= row[0][0]:
        return row[0][1]
    for (low, value), (high, other) in pairwise(row):
        if place < high:
            return between(value, other, (place - low) / (high - low))
    return row[-1][1]


def repeated(frames: int, first: int, length: int, every: int, ramp: int = 0) -> list[Burst]:
    """Bursts of `length` frames from frame `first` of a clip on, one `every` so many frames.

    Raises:
        ValueError: they would run into each other.
    """
    if length >= every:
        raise ValueError(f"bursts of {length} frames every {every} leave none between them")
    return _bursts(range(first, frames, every), length, frames, ramp)


def scattered(
    frames: int, count: int, lengths: tuple[int, int], ramp: int = 0, seed: int = 1
) -> list[Burst]:
    """`count` bursts of between two lengths, spread over a clip by chance; the same for a seed.

    All ways of placing them with a frame between any two are as likely.

    Raises:
        ValueError: there is no room for so many.
    """
    shortest, longest = lengths
    if not 1 <= shortest <= longest:
        raise ValueError(f"bursts are at least a frame long; {shortest} to {longest} is no range")
    rng = np.random.Generator(np.random.Philox(seed))
    each = rng.integers(shortest, longest + 1, count)
    free = frames - int(each.sum()) - (count - 1)
    if free < 0:
        raise ValueError(
            f"{count} bursts of {shortest} to {longest} frames do not fit in {frames} frames"
        )
    gaps = np.sort(rng.choice(free + count, count, replace=False)) - np.arange(count)
    firsts = gaps + np.concatenate([[0], np.cumsum(each[:-1] + 1)])
    pairs = zip(firsts.tolist(), each.tolist(), strict=True)
    return [burst for first, length in pairs for burst in _bursts([first], length, frames, ramp)]


def on_frames(frames: int, firsts: Sequence[int], length: int, ramp: int = 0) -> list[Burst]:
    """Bursts of at most `length` frames that begin at given ones, cut short before the next."""
    return _bursts(sorted(set(firsts)), length, frames, ramp)


def _bursts(firsts: Iterable[int], length: int, frames: int, ramp: int) -> list[Burst]:
    """Bursts within a clip, with a frame free between any two."""
    within = [first for first in firsts if first < frames]
    ends = [*(first - 1 for first in within[1:]), frames] if within else []
    made = [(first, min(first + length, end) - 1) for first, end in zip(within, ends, strict=True)]
    return [
        Burst.model_validate({"from": first, "to": last, "ramp": ramp})
        for first, last in made
        if last >= first
    ]


def worth_checking(frames: int, known: Iterable[int]) -> int | None:
    """The middle of the widest stretch of a clip in which no frame is known; None if there is none.

    The first and the last frame come before all middles.
    """
    seen = sorted({frame for frame in known if 0 <= frame < frames})
    for end in (0, frames - 1):
        if end not in seen:
            return end
    widest, first = max(((b - a, -a) for a, b in pairwise(seen)), default=(1, 0))
    return widest // 2 - first if widest > 1 else None


def burst_weight(bursts: Sequence[Burst], frame: int) -> float:
    """How active a step is at a frame, 0..1; without bursts it always is.

    A ramp of n frames rises by 1/(n + 1) a frame, and falls so.
    """
    if not bursts:
        return 1.0
    for burst in bursts:
        if burst.first <= frame <= burst.last:
            within = min(frame - burst.first, burst.last - frame)
            return min((within + 1) / (burst.ramp + 1), 1.0)
    return 0.0
