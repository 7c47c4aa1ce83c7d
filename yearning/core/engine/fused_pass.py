"""Operations of a path that run together over a band of rows, each treated and mixed back."""

import math
from collections.abc import Callable
from typing import Any, NamedTuple

import numpy as np

from yearning.core.buffers import new_like
from yearning.core.compositing.blend import mix
from yearning.core.engine.graph import Operation
from yearning.core.picture import Box, Picture
from yearning.core.treatment.base import Band, Moment

Rows = Callable[[int, int], Picture]
"""Gives rows from one to another (exclusive) of a picture, as a new picture of their own."""


class Run(NamedTuple):
    """An operation of a stretch, with what is the same for all bands."""

    number: int
    operation: Operation
    at: Moment
    prepared: Any
    left: Box
    """What crops have left of the frame."""
    last_used: tuple[int, ...]
    """The pictures that no later run of the stretch asks for."""


class Stretch(NamedTuple):
    """Operations that run together over a band, and the rows they begin with, by picture."""

    sources: dict[int, Rows]
    runs: list[Run]
    end: int

    def together(self) -> int:
        """Rows of a band that are made sooner together."""
        treated = (run.operation.settings for run in self.runs)
        return max((settings.together for settings in treated if settings), default=1)


def blacken(rows: Picture, top: int, left: Box) -> None:
    """Blacken what is beside a box in rows that begin at `top`."""
    rows[:, : max(int(left.top) - top, 0)] = 0
    rows[:, max(math.ceil(left.top + left.height) - top, 0) :] = 0
    rows[:, :, : int(left.left)] = 0
    rows[:, :, math.ceil(left.left + left.width) :] = 0


def applied(
    run: Run, seen: dict[int, Picture], read: Picture, top: int, out: Picture, into: int
) -> None:
    """Treat rows from `top` on and mix them back, into the rows of `out` from `into` on."""
    operation, settings = run.operation, run.operation.settings
    if settings is not None and operation.plain:
        settings.apply(Band(read, top, run.at, run.prepared, out, into))
        return
    treated = read
    if settings is not None:
        treated = new_like(read)
        settings.apply(Band(read, top, run.at, run.prepared, treated, 0))
    mixing, below = operation.mix, seen[operation.below]
    if settings is None or not settings.covers:
        mix(below, treated, mixing.blend, mixing.amount, out, into, mixing.tones)
        return
    weight, room = settings.covering(Band(read, top, run.at, run.prepared, treated, 0))
    backdrop = below
    if room:
        backdrop = below * np.float32(1 - room * mixing.amount)
    mix(backdrop, treated, mixing.blend, mixing.amount, out, into, mixing.tones)
    if weight is not None:
        laid = out[:, into : into + below.shape[1]]
        laid -= below
        laid *= weight
        laid += below
