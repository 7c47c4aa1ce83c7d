"""A clip under a look gone through for flashes, and which step causes them."""

from collections.abc import Iterator
from typing import Any, NamedTuple

from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.footage import Footage
from yearning.core.look.document import Look
from yearning.core.measure.flashes import Fault, Flashes, seconds_at_fault
from yearning.core.picture import Picture
from yearning.core.treatment.assets import NO_ASSETS, Assets

LINES = 288
"""Of the pictures that are looked at: four to a place's side."""


class StepFlashes(NamedTuple):
    """A fault of the result's flashes, and what causes it."""

    fault: Fault
    step: str | None
    """The first step after which it is there; None where the footage has it."""


class FlashAnalysis:
    """A look on a clip gone through for flashes alone; without steps, the clip.

    Args:
        look: the steps; each is checked after it.
        footage: the clip.
        rate: its frames a second.
        assets: finds look-up tables and plates.
    """

    def __init__(
        self,
        look: Look,
        footage: Footage,
        rate: float,
        *,
        assets: Assets = NO_ASSETS,
    ) -> None:
        self._look, self._footage, self._rate = look, footage, rate
        size = footage.size.with_height(min(LINES, footage.size.height))
        cache = Cache[Picture](64 << 20)
        self._path = Evaluator(look, footage, size, cache, assets=assets, keep="every step")
        self._flashes = [Flashes(rate) for _ in range(len(look.steps) + 1)]

    def run(self) -> Iterator[int]:
        """Go through the clip; gives how many frames are done."""
        for frame in range(self._footage.frames):
            for after, flashes in enumerate(self._flashes):
                flashes.add(self._path.picture(frame, after))
            yield frame + 1

    def report(self) -> dict[str, Any]:
        """What was found in the result, and in the footage, as JSON has it."""

        def summarize(after: int) -> dict[str, Any]:
            faults = attribute_faults(self._look, self._flashes, after)
            return {
                "passes": not faults,
                "seconds": seconds_at_fault([f.fault for f in faults], self._rate),
                "faults": [step_fault_to_json(fault, self._rate) for fault in faults],
            }

        return {**summarize(len(self._look.steps)), "footage": summarize(0)}


def attribute_faults(look: Look, flashes: list[Flashes], after: int) -> list[StepFlashes]:
    """Return faults after a number of steps, each with the first step after which it is there.

    Args:
        look: that was measured.
        flashes: after none, one, … all steps.
        after: the number of steps.
    """
    found = []
    for fault in flashes[after].faults():
        first = next(
            n
            for n in range(after + 1)
            if any(fault.overlaps(other) for other in flashes[n].faults())
        )
        found.append(StepFlashes(fault, look.steps[first - 1].id if first else None))
    return found


def step_fault_to_json(said: StepFlashes, rate: float) -> dict[str, Any]:
    """Return a fault and its cause, as JSON has them.

    Args:
        said: the fault and its step.
        rate: frames a second.
    """
    return {**fault_to_json(said.fault, rate), "step": said.step}


def fault_to_json(fault: Fault, rate: float) -> dict[str, Any]:
    """Return a fault as JSON has it, without its cause.

    Args:
        fault: of a clip.
        rate: frames a second.
    """
    return {
        "from": fault.first,
        "to": fault.last,
        "seconds": (fault.last - fault.first + 1) / rate,
        "kind": fault.kind,
        "area": fault.area,
        "count": fault.flashes,
    }
