"""Steadiness and flashes, measured."""

from typing import Annotated, Any

import typer

from yearning.cli.options import (
    Clip,
    FittingOption,
    JsonOption,
    LookOption,
    ProjectOption,
    ReadOption,
    app,
    chosen_clip,
    chosen_look,
    fitted_look,
    fitting_in,
    own_reading,
    parse_reading,
    print_json,
    project_in,
)
from yearning.cli.progress import progress_of
from yearning.library.measuring import flashes as find_flashes
from yearning.library.measuring import steadiness
from yearning.media.decode.clip import open_clip


@app.command()
def steady(
    file: Clip,
    look: LookOption,
    read: ReadOption = None,
    project: ProjectOption = None,
    fitting: FittingOption = None,
    as_json: JsonOption = False,
) -> None:
    """Say how steady a look is on a clip: what change from frame to frame it adds."""
    opened = project_in(project)
    own = fitting_in(fitting)
    found = chosen_clip(file, parse_reading(read) or own_reading(own), opened)
    with (
        open_clip(found.path, found.reading) as clip,
        progress_of(found.name, clip.frames) as on_frame,
    ):
        chosen = fitted_look(
            chosen_look(look, clip, opened, found.fits(own)), clip, own, found.name
        )
        report = steadiness(clip, chosen, on_frame=on_frame)
    if as_json:
        print_json(report)
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
    look: Annotated[
        str | None,
        typer.Option(metavar="FILE|NAME", help="A look file or a starter; without, the clip."),
    ] = None,
    read: ReadOption = None,
    project: ProjectOption = None,
    fitting: FittingOption = None,
    as_json: JsonOption = False,
) -> None:
    """Look for flashes that can harm (WCAG 2.2 SC 2.3.1, ITU-R BT.1702-3)."""
    opened = project_in(project)
    own = fitting_in(fitting)
    found = chosen_clip(file, parse_reading(read) or own_reading(own), opened)
    with (
        open_clip(found.path, found.reading) as clip,
        progress_of(found.name, clip.frames) as on_frame,
    ):
        chosen = None
        if look is not None:
            chosen = fitted_look(
                chosen_look(look, clip, opened, found.fits(own)), clip, own, found.name
            )
        report = find_flashes(clip, chosen, on_frame=on_frame)
    if as_json:
        print_json(report)
        return
    print("passes" if report["passes"] else f"fails: {report['seconds']:.2f} s at fault")
    for fault in report["faults"]:
        print(_fault_line(fault))


def flash_words(fault: dict[str, Any]) -> str:
    """What a fault is, without where and by what."""
    return (
        f"{fault['kind']} flashes, {fault['count']:g} in a second, over {100 * fault['area']:.0f} %"
        " of the picture"
    )


def _fault_line(fault: dict[str, Any]) -> str:
    by = "as shot" if fault["step"] is None else f"by {fault['step']}"
    return f"frames {fault['from']} to {fault['to']}: {flash_words(fault)}, {by}"
