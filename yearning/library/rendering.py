"""Whole clips rendered, in chunks by processes, as the page and the command line do."""

import shutil
import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from yearning.core.engine.array_clip import ArrayClip
from yearning.core.frame_pattern import is_frame_pattern
from yearning.farm.address import check_address
from yearning.farm.job import Job
from yearning.farm.progress import Halt, Progress
from yearning.library.clips import Clip, RequestError
from yearning.library.look import Look
from yearning.media.codecs import CodecName, Quality
from yearning.media.encode.results import AS_FOOTAGE, Output, check_result

if TYPE_CHECKING:
    from yearning.farm.cluster import Cluster


def render(
    clip: Clip,
    look: Look,
    path: str | Path,
    *,
    frames: tuple[int, int] | None = None,
    quality: Quality = AS_FOOTAGE.quality,
    codec: CodecName | None = None,
    bits: int | None = None,
    height: int | None = None,
    overlay: bool = False,
    workers: int | None = None,
    cluster: str | None = None,
    on_progress: Callable[[Progress], object] = lambda progress: None,
    stop: Callable[[], bool] | threading.Event = lambda: False,
) -> Progress:
    """Render a clip through a look, with its sound. What was broken off goes on when asked again.

    The result appears under its name only when it is whole; until then its finished chunks lie
    beside it, in `.NAME.pieces`.

    Args:
        clip: opened; workers open its file anew.
        look: what is laid on it.
        path: .mp4, .mov, .webm, .mkv, or numbered stills like `DIR/%05d.png`.
        frames: the first and the last; the whole clip, if left out.
        quality: `draft`, `good`, `fine` or `finest`, of what is not lossless.
        codec: where the ending leaves a choice.
        bits: a channel; those of the footage, if left out.
        height: lines of a smaller result.
        overlay: what the look lays over the clip alone, with its alpha, without the clip and its
            sound; FFV1, PNG or OpenEXR.
        workers: processes on this machine; one a core, if left out.
        cluster: a Dask scheduler whose workers see the same folders, `tcp://HOST:PORT`.
        on_progress: called whenever something was done.
        stop: an event, or asked a few times a second, by which the render is broken off.

    Returns:
        How much was made, and in what time.

    Raises:
        MediaError: the clip can't be decoded, or the result not be written so.
        FarmError: the workers are gone, or died at it.
        DiskFull: the disk is full.
        Halted: `stop` said so.
        IndexError: the clip has no such frames.
        RequestError: the clip is not a file.
    """
    output = Output(quality, codec, bits, height, overlay=overlay)
    with workers_for(workers, cluster) as farm:
        return render_job(job_of(clip, look, Path(path), frames, output), farm, on_progress, stop)


def job_of(
    clip: Clip, look: Look, path: Path, frames: tuple[int, int] | None, output: Output
) -> Job:
    """Return the render job of a clip; the folder for stills is made.

    Args:
        clip: opened.
        look: as it was read.
        path: of the result.
        frames: the first and the last, inclusive; None for all.
        output: how the result is written.
    """
    if isinstance(clip, ArrayClip):
        raise RequestError(
            "a clip in memory has no file that workers could open; go through look.pictures, and "
            "save each"
        )
    if is_frame_pattern(path.name):
        path.parent.mkdir(parents=True, exist_ok=True)
    check_result(path, output)
    first, last = frames or (0, clip.frames - 1)
    return Job.of(
        clip, look.document, path, assets=look.folder, output=output, first=first, last=last
    )


def workers_for(workers: int | None, cluster: str | None) -> "Cluster":
    """Return workers as a context manager: of this machine, or of a scheduler.

    Args:
        workers: how many of this machine; None for as many as suit it.
        cluster: the scheduler's address; None for this machine.
    """
    if cluster is not None:
        check_address(cluster)
    from yearning.farm.cluster import Cluster

    return Cluster(workers, cluster)


def pieces_folder(job: Job) -> Path:
    """Where finished parts of a result lie until it is whole: beside it."""
    return job.out.with_name(f".{job.out.name}.pieces")


def render_job(
    job: Job,
    farm: "Cluster",
    on_progress: Callable[[Progress], object],
    stop: Callable[[], bool] | threading.Event,
) -> Progress:
    """Have workers render a job; its pieces go when the result is whole.

    Args:
        job: what is rendered.
        farm: the workers.
        on_progress: is told how far it is.
        stop: says when to give up.
    """
    from yearning.farm.run import run

    asked = stop.is_set if isinstance(stop, threading.Event) else stop
    pieces = pieces_folder(job)
    made = run(
        job,
        pieces,
        farm,
        on_progress=on_progress,
        halt=lambda: Halt.NOW if asked() else None,
    )
    shutil.rmtree(pieces)
    return made
