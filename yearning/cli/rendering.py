"""Renders."""

import json
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, NamedTuple

import typer

from yearning.cli.interrupts import interrupts
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
from yearning.cli.progress import progress_of
from yearning.cli.result_options import (
    BitsOption,
    ClusterOption,
    CodecOption,
    HeightOption,
    QualityOption,
    WorkersOption,
)
from yearning.cli.watching import is_made_since, whole_files
from yearning.core.errors import InvalidLookError
from yearning.farm.errors import FarmError
from yearning.farm.job import Job
from yearning.farm.progress import Progress
from yearning.library.look import Look
from yearning.library.projects import OpenProject, ProjectClip
from yearning.library.rendering import job_of, render_job, workers_for
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.encode.results import AS_FOOTAGE, ENDINGS, Output
from yearning.media.errors import MediaError
from yearning.media.plates.asset_notes import asset_notes

if TYPE_CHECKING:
    from yearning.farm.cluster import Cluster

NAME = "{name}"
"""Stands for a clip's own name in a result's."""

REFUSALS = (MediaError, FarmError, InvalidLookError, IndexError, OSError)
"""Of one clip; others still have their turn."""


class Wanted(NamedTuple):
    """What is made of each clip."""

    named: str
    """The look, as it is asked for."""
    look: Look
    out: Path
    frames: tuple[int, int | None]
    output: Output
    reading: InputOverrides | None
    project: OpenProject | None
    fitting: Path | None
    """Of the clip, or a folder of those of many."""

    def target(self, clip: ProjectClip) -> Path:
        """The result of a clip."""
        return Path(str(self.out).replace(NAME, short_name(clip)))

    def job(self, found: ProjectClip) -> Job:
        """The render of a clip; says what of its look falls short of it."""
        first, last = self.frames
        own = fitting_for(found, self.fitting)
        reading = self.reading or own_reading(own) or found.reading
        with open_clip(found.path, reading) as clip:
            look = look_for(self.named, self.look, clip, self.project, found.fits(own))
            look = fitted_look(look, clip, own, found.name)
            frames = first, clip.frames - 1 if last is None else last
            job = job_of(clip, look, self.target(found), frames, self.output)
            for note in asset_notes(look.document, look.folder, clip, job.first, job.last):
                typer.echo(f"{found.name}: {note}", err=True)
        return job


@app.command("render")
def render_command(
    look: LookOption,
    out: Annotated[
        Path,
        typer.Option("-o", "--out", help=f"{ENDINGS}; with several clips, '{{name}}' in it."),
    ],
    files: Annotated[
        list[Path] | None,
        typer.Argument(
            metavar="FILE...",
            help="Clips: movies, or stills like DIR/%05d.png; with --project, their names.",
            show_default=False,
        ),
    ] = None,
    first: Annotated[int, typer.Option("--from", help="The first frame.")] = 0,
    last: Annotated[int | None, typer.Option("--to", help="The last frame, rendered too.")] = None,
    quality: QualityOption = AS_FOOTAGE.quality,
    codec: CodecOption = None,
    bits: BitsOption = None,
    height: HeightOption = None,
    overlay: Annotated[
        bool,
        typer.Option(
            "--overlay",
            help="What the look lays over the clip alone, with alpha, without the clip.",
        ),
    ] = False,
    workers: WorkersOption = None,
    cluster: ClusterOption = None,
    read: ReadOption = None,
    project: ProjectOption = None,
    fitting: FittingOption = None,
    fittings: FittingsOption = None,
    watch: Annotated[
        Path | None,
        typer.Option(
            metavar="DIR",
            help="Render each clip that is in a folder or is dropped into it, until Ctrl-C; what "
            "has its result already is left.",
            show_default=False,
        ),
    ] = None,
    as_json: JsonOption = False,
) -> None:
    """Render clips through a look. What was broken off goes on when the same is asked again."""
    if bool(files) == (watch is not None):
        raise CommandError("say which clips to render, or a folder to --watch")
    opened = project_in(project)
    if opened is not None:
        opened.check_outside(out)
    output = Output(quality, codec, bits, height, overlay=overlay)  # type: ignore[arg-type]
    chosen = chosen_look(look, project=opened)
    check_fittings(fitting, fittings, one=len(files or []) == 1)
    wanted = Wanted(
        *(look, chosen, out, (first, last), output, parse_reading(read), opened),
        fitting or fittings,
    )
    if (watch is not None or len(files or []) > 1) and NAME not in str(out):
        raise CommandError(
            f"{out}: several clips need {NAME} in the result's name, like 'out/{NAME}.mp4'"
        )
    if watch is not None:
        _render_dropped(watch, wanted, partial(workers_for, workers, cluster), as_json)
        return
    _render_all(files or [], wanted, partial(workers_for, workers, cluster), as_json)


