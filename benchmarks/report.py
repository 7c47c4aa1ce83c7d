"""What a benchmark finds: rows with their peer, ratio and target, and the page written of them."""

import platform
import subprocess
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime
from pathlib import Path
from types import ModuleType
from typing import Literal, NamedTuple

from yearning.core.parallel import CORES


class Effort(NamedTuple):
    """How much a benchmark measures: all, less in less time, or just whether it runs."""

    name: Literal["full", "quick", "smoke"]
    divisor: int

    def rounds(self, full: int) -> int:
        """How often something is done that is done `full` times at full effort."""
        return max(1, full // self.divisor)

    @property
    def is_smoke(self) -> bool:
        """Whether figures are of no meaning."""
        return self.name == "smoke"


EFFORTS = {
    effort.name: effort
    for effort in (Effort("full", 1), Effort("quick", 5), Effort("smoke", 1_000_000))
}


class Target(NamedTuple):
    """What a row should reach."""

    bound: Literal["at most", "at least"]
    limit: float
    of: Literal["ratio", "found"]

    def is_met(self, row: "Row") -> bool:
        """Whether the row reaches it."""
        value = row.found if self.of == "found" else row.ratio
        assert value is not None, f"{row.what}: a target for a ratio without a peer"
        return value <= self.limit if self.bound == "at most" else value >= self.limit


class Row(NamedTuple):
    """One figure, in what unit, and what a peer took in the same run."""

    what: str
    found: float
    unit: str = "ms"
    peer: str = ""
    peer_found: float | None = None
    ratio: float | None = None
    """The figure to the peer's; where they were measured by turns, the median of the pairs'."""
    target: Target | None = None


def against(
    what: str,
    found: float,
    peer: str,
    peer_found: float,
    unit: str = "ms",
    ratio: float | None = None,
    target: Target | None = None,
) -> Row:
    """Return a row with a peer.

    Args:
        what: was measured.
        found: the figure.
        peer: what it is compared with.
        peer_found: the peer's figure.
        unit: of both.
        ratio: of the two; None for that of the two figures.
        target: None for none.
    """
    given = found / peer_found if ratio is None else ratio
    return Row(what, found, unit, peer, peer_found, given, target)


def number(value: float) -> str:
    """A figure with three digits that count."""
    digits = 0 if abs(value) >= 100 else 1 if abs(value) >= 10 else 2
    return f"{value:.{digits}f}"


def _target(row: Row) -> str:
    if row.target is None:
        return ""
    unit = "" if row.target.of == "ratio" else f" {row.unit}"
    return f"{row.target.bound} {row.target.limit:g}{unit}"


def cells(row: Row) -> list[str]:
    """A row's cells; one that misses its target is bold in the cell that misses."""
    found = f"{number(row.found)} {row.unit}"
    ratio = "" if row.ratio is None else number(row.ratio)
    if row.target is not None and not row.target.is_met(row):
        if row.target.of == "found":
            found = f"**{found}**"
        else:
            ratio = f"**{ratio}**"
    peer = "" if row.peer_found is None else f"{row.peer}: {number(row.peer_found)} {row.unit}"
    return [row.what, found, peer, ratio, _target(row)]


HEAD = ["what", "found", "peer in the same run", "ratio", "wanted"]


def table(rows: Iterable[Row]) -> Iterator[str]:
    """The lines of a table in Markdown."""
    for line in (HEAD, ["---"] * len(HEAD), *map(cells, rows)):
        yield f"| {' | '.join(line)} |"


INTRODUCTION = """# Measured

Written by `{command}`; nothing here is typed by hand. {date}, {commit}, {processor},
{cores} processors, Python {python}.

Machines are noisy: compare ratios, each of which is of two figures of one run, and not figures of
different rows. A ratio is ours to the peer's: of times less is better, of rates more. What is in
bold misses what is wanted. How exact results are is in [accuracy.md](accuracy.md).
"""


def page(sections: Iterable[tuple[ModuleType, list[Row]]], effort: Effort) -> str:
    """Return the page of all benchmarks that were run: each module's own words, then its table.

    Args:
        sections: each module with its rows.
        effort: how much was measured.
    """
    lines = [
        INTRODUCTION.format(
            command="make bench" if effort.name == "full" else "make bench-quick",
            date=datetime.now(UTC).date().isoformat(),
            commit=_commit(),
            processor=_processor(),
            cores=CORES,
            python=platform.python_version(),
        )
    ]
    for module, rows in sections:
        heading, _, more = (module.__doc__ or "").strip().partition("\n")
        lines += [f"## {heading.rstrip('.')}", "", *([more.strip(), ""] if more.strip() else [])]
        lines += [*table(rows), ""]
    return "\n".join(lines)


def _commit() -> str:
    words = ["git", "describe", "--always", "--dirty=, with changes"]
    found = subprocess.run(words, capture_output=True, text=True, cwd=Path(__file__).parent)
    return f"commit {found.stdout.strip()}" if found.returncode == 0 else "no commit"


def _processor() -> str:
    try:
        said = Path("/proc/cpuinfo").read_text()
    except OSError:
        return platform.processor() or platform.machine()
    names = [line.partition(":")[2].strip() for line in said.splitlines() if "model name" in line]
    return names[0] if names else platform.machine()
