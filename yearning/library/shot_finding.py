"""The shots of a long clip, found by the boundaries between them."""

from collections.abc import Sequence
from itertools import pairwise
from pathlib import Path

from yearning.core.look import reel as documents
from yearning.core.look.reel import MAX_ITEMS, Shot
from yearning.core.measure.shot_boundaries import (
    MIN_THRESHOLD,
    THRESHOLD,
    Boundary,
    ShotBoundaries,
)
from yearning.library.clips import Clip, RequestError, open_clip
from yearning.library.measuring import OnFrame
from yearning.library.reels import Reel
from yearning.media.timeline.rates import exact_rate


def shot_boundaries(
    clip: Clip,
    *,
    threshold: float = THRESHOLD,
    on_frame: OnFrame = lambda done: None,
) -> list[Boundary]:
    """Find where one shot ends and the next begins in a clip; fades and dissolves are not found.

    Args:
        clip: opened, or pictures in memory.
        threshold: by how much a cut is more of a change than the places beside it, 0.15 to 1.
        on_frame: called with the number of frames that are done.

    Returns:
        Of each the `frame` that the later shot begins with, and its `jump`, 0 to 1.

    Raises:
        RequestError: a threshold that can't be had.
        MediaError: the clip can't be decoded.

    Source: colour histograms, Swain and Ballard, IJCV 1991; motion-compensated frames, Hanjalic,
        IEEE TCSVT 2002; the threshold, Yeo and Liu, IEEE TCSVT 1995.
    """
    if not MIN_THRESHOLD <= threshold <= 1:
        raise RequestError(f"threshold {threshold}: from {MIN_THRESHOLD} to 1")
    search = ShotBoundaries(clip)
    for done in search.run():
        on_frame(done)
    return [each for each in search.boundaries() if each.jump >= threshold]


def cut_clip(path: str | Path, at: Sequence[int]) -> Reel:
    """Make a reel of a clip that is cut at frames.

    Args:
        path: of the clip.
        at: the first frame of each shot but the first, in their order; those of
            `shot_boundaries`, for one.

    Raises:
        RequestError: a frame that does not come after the one before it, or that the clip has not;
            or more shots than a reel holds.
        MediaError: it can't be used as a clip.
    """
    path = Path(path)
    with open_clip(path) as clip:
        rate, frames = exact_rate(float(clip.probe.rate)), clip.frames
    if len(at) >= MAX_ITEMS:
        raise RequestError(f"{path.name}: {len(at) + 1} shots; a reel holds {MAX_ITEMS}")
    shots = []
    for number, (first, end) in enumerate(pairwise([0, *at, frames]), 1):
        if end <= first:
            raise RequestError(f"at: cut {number} is not within frames {first + 1} to {frames - 1}")
        shots.append(
            Shot(
                name=f"{path.stem[:190]} {number}",
                media=str(path.resolve()),
                first=first,
                last=end - 1,
            )
        )
    document = documents.Reel(
        name=path.stem[:120], rate=rate.as_integer_ratio(), items=tuple(shots)
    )
    return Reel(document, path.parent)
