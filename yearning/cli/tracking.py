"""Tracks, found by command."""

from pathlib import Path
from statistics import fmean
from typing import Annotated, get_args

import typer
from pydantic import TypeAdapter, ValidationError

from yearning.cli.options import (
    Clip,
    CommandError,
    JsonOption,
    ReadOption,
    app,
    parse_reading,
    print_json,
)
from yearning.cli.progress import progress_of
from yearning.core.masks.shapes import AnyShape, Outline
from yearning.core.motion.tracks import Kind, track_json
from yearning.media.atomic_write import atomic_write
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides


def read_shape(path: Path) -> Outline:
    """The shape with an edge that a file holds."""
    try:
        shape = TypeAdapter[AnyShape](AnyShape).validate_json(path.read_bytes())
    except OSError as error:
        raise CommandError(f"{path}: {error.strerror or error}") from None
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"][1:])
        what = first["msg"].removeprefix("Value error, ")
        raise CommandError(f"{path.name}: {where + ': ' if where else ''}{what}") from None
    if not isinstance(shape, Outline):
        raise CommandError(f"{path.name}: only an ellipse, a box or a drawn shape can be followed")
    return shape


@app.command()
def track(
    file: Clip,
    shape: Annotated[
        Path, typer.Option(help="A file of one shape, as a look's mask has it.", show_default=False)
    ],
    frame: Annotated[int, typer.Option(help="The frame it is drawn on.", show_default=False)],
    out: Annotated[Path, typer.Option("-o", "--out", help="The track.", show_default=False)],
    kind: Annotated[
        str, typer.Option(help="What the part may do: shift, turn (and change size), corners.")
    ] = "turn",
    smooth: Annotated[
        int, typer.Option(help="Frames on either side over which it is smoothed.", min=0, max=24)
    ] = 0,
    read: ReadOption = None,
    as_json: JsonOption = False,
) -> None:
    """Follow a part of a clip, so that shapes and more can ride on it."""
    from yearning.analysis.tracks import Tracking, Wanted
    from yearning.store.content_store import file_digest

    if kind not in get_args(Kind):
        raise CommandError(f"--kind: '{kind}' is not one of {', '.join(get_args(Kind))}")
    wanted = Wanted(read_shape(shape), frame, kind, smooth=smooth)  # type: ignore[arg-type]
    with open_clip(file, (parse_reading(read) or InputOverrides()).as_shot) as clip:
        tracking = Tracking(clip, file_digest(clip.path), wanted)
        with progress_of(file.name, tracking.total) as on_frame:
            for done in tracking.run():
                on_frame(done)
        found, losses = tracking.track(), tracking.losses()
    if len(found.frames) == 1:
        raise CommandError(
            f"{shape.name}: nothing in it can be followed from frame {frame} on; "
            "draw it about something with corners, or begin at another frame"
        )
    with atomic_write(out) as place:
        place.write_text(track_json(found))
    sure = fmean(f.sure for f in found.frames)
    if as_json:
        lost = [{"from": first, "to": last, "why": why} for first, last, why in losses]
        print_json({"file": str(out), "frames": len(found.frames), "sure": sure, "lost": lost})
        return
    typer.echo(f"{len(found.frames)} frames, sure to {sure:.0%}")
    for first, last, why in losses:
        typer.echo(f"lost at frames {first} to {last}: {why}")
