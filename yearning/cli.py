"""The command line."""

import json
import secrets
import sys
from pathlib import Path
from typing import Annotated, NoReturn

import typer
from rich.console import Console
from rich.progress import BarColumn, TextColumn
from rich.progress import Progress as Bar

from yearning.core.look import Look, LookError, look_from_json, look_schema
from yearning.core.path import Path as Steps
from yearning.core.path import PictureCache
from yearning.farm.render import Progress, Stopped, check_result_name, is_numbered, render
from yearning.media.errors import MediaError
from yearning.media.footage import Footage
from yearning.media.probe import probe_file
from yearning.media.stills import check_still_name, write_still
from yearning.store.migrations import NewerProject
from yearning.store.project import Project, ProjectError

PORT = 8765
DEMO_PROJECT = Path(".demo") / "Tidewater Lamps"
OWN_PROJECT = Path("yearning-project")

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)


UsageError: type[Exception] = typer.BadParameter.__bases__[0]
"""What typer raises for words it does not understand; it carries a click of its own."""


class Unmet(Exception):
    """A request that can't be met; the message is the one line for standard error."""


def _look(path: Path) -> Look:
    try:
        return look_from_json(path.read_bytes())
    except OSError as error:
        raise Unmet(f"{path}: {error.strerror or error}") from None
    except LookError as error:
        raise Unmet(f"{path.name}: {error}") from None


LookFile = Annotated[Path, typer.Option("--look", help="A look file.", show_default=False)]
Clip = Annotated[Path, typer.Argument(metavar="FILE", help="A clip.", show_default=False)]


@app.command()
def serve(
    demo: Annotated[bool, typer.Option("--demo", help="Open the demo project.")] = False,
    project: Annotated[Path | None, typer.Option(help="The project's folder.")] = None,
    host: Annotated[str, typer.Option(help="Address to listen on.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)] = PORT,
) -> None:
    """Open a project in the browser."""
    import socket

    import uvicorn

    from yearning.api.app import create_app
    from yearning.api.guard import is_loopback

    opened = Project(project or (DEMO_PROJECT if demo else OWN_PROJECT))
    if demo:
        from yearning.demo.seed import seed

        seed(opened)
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise Unmet(
                f"{host}:{port}: {error.strerror}; choose another with --host or --port"
            ) from None
    token = None if is_loopback(host) else secrets.token_urlsafe(24)
    address = f"http://{host}:{port}/" + (f"?token={token}" if token else "")
    print(f"{opened.name} is open at {address}", flush=True)
    uvicorn.run(
        create_app(opened, token),
        host=host,
        port=port,
        log_level="warning",
        timeout_graceful_shutdown=2,  # an open page listens for ever
    )


@app.command()
def probe(
    file: Clip, as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False
) -> None:
    """Say what a clip is."""
    found = probe_file(file)
    if as_json:
        print(json.dumps(found.as_json(), indent=2))
        return
    size, coding = found.size, found.coding
    tagged = "" if found.tagged else ", guessed from its size"
    print(f"{size.width}x{size.height}, {float(found.rate):g} frames/s, {found.frames} frames")
    print(f"{found.duration:.3f} s, {found.codec} in {found.container}")
    print(f"{found.pixel_format}, {coding.range} range, matrix {coding.matrix}{tagged}")
    if found.rotation:
        print(f"turned by {found.rotation} degrees")
    for sound in found.sounds:
        print(f"sound: {sound.codec}, {sound.rate} Hz, {sound.channels} channels")


@app.command()
def frame(
    file: Clip,
    number: Annotated[int, typer.Argument(metavar="N", help="Frame, from 0.")],
    look: LookFile,
    out: Annotated[Path, typer.Option("-o", "--out", help="A .png or .exr.")],
    height: Annotated[int | None, typer.Option(help="Lines of the picture.", min=1)] = None,
    after: Annotated[str | None, typer.Option(help="The step's id after which to stop.")] = None,
) -> None:
    """Write one frame of a clip through a look."""
    check_still_name(out)
    steps = _look(look)
    with Footage(file) as footage:
        size = footage.size
        if height is not None:
            if height > size.height:
                raise Unmet(f"--height {height}: the clip has {size.height} lines")
            size = size.with_height(height)
        path = Steps(steps, footage, size, PictureCache(0))
        try:
            end = None if after is None else path.index_after(after)
        except KeyError as error:
            raise Unmet(f"--after: {error.args[0]}") from None
        write_still(path.picture(number, end), out)


@app.command("render")
def render_command(
    file: Clip,
    look: LookFile,
    out: Annotated[Path, typer.Option("-o", "--out", help="An .mp4, or DIR/%05d.png.")],
    first: Annotated[int, typer.Option("--from", help="The first frame.")] = 0,
    last: Annotated[int | None, typer.Option("--to", help="The last frame, rendered too.")] = None,
) -> None:
    """Render a clip through a look."""
    if is_numbered(out):
        out.parent.mkdir(parents=True, exist_ok=True)
    check_result_name(out)
    steps = _look(look)
    console = Console(stderr=True)
    columns = (
        TextColumn("{task.description}"),
        BarColumn(),
        TextColumn("{task.completed} of {task.total} frames  {task.fields[speed]}"),
    )
    with (
        Footage(file) as footage,
        Bar(*columns, console=console, disable=not console.is_terminal) as bar,
    ):
        task = bar.add_task(out.name, total=None, speed="")

        def told(progress: Progress) -> None:
            speed = f"{progress.rate:.1f} frames/s, {progress.left or 0:.0f} s left"
            bar.update(task, completed=progress.done, total=progress.total, speed=speed)

        render(footage, steps, out, first=first, last=last, told=told)


@app.command()
def treatments(
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """List the treatments and their settings."""
    from yearning.api.schemas import catalogue

    known = catalogue().treatments
    if as_json:
        print(json.dumps([treatment.model_dump() for treatment in known], indent=2))
        return
    for treatment in known:
        print(f"{treatment.kind} ({treatment.stage}): {treatment.says}")
        for setting in treatment.settings:
            span = "" if setting.low is None else f" {setting.low:g}..{setting.high:g}"
            choices = "" if not setting.choices else f" {' | '.join(map(str, setting.choices))}"
            unit = {"choice": "", "switch": "on or off", "points": "points"}.get(
                setting.unit, setting.unit
            )
            print(f"  {setting.name}: {setting.help} [{(unit + span + choices).strip()}]")


@app.command()
def schema() -> None:
    """Print the JSON Schema of look files."""
    print(json.dumps(look_schema(), indent=2))


def _complain(message: str) -> NoReturn:
    print(f"yearning: {message}".replace("\n", " "), file=sys.stderr)
    raise SystemExit(2)


def main(arguments: list[str] | None = None) -> None:
    """Run a command; a request that can't be met ends with 2 and one line that says why."""
    try:
        app(arguments, standalone_mode=False)
    except UsageError as error:
        _complain(f"{str(error).rstrip('.')}; see yearning --help")
    except typer.Exit as done:
        raise SystemExit(done.exit_code) from None
    except (Unmet, MediaError, LookError, ProjectError, NewerProject) as error:
        _complain(str(error))
    except IndexError as error:
        _complain(str(error))
    except (Stopped, KeyboardInterrupt, typer.Abort):
        _complain("stopped; nothing was written")
    except OSError as error:
        where = f"{error.filename}: " if error.filename else ""
        _complain(f"{where}{error.strerror or error}")


if __name__ == "__main__":
    main()
