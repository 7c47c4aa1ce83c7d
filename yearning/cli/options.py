"""What commands are asked with: looks, clips, and how they are read."""

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer
from rich.console import Console
from rich.progress import Progress as Bar

from yearning.core.errors import YearningError
from yearning.core.look.upgrades import changed_pictures
from yearning.library.look import Look, read_look, starter
from yearning.media.decode.clip import OpenClip
from yearning.media.decode.reading import Reading

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)


class CommandError(YearningError):
    """A request that can't be met; the message is the one line for standard error."""


def chosen_look(given: str, clip: OpenClip | None = None) -> Look:
    """The look that is asked for: a file, or a starter look by its name, begun with on a clip."""
    path = Path(given)
    if not path.exists():
        if path.suffix or len(path.parts) > 1:
            raise CommandError(f"{given}: no such file")
        return starter(given, clip)
    look = read_look(path)
    for note in changed_pictures(json.loads(path.read_bytes())):
        typer.echo(f"{path.name}: {note}", err=True)
    return look


LookOption = Annotated[
    str,
    typer.Option(
        "--look",
        metavar="FILE|NAME",
        help="A look file, or a starter look by its name: `yearning looks` lists them.",
        show_default=False,
    ),
]
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


@contextmanager
def watched(frames: int, what: str) -> Iterator[Callable[[int], None]]:
    """A bar that says how far a walk through a clip is; called with the frames that are done."""
    console = Console(stderr=True)
    with Bar(console=console, disable=not console.is_terminal) as bar:
        task = bar.add_task(what, total=frames)
        yield lambda done: bar.update(task, completed=done)
