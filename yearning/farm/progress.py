"""How far a render is, and how it may be halted."""

from enum import Enum
from typing import NamedTuple

TELLING_SECONDS = 0.5
"""Before them, frames a second say nothing: one is done, and another nearly."""


class Progress(NamedTuple):
    """How far a render is."""

    done: int
    """Frames, those of chunks in hand too."""
    kept: int
    """Frames of finished chunks alone."""
    total: int
    made: int
    """Frames made in this run; the others were there already."""
    seconds: float
    """Since this run's first chunk was begun."""
    chunks: int
    """How many there are."""
    finished: frozenset[int] = frozenset()
    in_hand: tuple[tuple[int, int], ...] = ()
    """Chunks in hand, each with its frames done."""
    peak: int = 0
    """Bytes of memory that a worker took at the most; 0 before one has finished a chunk."""

    def __str__(self) -> str:
        speed = (
            f", {self.rate:.1f} frames/s, {self.seconds_left:.0f} s left"
            if self.seconds_left
            else ""
        )
        return f"{self.done} of {self.total} frames{speed}"

    @property
    def rate(self) -> float:
        """Frames a second in this run; 0 while it has just begun."""
        return self.made / self.seconds if self.seconds >= TELLING_SECONDS else 0.0

    @property
    def memory(self) -> str:
        """What a worker took, in words."""
        return f", {self.peak / 1e9:.1f} GB in a worker at the most" if self.peak else ""

    @property
    def seconds_left(self) -> float | None:
        """Seconds left at that rate; None before there is one."""
        return (self.total - self.done) / self.rate if self.rate else None


class Halt(Enum):
    """How a render is to be halted."""

    NOW = "the chunks in hand are given up"
    SOON = "the chunks in hand are finished first"
