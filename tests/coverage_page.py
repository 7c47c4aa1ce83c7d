"""`python -m tests.coverage_page PYTHON PAGE OUT`: the page of what the tests run of the code.

PYTHON is what `coverage json` writes, PAGE what `web/coverage.mjs` does; see `make coverage`.
"""

import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

LEAST = 10
"""So many of the files that are run least are named."""

INTRODUCTION = """# What the tests run

Written by `make coverage`; nothing here is typed by hand. Lines and branches that run at least once
in `make test`, page tests in Chromium included. That a line runs does not say that a test would
notice if it were wrong; that it does not run says that none would.

Numba's kernels are machine code, which is not traced: their lines are left out here, and their
results are what most tests of `yearning/core` compare. What runs in the wheel's environment, in
processes that are killed, and in a second tab is not counted.
"""


class Held(NamedTuple):
    """How many lines and branches there are, and how many of them run."""

    lines: int = 0
    all_lines: int = 0
    branches: int = 0
    all_branches: int = 0

    @property
    def part(self) -> float:
        """The part that runs of lines and branches together, 0 to 1."""
        return (self.lines + self.branches) / max(self.all_lines + self.all_branches, 1)

    def row(self, name: str) -> str:
        """A row of a table."""
        return (
            f"| {name} | {_percent(self.lines, self.all_lines)} | {self.all_lines} "
            f"| {_percent(self.branches, self.all_branches)} | {self.all_branches} |"
        )


def _percent(part: int, whole: int) -> str:
    return f"{100 * part / whole:.1f} %" if whole else ""


def _sum(helds: list[Held]) -> Held:
    return Held(*map(sum, zip(*helds, strict=True)))


def read_python(path: Path) -> dict[str, Held]:
    """Each file's figures, of `coverage json`."""
    return {
        name: Held(
            of["covered_lines"], of["num_statements"], of["covered_branches"], of["num_branches"]
        )
        for name, each in json.loads(path.read_text())["files"].items()
        if (of := each["summary"])["num_statements"]
    }


def read_page(path: Path) -> dict[str, Held]:
    """Each file's figures, of `web/coverage.mjs`."""
    return {
        f"web/src/{name}": Held(*each["lines"], *each["branches"])
        for name, each in json.loads(path.read_text()).items()
        if each["lines"][1]
    }


def _table(rows: list[str], first: str) -> str:
    head = f"| {first} | lines | of | branches | of |\n| --- | --- | --- | --- | --- |\n"
    return head + "\n".join(rows) + "\n"


def section(title: str, files: dict[str, Held], folder_of: Callable[[str], str]) -> str:
    """A language's tables: by folder, and the files that are run least."""
    folders: dict[str, list[Held]] = {}
    for name, held in sorted(files.items()):
        folders.setdefault(folder_of(name), []).append(held)
    rows = [_sum(each).row(folder) for folder, each in folders.items()]
    rows.append(_sum(list(files.values())).row("**all**"))
    least = sorted(files.items(), key=lambda item: item[1].part)[:LEAST]
    return (
        f"\n## {title}\n\n{_table(rows, 'folder')}\nRun least:\n\n"
        f"{_table([held.row(name) for name, held in least], 'file')}"
    )


def main(python: str, page: str, out: str) -> None:
    """Write the page of both languages."""

    def folder(name: str) -> str:
        parts = Path(name).parent.parts
        return "/".join(parts[: 3 if parts[0] == "web" or parts[1:2] == ("core",) else 2])

    text = INTRODUCTION + section("Python", read_python(Path(python)), folder)
    Path(out).write_text(text + section("The page", read_page(Path(page)), folder))


if __name__ == "__main__":
    main(*sys.argv[1:])
