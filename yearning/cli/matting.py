"""Mattes, solved by command."""

from pathlib import Path
from typing import Annotated

import typer
from pydantic import ValidationError

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
from yearning.core.motion.strokes import Strokes
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides


def read_strokes(path: Path) -> Strokes:
    """The strokes in a file."""
    try:
        return Strokes.model_validate_json(path.read_bytes())
    except OSError as error:
        raise CommandError(f"{path}: {error.strerror or error}") from None
    except ValidationError as error:
        first = error.errors()[0]
        where = "".join(f"[{p}]" if isinstance(p, int) else f".{p}" for p in first["loc"])
        what = first["msg"].removeprefix("Value error, ")
        place = where.removeprefix(".")
        raise CommandError(f"{path.name}: {place + ': ' if place else ''}{what}") from None


@app.command()
def matte(
    file: Clip,
    strokes: Annotated[Path, typer.Option(help="A file of strokes.", show_default=False)],
    out: Annotated[
        Path, typer.Option("-o", "--out", help="The matte, a plate: .mkv.", show_default=False)
    ],
    read: ReadOption = None,
    as_json: JsonOption = False,
) -> None:
    """Lift a figure out of a clip, from strokes on it: a grey plate that says where it is.

    Where that is there already, of the same clip, only what the strokes change is found anew.
    """
    from yearning.analysis.mattes import MatteJob
    from yearning.store.content_store import file_digest

    drawn = read_strokes(strokes)
    with open_clip(file, parse_reading(read) or InputOverrides()) as clip:
        try:
            known = out if out.is_file() else None
            job = MatteJob(clip, file_digest(clip.path), drawn, out, known)
        except ValueError as error:
            raise CommandError(f"{strokes.name}: {error}") from None
        with progress_of(file.name, job.total) as on_frame:
            for done in job.run():
                on_frame(done)
        frames = clip.frames
    if as_json:
        print_json({"file": str(out), "frames": frames})
        return
    typer.echo(f"{out}: {frames} frames")
