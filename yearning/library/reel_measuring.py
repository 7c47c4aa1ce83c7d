"""Flashes that can harm, through a whole reel: what its cuts make is seen in no shot alone."""

from collections.abc import Callable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.reel import Gap
from yearning.core.measure.flash_check import LINES, fault_to_json
from yearning.core.measure.flashes import COLUMNS, ROWS, Fault, Flashes, seconds_at_fault
from yearning.core.picture import Picture
from yearning.library.look import Look
from yearning.library.reels import NUMBER, Reel, ShotJob, shot_jobs
from yearning.media.errors import MediaError
from yearning.media.plates.assets import assets_in

CACHE_BYTES = 64 << 20

UNWRITTEN = Path(f"{NUMBER}.mkv")
"""The name of results that are not made."""


class Segment(NamedTuple):
    """Frames of the reel that are a shot's, or a gap's."""

    first: int
    frames: int
    shot: int | None
    """Its number; None for a gap."""
    job: ShotJob | None
    """None for what is black."""


def reel_flashes(
    reel: Reel,
    *,
    look: Look | None = None,
    on_frame: Callable[[int, int], object] = lambda done, total: None,
    on_note: Callable[[str], object] = lambda note: None,
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
    segments = list(_segments(reel, look, on_note))
    if not any(segment.job for segment in segments):
        raise MediaError(f"{reel.document.name}: has no shot to look at")
    rate = float(Fraction(*reel.document.rate))
    seen, plain = Flashes(rate), Flashes(rate)
    total, done = sum(segment.frames for segment in segments), 0
    for segment in segments:
        for picture, as_shot in _pictures(segment):
            seen.add(picture)
            plain.add(as_shot)
            done += 1
            on_frame(done, total)
    faults = seen.faults()
    return {
        "passes": not faults,
        "seconds": seconds_at_fault(faults, rate),
        "faults": [_said(fault, rate, segments, plain.faults()) for fault in faults],
    }


def _segments(reel: Reel, look: Look | None, on_note: Callable[[str], object]) -> Iterator[Segment]:
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
                segment = Segment(first, job.seen, number, job)
        yield segment
        first += segment.frames


def _pictures(segment: Segment) -> Iterator[tuple[Picture, Picture]]:
    """Of each frame the picture through the look, and as shot."""
    if segment.job is None:
        black = np.zeros((3, ROWS, COLUMNS), np.float32)
        for _ in range(segment.frames):
            yield black, black
        return
    job = segment.job.job
    with job.open() as footage:
        size = footage.size.with_height(min(LINES, footage.size.height))
        cache = Cache[Picture](CACHE_BYTES)
        path = Evaluator(job.look, footage, size, cache, assets=assets_in(job.assets))
        begins = job.first + segment.job.before
        for frame in range(begins, begins + segment.frames):
            yield path.picture(frame), path.picture(frame, 0)


def _said(fault: Fault, rate: float, segments: list[Segment], plain: list[Fault]) -> dict[str, Any]:
    """A fault as JSON has it, with the shots it is in and what makes it."""
    within = [s for s in segments if s.first <= fault.last and fault.first < s.first + s.frames]
    there = any(fault.overlaps(other) for other in plain)
    return {
        **fault_to_json(fault, rate),
        "shots": [segment.shot for segment in within if segment.shot is not None],
        "by": "look" if not there else "cut" if len(within) > 1 else "footage",
    }
