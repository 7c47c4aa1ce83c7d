"""Mattes: a figure lifted out of a clip, from strokes on one frame or several.

On a frame with strokes GrabCut parts the figure from what is behind it (Rother, Kolmogorov, Blake,
SIGGRAPH 2004), at reduced size. From there its matte is carried along the motion from frame to
frame, both ways; what the motion can't say, and what does not look like the figure, is parted anew.
Edges come at full size, by the guided filter, and are smoothed along the motion.

What a later stroke corrects is also carried back, until that meets what was found on the way there;
in between the two are mixed.
"""

from collections.abc import Callable, Generator, Sequence
from itertools import pairwise
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.colour_model import ColourModel, colour_models, log_ratio
from yearning.core.motion.figure_cut import MARGIN, band, bounding_slices, cut, cut_coarse_to_fine
from yearning.core.motion.flow import Codes, Flow, flow_between
from yearning.core.motion.guided_filter import guided_filter
from yearning.core.motion.hard_mattes import HardMattes, Solved
from yearning.core.motion.strokes import Mask, Strokes, mark_strokes, mark_unsure
from yearning.core.picture import Picture, Plane, Size

SOLVE_LINES = 540
"""Lines at which the figure is parted from the rest."""

NEAR, FAR, WIDE = 2, 8, 16
"""Pixels about the carried edge within which it is parted anew: always, where the motion is not the
same there and back, and of the figure, where it has not its colours."""

UNLIKE = 4.0
"""By how much less likely (of its logarithm) a pixel of the figure is of its colours than of those
behind it, from which it is parted anew."""

ROUNDS, FIRST_ROUNDS = 2, 8
"""Of GrabCut: on a frame without strokes, and on one with them, at half the size."""

FIRST_REACH = 6
"""Pixels about an edge found at half the size."""

THICK = 5
"""Pixels: where what was found from two sides differs by less, they are held to be the same."""

EDGE_RADIUS, EDGE_EPSILON = 4 / 1080, 1e-4
"""Of the guided filter, of the picture's height; and its variance."""

PicturesAt = Callable[[int, Size], Picture]
"""Gives a frame at a size, display-coded."""


class Small(NamedTuple):
    """A frame at reduced size: B'G'R' and luma, in 8 bits."""

    colours: NDArray[np.uint8]
    luma: Codes


