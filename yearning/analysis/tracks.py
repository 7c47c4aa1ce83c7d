"""Tracks of parts of a clip, found on its frames as they were shot, and why each ends."""

from collections.abc import Generator, Mapping
from dataclasses import dataclass, field

import numpy as np

from yearning.analysis.grey_frames import GreyFrames
from yearning.core.masks.shapes import Outline
from yearning.core.motion.cuts import is_cut
from yearning.core.motion.track_solver import Request, Solver
from yearning.core.motion.track_template import PixelBox
from yearning.core.motion.tracks import MAX_FRAMES, Kind, Matrix, Track, map_places
from yearning.media.decode.clip import OpenClip

CUT_LINES = 270
"""Lines at which two frames are compared where a part is lost between them."""


@dataclass(frozen=True)
class Wanted:
    """What is to be followed in a clip."""

    shape: Outline
    """The part, as it is at frame `begin`."""
    begin: int
    kind: Kind = "turn"
    by_hand: Mapping[int, Matrix] = field(default_factory=dict)
    """Where it is at frames that were put right, from frame `begin`, in pixels of the footage."""
    smooth: int = 0
    backwards: bool = True
    """Also before `begin`."""
    known: Track | None = None
    """An earlier track of the same part, of which is kept what still holds."""


class Tracking:
    """Finds a track, of `MAX_FRAMES` frames at the most.

    Args:
        clip: as it was shot: not retimed.
        digest: the clip's.
        wanted: what is followed.

    Raises:
        IndexError: the clip has no such frame.
    """

    def __init__(self, clip: OpenClip, digest: str, wanted: Wanted) -> None:
        last = clip.frames - 1
        for frame in (wanted.begin, *wanted.by_hand):
            if not 0 <= frame <= last:
                raise IndexError(f"frame {frame} is out of range; the clip has frames 0 to {last}")
        self._clip, self._digest, self._wanted = clip, digest, wanted
        self._outline = wanted.shape.polygon(clip.size)
        begin = max(0, wanted.begin - MAX_FRAMES // 2) if wanted.backwards else wanted.begin
        last = min(last, begin + MAX_FRAMES - 1)
        by_hand = {n: each for n, each in wanted.by_hand.items() if begin <= n <= last}
        request = Request(wanted.kind, wanted.begin, self._outline, by_hand, begin, last)
        self._range = range(begin, last + 1)
        known = wanted.known
        if known is not None and (
            known.size != tuple(clip.size) or known.shape != wanted.shape.model_dump(mode="json")
        ):
            known = None
        self._grey = GreyFrames(clip)
        self._solver = Solver(request, self._grey, clip.size, known)

    @property
    def total(self) -> int:
        """Steps from a frame to the next that are to be taken."""
        return self._solver.total

    def run(self) -> Generator[int, None, None]:
        """Go through the clip; yield how many steps are done.

        Closed before its end, what was found till then is the track.
        """
        yield from self._solver.run()

    def track(self) -> Track:
        """What has been found."""
        wanted, found = self._wanted, self._solver.found
        return Track.model_validate(
            {
                "clip": self._digest,
                "size": tuple(self._clip.size),
                "from": wanted.begin,
                "kind": wanted.kind,
                "shape": wanted.shape.model_dump(mode="json"),
                "smooth": wanted.smooth,
                "frames": tuple(found[frame] for frame in sorted(found)),
            }
        )

    def losses(self) -> list[tuple[int, int, str]]:
        """Where the part is lost: the first and last frame, and why, in a few words."""
        track = self.track()
        begin = 0 if self._wanted.backwards else self._wanted.begin
        lost = [(max(first, begin), last) for first, last in track.lost_ranges(self._clip.frames)]
        return [
            (first, last, self._reason_of_loss(track, first, last))
            for first, last in lost
            if last >= begin
        ]

    def _reason_of_loss(self, track: Track, first: int, last: int) -> str:
        if first not in self._range and last not in self._range:
            return f"a track has {MAX_FRAMES} frames at the most"
        beside = first - 1 if first > track.frames[0].frame else last + 1
        lost = first if beside < first else last
        middle = 0.5 * (self._outline.min(0) + self._outline.max(0))
        place = map_places(track.matrix_at(beside), middle[None])[0]
        if np.any(place < 0) or np.any(place > track.size):
            return "it leaves the frame"
        size = self._clip.size.with_height(min(CUT_LINES, self._clip.size.height))
        whole = PixelBox(0, 0, *self._clip.size)
        step = max(1, self._clip.size.height // size.height)
        before, now = (
            self._grey(frame, whole)[::step, ::step].astype(np.float32) for frame in (beside, lost)
        )
        return "there is a cut" if is_cut(before, now) else "too little of it agrees"
