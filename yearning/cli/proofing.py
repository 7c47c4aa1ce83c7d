"""Proof sheets."""

import json
import re
from contextlib import ExitStack, closing
from pathlib import Path
from typing import Annotated, Any

import typer

from yearning.cli.options import (
    CommandError,
    FittingOption,
    FittingsOption,
    JsonOption,
    LookOption,
    ProjectOption,
    ReadOption,
    app,
    check_fittings,
    chosen_clip,
    chosen_look,
    fitted_look,
    fitting_for,
    look_for,
    own_reading,
    parse_reading,
    print_json,
    project_in,
    short_name,
)
from yearning.core.look.variants import even_values
from yearning.library.proofs import LINES, Shot, proof_sheet
from yearning.media.decode.clip import open_clip
from yearning.media.stills.contact_sheet import MAX_CELLS, check_sheet_name

SPAN = re.compile(r"(-?[\d.]+)\.\.(-?[\d.]+):(\d{1,3})")
"""Values evenly from one to another: `10..80:6`."""


@app.command()
def proof(
    files: Annotated[
        list[Path],
        typer.Argument(
            metavar="FILE...",
            help="Clips: movies, or stills like DIR/%05d.png; with --project, their names.",
            show_default=False,
        ),
    ],
    look: LookOption,
    out: Annotated[Path, typer.Option("-o", "--out", help="A .png, or a .pdf page.")],
    vary: Annotated[
        list[str] | None,
        typer.Option(
            metavar="STEP.SETTING=A,B,C",
            help="What is tried: values, or a span like 10..80:6, or 'all' of a choice; "
            "STEP.mix.blend=all for blend modes. Given twice: rows and columns.",
            show_default=False,
        ),
    ] = None,
    frame: Annotated[
        list[int] | None,
        typer.Option(help="A frame, from 0; one or several. The middle one, if left out."),
    ] = None,
    height: Annotated[
        int | None,
        typer.Option(help=f"Lines of each picture; {LINES}, if left out.", min=1),
    ] = None,
    read: ReadOption = None,
    project: ProjectOption = None,
    fitting: FittingOption = None,
    fittings: FittingsOption = None,
    as_json: JsonOption = False,
) -> None:
    """Write a sheet of one thing changed many ways, to choose from by eye."""
    check_sheet_name(out)
    opened = project_in(project)
    if opened is not None:
        opened.check_outside(out)
    check_fittings(fitting, fittings, one=len(files) == 1)
    tried = dict(map(_parse_variation, vary or []))
    if len(tried) < len(vary or []):
        raise CommandError("--vary: a setting is named twice; write all its values at once")
    read_once = chosen_look(look, project=opened)
    shots: list[Shot] = []
    with ExitStack() as held:
        for file in files:
            found = chosen_clip(file, parse_reading(read), opened)
            own = fitting_for(found, fitting or fittings)
            reading = parse_reading(read) or own_reading(own) or found.reading
            clip = open_clip(found.path, reading)
            held.enter_context(closing(clip))
            chosen = look_for(look, read_once, clip, opened, found.fits(own))
            chosen = fitted_look(chosen, clip, own, found.name)
            for number in frame or [clip.frames // 2]:
                shots.append(Shot(clip, number, chosen, f"{short_name(found)} · frame {number}"))
        proof_sheet(shots, tried, out, height=height)
    if as_json:
        print_json({"file": str(out), "vary": tried, "shots": [shot.name for shot in shots]})


def _parse_variation(text: str) -> tuple[str, Any]:
    """What `--vary` says: a place, and its values."""
    place, mark, said = text.partition("=")
    if not mark or not said:
        raise CommandError(f"--vary {text}: write STEP.SETTING=A,B,C")
    if said == "all":
        return place, "all"
    span = SPAN.fullmatch(said)
    if span:
        count = int(span[3])
        if not 2 <= count <= MAX_CELLS:
            raise CommandError(f"--vary {text}: a span has 2 to {MAX_CELLS} values")
        try:
            return place, even_values(float(span[1]), float(span[2]), count)
        except ValueError:
            raise CommandError(f"--vary {text}: write a span like 10..80:6") from None
    return place, [_value(each) for each in said.split(",")]


def _value(text: str) -> Any:
    """A number, true or false, or else a word."""
    try:
        return json.loads(text)
    except ValueError:
        return text.strip()
