"""How far a render is, and how it may be halted."""

from enum import Enum
from typing import NamedTuple


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

    @property
    def rate(self) -> float:
        """Frames a second in this run."""
        return self.made / self.seconds if self.seconds > 0 else 0.0

    @property
    def left(self) -> float | None:
        """Seconds left at that rate; None before the first frame."""
        return (self.total - self.done) / self.rate if self.made else None


class Halt(Enum):
    """How a render is to be halted."""

    NOW = "the chunks in hand are given up"
    SOON = "the chunks in hand are finished first"
