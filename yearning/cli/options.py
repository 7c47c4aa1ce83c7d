"""What commands are asked with: looks, clips, and how they are read."""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Annotated

import typer
from rich.console import Console
from rich.progress import Progress as Bar

from yearning.core.look.document import Look, LookError, look_from_json
from yearning.core.look.upgrades import changed_pictures
from yearning.media.decode.reading import Reading

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)


class CommandError(Exception):
    """A request that can't be met; the message is the one line for standard error."""


def read_look(path: Path) -> Look:
    """The look in a file."""
    try:
        text = path.read_bytes()
        look = look_from_json(text)
    except OSError as error:
        raise CommandError(f"{path}: {error.strerror or error}") from None
    except LookError as error:
        raise CommandError(f"{path.name}: {error}") from None
    for note in changed_pictures(json.loads(text)):
        typer.echo(f"{path.name}: {note}", err=True)
    return look


LookFile = Annotated[Path, typer.Option("--look", help="A look file.", show_default=False)]
ReadOption = Annotated[
    list[str] | None,
    typer.Option(
        "--read",
        metavar="NAME=VALUE",
        help="What the clip's tags have wrong: matrix=bt709, range=full, light=HLG, "
        "fields='top first', rate=30000/1001; deflicker=12 evens exposure that pumps; speed=0.3 "
        "with between=hold, dissolve or motion, and sound=stretched.",
    ),
]


def parse_reading(read: list[str] | None) -> Reading:
    """How a clip is read, as `--read` says."""
    pairs = [item.partition("=") for item in read or []]
    if any(not mark for _, mark, _ in pairs):
        raise CommandError("--read: write NAME=VALUE, like --read matrix=bt601")
    return Reading.of({name.strip(): value.strip() for name, _, value in pairs})


Clip = Annotated[
    Path,
    typer.Argument(
        metavar="FILE", help="A clip: a movie, or stills like DIR/%05d.png.", show_default=False
    ),
]


def watched(work: Iterator[int], frames: int, what: str) -> None:
    """Go through a clip, with a bar that says how far it is."""
    console = Console(stderr=True)
    with Bar(console=console, disable=not console.is_terminal) as bar:
        task = bar.add_task(what, total=frames)
        for done in work:
            bar.update(task, completed=done)