def _render_all(
    files: list[Path], wanted: Wanted, farm_for: Callable[[], "Cluster"], as_json: bool
) -> None:
    """Render clips one after the other; one that can't be rendered does not hold the others up."""
    clips = [chosen_clip(file, wanted.reading, wanted.project) for file in files]
    targets = [wanted.target(clip) for clip in clips]
    twice = {target for target in targets if targets.count(target) > 1}
    if twice:
        raise CommandError(f"{min(twice)}: two clips would be written there; give them other names")
    failed: list[str] = []
    jobs: list[tuple[ProjectClip, Job]] = []
    made: list[dict[str, object]] = []

    def each(clip: ProjectClip, work: Callable[[], None]) -> None:
        try:
            work()
        except REFUSALS as error:
            if len(files) == 1:
                raise
            failed.append(f"{clip.name}: {error}")

    def take(clip: ProjectClip) -> None:
        jobs.append((clip, wanted.job(clip)))

    for clip in clips:
        each(clip, partial(take, clip))
    if jobs:
        with farm_for() as farm, interrupts() as interrupted:

            def render(clip: ProjectClip, job: Job) -> None:
                made.append(_render(clip, job, farm, interrupted))

            for clip, job in jobs:
                each(clip, partial(render, clip, job))
    if as_json:
        print_json(made)
    else:
        for one in made:
            print(_line(one))
    if failed:
        raise CommandError(f"{len(failed)} of {len(files)} not rendered: {'; '.join(failed)}")


def _render_dropped(
    folder: Path, wanted: Wanted, farm_for: Callable[[], "Cluster"], as_json: bool
) -> None:
    """Render what is dropped into a folder until there is an interrupt, a line of each."""
    if not folder.is_dir():
        raise CommandError(f"{folder}: is no folder that can be watched")
    if wanted.out.parent.resolve() == folder.resolve():
        raise CommandError(f"{wanted.out}: results would be taken for clips; write them elsewhere")

    def clip_in(path: Path) -> ProjectClip:
        return ProjectClip(path.name, path, wanted.reading or InputOverrides())

    def is_done(path: Path) -> bool:
        return is_made_since(wanted.target(clip_in(path)), path)

    with farm_for() as farm, interrupts() as interrupted:
        typer.echo(f"watching {folder}; Ctrl-C ends it", err=True)
        for path in whole_files(folder, is_done, interrupted):
            if path is None:
                continue
            clip = clip_in(path)
            try:
                wanted.target(clip).parent.mkdir(parents=True, exist_ok=True)
                one = _render(clip, wanted.job(clip), farm, interrupted)
            except REFUSALS as error:
                if interrupted():
                    break
                typer.echo(f"{path.name}: not rendered: {error}", err=True)
                continue
            print(json.dumps(one) if as_json else _line(one), flush=True)


def _render(
    clip: ProjectClip, job: Job, farm: "Cluster", interrupted: Callable[[], bool]
) -> dict[str, object]:
    """Render a clip; returns what is said of the result."""
    if farm.note:
        typer.echo(farm.note, err=True)
    with progress_of(job.out.name) as on_frame:

        def on_progress(progress: Progress) -> None:
            left = progress.seconds_left
            speed = f"{progress.rate:.1f} frames/s, {left:.0f} s left" if left else ""
            speed = speed or farm.note
            on_frame(progress.done, total=progress.total, speed=speed)

        made = render_job(job, farm, on_progress, interrupted)
    return {
        "clip": clip.name,
        "file": str(job.out),
        "from": job.first,
        "to": job.last,
        "frames": made.total,
        "seconds": round(made.seconds, 3),
    }


def _line(made: dict[str, object]) -> str:
    return f"{made['file']}: {made['frames']} frames in {made['seconds']:.1f} s"
