"""Looks to begin with: a look file each, and `index.json`, which has them in their order.

The index says what each is for, and may say which steps are active in bursts, `"bursts": {step:
{"length", "ramp"}}`: those are made for the clip when the look is begun with, on the beats of its
sound, or else evenly.
"""

import json
from functools import cache
from pathlib import Path
from typing import NamedTuple

from yearning.core.errors import InvalidLookError
from yearning.core.look.document import Look, look_from_json

BEAT = 4.0
"""By how many σ a sound must rise to be a beat: what only clatters rises by less."""

FOLDER = Path(__file__).parent


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
    return [
        Starter(
            entry["summary"],
            look_from_json((FOLDER / entry["file"]).read_bytes()),
            {step: StarterBursts(**bursts) for step, bursts in entry.get("bursts", {}).items()},
        )
        for entry in json.loads((FOLDER / "index.json").read_text(encoding="utf-8"))
    ]


def starter_named(name: str) -> Starter:
    """The starter look of that name, however it is capitalized.

    Raises:
        InvalidLookError: there is none; the message names those that there are.

    >>> starter_named("worn print").look.name
    'Worn print'
    """
    wanted = name.strip().casefold()
    for starter in starters():
        if starter.look.name.casefold() == wanted:
            return starter
    known = ", ".join(starter.look.name for starter in starters())
    raise InvalidLookError(f"no starter look is called '{name}'; there are {known}")