class Matting:
    """The matte of a clip.

    Args:
        strokes: what is to be lifted out.
        pictures: gives frames.
        size: of the footage.
        frames: how many there are.
        known: what was solved of the same clip before, the newest first, by other strokes perhaps:
            what still holds is taken from there; the result is the same as without.

    Raises:
        ValueError: a stroke lies on no frame of the clip; the message says which.
    """

    def __init__(
        self,
        strokes: Strokes,
        pictures: PicturesAt,
        size: Size,
        frames: int,
        known: Sequence[Solved] = (),
    ) -> None:
        for i, stroke in enumerate(strokes.strokes):
            if stroke.frame >= frames:
                raise ValueError(
                    f"strokes[{i}]: frame {stroke.frame}; the clip has frames 0 to {frames - 1}"
                )
        self._strokes, self._pictures = strokes, pictures
        self.size, self.frames = size, frames
        self.small = size.with_height(min(SOLVE_LINES, size.height))
        shape = (self.small.height, self.small.width)
        self.solved = Solved(strokes, size, frames, HardMattes(shape), HardMattes(shape))
        """What is solved by now."""
        self._known = [each for each in known if self._starts_alike(each)]
        self._soft: dict[int, Plane] = {}
        self._frames: dict[int, Small] = {}
        self._flows: dict[tuple[int, int], Flow] = {}

    @property
    def total(self) -> int:
        """Steps that `solve` takes."""
        return self.frames + sum(abs(b - a) - 1 for a, b in _frame_pairs(self._strokes))

    def solve(self) -> Generator[int, None, None]:
        """Part the figure from the rest in all frames; yields how many steps are done."""
        out, back = self.solved.out, self.solved.back
        start = self._strokes.start
        known = next((old.out[start] for old in self._known if start in old.out), None)
        out[start] = first = self._first(start) if known is None else known
        models = colour_models(self._small(start).colours, first, MARGIN)
        done = 1
        yield done
        for frames in (range(start, self.frames), range(start, -1, -1)):
            for _ in self._carry_matte(out, frames, models):
                done += 1
                yield done
        for near, far in _frame_pairs(self._strokes):
            way = -1 if far > near else 1
            frames, end = range(far, near, way), done + abs(far - near) - 1
            for frame in self._carry_matte(back, frames, models):
                done += 1
                yield done
                if _are_alike(back[frame], out[frame]):
                    break
            if done < end:
                done = end
                yield done

    def matte(self, frame: int) -> Plane:
        """The matte of a frame, 0..1, shape `(height, width)`; all of it must be solved.

        Smoothed along the motion with those before and after it.
        """
        own = self._edges(frame)
        change, weight = np.zeros_like(own), np.full(own.shape, 2.0, np.float32)
        for other in (frame - 1, frame + 1):
            if not 0 <= other < self.frames:
                continue
            flow, agrees = self._motion(frame, other)
            by = self.size.height / self.small.height
            wide = cv2.resize(flow, tuple(self.size)) * np.float32(by)
            sure = cv2.resize(agrees.astype(np.float32), tuple(self.size))
            change += sure * (_warp_plane(self._edges(other), wide) - own)
            weight += sure
        for old in [n for n in self._soft if abs(n - frame) > 1]:
            del self._soft[old]
        out: Plane = own + change / weight
        return out

    def is_changed(self, frame: int, before: Solved) -> bool:
        """Tell whether the matte of a frame may be another than that of what was solved before.

        Args:
            frame: of the clip.
            before: what was solved, from earlier strokes.
        """
        return any(
            _mixture(self.solved, n) != _mixture(before, n)
            for n in range(max(frame - 1, 0), min(frame + 2, self.frames))
        )

    def glimpse(self, frame: int, size: Size) -> Plane | None:
        """The matte of one frame, from what is known and from its strokes as they are now.

        It is what `solve` begins with where a frame is the first, and near to what it will find
        elsewhere.

        Args:
            frame: any of the clip.
            size: of the matte, no larger than the footage.

        Returns:
            The matte, 0..1; None where nothing is known of the frame.
        """
        strokes = self._strokes.strokes_of(frame)
        known = next((old for old in self._known if frame in old.out), None)
        low: Plane | None = None
        if known is not None:
            low = _mix_sides(known, frame)
            if known.strokes.strokes_of(frame) != strokes:
                hard = (low > 0.5).astype(np.uint8)
                sure = np.where(hard > 0, np.uint8(cv2.GC_FGD), np.uint8(cv2.GC_BGD))
                sure[band(hard, NEAR)] |= 2  # probable
                low = self._cut_by_strokes(frame, sure).astype(np.float32)
        elif any(stroke.kind != "not this" for stroke in strokes):
            low = self._first(frame).astype(np.float32)
        return None if low is None else self._with_edges(low, frame, size)

    def _starts_alike(self, known: Solved) -> bool:
        """Whether the first frame is solved as it was, so that more of it may hold."""
        start = self._strokes.start
        return (
            (known.size, known.frames, known.out.shape)
            == (self.size, self.frames, self.solved.out.shape)
            and known.strokes.start == start
            and known.strokes.strokes_of(start) == self._strokes.strokes_of(start)
        )

    def _first(self, frame: int) -> Mask:
        """The figure in a frame by its strokes alone."""
        around = any(stroke.kind == "around" for stroke in self._strokes.strokes_of(frame))
        ground = cv2.GC_BGD if around else cv2.GC_PR_BGD
        shape = self.small.height, self.small.width
        hard = self._cut_by_strokes(frame, np.full(shape, ground, np.uint8))
        colours = self._small(frame).colours
        models = colour_models(colours, hard, MARGIN)  # as it will be carried on
        mask = self._unsure(frame, hard, np.ones(shape, np.bool_), models)
        return cut(colours, mark_strokes(self._strokes.strokes_of(frame), mask), ROUNDS)

    def _cut_by_strokes(self, frame: int, mask: Mask) -> Mask:
        """The figure in a frame by its strokes, drawn over what is held to be it."""
        strokes = self._strokes.strokes_of(frame)
        mask = mark_strokes(strokes, mark_unsure(strokes, mask))
        colours = self._small(frame).colours
        return cut_coarse_to_fine(colours, mask, FIRST_ROUNDS, ROUNDS, FIRST_REACH)

    def _carry_matte(
        self, kept: HardMattes, frames: Sequence[int], models: tuple[ColourModel, ColourModel]
    ) -> Generator[int, None, None]:
        """Carry the matte of the first of some frames to the others; yields each once it is."""
        hard = self.solved.out[frames[0]]
        for before, frame in pairwise(frames):
            back = kept is self.solved.back
            old = (
                _still_holds(known, back, before, frame, hard)
                for known in self._known
                if known.strokes.strokes_of(frame) == self._strokes.strokes_of(frame)
            )
            found = next((each for each in old if each is not None), None)
            hard = self._propagate_figure(before, frame, hard, models) if found is None else found
            kept[frame] = hard
            yield frame

    def _propagate_figure(
        self, before: int, frame: int, hard: Mask, models: tuple[ColourModel, ColourModel]
    ) -> Mask:
        """The figure in a frame, from a neighbour's, and by the strokes that it may have."""
        flow, agrees = self._motion(frame, before)
        prior = (_warp_plane(hard.astype(np.float32), flow) > 0.5).astype(np.uint8)
        mask = self._unsure(frame, prior, agrees, models)
        if self._strokes.strokes_of(frame):
            return self._cut_by_strokes(frame, mask)
        return cut(self._small(frame).colours, mask, ROUNDS)

    def _unsure(
        self,
        frame: int,
        prior: Mask,
        agrees: NDArray[np.bool_],
        models: tuple[ColourModel, ColourModel],
    ) -> Mask:
        """A mask as GrabCut takes it: a prior, not sure where it is to be parted anew."""
        mask = np.where(prior > 0, np.uint8(cv2.GC_FGD), np.uint8(cv2.GC_BGD))
        if prior.any():
            unknown = band(prior, NEAR) | (band(prior, FAR) & ~agrees)
            asked = (prior > 0) & (band(prior, WIDE) | ~agrees)
            colours = self._small(frame).colours[asked]
            unknown[asked] |= log_ratio(colours, *models) < -UNLIKE
            mask[unknown] |= 2  # probable
        return mask

    def _edges(self, frame: int) -> Plane:
        """The matte of a frame with the picture's edges, not smoothed along the motion."""
        found = self._soft.get(frame)
        if found is None:
            found = self._with_edges(_mix_sides(self.solved, frame), frame, self.size)
            self._soft[frame] = found
        return found

    def _with_edges(self, low: Plane, frame: int, size: Size) -> Plane:
        """A matte of reduced size at another, with the edges that the picture has there."""
        edged = np.zeros((size.height, size.width), np.float32)
        rows, columns = bounding_slices(low > 0, MARGIN)
        if rows.stop == 0:
            return edged
        by = size.height / self.small.height
        whole = cv2.resize(low, tuple(size), interpolation=cv2.INTER_LINEAR)
        box = tuple(slice(int(s.start * by), round(s.stop * by)) for s in (rows, columns))
        picture = np.ascontiguousarray(self._pictures(frame, size)[:, box[0], box[1]])
        radius = max(2, round(EDGE_RADIUS * size.height))
        soft = guided_filter(picture, np.ascontiguousarray(whole[box]), radius, EDGE_EPSILON)
        edged[box] = np.clip(soft, 0, 1)
        return edged

    def _small(self, frame: int) -> Small:
        found = self._frames.get(frame)
        if found is None:
            picture = self._pictures(frame, self.small)
            codes = np.clip(picture * 255 + 0.5, 0, 255).astype(np.uint8)
            colours = np.ascontiguousarray(codes[::-1].transpose(1, 2, 0))
            found = Small(colours, np.asarray(cv2.cvtColor(colours, cv2.COLOR_BGR2GRAY), np.uint8))
            for old in [n for n in self._frames if abs(n - frame) > 2]:
                del self._frames[old]
            self._frames[frame] = found
        return found

    def _motion(self, frame: int, other: int) -> tuple[Flow, NDArray[np.bool_]]:
        """Where each pixel of a frame is in another, and where the way back agrees."""
        flow, back = self._flow(frame, other), self._flow(other, frame)
        away = flow + np.stack([_warp_plane(back[..., k], flow) for k in (0, 1)], -1)
        apart, far = np.hypot(away[..., 0], away[..., 1]), np.hypot(flow[..., 0], flow[..., 1])
        return flow, apart < 0.5 + 0.05 * far

    def _flow(self, frame: int, other: int) -> Flow:
        found = self._flows.get((frame, other))
        if found is None:
            found = flow_between(self._small(frame).luma, self._small(other).luma, "fine")
            for old in [pair for pair in self._flows if abs(pair[0] - frame) > 1]:
                del self._flows[old]
            self._flows[frame, other] = found
        return found


