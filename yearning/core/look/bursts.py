"""Bursts: ranges of frames in which a step is active, drawn by hand or made by a rule."""

from collections.abc import Iterable, Sequence
from typing import Self

import numpy as np
from pydantic import Field, model_validator

from yearning.core.look.keyframes import MAX_FRAME
from yearning.core.validation import StrictModel

MAX_BURSTS = 2_000


class Burst(StrictModel):
    """A range of frames in which a step is active, its first and its last frame included."""

    first: int = Field(alias="from", ge=0, le=MAX_FRAME)
    last: int = Field(alias="to", ge=0, le=MAX_FRAME)
    ramp: int = Field(
        0, ge=0, le=MAX_FRAME, description="Frames within it on which it comes, and goes."
    )

    @model_validator(mode="after")
    def _check_order(self) -> Self:
        if self.last < self.first:
            raise ValueError(f"a burst goes forward; this is from {self.first} to {self.last}")
        return self


def burst_weight(bursts: Sequence[Burst], frame: int) -> float:
    """Return how active a step is at a frame, 0..1; 1 at every frame where it has no bursts.

    A ramp of n frames rises by 1/(n + 1) a frame, and falls likewise.

    Args:
        bursts: of a step, in the order of their frames.
        frame: of the clip.

    >>> burst = Burst.model_validate({"from": 10, "to": 19, "ramp": 1})
    >>> [burst_weight([burst], frame) for frame in (9, 10, 11)]
    [0.0, 0.5, 1.0]
    """
    if not bursts:
        return 1.0
    for burst in bursts:
        if burst.first <= frame <= burst.last:
            from_end = min(frame - burst.first, burst.last - frame)
            return min((from_end + 1) / (burst.ramp + 1), 1.0)
    return 0.0


def bursts_at_interval(
    frames: int, first: int, length: int, interval: int, ramp: int = 0
) -> list[Burst]:
    """Return bursts of one length at equal intervals, from a frame of a clip on.

    Args:
        frames: of the clip.
        first: the frame at which the first begins.
        length: frames of each.
        interval: frames from the begin of one to that of the next.
        ramp: frames in which each rises, and falls.

    Raises:
        ValueError: they would run into each other.

    >>> [(burst.first, burst.last) for burst in bursts_at_interval(25, 0, 4, 12)]
    [(0, 3), (12, 15), (24, 24)]
    """
    if length >= interval:
        raise ValueError(f"bursts of {length} frames every {interval} leave none between them")
    return _within_clip(range(first, frames, interval), length, frames, ramp)


def random_bursts(
    frames: int, count: int, lengths: tuple[int, int], ramp: int = 0, seed: int = 1
) -> list[Burst]:
    """`count` bursts at random places of a clip, the same for the same seed.

    Every way of placing them with at least one frame between any two is as likely as any other.

    Args:
        frames: how many the clip has.
        count: how many bursts.
        lengths: their shortest and longest length in frames.
        ramp: of each, in frames.
        seed: of the random numbers.

    Raises:
        ValueError: there is no room for so many, or `lengths` is no range.
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
    return [b for first, length in pairs for b in _within_clip([first], length, frames, ramp)]


def bursts_from(frames: int, firsts: Sequence[int], length: int, ramp: int = 0) -> list[Burst]:
    """Return bursts that begin at given frames of a clip, cut short where the next one begins.

    Args:
        frames: of the clip.
        firsts: the frames at which they begin.
        length: frames of each.
        ramp: frames in which each rises, and falls.
    """
    return _within_clip(sorted(set(firsts)), length, frames, ramp)


def _within_clip(firsts: Iterable[int], length: int, frames: int, ramp: int) -> list[Burst]:
    """Bursts cut to the clip, and to leave a frame free before the next."""
    within = [first for first in firsts if first < frames]
    ends = [*(first - 1 for first in within[1:]), frames] if within else []
    ranges = [
        (first, min(first + length, end) - 1) for first, end in zip(within, ends, strict=True)
    ]
    return [
        Burst.model_validate({"from": first, "to": last, "ramp": ramp})
        for first, last in ranges
        if last >= first
    ]
