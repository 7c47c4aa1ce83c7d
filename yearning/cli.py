"""The command line."""

import json
import logging
import secrets
import shutil
import signal
import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import numpy as np
import typer
from rich.console import Console
from rich.progress import BarColumn, TextColumn
from rich.progress import Progress as Bar

from yearning.core.bake import SIDES, bake
from yearning.core.cache import PictureCache
from yearning.core.cutting import cut_ratio
from yearning.core.framing import cut_at
from yearning.core.look import Look, LookError, check_times, look_from_json, look_schema
from yearning.core.path import Path as Steps
from yearning.core.picture import Size
from yearning.core.standins import STAND_INS
from yearning.farm.errors import FarmError, Halted, NoRoom
from yearning.farm.job import Job
from yearning.media.clip import open_clip
from yearning.media.cube import write_cube
from yearning.media.errors import MediaError
from yearning.media.making import write_stand_in
from yearning.media.materials import check_materials, materials_in
from yearning.media.reading import Reading
from yearning.media.results import (
    AS_FOOTAGE,
    CODECS,
    ENDINGS,
    QUALITIES,
    Output,
    check_result,
    is_numbered,
)
from yearning.media.sequence import is_sequence
from yearning.media.stills import STILLS, check_still_name, still_bits, write_still
from yearning.store.migrations import NewerProject
from yearning.store.project import Project, ProjectError

PORT = 8765
DEMO_PROJECT = Path(".demo") / "Tidewater Lamps"
OWN_PROJECT = Path("yearning-project")

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)


if TYPE_CHECKING:
    from yearning.farm.cluster import Cluster

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
Said = Annotated[
    list[str] | None,
    typer.Option(
        "--read",
        metavar="NAME=VALUE",
        help="What the clip's tags have wrong: matrix=bt709, range=full, light=HLG, "
        "fields='top first', rate=30000/1001; deflicker=12 evens exposure that pumps; speed=0.3 "
        "with between=hold, dissolve or motion, and sound=stretched.",
    ),
]


def _reading(said: list[str] | None) -> Reading:
    pairs = [item.partition("=") for item in said or []]
    if any(not mark for _, mark, _ in pairs):
        raise Unmet("--read: write NAME=VALUE, like --read matrix=bt601")
    return Reading.of({name.strip(): value.strip() for name, _, value in pairs})


Clip = Annotated[
    Path,
    typer.Argument(
        metavar="FILE", help="A clip: a movie, or stills like DIR/%05d.png.", show_default=False
    ),
]


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
    # an open page listens for ever: that it is cut off at the end is no error
    logging.getLogger("uvicorn.error").addFilter(
        lambda record: "graceful shutdown" not in record.getMessage()
    )
    uvicorn.run(
        create_app(opened, token),
        host=host,
        port=port,
        log_level="warning",
        timeout_graceful_shutdown=2,
    )


