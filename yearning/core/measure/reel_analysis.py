"""A reel gone through for flashes that can harm and for its steadiness: a cut is no flicker."""

from collections.abc import Callable, Generator, Sequence
from contextlib import AbstractContextManager
from typing import Any, NamedTuple

import numpy as np

from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.footage import Footage
from yearning.core.look.document import Look
from yearning.core.measure.flash_check import LINES, fault_to_json
from yearning.core.measure.flashes import COLUMNS, ROWS, Fault, Flashes, seconds_at_fault
from yearning.core.measure.steadiness import MAX_ADDED, MAX_JUMP, SteadinessAnalysis
from yearning.core.picture import Picture
from yearning.core.treatment.assets import Assets

CACHE_BYTES = 64 << 20


class SeenShot(NamedTuple):
    """What is seen of a shot: a look on footage, from a frame of that on."""

    look: Look
    footage: Footage
    assets: Assets
    begins: int


class Segment(NamedTuple):
    """Frames of the reel that are a shot's, or a gap's."""

    first: int
    frames: int
    shot: int | str | None
    """Its number or id; None for a gap."""
    opened: Callable[[], AbstractContextManager[SeenShot]] | None
    """None for what is black."""


Pictures = Generator[tuple[Picture, Picture], None, None]
"""Of each frame the picture through the look, and as shot."""


class ReelFlashes:
    """A reel gone through for flashes, through its looks and across its cuts.

    Args:
        segments: in their order, each from where the one before it ends.
        rate: frames a second.

    Source: WCAG 2.2, SC 2.3.1; ITU-R BT.1702-3.
    """

    def __init__(self, segments: Sequence[Segment], rate: float) -> None:
        self._segments, self._rate = segments, rate
        self._seen, self._plain = Flashes(rate), Flashes(rate)

    @property
    def total(self) -> int:
        """How many frames the reel has."""
        return sum(segment.frames for segment in self._segments)

    def run(self) -> Generator[int, None, None]:
        """Go through the reel; yields how many frames are done."""
        done = 0
        for segment in self._segments:
            for picture, as_shot in self._pictures(segment):
                self._seen.add(picture)
                self._plain.add(as_shot)
                done += 1
                yield done

    def _pictures(self, segment: Segment) -> Pictures:
        if segment.opened is None:
            black = np.zeros((3, ROWS, COLUMNS), np.float32)
            for _ in range(segment.frames):
                yield black, black
            return
        with segment.opened() as seen:
            yield from self._of_shot(segment, seen)

    def _of_shot(self, segment: Segment, seen: SeenShot) -> Pictures:
        look, footage, assets, begins = seen
        size = footage.size.with_height(min(LINES, footage.size.height))
        path = Evaluator(look, footage, size, Cache[Picture](CACHE_BYTES), assets=assets)
        for frame in range(begins, begins + segment.frames):
            yield path.picture(frame), path.picture(frame, 0)

    def report(self) -> dict[str, Any]:
        """What was found, as JSON has it."""
        faults, plain = self._seen.faults(), self._plain.faults()
        return {
            "passes": not faults,
            "seconds": seconds_at_fault(faults, self._rate),
            "faults": [self._describe_fault(fault, plain) for fault in faults],
        }

    def _describe_fault(self, fault: Fault, plain: list[Fault]) -> dict[str, Any]:
        """A fault with the shots it is in and what makes it."""
        within = [
            s for s in self._segments if s.first <= fault.last and fault.first < s.first + s.frames
        ]
        there = any(fault.overlaps(other) for other in plain)
        return {
            **fault_to_json(fault, self._rate),
            "shots": [segment.shot for segment in within if segment.shot is not None],
            "by": "look" if not there else "cut" if len(within) > 1 else "footage",
        }


class ReelSteadiness(ReelFlashes):
    """A reel gone through for flashes, and each of its shots for the change that its look adds.

    Frames are compared within a shot alone, so cuts are no flicker.
    """

    def __init__(self, segments: Sequence[Segment], rate: float) -> None:
        super().__init__(segments, rate)
        self._shots: list[dict[str, Any]] = []

    def _of_shot(self, segment: Segment, seen: SeenShot) -> Pictures:
        look, footage, assets, begins = seen
        frames = range(begins, begins + segment.frames)
        analysis = SteadinessAnalysis(look, footage, self._rate, assets=assets, frames=frames)
        for _ in analysis.run():
            yield analysis.pictures[-1], analysis.pictures[0]
        found = analysis.report()
        to_reel = segment.first - begins
        self._shots.append(
            {
                "shot": segment.shot,
                "added": found["summary"]["added"],
                "added_steady": found["summary"]["added_steady"],
                "flags": [flag | {"frame": flag["frame"] + to_reel} for flag in found["flags"]],
            }
        )

    def report(self) -> dict[str, Any]:
        """What was found, as JSON has it."""
        limits = {"most_added": MAX_ADDED, "most_jump": MAX_JUMP}
        return {**super().report(), "shots": self._shots, **limits}
