"""Looks to begin with: a file each, `{"summary": …, "look": …}`, in the order of their names.

A file may also say which steps are active in bursts, `{"bursts": {step: {"length", "ramp"}}}`: they
are made for the clip when the look is begun with, on the beats of its sound, or else evenly.
"""

import json
from functools import cache
from pathlib import Path
from typing import NamedTuple

from yearning.core.look.document import Look, parse_look

BEAT = 4.0
"""By how many σ a sound must rise to be a beat: what only clatters rises by less."""


class StarterBursts(NamedTuple):
    """Frames of each burst of a step, and of its coming and going; and what counts as a beat."""

    length: int
    ramp: int
    threshold: float = BEAT


class Starter(NamedTuple):
    """A starter look, what it is for in a few words, and the steps that come in bursts."""

    summary: str
    look: Look
    bursts: dict[str, StarterBursts]


@cache
def starters() -> list[Starter]:
    """All starter looks."""
    files = sorted(Path(__file__).parent.glob("*.json"))
    found = [json.loads(file.read_text(encoding="utf-8")) for file in files]
    return [
        Starter(
            data["summary"],
            parse_look(data["look"]),
            {step: StarterBursts(**bursts) for step, bursts in data.get("bursts", {}).items()},
        )
        for data in found
    ]
