"""`python -m benchmarks [--quick] [--write FILE] [NAME…]`: all benchmarks, or those named.

Rows are printed as they come. With `--write` the page of all of them is written.
"""

import argparse
from pathlib import Path
from types import ModuleType

from benchmarks import (
    blending,
    boundaries,
    chain,
    colour,
    command_line,
    compiling,
    library,
    masks,
    mattes,
    page,
    preview,
    printing,
    render,
    report,
    retime,
    scale,
    steadiness,
    tracking,
    treatments,
)

BENCHMARKS: dict[str, ModuleType] = {
    module.__name__.rpartition(".")[2]: module
    for module in (
        chain,
        treatments,
        blending,
        masks,
        colour,
        retime,
        printing,
        steadiness,
        tracking,
        mattes,
        boundaries,
        command_line,
        library,
        preview,
        page,
        render,
        scale,
        compiling,
    )
}
SLOW = ("steadiness", "mattes", "retime", "page", "compiling")
"""Left out of a quick run."""


def main() -> None:
    """Run what the command line asks for."""
    parser = argparse.ArgumentParser(prog="python -m benchmarks", description=__doc__)
    parser.add_argument("names", nargs="*", metavar="NAME", help=", ".join(BENCHMARKS))
    parser.add_argument("--quick", action="store_true", help="fewer rounds, in three minutes")
    parser.add_argument("--write", type=Path, metavar="FILE", help="the page to write")
    asked = parser.parse_args()
    if unknown := set(asked.names) - set(BENCHMARKS):
        parser.error(f"no benchmark is named {', '.join(sorted(unknown))}")
    if asked.write and asked.names:
        parser.error("the page has all benchmarks; leave the names or --write out")
    effort = report.EFFORTS["quick" if asked.quick else "full"]
    names = asked.names or [name for name in BENCHMARKS if not (asked.quick and name in SLOW)]
    sections: list[tuple[ModuleType, list[report.Row]]] = []
    for name in names:
        print(f"\n{name}", flush=True)
        rows: list[report.Row] = []
        for row in BENCHMARKS[name].run(effort):
            rows.append(row)
            print(" ", " | ".join(filter(None, report.cells(row))), flush=True)
        sections.append((BENCHMARKS[name], rows))
    if asked.write:
        asked.write.write_text(report.page(sections, effort))


if __name__ == "__main__":
    main()
