"""A whole track: a part followed from its first frame, and between frames put right by hand.

Between two frames at which its place is known the part is followed from both, and where both ways
have it they are mixed, from all of the one to all of the other.
"""

from collections.abc import Generator, Iterator, Mapping
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from yearning.core.motion.tracking import Followed, GreyBox, follow
from yearning.core.motion.tracks import (
    Kind,
    Matrix,
    Points,
    Track,
    TrackedFrame,
    map_places,
    through_four,
)
from yearning.core.picture import Size


class Request(NamedTuple):
    """What is to be followed."""

    kind: Kind
    begin: int
    """The frame at which the outline is drawn."""
    outline: Points
    """The part's edge there, in pixels of the footage, shape `(n, 2)`."""
    by_hand: Mapping[int, Matrix]
    """Where it is at frames that were put right by hand, from frame `begin`."""
    first: int
    """The first frame that is wanted, at or before `begin`."""
    last: int


class Solver:
    """Finds a track, a frame at a time.

    Args:
        request: what is to be followed.
        grey: gives the frames' luma.
        size: of the footage.
        known: an earlier track of the same part; what stands between the same frames in both is
            taken from it.
    """

    def __init__(
        self, request: Request, grey: GreyBox, size: Size, known: Track | None = None
    ) -> None:
        self._request, self._grey, self._size = request, grey, size
        self.found: dict[int, TrackedFrame] = {}
        """The frames that are found so far."""
        self._anchors: dict[int, Matrix] = dict(request.by_hand) | {request.begin: np.eye(3)}
        for frame, matrix in self._anchors.items():
            by_hand = frame in request.by_hand
            self.found[frame] = _tracked_frame(Followed(frame, matrix, 1.0), by_hand)
        self._left = [part for part in self._parts() if not self._take_known(part, known)]
        self.total = sum(len(frames) for part in self._left for frames in part.ways)
        """Steps from a frame to the next that are to be taken."""

    def run(self) -> Generator[int, None, None]:
        """Find all frames; yield how many steps are done.

        Where it is closed before its end, what was found till then is kept.
        """
        done = 0
        for part in self._left:
            ways: list[dict[int, Followed]] = [{} for _ in part.ways]
            try:
                for frames, way in zip(part.ways, ways, strict=True):
                    for each in self._follow(frames):
                        way[each.frame] = each
                        done += 1
                        yield done
                    done += len(frames) - len(way)
            finally:
                self._take(ways)

    def _parts(self) -> list["_Segment"]:
        """The pieces of the clip between frames at which the part's place is known."""
        known = sorted(self._anchors)
        parts = [_Segment((range(a, b), range(b, a, -1)), (a, b)) for a, b in pairwise(known)]
        if known[0] > self._request.first:
            back = range(known[0], self._request.first - 1, -1)
            parts.append(_Segment((back,), (known[0],)))
        if known[-1] < self._request.last:
            parts.append(_Segment((range(known[-1], self._request.last + 1),), (known[-1],)))
        return [part for part in parts if max(map(len, part.ways)) > 1]

    def _take_known(self, part: "_Segment", known: Track | None) -> bool:
        """Take a piece from an earlier track, where that was found from the same frames."""
        if known is None or (known.kind, known.begin) != (self._request.kind, self._request.begin):
            return False
        fixed = {each.frame: each for each in known.frames if each.by_hand} | {
            each.frame: each for each in known.frames if each.frame == known.begin
        }
        lowest, highest = min(min(w) for w in part.ways), max(max(w) for w in part.ways)
        if any(lowest < frame < highest and frame not in part.ends for frame in fixed):
            return False
        for end in part.ends:
            if end not in fixed or not np.allclose(fixed[end].matrix, self._anchors[end]):
                return False
        inner = [each for each in known.frames if lowest <= each.frame <= highest]
        if len(part.ends) == 1 and len(inner) == 1:
            return False  # it was not looked for there
        self.found |= {each.frame: each for each in inner if each.frame not in self._anchors}
        return True

    def _follow(self, frames: range) -> Iterator[Followed]:
        """Follow the part from a frame at which its place is known; matrices from `begin`."""
        here = self._anchors[frames[0]]
        outline = map_places(here, self._request.outline)
        for each in follow(self._grey, self._size, frames, outline, self._request.kind):
            yield each._replace(matrix=each.matrix @ here)

    def _take(self, ways: list[dict[int, Followed]]) -> None:
        """Keep the frames of one way, or of two that are mixed where both have them."""
        forward, back = ways[0], ways[-1] if len(ways) > 1 else {}
        both = sorted(set(forward) & set(back) - set(self._anchors))
        (left, top), (right, bottom) = self._request.outline.min(0), self._request.outline.max(0)
        corners = np.array([[left, top], [right, top], [right, bottom], [left, bottom]])
        for frame in set(forward) | set(back):
            if frame in self._anchors:
                continue
            one = forward[frame] if frame in forward else back[frame]
            if frame in forward and frame in back:
                part = (frame - both[0] + 1) / (len(both) + 1)
                other = back[frame]
                places = map_places(one.matrix, corners)
                places += part * (map_places(other.matrix, corners) - places)
                sure = one.sure + part * (other.sure - one.sure)
                one = Followed(frame, through_four(corners, places), sure)
            self.found[frame] = _tracked_frame(one, False)


class _Segment(NamedTuple):
    """A piece of a clip: which frames are gone through, one way or both, and its known ends."""

    ways: tuple[range, ...]
    ends: tuple[int, ...]


def _tracked_frame(found: Followed, by_hand: bool) -> TrackedFrame:
    a, b, c = np.round(found.matrix / found.matrix[2, 2], 9).tolist()
    rows = tuple(a), tuple(b), tuple(c)
    sure = round(found.sure, 4)
    return TrackedFrame(frame=found.frame, matrix=rows, sure=sure, by_hand=by_hand)
