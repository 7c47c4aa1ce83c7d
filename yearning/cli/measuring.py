"""Steadiness and flashes, measured."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from yearning.cli.options import (
    Clip,
    LookFile,
    ReadOption,
    app,
    parse_reading,
    read_look,
    watched,
)
from yearning.core.look.document import Look, check_times
from yearning.media.decode.clip import open_clip
from yearning.media.plates.assets import assets_in, check_assets
from yearning.store.content_store import file_digest


@app.command()
def steady(
    file: Clip,
    look: LookFile,
    read: ReadOption = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Say how steady a look is on a clip: what change from frame to frame it adds."""
    from yearning.core.measure.steadiness import SteadinessAnalysis

    document = read_look(look)
    with open_clip(file, parse_reading(read)) as clip:
        check_times(document, clip.frames)
        check_assets(document, look.parent, lambda: file_digest(file))
        found = SteadinessAnalysis(
            document, clip, float(clip.probe.rate), assets=assets_in(look.parent)
        )
        watched(found.run(), clip.frames, file.name)
    report = found.report()
    if as_json:
        print(json.dumps(report, indent=1))
        return
    summary = report["summary"]
    print(
        f"{summary['frames']} frames, {summary['cuts']} cuts; change from frame to frame, of white:"
    )
    for name in ("change_footage", "change_result", "added", "added_steady"):
        print(f"  {name.replace('_', ' ')}: {100 * summary[name]:.3f} %")
    for step, added in report["steps"].items():
        lively = " (lively)" if step in report["lively"] else ""
        print(f"  {step}{lively} adds {100 * added:+.3f} %")
    for flag in report["flags"]:
        what = "the light jumps by" if flag["why"] == "jump" else "change is added:"
        print(f"frame {flag['frame']}: {what} {100 * flag['value']:.2f} %, by {flag['step']}")
    for fault in report["flashes"]:
        print(_fault_line(fault))


@app.command()
def flashes(
    file: Clip,
    look: Annotated[Path | None, typer.Option(help="A look file; without, the clip.")] = None,
    read: ReadOption = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Look for flashes that can harm (WCAG 2.2 SC 2.3.1, ITU-R BT.1702-3)."""
    from yearning.core.measure.flash_check import FlashAnalysis

    document = Look() if look is None else read_look(look)
    folder = Path() if look is None else look.parent
    with open_clip(file, parse_reading(read)) as clip:
        check_times(document, clip.frames)
        check_assets(document, folder, lambda: file_digest(file))
        check = FlashAnalysis(document, clip, float(clip.probe.rate), assets=assets_in(folder))
        watched(check.run(), clip.frames, file.name)
    report = check.report()
    if as_json:
        print(json.dumps(report, indent=1))
        return
    print("passes" if report["passes"] else f"fails: {report['seconds']:.2f} s at fault")
    for fault in report["faults"]:
        print(_fault_line(fault))


def _fault_line(fault: dict[str, Any]) -> str:
    by = "as shot" if fault["step"] is None else f"by {fault['step']}"
    return (
        f"frames {fault['from']} to {fault['to']}: {fault['kind']} flashes, {fault['count']:g} in "
        f"a second, over {100 * fault['area']:.0f} % of the picture, {by}"
    )
