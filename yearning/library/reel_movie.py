"""A reel as one movie: all its shots through their looks, gaps in black, with their sound."""

import shutil
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from yearning.core.look.reel import Gap
from yearning.farm.job import Job
from yearning.farm.progress import Progress
from yearning.library.look import Look
from yearning.library.reels import Reel, ShotJob, shot_jobs
from yearning.library.shot_runs import ShotRuns
from yearning.media.audio.joined import HeardShot
from yearning.media.audio.mixing import MixInput, mix_input
from yearning.media.decode.probe import Probe
from yearning.media.encode.joined_shots import JoinedShot, black_gap, check_alike, join_shots
from yearning.media.encode.results import AS_FOOTAGE, Output, check_result
from yearning.media.encode.segment import SEGMENT
from yearning.media.errors import MediaError

if TYPE_CHECKING:
    from yearning.farm.cluster import Cluster


def render_movie(
    reel: Reel,
    path: Path,
    farm: "Cluster",
    *,
    look: Look | None = None,
    output: Output = AS_FOOTAGE,
    on_progress: Callable[[int, int], object] = lambda done, total: None,
    on_note: Callable[[str], object] = lambda note: None,
    stop: Callable[[], bool] = lambda: False,
) -> int:
    """Render a reel as one movie. What was broken off goes on when the same is asked again.

    Until it is whole, finished parts lie beside it, in `.NAME.pieces`.

    Args:
        reel: its shots are alike in size, rate, depth and chroma, as they are written.
        path: .mp4, .webm or .mkv.
        farm: the workers.
        look: of shots that have none of their own.
        output: how it is written.
        on_progress: called with the frames that are done, and how many there are.
        on_note: called with what does not hold on a shot.
        stop: asked a few times a second, by which it is broken off.

    Returns:
        How many frames it has.

    Raises:
        MediaError: a shot can't be rendered, or is unlike the first; or a sound can't be read.
        Halted: `stop` said so.
    """
    check_result(path, output)
    folder = path.with_name(f".{path.name}.pieces")
    folder.mkdir(exist_ok=True)
    ending = path.suffix.lower()
    found = shot_jobs(
        reel, folder / f"{{number}}{ending}", look=look, output=output, on_note=on_note
    )
    jobs: dict[int, ShotJob] = {}
    for job in found:
        if isinstance(job, str):
            raise MediaError(f"{job}; take it out, or render shot by shot, into a folder")
        jobs[job.item] = job
    if not jobs:
        raise MediaError(f"{reel.document.name}: has no shot to render")
    probes = {item: _probe(job.job) for item, job in jobs.items()}
    named = [(f"'{jobs[item].shot.name}'", probe) for item, probe in probes.items()]
    check_alike(named, ending, output)
    first = named[0][1]
    inputs = _mix_inputs(reel)
    lengths = [
        each.gap if isinstance(each, Gap) else jobs[item].seen
        for item, each in enumerate(reel.document.items)
    ]
    runs = [(job.job, folder / f"{item:05}") for item, job in jobs.items()]
    numbers = {item: number for number, item in enumerate(jobs)}
    shots, done = [], 0
    with ShotRuns(runs, farm, stop) as rendering:
        for item, each in enumerate(reel.document.items):
            if isinstance(each, Gap):
                place = folder / f"gap{item}{SEGMENT}"
                shots.append(black_gap(place, first, each.gap, ending, output))
            else:

                def on_shot(progress: Progress, before: int = done) -> None:
                    on_progress(before + progress.done, sum(lengths))

                made = rendering.pieces(numbers[item], on_shot)
                shots.append(JoinedShot(made, _heard_shot(jobs[item])))
            done += lengths[item]
            on_progress(done, sum(lengths))
    join_shots(path, shots, first, first.rate, output, inputs)
    shutil.rmtree(folder)
    return sum(lengths)


def _heard_shot(job: ShotJob) -> HeardShot:
    if not job.shot.heard:
        return HeardShot.silence(job.job.frames)
    with job.job.open() as footage:
        return HeardShot.of(footage, job.job.first, job.job.frames)


def _mix_inputs(reel: Reel) -> list[MixInput]:
    """What is heard besides the shots."""
    return [
        mix_input(reel.folder / each.media, each.at, each.start, each.frames, each.level)
        for each in reel.document.sounds
    ]


def _probe(job: Job) -> Probe:
    with job.open() as footage:
        return footage.probe
