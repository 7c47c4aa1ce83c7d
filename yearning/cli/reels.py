"""Reels: cuts of many shots, in as timelines and out again with results."""

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Annotated

import typer

from yearning.cli.interrupts import interrupts
from yearning.cli.options import (
    CommandError,
    JsonOption,
    app,
    chosen_look,
    print_json,
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
from yearning.core.errors import LookError
from yearning.core.look.reel import Shot
from yearning.farm.errors import FarmError
from yearning.farm.progress import Progress
from yearning.library.look import Look
from yearning.library.reel_movie import render_movie
from yearning.library.reels import (
    NAME,
    NUMBER,
    Reel,
    Rendered,
    ShotJob,
    read_reel,
    render_shot,
    shot_jobs,
    write_reel,
    write_results,
)
from yearning.library.rendering import workers_for
from yearning.media.containers import CONTAINERS
from yearning.media.encode.results import AS_FOOTAGE, Output
from yearning.media.errors import MediaError

MAX_HANDLES = 1000


@app.command("reel")
def reel_command(
    file: Annotated[
        Path,
        typer.Argument(help="A timeline, .otio or .edl, or a reel, .json.", show_default=False),
    ],
    out: Annotated[
        Path | None,
        typer.Option(
            "-o",
            "--out",
            help="The folder of the results; or .mp4, .webm or .mkv for all in one, with sound.",
            show_default=False,
        ),
    ] = None,
    look: Annotated[
        str | None,
        typer.Option(help="A look of shots that have none: a file or a starter's name."),
    ] = None,
    media: Annotated[
        list[Path] | None,
        typer.Option(help="A folder in which media are looked for by name; also several."),
    ] = None,
    rate: Annotated[str, typer.Option(help="Frames a second of an edit list.")] = "24",
    write: Annotated[
        Path | None,
        typer.Option(help="Write the reel as a file, .json, in which shots are given looks."),
    ] = None,
    handles: Annotated[
        int, typer.Option(help="Frames more before and after a shot.", min=0, max=MAX_HANDLES)
    ] = 0,
    names: Annotated[
        str, typer.Option(help=f"Names of the results: {NUMBER}, {NAME} and an ending.")
    ] = f"{NUMBER}_{NAME}.mp4",
    timeline: Annotated[
        str, typer.Option(help="The timeline of the results in that folder: .otio or .edl.")
    ] = "",
    quality: QualityOption = AS_FOOTAGE.quality,
    codec: CodecOption = None,
    bits: BitsOption = None,
    height: HeightOption = None,
    workers: WorkersOption = None,
    cluster: ClusterOption = None,
    as_json: JsonOption = False,
) -> None:
    """Render the shots of a cut, and write the cut anew with the results in their place; or all of
    it as one movie.

    Shots whose results are there as they would be made are left. Without --out it only says what
    the reel holds.
    """
    reel = read_reel(file, media=media or [], rate=_checked_rate(rate))
    for note in (*reel.notes, *reel.missing):
        typer.echo(note, err=True)
    if write is not None:
        write_reel(reel, write)
    if out is None:
        _say(reel, as_json)
        return
    output = Output(quality, codec, bits, height)  # type: ignore[arg-type]
    chosen = None if look is None else chosen_look(look)

    def on_note(note: str) -> None:
        typer.echo(note, err=True)

    if out.suffix.lower() in CONTAINERS:
        if handles:
            raise CommandError("--handles: one movie has none; render into a folder for them")
        _render_movie(reel, out, chosen, output, on_note, workers, cluster)
        return
    if NUMBER not in names:
        raise CommandError(f"--names {names}: needs {NUMBER} in it, so that each has its own")
    if "/" in names:
        raise CommandError(f"--names {names}: is a name, not a path; say the folder as --out")
    name = timeline or f"{file.stem.removesuffix('.reel')}.otio"
    if Path(name).suffix.lower() not in (".otio", ".edl"):
        raise CommandError(f"--timeline {name}: timelines end in .otio or .edl")
    out.mkdir(parents=True, exist_ok=True)
    if (out / name).resolve() == file.resolve():
        raise CommandError(f"{out / name}: that is the timeline itself; say another name")
    found = list(
        shot_jobs(reel, out / names, look=chosen, handles=handles, output=output, on_note=on_note)
    )
    jobs = [job for job in found if isinstance(job, ShotJob)]
    failed = [job for job in found if isinstance(job, str)]
    made, kept, refused = _render(jobs, out, workers, cluster)
    failed += refused
    if made or kept:
        write_results(reel, [*made, *kept], out / name)
        _say_results(made, kept, out / name, as_json)
    left = len(reel.missing) + len(failed)
    if left:
        total = len(reel.document.shots) + len(reel.missing)
        why = "; ".join([*failed, *reel.missing][:5])
        raise CommandError(f"{left} of {total} shots not rendered: {why}")


def _render_movie(
    reel: Reel,
    out: Path,
    look: Look | None,
    output: Output,
    on_note: Callable[[str], object],
    workers: int | None,
    cluster: str | None,
) -> None:
    with (
        workers_for(workers, cluster) as farm,
        interrupts() as interrupted,
        progress_of(out.name) as on_frame,
    ):
        frames = render_movie(
            reel,
            out,
            farm,
            look=look,
            output=output,
            on_progress=lambda done, total: on_frame(done, total=total, speed=""),
            on_note=on_note,
            stop=interrupted,
        )
    print(f"{out}: {len(reel.document.shots)} shots, {frames} frames")


def _render(
    jobs: list[ShotJob], folder: Path, workers: int | None, cluster: str | None
) -> tuple[list[ShotJob], list[ShotJob], list[str]]:
    """Render shots; those that are made, those that were there, and why others are not."""
    rendered = Rendered(folder)
    kept = [job for job in jobs if rendered.has(job)]
    wanted = [job for job in jobs if not rendered.has(job)]
    made: list[ShotJob] = []
    refused: list[str] = []
    if not wanted:
        return made, kept, refused
    total = sum(job.job.frames for job in wanted)
    with (
        workers_for(workers, cluster) as farm,
        interrupts() as interrupted,
        progress_of(f"{len(wanted)} shots") as on_frame,
    ):
        before = 0
        for job in wanted:

            def on_progress(progress: Progress, before: int = before) -> None:
                on_frame(before + progress.done, total=total, speed="")

            try:
                render_shot(job, rendered, farm, on_progress, interrupted)
                made.append(job)
            except (MediaError, FarmError, LookError, OSError) as error:
                if interrupted():
                    raise
                refused.append(f"{job.job.out.name}: {error}")
            before += job.job.frames
    return made, kept, refused


def _checked_rate(rate: str) -> Fraction:
    try:
        found = Fraction(rate)
        if 1 <= found <= 1000:
            return found
    except (ValueError, ZeroDivisionError):
        pass
    raise CommandError(f"--rate {rate}: write it like 24, 25 or 30000/1001")


def _say(reel: Reel, as_json: bool) -> None:
    """What a reel holds."""
    shots = reel.document.shots
    if as_json:
        missing = list(reel.missing)
        print_json({"shots": [shot.model_dump() for shot in shots], "missing": missing})
        return
    for number, shot in enumerate(shots, start=1):
        print(f"{number:4}  {_words(shot)}")
    print(f"{reel.document.name}: {len(shots)} shots, {len(reel.missing)} without media")


def _words(shot: Shot) -> str:
    speed = f", {shot.speed:g} times as fast" if shot.speed != 1 else ""
    look = f", {shot.look}" if shot.look else ""
    return f"{shot.name}: {Path(shot.media).name}, {shot.first} to {shot.last}{speed}{look}"


def _say_results(made: list[ShotJob], kept: list[ShotJob], timeline: Path, as_json: bool) -> None:
    if as_json:
        results = [
            {"shot": job.shot.name, "file": str(job.job.out), "made": job in made}
            for job in sorted([*made, *kept], key=lambda job: job.item)
        ]
        print_json({"timeline": str(timeline), "results": results})
        return
    print(f"{timeline}: {len(made)} shots rendered, {len(kept)} there already")
