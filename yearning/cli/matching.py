"""Grades that bring a clip near another picture."""

from contextlib import ExitStack
from dataclasses import replace
from pathlib import Path
from typing import Annotated

import typer

from yearning.cli.options import (
    Clip,
    CommandError,
    JsonOption,
    ProjectOption,
    ReadOption,
    app,
    chosen_clip,
    parse_reading,
    print_json,
    project_in,
    short_name,
)
from yearning.cli.progress import progress_of
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.measure.colour_match import HELD, LINES
from yearning.core.treatment.clip_tones import SAMPLED
from yearning.library.look import Look, write_look
from yearning.library.matching import match as find_match
from yearning.library.pictures import Picture
from yearning.library.steps import Mix
from yearning.media.decode.clip import open_clip
from yearning.media.plates.plates import STILL_SUFFIXES


@app.command()
def match(
    file: Clip,
    like: Annotated[
        Path,
        typer.Option(
            metavar="FILE",
            help="The picture it is to come near: a still, or a clip; with --project, its name.",
            show_default=False,
        ),
    ],
    out: Annotated[Path, typer.Option("-o", "--out", help="The look, a .json file.")],
    like_frame: Annotated[
        int | None,
        typer.Option(help="Which frame of that clip, from 0; the middle one, if left out.", min=0),
    ] = None,
    hold: Annotated[
        list[str] | None,
        typer.Option(
            help=f"Colours that keep their hue and saturation: {', '.join(HELD)}; also both.",
            show_default=False,
        ),
    ] = None,
    amount: Annotated[float, typer.Option(help="How much of the way.", min=0, max=1)] = 1.0,
    read: ReadOption = None,
    project: ProjectOption = None,
    as_json: JsonOption = False,
) -> None:
    """Find a grade of ordinary steps that brings a clip near another picture."""
    if out.suffix.lower() != ".json":
        raise CommandError(f"{out}: a look file ends in .json")
    opened = project_in(project)
    if opened is not None:
        opened.check_outside(out)
    found = chosen_clip(file, parse_reading(read), opened)
    other = chosen_clip(like, None, opened)
    if like_frame is not None and _is_still(other.path):
        raise CommandError(f"--like-frame: {other.path.name} is a still, which has one frame")
    with ExitStack() as held:
        clip = open_clip(found.path, found.reading)
        held.enter_context(clip)
        wanted: Path | Picture = other.path
        if not _is_still(other.path):
            pictures = open_clip(other.path, other.reading)
            held.enter_context(pictures)
            number = pictures.frames // 2 if like_frame is None else like_frame
            wanted = Look().picture(pictures, number, height=min(pictures.size.height, LINES))
        on_frame = held.enter_context(progress_of(found.name, min(clip.frames, SAMPLED)))
        matched = find_match(clip, wanted, held=hold or (), on_frame=on_frame)
    step = replace(matched.step, mix=Mix(amount=amount))
    write_look(Look([step], name=f"Like {short_name(other)}"), out)
    if as_json:
        numbers = {"before": matched.before, "after": matched.after, "held": matched.held}
        print_json({"file": str(out)} | numbers)
        return
    print(
        f"{out}: colours lie {100 * matched.before:.1f} % of white from the picture's, "
        f"{100 * matched.after:.1f} % with the whole grade"
    )
    for kind, off in matched.held.items():
        print(f"{kind}: {100 * off:.1f} % from where they would stay")


def _is_still(path: Path) -> bool:
    return path.suffix.lower() in STILL_SUFFIXES and not is_frame_pattern(path.name)
