"""Looks to begin with: a file each, `{"says": …, "look": …}`, in the order of their names."""

import json
from functools import cache
from pathlib import Path
from typing import NamedTuple

from yearning.core.look import Look, look_of


class Starter(NamedTuple):
    """A starter look, and what it is for in a few words."""

    says: str
    look: Look


@cache
def starters() -> list[Starter]:
    """All starter looks."""
    files = sorted(Path(__file__).parent.glob("*.json"))
    found = [json.loads(file.read_text(encoding="utf-8")) for file in files]
    return [Starter(data["says"], look_of(data["look"])) for data in found]
