"""Reels rendered: shot by shot into a folder with their timeline, or as one movie."""

import threading
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from yearning.core.errors import InvalidLookError
from yearning.farm.errors import FarmError
from yearning.farm.progress import Progress
from yearning.library.clips import RequestError
from yearning.library.look import Look
from yearning.library.reel_movie import render_movie
from yearning.library.reels import (
    NAME,
    NUMBER,
    Reel,
    Rendered,
    ShotJob,
    shot_jobs,
    write_results,
)
from yearning.library.rendering import pieces_folder, workers_for
from yearning.library.shot_runs import ShotRuns
from yearning.media.codecs import CodecName, Quality
from yearning.media.containers import CONTAINERS
from yearning.media.encode.results import AS_FOOTAGE, Output
from yearning.media.errors import MediaError

if TYPE_CHECKING:
    from yearning.farm.cluster import Cluster

TIMELINES = (".otio", ".edl")

NAMES = f"{NUMBER}_{NAME}.mp4"
"""How results are called."""

OnFrames = Callable[[int, int], object]
"""Called with the frames that are done, and how many there are."""


class RenderedShot(NamedTuple):
    """A shot's result."""

    name: str
    file: Path
    made: bool
    """Else it was there as it would be made."""


class RenderedReel(NamedTuple):
    """What became of a reel."""

    file: Path
    """The timeline of the results, or the movie."""
    shots: Sequence[RenderedShot] = ()
    refused: Sequence[str] = ()
    """Why others have no result."""
    frames: int = 0
    """Of the movie."""


def render_reel(
    reel: Reel,
    out: str | Path,
    *,
    look: Look | None = None,
    handles: int = 0,
    names: str = NAMES,
    timeline: str = "cut.otio",
    quality: Quality = AS_FOOTAGE.quality,
    codec: CodecName | None = None,
    bits: int | None = None,
    height: int | None = None,
    workers: int | None = None,
    cluster: str | None = None,
    on_progress: OnFrames = lambda done, total: None,
    on_note: Callable[[str], object] = lambda note: None,
    stop: Callable[[], bool] | threading.Event = lambda: False,
) -> RenderedReel:
    """Render the shots of a reel through their looks, or all of it as one movie with its sound.

    Results that are there as they would be made are left; what was broken off goes on.

    Args:
        reel: as it was read.
        out: a folder, of the shots and a timeline of them; or .mp4, .webm or .mkv for one movie.
        look: of shots that have none of their own.
        handles: frames more before and after each shot, as far as its clip has them.
        names: of the results in the folder, with `{number}` and `{name}`.
        timeline: the name of the timeline in the folder, .otio or .edl.
        quality: `draft`, `good`, `fine` or `finest`, of what is not lossless.
        codec: where the ending leaves a choice.
        bits: a channel; those of the footage, if left out.
        height: lines of smaller results.
        workers: processes on this machine; one a core, if left out.
        cluster: a Dask scheduler whose workers see the same folders, `tcp://HOST:PORT`.
        on_progress: called with the frames that are done, and how many there are.
        on_note: called with what does not hold on a shot.
        stop: an event, or asked a few times a second, by which the render is broken off.

    Returns:
        The timeline that was written, the results, and why other shots have none; or the movie.

    Raises:
        MediaError: the movie, or the timeline, can't be written so.
        FarmError: the workers are gone, or died at it.
        Halted: `stop` said so.
        RequestError: the names do not tell shots apart, or are none.
    """
    out, output = Path(out), Output(quality, codec, bits, height)
    asked = stop.is_set if isinstance(stop, threading.Event) else stop
    if out.suffix.lower() in CONTAINERS:
        if handles:
            raise RequestError("handles: one movie has none; render into a folder for them")
        with workers_for(workers, cluster) as farm:
            frames = render_movie(
                reel,
                out,
                farm,
                look=look,
                output=output,
                on_progress=on_progress,
                on_note=on_note,
                stop=asked,
            )
        return RenderedReel(out, frames=frames)
    target = out / timeline
    _check_names(reel, names, target)
    out.mkdir(parents=True, exist_ok=True)
    found = list(
        shot_jobs(reel, out / names, look=look, handles=handles, output=output, on_note=on_note)
    )
    refused = [job for job in found if isinstance(job, str)]
    jobs = [job for job in found if isinstance(job, ShotJob)]
    rendered = Rendered(out)
    wanted = [job for job in jobs if not rendered.has(job)]
    if wanted:
        with workers_for(workers, cluster) as farm:
            refused += _render_shots(wanted, rendered, farm, on_progress, asked)
    done = [job for job in jobs if rendered.has(job)]
    if done:
        write_results(reel, done, target)
    results = [RenderedShot(job.shot.name, job.job.out, job in wanted) for job in done]
    return RenderedReel(target, results, [*refused, *reel.missing])


def _check_names(reel: Reel, names: str, timeline: Path) -> None:
    if NUMBER not in names:
        raise RequestError(f"names {names}: needs {NUMBER} in it, so that each has its own")
    if "/" in names:
        raise RequestError(f"names {names}: is a name, not a path; say the folder as out")
    if timeline.suffix.lower() not in TIMELINES:
        raise RequestError(f"timeline {timeline.name}: timelines end in {' or '.join(TIMELINES)}")
    source = reel.folder / reel.document.timeline
    if reel.document.timeline and timeline.resolve() == source.resolve():
        raise RequestError(f"{timeline}: that is the timeline itself; say another name")


def _render_shots(
    jobs: Sequence[ShotJob],
    rendered: Rendered,
    farm: "Cluster",
    on_progress: OnFrames,
    stop: Callable[[], bool],
) -> list[str]:
    """Render shots in their order; why some could not be, which stops no other.

    Raises:
        Halted: `stop` said so.
    """
    total, before = sum(job.job.frames for job in jobs), 0
    refused: list[str] = []
    with ShotRuns([(job.job, pieces_folder(job.job)) for job in jobs], farm, stop) as runs:
        for number, job in enumerate(jobs):

            def on_shot(progress: Progress, before: int = before) -> None:
                on_progress(before + progress.done, total)

            try:
                runs.render(number, on_shot)
                rendered.add(job)
            except (MediaError, FarmError, InvalidLookError, OSError) as error:
                refused.append(f"{job.job.out.name}: {error}")
            before += job.job.frames
    return refused
