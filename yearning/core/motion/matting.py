"""Mattes: a figure lifted out of a clip, from strokes on one frame or several.

On a frame with strokes GrabCut parts the figure from what is behind it (Rother, Kolmogorov, Blake,
SIGGRAPH 2004), at reduced size. From there its matte is carried along the motion from frame to
frame, both ways; what the motion can't say, and what does not look like the figure, is parted anew.
Edges come at full size, by the guided filter, and are smoothed along the motion.
"""

import zlib
from collections.abc import Callable, Generator
from itertools import pairwise
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.motion.colour_model import ColourModel, colour_models, log_ratio
from yearning.core.motion.flow import Codes, Flow, flow_between
from yearning.core.motion.guided_filter import guided_filter
from yearning.core.motion.strokes import Mask, Strokes, marked
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
"""Of GrabCut."""

MARGIN = 24
"""Pixels about the figure whose colours are those behind it."""

SMALL_PART, SMALL_HOLE = 0.015, 0.001
"""Of the figure's largest part: smaller ones that hang on nothing are left out, and smaller holes
closed."""

EDGE_RADIUS, EDGE_EPSILON = 4 / 1080, 1e-4
"""Of the guided filter, of the picture's height; and its variance."""

PicturesAt = Callable[[int, Size], Picture]
"""Gives a frame at a size, display-coded."""


class Small(NamedTuple):
    """A frame at reduced size: B'G'R' and luma, in 8 bits."""

    colours: NDArray[np.uint8]
    luma: Codes


class _Kept:
    """Hard mattes by frame, packed small."""

    def __init__(self, shape: tuple[int, int]) -> None:
        self._shape = shape
        self._packed: dict[int, bytes] = {}

    def __contains__(self, frame: int) -> bool:
        return frame in self._packed

    def __getitem__(self, frame: int) -> Mask:
        bits = np.frombuffer(zlib.decompress(self._packed[frame]), np.uint8)
        count = self._shape[0] * self._shape[1]
        return np.unpackbits(bits, count=count).reshape(self._shape)

    def __setitem__(self, frame: int, hard: Mask) -> None:
        self._packed[frame] = zlib.compress(np.packbits(hard).tobytes(), 1)


class Matting:
    """The matte of a clip.

    Args:
        strokes: what is to be lifted out.
        pictures: gives frames.
        size: of the footage.
        frames: how many there are.

    Raises:
        ValueError: a stroke lies on no frame of the clip; the message says which.
    """

    def __init__(self, strokes: Strokes, pictures: PicturesAt, size: Size, frames: int) -> None:
        for i, stroke in enumerate(strokes.strokes):
            if stroke.frame >= frames:
                raise ValueError(
                    f"strokes[{i}]: frame {stroke.frame}; the clip has frames 0 to {frames - 1}"
                )
        self._strokes, self._pictures = strokes, pictures
        self.size, self.frames = size, frames
        self.small = size.with_height(min(SOLVE_LINES, size.height))
        shape = (self.small.height, self.small.width)
        self._ways = (_Kept(shape), _Kept(shape))
        self._soft: dict[int, Plane] = {}
        self._frames: dict[int, Small] = {}

    @property
    def total(self) -> int:
        """Steps that `solve` takes."""
        return self.frames + sum(abs(b - a) - 1 for a, b in self._between())

    def solve(self) -> Generator[int, None, None]:
        """Part the figure from the rest in all frames; yields how many steps are done."""
        out, back = self._ways
        start, done = self._start, 1
        out[start] = first = self._first(start)
        models = colour_models(self._small(start).colours, first, MARGIN)
        yield done
        for frames in (range(start, self.frames), range(start, -1, -1)):
            for before, frame in pairwise(frames):
                out[frame] = self._propagated(before, frame, out[before], models)
                done += 1
                yield done
        for near, far in self._between():
            hard = out[far]
            way = -1 if far > near else 1
            for before, frame in pairwise(range(far, near, way)):
                back[frame] = hard = self._propagated(before, frame, hard, models)
                done += 1
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
            change += sure * (_warped(self._edges(other), wide) - own)
            weight += sure
        for old in [n for n in self._soft if abs(n - frame) > 1]:
            del self._soft[old]
        out: Plane = own + change / weight
        return out

    @property
    def _start(self) -> int:
        """The frame that is solved first: one with a line around, if there is one."""
        strokes = self._strokes
        around = [stroke.frame for stroke in strokes.strokes if stroke.kind == "around"]
        this = [stroke.frame for stroke in strokes.strokes if stroke.kind == "this"]
        return min(around or this)

    def _between(self) -> list[tuple[int, int]]:
        """Neighbouring frames with strokes, the one nearer to the start first."""
        pairs = pairwise(self._strokes.frames)
        return [(a, b) if a >= self._start else (b, a) for a, b in pairs]

    def _first(self, frame: int) -> Mask:
        """The figure in a frame by its strokes alone."""
        small = self._small(frame)
        strokes = self._strokes.on(frame)
        around = any(stroke.kind == "around" for stroke in strokes)
        ground = cv2.GC_BGD if around else cv2.GC_PR_BGD
        mask = marked(strokes, np.full(small.luma.shape, ground, np.uint8))
        return _parted(small.colours, mask, FIRST_ROUNDS)

    def _propagated(
        self, before: int, frame: int, hard: Mask, models: tuple[ColourModel, ColourModel]
    ) -> Mask:
        """The figure in a frame, from a neighbour's, and by the strokes that it may have."""
        small, strokes = self._small(frame), self._strokes.on(frame)
        flow, agrees = self._motion(frame, before)
        prior = (_warped(hard.astype(np.float32), flow) > 0.5).astype(np.uint8)
        mask = np.where(prior > 0, np.uint8(cv2.GC_FGD), np.uint8(cv2.GC_BGD))
        if prior.any():
            unknown = _band(prior, NEAR) | (_band(prior, FAR) & ~agrees)
            asked = (prior > 0) & (_band(prior, WIDE) | ~agrees)
            unknown[asked] |= log_ratio(small.colours[asked], *models) < -UNLIKE
            mask[unknown & (prior > 0)] = cv2.GC_PR_FGD
            mask[unknown & (prior == 0)] = cv2.GC_PR_BGD
        if strokes:
            mask = marked(strokes, mask)
        return _parted(small.colours, mask, FIRST_ROUNDS if strokes else ROUNDS)

    def _edges(self, frame: int) -> Plane:
        """The matte of a frame with the picture's edges, not smoothed along the motion."""
        found = self._soft.get(frame)
        if found is None:
            found = self._soft[frame] = self._with_edges(frame)
        return found

    def _with_edges(self, frame: int) -> Plane:
        out, back = self._ways
        low = out[frame].astype(np.float32)
        if frame in back:
            near, far = next(p for p in self._between() if min(p) < frame < max(p))
            part = np.float32((frame - near) / (far - near))
            low += part * (back[frame] - low)
        edged = np.zeros((self.size.height, self.size.width), np.float32)
        rows, columns = _about(low > 0, MARGIN)
        if rows.stop == 0:
            return edged
        by = self.size.height / self.small.height
        whole = cv2.resize(low, tuple(self.size), interpolation=cv2.INTER_LINEAR)
        box = tuple(slice(int(s.start * by), round(s.stop * by)) for s in (rows, columns))
        picture = np.ascontiguousarray(self._pictures(frame, self.size)[:, box[0], box[1]])
        radius = max(2, round(EDGE_RADIUS * self.size.height))
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
        here, there = self._small(frame).luma, self._small(other).luma
        flow, back = flow_between(here, there, "fine"), flow_between(there, here, "fine")
        away = flow + np.stack([_warped(back[..., k], flow) for k in (0, 1)], -1)
        apart, far = np.hypot(away[..., 0], away[..., 1]), np.hypot(flow[..., 0], flow[..., 1])
        return flow, apart < 0.5 + 0.05 * far


