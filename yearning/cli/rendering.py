"""Renders."""

import signal
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer
from rich.console import Console
from rich.progress import BarColumn, TextColumn
from rich.progress import Progress as Bar

from yearning.cli.options import (
    CommandError,
    LookOption,
    ReadOption,
    app,
    chosen_look,
    parse_reading,
)
from yearning.core.errors import LookError
from yearning.core.frame_pattern import is_frame_pattern
from yearning.farm.errors import FarmError
from yearning.farm.job import Job
from yearning.farm.progress import Progress
from yearning.farm.settings import MAX_WORKERS
from yearning.library.rendering import job_of, render_job, workers_for
from yearning.media.codecs import CODECS, QUALITIES
from yearning.media.decode.clip import open_clip
from yearning.media.encode.results import AS_FOOTAGE, ENDINGS, Output
from yearning.media.errors import MediaError
from yearning.media.plates.asset_notes import asset_notes

if TYPE_CHECKING:
    from yearning.farm.cluster import Cluster


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
    look: LookOption,
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
        int | None,
        typer.Option(
            help="Processes on this machine; one a core if left out.", min=1, max=MAX_WORKERS
        ),
    ] = None,
    cluster: Annotated[
        str | None,
        typer.Option(help="A Dask scheduler whose workers see the same folders: tcp://HOST:PORT."),
    ] = None,
    read: ReadOption = None,
) -> None:
    """Render clips through a look. What was broken off goes on when the same is asked again."""
    output = Output(quality, codec, bits, height)  # type: ignore[arg-type]
    chosen, reading = chosen_look(look), parse_reading(read)
    if len(files) > 1 and NAME not in str(out):
        raise CommandError(
            f"{out}: several clips need {NAME} in the result's name, like 'out/{NAME}.mp4'"
        )
    named = [(file, Path(str(out).replace(NAME, _named(file)))) for file in files]
    twice = {target for _, target in named if sum(t == target for _, t in named) > 1}
    if twice:
        raise CommandError(f"{min(twice)}: two clips would be written there; give them other names")
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
        with open_clip(file, reading) as clip:
            made = chosen if Path(look).exists() else chosen_look(look, clip)
            frames = first, clip.frames - 1 if last is None else last
            job = job_of(clip, made, target, frames, output)
            for note in asset_notes(made.document, made.folder, clip, job.first, job.last):
                typer.echo(f"{file.name}: {note}", err=True)
        jobs.append((file, job))

    for file, target in named:
        each(file, partial(take, file, target))
    if jobs:
        with workers_for(workers, cluster) as farm:
            for file, job in jobs:
                each(file, partial(_render, job, farm))
    if failed:
        raise CommandError(f"{len(failed)} of {len(files)} not rendered: {'; '.join(failed)}")


NAME = "{name}"
"""Stands for a clip's own name in a result's."""


def _named(file: Path) -> str:
    """A clip's own name; of stills, what stands before their number, or their folder's."""
    if not is_frame_pattern(file.name):
        return file.stem
    return file.stem.partition("%")[0].rstrip("._- ") or file.resolve().parent.name


def _render(job: Job, farm: "Cluster") -> None:
    console = Console(stderr=True)
    columns = (
        TextColumn("{task.description}"),
        BarColumn(),
        TextColumn("{task.completed} of {task.total} frames  {task.fields[speed]}"),
    )
    with Bar(*columns, console=console, disable=not console.is_terminal) as bar:
        task = bar.add_task(job.out.name, total=None, speed="")

        def on_progress(progress: Progress) -> None:
            speed = f"{progress.rate:.1f} frames/s, {progress.left or 0:.0f} s left"
            bar.update(task, completed=progress.done, total=progress.total, speed=speed)

        with _interrupts() as interrupted:
            render_job(job, farm, on_progress, interrupted)


@contextmanager
def _interrupts() -> Iterator[Callable[[], bool]]:
    """Whether there was an interrupt; as an exception it would be lost inside a finalizer."""
    met = threading.Event()
    before = signal.signal(signal.SIGINT, lambda *_: met.set())
    try:
        yield met.is_set
    finally:
        signal.signal(signal.SIGINT, before)