@app.command()
def probe(
    file: Clip,
    said: Said = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Say what a clip is."""
    with open_clip(file, _reading(said)) as clip:
        found = clip.probe
    if as_json:
        print(json.dumps(found.as_json(), indent=2))
        return
    size, coding = found.size, found.coding
    tagged = "" if found.tagged else ", guessed from its size"
    even = ", taken to that from an uneven rate" if found.variable else ""
    rate = f"{float(found.rate):g} frames/s{even}"
    print(f"{size.width}x{size.height}, {rate}, {found.frames} frames")
    print(f"{found.duration:.3f} s, {found.codec} in {found.container}")
    print(f"{found.pixel_format}, {coding.range} range, matrix {coding.matrix}{tagged}")
    if found.light != "SDR" or found.wide:
        print(f"{found.light}, {'BT.2020' if found.wide else 'BT.709'}: shown as BT.709")
    if found.fields != "progressive":
        print(f"{found.fields}: made whole")
    if found.size != found.coded and found.rotation % 180 == 0:
        print(f"stored as {found.coded.width}x{found.coded.height} of pixels that are not square")
    if found.timecode:
        print(f"timecode {found.timecode}")
    if found.rotation:
        print(f"turned by {found.rotation} degrees")
    for sound in found.sounds:
        print(f"sound: {sound.codec}, {sound.rate} Hz, {sound.channels} channels")


@app.command()
def frame(
    file: Clip,
    number: Annotated[int, typer.Argument(metavar="N", help="Frame, from 0.")],
    look: LookFile,
    out: Annotated[Path, typer.Option("-o", "--out", help=f"A still: {', '.join(STILLS)}.")],
    height: Annotated[int | None, typer.Option(help="Lines of the picture.", min=1)] = None,
    after: Annotated[str | None, typer.Option(help="The step's id after which to stop.")] = None,
    bits: Annotated[int | None, typer.Option(help="Bits a channel.")] = None,
    said: Said = None,
) -> None:
    """Write one frame of a clip through a look."""
    check_still_name(out)
    still_bits(out.suffix.lower(), bits)
    steps = _look(look)
    with open_clip(file, _reading(said)) as footage:
        size = footage.size
        if height is not None:
            if height > size.height:
                raise Unmet(f"--height {height}: the clip has {size.height} lines")
            size = size.with_height(height)
        check_times(steps, footage.frames)
        check_materials(steps, look.parent)
        materials = materials_in(look.parent)
        path = Steps(steps, footage, size, PictureCache(0), materials=materials)
        try:
            picture = path.picture(number, after)
        except KeyError as error:
            raise Unmet(f"--after: {error.args[0]}") from None
        ratio = cut_ratio(steps) if after is None else None
        if ratio is not None:
            picture = np.ascontiguousarray(cut_at(ratio, footage.size, size).of(picture))
        write_still(picture, out, bits)


@app.command("bake")
def bake_command(
    look: LookFile,
    out: Annotated[Path, typer.Option("-o", "--out", help="A .cube file.")],
    side: Annotated[int, typer.Option(help=f"Points a side: {', '.join(map(str, SIDES))}.")] = 33,
) -> None:
    """Bake a look that works on colours alone as a look-up table, and say how near it comes."""
    if out.suffix.lower() != ".cube":
        raise Unmet(f"{out}: a baked look ends in .cube")
    if side not in SIDES:
        raise Unmet(f"--side {side}: write one of {', '.join(map(str, SIDES))}")
    steps = _look(look)
    values, error = bake(steps, side, materials_in(look.parent))
    write_cube(out, steps.name, values)
    print(f"{out.name}: {side}³ points; no channel is off by more than {100 * error:.3f} %")


@app.command()
def plate(
    kind: Annotated[str, typer.Argument(help=f"{', '.join(STAND_INS)}.", show_default=False)],
    out: Annotated[Path, typer.Option("-o", "--out", help="A .mp4 file; of one picture, .png.")],
    seed: Annotated[int, typer.Option(help="Another seed, another plate.", min=0)] = 1,
    size: Annotated[str, typer.Option(help="Width and height in pixels.")] = "1920x1080",
) -> None:
    """Make a plate for those who have none: grain, dust, a burn, a border, dirt, paper."""
    sides = size.lower().split("x")
    if len(sides) != 2 or not all(side.isdigit() for side in sides):
        raise Unmet(f"--size {size}: write it like 1920x1080")
    write_stand_in(kind, out, seed, Size(*map(int, sides)))
    print(f"{out}: {STAND_INS[kind].says}")


@app.command("render")
def render_command(
    files: Annotated[
        list[Path],
        typer.Argument(
            metavar="FILE...",
            help="Clips: movies, or stills like DIR/%05d.png.",
            show_default=False,
        ),
    ],
    look: LookFile,
    out: Annotated[
        Path,
        typer.Option("-o", "--out", help=f"{ENDINGS}; with several clips, '{{name}}' in it."),
    ],
    first: Annotated[int, typer.Option("--from", help="The first frame.")] = 0,
    last: Annotated[int | None, typer.Option("--to", help="The last frame, rendered too.")] = None,
    quality: Annotated[str, typer.Option(help=" | ".join(QUALITIES))] = AS_FOOTAGE.quality,
    codec: Annotated[str | None, typer.Option(help=" | ".join(CODECS))] = None,
    bits: Annotated[int | None, typer.Option(help="Bits a channel; else as the footage.")] = None,
    height: Annotated[int | None, typer.Option(help="Lines of a smaller result.")] = None,
    workers: Annotated[
        int | None, typer.Option(help="Processes on this machine; one a core if left out.", min=1)
    ] = None,
    cluster: Annotated[
        str | None,
        typer.Option(help="A Dask scheduler whose workers see the same folders: tcp://HOST:PORT."),
    ] = None,
    said: Said = None,
) -> None:
    """Render clips through a look. What was broken off goes on when the same is asked again."""
    output = Output(quality, codec, bits, height)  # type: ignore[arg-type]
    steps, reading = _look(look), _reading(said)
    if len(files) > 1 and NAME not in str(out):
        raise Unmet(f"{out}: several clips need {NAME} in the result's name, like 'out/{NAME}.mp4'")
    named = [(file, Path(str(out).replace(NAME, _named(file)))) for file in files]
    twice = {target for _, target in named if sum(t == target for _, t in named) > 1}
    if twice:
        raise Unmet(f"{min(twice)}: two clips would be written there; give them other names")
    from yearning.farm.cluster import Cluster, check_address

    if cluster is not None:
        check_address(cluster)
    failed: list[str] = []
    jobs: list[tuple[Path, Job]] = []

    def each(file: Path, work: Callable[[], None]) -> None:
        """One clip's failure does not keep the others from their turn."""
        try:
            work()
        except (MediaError, FarmError, LookError, IndexError, OSError) as error:
            if len(files) == 1:
                raise
            failed.append(f"{file.name}: {error}")

    def take(file: Path, target: Path) -> None:
        if is_numbered(target):
            target.parent.mkdir(parents=True, exist_ok=True)
        check_result(target, output)
        with open_clip(file, reading) as footage:
            job = Job.of(
                footage,
                steps,
                target,
                materials=look.parent,
                output=output,
                first=first,
                last=last,
            )
        jobs.append((file, job))

    for file, target in named:
        each(file, partial(take, file, target))
    if jobs:
        with Cluster(workers, cluster) as farm:
            for file, job in jobs:
                each(file, partial(_render, job, farm))
    if failed:
        raise Unmet(f"{len(failed)} of {len(files)} not rendered: {'; '.join(failed)}")


NAME = "{name}"
"""Stands for a clip's own name in a result's."""


def _named(file: Path) -> str:
    """A clip's own name; of stills, what stands before their number, or their folder's."""
    if not is_sequence(file):
        return file.stem
    return file.stem.partition("%")[0].rstrip("._- ") or file.resolve().parent.name


def _render(job: Job, farm: "Cluster") -> None:
    from yearning.farm.run import Halt, Progress, run

    console = Console(stderr=True)
    columns = (
        TextColumn("{task.description}"),
        BarColumn(),
        TextColumn("{task.completed} of {task.total} frames  {task.fields[speed]}"),
    )
    pieces = job.out.with_name(f".{job.out.name}.pieces")
    with Bar(*columns, console=console, disable=not console.is_terminal) as bar:
        task = bar.add_task(job.out.name, total=None, speed="")

        def told(progress: Progress) -> None:
            speed = f"{progress.rate:.1f} frames/s, {progress.left or 0:.0f} s left"
            bar.update(task, completed=progress.done, total=progress.total, speed=speed)

        with _interrupts() as interrupted:
            run(job, pieces, farm, told=told, halt=lambda: Halt.NOW if interrupted() else None)
    shutil.rmtree(pieces)


@contextmanager
def _interrupts() -> Iterator[Callable[[], bool]]:
    """Tells of an interrupt; as an exception it would be lost where it meets a finalizer."""
    met = threading.Event()
    before = signal.signal(signal.SIGINT, lambda *_: met.set())
    try:
        yield met.is_set
    finally:
        signal.signal(signal.SIGINT, before)


def _watched(work: Iterator[int], frames: int, what: str) -> None:
    """Go through a clip, with a bar that says how far it is."""
    console = Console(stderr=True)
    with Bar(console=console, disable=not console.is_terminal) as bar:
        task = bar.add_task(what, total=frames)
        for done in work:
            bar.update(task, completed=done)


@app.command()
def steady(
    file: Clip,
    look: LookFile,
    said: Said = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Say how steady a look is on a clip: what change from frame to frame it adds."""
    from yearning.core.measure.steadiness import Examination

    steps = _look(look)
    with open_clip(file, _reading(said)) as clip:
        check_times(steps, clip.frames)
        check_materials(steps, look.parent)
        found = Examination(
            steps, clip, float(clip.probe.rate), materials=materials_in(look.parent)
        )
        _watched(found.run(), clip.frames, file.name)
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
    said: Said = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Look for flashes that can harm (WCAG 2.2 SC 2.3.1, ITU-R BT.1702-3)."""
    from yearning.core.measure.flash_check import FlashCheck

    steps = Look() if look is None else _look(look)
    folder = Path() if look is None else look.parent
    with open_clip(file, _reading(said)) as clip:
        check_times(steps, clip.frames)
        check_materials(steps, folder)
        check = FlashCheck(steps, clip, float(clip.probe.rate), materials=materials_in(folder))
        _watched(check.run(), clip.frames, file.name)
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


INTERRUPTED = 130
"""What typer makes of an interrupt: 128 and the signal's number, as shells do."""


def main(arguments: list[str] | None = None) -> None:
    """Run a command; a request that can't be met ends with 2 and one line that says why."""
    try:
        if app(arguments, standalone_mode=False) == INTERRUPTED:
            raise Halted
    except UsageError as error:
        _complain(f"{str(error).rstrip('.')}; see yearning --help")
    except typer.Exit as done:
        raise SystemExit(done.exit_code) from None
    except (Unmet, MediaError, FarmError, NoRoom, LookError, ProjectError, NewerProject) as error:
        _complain(str(error))
    except IndexError as error:
        _complain(str(error))
    except (Halted, typer.Abort):
        _complain("stopped; a render goes on from what is done when the same is asked again")
    except OSError as error:
        where = f"{error.filename}: " if error.filename else ""
        _complain(f"{where}{error.strerror or error}")


if __name__ == "__main__":
    main()