def _frame_pairs(strokes: Strokes) -> list[tuple[int, int]]:
    """Neighbouring frames with strokes, the one nearer to the start first."""
    pairs = pairwise(strokes.frames)
    return [(a, b) if a >= strokes.start else (b, a) for a, b in pairs]


def _are_alike(one: Mask, other: Mask) -> bool:
    """Whether two hard mattes differ by no more than their edges do by chance."""
    return not cv2.erode(one ^ other, np.ones((THICK, THICK), np.uint8)).any()


def _mixture(solved: Solved, frame: int) -> tuple[bytes | None, bytes | None, float]:
    """What a frame's matte is mixed of: from either side, packed, and the share of the second."""
    share = 0.0
    if frame in solved.back:
        near, far = next(p for p in _frame_pairs(solved.strokes) if min(p) < frame < max(p))
        way = 1 if far > near else -1
        last = next(n for n in range(frame, near - way, -way) if n not in solved.back)
        share = (frame - last) / (far - last)
    return solved.out.packed_bits(frame), solved.back.packed_bits(frame), share


def _mix_sides(solved: Solved, frame: int) -> Plane:
    """A frame's matte of reduced size, from both sides."""
    low: Plane = solved.out[frame].astype(np.float32)
    if frame in solved.back:
        share = np.float32(_mixture(solved, frame)[2])
        low += share * (solved.back[frame] - low)
    return low


def _still_holds(known: Solved, back: bool, before: int, frame: int, hard: Mask) -> Mask | None:
    """What was carried to a frame when it was solved before, where it came from the same."""
    old = known.back if back else known.out
    source = known.back if back and before in known.back else known.out
    if frame not in old or before not in source or not np.array_equal(source[before], hard):
        return None
    return old[frame]


def _warp_plane(plane: Plane, flow: Flow) -> Plane:
    """A plane seen along a flow."""
    height, width = plane.shape
    x = flow[..., 0] + np.arange(width, dtype=np.float32)
    y = flow[..., 1] + np.arange(height, dtype=np.float32)[:, None]
    seen = cv2.remap(plane, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(seen, np.float32)
