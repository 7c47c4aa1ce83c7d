"""Steadiness of long clips: motion is estimated now and then, and wherever something stands out."""

import math
from collections.abc import Iterator
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np

from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.footage import Footage
from yearning.core.look.document import Look
from yearning.core.measure.flashes import Flashes
from yearning.core.measure.parts import steady_part, warping_part
from yearning.core.measure.steadiness import (
    MAX_ADDED,
    MAX_JUMP,
    Change,
    SteadinessAnalysis,
    mean_luma,
)
from yearning.core.picture import Picture
from yearning.core.treatment.assets import NO_ASSETS, Assets

EVERY = 8
"""Frames of which one at least has its motion estimated."""

OVERVIEW_LINES = 144
"""Lines at which every frame is looked at: two to a side of a place that flashes are looked for."""

NEARBY = 12
"""Frames before one that it is compared with to see whether it stands out."""

CUT_CHANGE = 0.02
"""Change of the footage in place, beyond twice what is usual nearby, that may be a cut."""


class Glance(NamedTuple):
    """What is seen of a frame without its motion: its light, and its change in place."""

    lift: float
    lift_steady: float
    jump: float
    footage: float
    """mean |S_t − S_(t−1)|, both in place."""
    added: float
    """mean |O_t − O_(t−1)| of the steady part, less that."""


class SampledSteadiness(SteadinessAnalysis):
    """A look on a clip, gone through quickly for its steadiness and its flashes.

    Flashes, the light's jumps and the change of each pixel in place are looked at on every frame,
    in small pictures. Motion, which takes most of the time, is estimated as `SteadinessAnalysis`
    does on one frame in `EVERY`, and on all whose light jumps, whose steady part changes more in
    place than that of the frames before, or where the footage may have a cut. What is added on the
    frames between is interpolated.

    Args:
        look: its own steps are distinguished; those in a bundle count as one.
        footage: the clip; it should keep `2 * EVERY` decoded frames and those the look reaches for.
        rate: its frames a second.
        assets: finds look-up tables and plates.
    """

    def __init__(
        self, look: Look, footage: Footage, rate: float, *, assets: Assets = NO_ASSETS
    ) -> None:
        super().__init__(look, footage, rate, assets=assets)
        size = footage.size.with_height(min(OVERVIEW_LINES, footage.size.height))
        cache = Cache[Picture](16 << 20)
        self._small = [
            Evaluator(each, footage, size, cache, assets=assets)
            for each in (look, steady_part(look), warping_part(look))
        ]
        self._flashes = [Flashes(rate)]
        self._before: list[Picture] | None = None
        self._glances: list[Glance] = []
        self._measured: dict[int, Change] = {}
        self._usual: list[int] = []
        """Measured frames that do not stand out: others are interpolated between them."""

    @property
    def measured_frames(self) -> list[int]:
        """The frames whose motion was estimated."""
        return sorted(self._measured)

    def run(self) -> Iterator[int]:
        """Go through the clip; gives how many frames are done."""
        frames = self._footage.frames
        for first in range(0, frames, EVERY):
            block = range(first, min(first + EVERY, frames))
            for frame in block:
                self._glances.append(self._glance(frame))
                if frame < block[-1]:
                    yield frame + 1
            self._measure(block)
            if block.stop == frames:
                self.changes = self._changes_of_all_frames()
                self._flashes = self._flashes_by_step()
            yield block.stop

    def _glance(self, frame: int) -> Glance:
        pictures = [evaluator.picture(frame) for evaluator in self._small]
        self._flashes[0].add(pictures[0])
        whole, calm, moved = map(mean_luma, pictures)
        before, self._before = self._before, pictures
        if before is None:
            return Glance(whole - moved, calm - moved, 0.0, 0.0, 0.0)
        footage = _mean_difference(pictures[2], before[2])
        jump = calm - moved - self._glances[-1].lift_steady
        added = _mean_difference(pictures[1], before[1]) - footage
        return Glance(whole - moved, calm - moved, jump, footage, added)

    def _flashes_by_step(self) -> list[Flashes]:
        """Return the flashes after none, one, … all steps, where the result has faults.

        They are of the frames from a while before the first fault to the end of the last.
        """
        faults = self._flashes[0].faults()
        steps = len(self.look.steps)
        if not faults:
            return [self._flashes[0]] * (steps + 1)
        first = max(0, faults[0].first - math.ceil(2 * self.rate))
        found = [Flashes(self.rate, first) for _ in range(steps)]
        for frame in range(first, max(fault.last for fault in faults) + 1):
            for after, flashes in enumerate(found):
                flashes.add(self._small[0].picture(frame, after))
        return [*found, self._flashes[0]]

    def _measure(self, block: range) -> None:
        """Measure what stands out of some frames, and one that does not."""
        compared = range(max(block.start, 1), block.stop)
        # what pops on a frame is gone on the next, by as much
        out = [n for n in compared if self._stands_out(n) or self._stands_out(n - 1)]
        usual = [frame for frame in compared if frame not in out]
        for frame in out + usual[-1:]:
            self._measured[frame] = self.at(frame)
        self._usual += usual[-1:]
        if usual and self._measured[usual[-1]].added_steady > MAX_ADDED:
            worst = max(usual, key=lambda frame: self._glances[frame].added)
            if worst not in self._measured:
                self._measured[worst] = self.at(worst)
                self._usual.insert(len(self._usual) - 1, worst)

    def _stands_out(self, frame: int) -> bool:
        if frame < 1:
            return False
        glance = self._glances[frame]
        if abs(glance.jump) > MAX_JUMP / 2:
            return True
        nearby = self._glances[max(1, frame - NEARBY) : frame] or self._glances[1 : 1 + EVERY]
        usual = np.median([(each.footage, each.added) for each in nearby], axis=0)
        may_be_cut = glance.footage > 2 * usual[0] + CUT_CHANGE
        return bool(may_be_cut or glance.added > usual[1] + MAX_ADDED / 4)

    def _changes_of_all_frames(self) -> list[Change]:
        """The changes of all frames: of those between two that were measured, interpolated."""
        cuts = [frame for frame, change in sorted(self._measured.items()) if change.cut]
        changes = []
        for begin, end in pairwise([0, *cuts, len(self._glances)]):
            usual = [frame for frame in self._usual if begin < frame < end]
            known = np.array([_of_motion(self._measured[frame]) for frame in usual])
            for frame in range(begin, end):
                change = self._measured.get(frame)
                if change is None:
                    found = [float(np.interp(frame, usual, column)) for column in known.T]
                    change = self._interpolate_change(frame, found if frame > begin else [])
                changes.append(change)
        return changes

    def _interpolate_change(self, frame: int, found: list[float]) -> Change:
        """A frame's change from what was seen of it, and what was found of motion about it."""
        none = [0.0] * len(self.look.steps)
        footage, added, steady, *steps = found or [0.0, 0.0, 0.0, *none]
        lift, lift_steady, jump, *_ = self._glances[frame]
        return Change(
            frame,
            False,
            footage,
            footage + added,
            added,
            steady,
            lift,
            lift_steady,
            jump,
            tuple(steps),
            tuple(none),
        )

    def report(self) -> dict[str, Any]:
        """What was found, as JSON has it, and on which frames motion was estimated."""
        return {**super().report(), "measured": self.measured_frames}


def _mean_difference(one: Picture, other: Picture) -> float:
    return float(np.abs(one - other).mean())


def _of_motion(change: Change) -> list[float]:
    """What of a change needs the motion."""
    return [change.change_footage, change.added, change.added_steady, *change.added_steps]