def _warped(plane: Plane, flow: Flow) -> Plane:
    """A plane seen along a flow."""
    height, width = plane.shape
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    seen = cv2.remap(
        plane, x + flow[..., 0], y + flow[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    return np.asarray(seen, np.float32)


def _band(hard: Mask, reach: int) -> NDArray[np.bool_]:
    """Pixels within a reach of the edge of a hard matte."""
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * reach + 1, 2 * reach + 1))
    return np.asarray(cv2.dilate(hard, kernel) != cv2.erode(hard, kernel))


def _about(seen: NDArray[np.bool_], margin: int) -> tuple[slice, slice]:
    """Rows and columns that hold all that is seen, with a margin; none where nothing is."""
    rows, columns = np.flatnonzero(seen.any(1)), np.flatnonzero(seen.any(0))
    if rows.size == 0:
        return slice(0, 0), slice(0, 0)
    height, width = seen.shape
    return (
        slice(max(rows[0] - margin, 0), min(rows[-1] + margin + 1, height)),
        slice(max(columns[0] - margin, 0), min(columns[-1] + margin + 1, width)),
    )


def _parted(colours: NDArray[np.uint8], mask: Mask, rounds: int) -> Mask:
    """The figure that GrabCut finds by a mask: 1, and 0 elsewhere; the same each time."""
    out = np.zeros(mask.shape, np.uint8)
    part = _about(mask != cv2.GC_BGD, MARGIN)
    inner = np.ascontiguousarray(mask[part])
    if not (np.any(inner & 1) and np.any((inner & 1) == 0)):
        out[part] = inner & 1
        return out
    cv2.setRNGSeed(1)
    behind, figure = np.zeros((1, 65)), np.zeros((1, 65))
    inside = np.ascontiguousarray(colours[part])
    all_of_it = (0, 0, 0, 0)  # with a mask it counts for nothing
    cv2.grabCut(inside, inner, all_of_it, behind, figure, rounds, cv2.GC_INIT_WITH_MASK)
    out[part] = _large_parts(np.asarray(inner & 1, np.uint8))
    return out


def _large_parts(hard: Mask) -> Mask:
    """A hard matte without small parts that hang on nothing, and without small holes."""
    count, labels, stats, _ = cv2.connectedComponentsWithStats(hard)
    areas = stats[:, cv2.CC_STAT_AREA]
    if count < 2:
        return hard
    largest = areas[1:].max()
    large = areas >= SMALL_PART * largest
    large[0] = False
    kept = np.asarray(large[labels], np.uint8)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(1 - kept)
    holes = stats[:, cv2.CC_STAT_AREA] < SMALL_HOLE * largest
    holes[0] = False
    return np.asarray(kept | holes[labels], np.uint8)
