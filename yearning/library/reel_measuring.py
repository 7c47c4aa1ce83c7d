"""Flashes that can harm and steadiness, through a whole reel.

What its cuts make is seen in no shot alone.
"""

from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from fractions import Fraction
from pathlib import Path
from typing import Any

from yearning.core.look.reel import Gap
from yearning.core.measure.reel_analysis import ReelFlashes, ReelSteadiness, SeenShot, Segment
from yearning.library.look import Look
from yearning.library.reels import NUMBER, Reel, ShotJob, shot_jobs
from yearning.media.errors import MediaError
from yearning.media.plates.assets import assets_in

UNWRITTEN = Path(f"{NUMBER}.mkv")
"""The name of results that are not made."""

OnFrame = Callable[[int, int], object]
OnNote = Callable[[str], object]


def reel_flashes(
    reel: Reel,
    *,
    look: Look | None = None,
    on_frame: OnFrame = lambda done, total: None,
    on_note: OnNote = lambda note: None,
) -> dict[str, Any]:
    """Look for flashes that can harm in a reel, through its looks and across its cuts.

    Args:
        reel: its shots; gaps are black, and so is what has no media.
        look: of shots that have none of their own.
        on_frame: called with the frames that are done, and how many there are.
        on_note: called with what does not hold on a shot, and why one can't be seen.

    Returns:
        `passes`, `seconds` at fault, and `faults`, each with `from`, `to`, `seconds`, `kind`,
        `area`, `count`, the numbers of its `shots`, and `by`: `look` where the shots without their
        looks have no such flashes, else `cut` where it goes over one, else `footage`.

    Raises:
        MediaError: a shot's media can't be decoded, or no shot can be seen.

    Source: WCAG 2.2, SC 2.3.1; ITU-R BT.1702-3.
    """
    return _gone_through(ReelFlashes, reel, look, on_frame, on_note)


def reel_steadiness(
    reel: Reel,
    *,
    look: Look | None = None,
    on_frame: OnFrame = lambda done, total: None,
    on_note: OnNote = lambda note: None,
) -> dict[str, Any]:
    """Measure how much change from frame to frame looks add in a reel, and look for flashes.

    Frames are compared within each shot, so a cut is no flicker.

    Args:
        reel: its shots; gaps are black, and so is what has no media.
        look: of shots that have none of their own.
        on_frame: called with the frames that are done, and how many there are.
        on_note: called with what does not hold on a shot, and why one can't be seen.

    Returns:
        What `reel_flashes` gives, and `shots`, each with its number (`shot`), `added`,
        `added_steady` and `flags`: frames of the reel that are not steady.

    Raises:
        MediaError: a shot's media can't be decoded, or no shot can be seen.

    Source: warping error, Lai et al., Learning Blind Video Temporal Consistency, ECCV 2018.
    """
    return _gone_through(ReelSteadiness, reel, look, on_frame, on_note)


def _gone_through(
    kind: type[ReelFlashes], reel: Reel, look: Look | None, on_frame: OnFrame, on_note: OnNote
) -> dict[str, Any]:
    segments = list(_segments(reel, look, on_note))
    if not any(segment.opened for segment in segments):
        raise MediaError(f"{reel.document.name}: has no shot to look at")
    analysis = kind(segments, float(Fraction(*reel.document.rate)))
    for done in analysis.run():
        on_frame(done, analysis.total)
    return analysis.report()


def _segments(reel: Reel, look: Look | None, on_note: OnNote) -> Iterator[Segment]:
    """The reel's items, each from where the one before it ends."""
    jobs = shot_jobs(reel, UNWRITTEN, look=look, on_note=on_note)
    first, number = 0, 0
    for item in reel.document.items:
        if isinstance(item, Gap):
            segment = Segment(first, item.gap, None, None)
        else:
            number += 1
            job = next(jobs)
            if isinstance(job, str):
                on_note(f"{job}; taken as black")
                count = max(1, round((item.last - item.first + 1) / item.speed))
                segment = Segment(first, count, number, None)
            else:
                segment = Segment(first, job.seen, number, _opening(job))
        yield segment
        first += segment.frames


def _opening(shot: ShotJob) -> Callable[[], AbstractContextManager[SeenShot]]:
    @contextmanager
    def open_shot() -> Iterator[SeenShot]:
        with shot.job.open() as footage:
            begins = shot.job.first + shot.before
            yield SeenShot(shot.job.look, footage, assets_in(shot.job.assets), begins)

    return open_shot
