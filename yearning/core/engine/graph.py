"""From a look to what is to be done: bundles laid out, steps that are off left out.

Pictures are numbered: 0 is the footage, and each operation makes the next. An operation treats the
picture it reads and lays the result back on the picture below; usually both are the one before.
Keys and bursts are plain numbers here, those of one frame; the numbering is that of all frames.
"""

import hashlib
import json
from typing import NamedTuple

from yearning.core.look.document import Bundle, Look, each_step
from yearning.core.look.step import AS_SHOT, SO_FAR, Mix, Step
from yearning.core.picture import Box, Size
from yearning.core.treatment.base import Reach, Treatment

FOOTAGE = 0


class Operation(NamedTuple):
    """One treatment mixed back; with no `settings` what is read is laid back as it is."""

    below: int
    reads: int
    settings: Treatment | None
    mix: Mix

    @property
    def pointwise(self) -> bool:
        """Whether each result pixel depends on the same pixel alone."""
        return self.settings is None or self.settings.pointwise()

    @property
    def plain(self) -> bool:
        """Whether the treated picture is the result."""
        mix = self.mix
        whole = self.settings is None or not self.settings.covers
        return whole and mix.blend == "normal" and mix.amount == 1 and mix.tones is None


class Plan:
    """The operations of a look at a frame, by the number of the picture each makes.

    `results` has the picture's number after each count of the look's own steps, from none on;
    `after` that after each step by its id, those inside bundles too. `keys` are hashes of what a
    picture is made of: equal keys mean equal pictures, whatever the steps' ids. `same` has, for
    each number, that of the picture which stands for it: another where a step does nothing at
    this frame. `moved` has the operations that moved what is in a picture's frame; what a step
    reads is first moved as the picture below it was, so that the two line up.
    """

    def __init__(self, look: Look, frame: int = 0) -> None:
        self.frame = frame
        self.timed = any(step.timed for _, _, step in each_step(look.steps))
        """Whether it differs from frame to frame."""
        self.operations: list[Operation | None] = [None]
        self.keys = [hashlib.sha256().hexdigest()]
        self.reaches = [Reach()]
        self.light = [True]
        """Whether a picture can be made from the footage's bands without one whole in between."""
        self.same = [FOOTAGE]
        self.after: dict[str, int] = {AS_SHOT: FOOTAGE}
        self.moved: list[tuple[int, ...]] = [()]
        self._carried: dict[tuple[int, int], int] = {}
        self.results = [FOOTAGE]
        for step in look.steps:
            self.results.append(self._add(step, self.results[-1]))

    def operation(self, number: int) -> Operation:
        """The operation that makes a picture; the footage has none."""
        operation = self.operations[number]
        assert operation is not None
        return operation

    def _add(self, step: Step, below: int) -> int:
        """Add a step; returns the number of the picture that then stands."""
        now = step.at(self.frame)
        reads = below if step.mix.reads == SO_FAR else self._lined_up(step.mix.reads, below)
        settings = now.settings if isinstance(now.settings, Treatment) else None
        if isinstance(step.settings, Bundle):
            for inner in step.settings.steps:
                reads = self._add(inner, reads)
        operation = Operation(self.same[below], self.same[reads], settings, now.mix)
        moves = settings is None or settings.geometry
        replaces = moves and step.mix.blend == "normal" and step.mix.tones is None
        made = below
        if step.on and (now.mix.amount > 0 or step.timed):
            same = None
            if now.mix.amount == 0:
                same = below
            elif settings is None and operation.plain:
                same = reads
            if step.timed or same is None:
                moved = self.moved[reads if replaces else below]
                if settings is not None and settings.geometry:
                    moved = (*moved, len(self.operations))
                made = self._noted(operation, None if same is None else self.same[same], moved)
            else:
                made = same
        self.after[step.id] = made
        return made

    def _lined_up(self, name: str, below: int) -> int:
        """The picture a step reads by name, moved as the one below the step was."""
        reads = self.after[name]
        for number in self.moved[below]:
            if number in self.moved[reads]:
                continue
            carried = self._carried.get((reads, number))
            if carried is None:
                mover = self.operation(number)
                operation = Operation(self.same[reads], self.same[reads], mover.settings, Mix())
                still = self.same[reads] if self.same[number] != number else None
                moved = (*self.moved[reads], number)
                carried = self._carried[reads, number] = self._noted(operation, still, moved)
            reads = carried
        return reads

    def shown(self, number: int, full: Size, *, cut: bool = False) -> Box:
        """The part of the frame that is left of a picture, in pixels of footage of `full`.

        With `cut`, only what is cut off counts as not left.
        """
        box = Box(0, 0, full.width, full.height)
        for mover in self.moved[number]:
            settings = self.operation(mover).settings
            if self.same[mover] == mover and settings is not None and settings.cuts >= cut:
                box = settings.shown(full) or box
        return box

    def _noted(self, operation: Operation, same: int | None, moved: tuple[int, ...]) -> int:
        """Number an operation; with `same`, the picture of that number stands for what it makes."""
        below, reads, settings, mix = operation
        number = len(self.operations)
        self.operations.append(operation)
        self.moved.append(moved)
        self.same.append(number if same is None else same)
        if same is not None:
            self.keys.append(self.keys[same])
            self.reaches.append(self.reaches[same])
            self.light.append(self.light[same])
            return number
        says = {
            "treatment": None if settings is None else settings.kind,
            "settings": None if settings is None else settings.model_dump(mode="json"),
            "mix": mix.model_dump(mode="json", exclude={"reads"}),
            "on": [self.keys[below], self.keys[reads]],
        }
        digest = hashlib.sha256(json.dumps(says, sort_keys=True).encode())
        own = Reach() if settings is None else settings.neighbours()
        under, seen = self.reaches[below], self.reaches[reads]
        reach = Reach(
            max(under.before, seen.before + own.before), max(under.after, seen.after + own.after)
        )
        if settings is not None and settings.takes_whole():
            read = False
        else:
            read = self.light[reads] if operation.pointwise else reads == FOOTAGE
        self.keys.append(digest.hexdigest())
        self.reaches.append(reach)
        self.light.append(self.light[below] and read)
        return number
