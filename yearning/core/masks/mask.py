"""A mask at a frame: its shapes placed in the picture, and joined to one weight a pixel.

A shape's weight is inverted if asked, and multiplied by its strength; joined to what is there, a,
`add` gives a + b − ab, `take away` a (1 − b), `keep common` ab. Before the first shape there is 0
if that adds, and else 1.
"""

from collections.abc import Callable, Sequence
from typing import NamedTuple, Protocol

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.cache import Cache
from yearning.core.colour.hues import hue_sector
from yearning.core.colour.luma import fill_luma
from yearning.core.compositing.tone_window import tone_segments, weigh_tones
from yearning.core.masks.feather import Coverage, Span, feathered_plane
from yearning.core.masks.outlines import Polygon, subdivide
from yearning.core.masks.shapes import (
    Feathered,
    HueRange,
    Matte,
    Outline,
    Shape,
    ToneRange,
    Wash,
)
from yearning.core.motion.tracks import Motion, map_places
from yearning.core.picture import Picture, Plane, Size
from yearning.core.smoothstep import smoothstep

Warp = Callable[[NDArray[np.float64]], NDArray[np.float64]]
"""Maps points in pixels of the footage, shape `(n, 2)`, to where later steps have moved them."""

Pictures = Callable[[int], Picture]
"""Gives the rows of a band of a picture by its number."""

JOINS = {"add": 0, "take away": 1, "keep common": 2}

SIDES_PER_HEIGHT = 64
"""Sides of an outline that is to be bent are no longer than the frame's height by this."""

FAR = 8.0
"""Frames from the middle beyond which a point is drawn in: a bend throws some to infinity."""


KEPT_BYTES = 64 << 20
"""Memory for coverage that is used again."""

_kept = Cache[Coverage](KEPT_BYTES)

ALIKE = {"id": "", "join": "add", "strength": 1.0, "invert": False}
"""What of a shape its coverage does not depend on."""


class PlacedShape(NamedTuple):
    """A shape, and the number of the picture that it is found in; −1 where it is in none.

    It is moved by `motion` first, and then as what is in the frame is.
    """

    shape: Shape
    picture: int = -1
    motion: Motion | None = None

    @property
    def reads_whole(self) -> bool:
        """Whether it is found in the whole picture rather than in each band by itself."""
        return self.picture >= 0 and isinstance(self.shape, Feathered) and self.shape.feather > 0

    def moved_by(self, warp: Warp | None, full_size: Size) -> Warp | None:
        """Return all that moves it, in pixels of the footage; None where nothing does.

        Args:
            warp: of the picture that it lies on.
            full_size: of the footage.
        """
        if self.motion is None:
            return warp
        matrix = self.motion.pixels(full_size)
        if warp is None:
            return lambda points: map_places(matrix, points)
        return lambda points: warp(map_places(matrix, points))


class _MaskTerm(Protocol):
    """What a shape weighs in a picture of a size."""

    def fill(self, top: int, pictures: Pictures, out: Plane) -> None:
        """Write the weights of rows, shape `(rows, width)`, 0..1.

        Args:
            top: the first row.
            pictures: gives those that it is found in.
            out: takes the weights.
        """


class PreparedMask:
    """A mask's shapes placed in a picture.

    Args:
        shapes: in their order; none of them is the same as another's.
        full_size: of the footage.
        size: of the picture.
        warp: how what is in the frame has been moved; None where it has not.
        whole: gives whole pictures by number, in which shapes with a feather are found.
    """

    def __init__(
        self,
        shapes: Sequence[PlacedShape],
        full_size: Size,
        size: Size,
        warp: Warp | None = None,
        whole: Pictures | None = None,
    ) -> None:
        self._parts: list[tuple[Shape, _MaskTerm | Coverage]] = []
        for placed in shapes:
            part = _part_of(placed, full_size, size, warp)
            if placed.reads_whole and not isinstance(part, Coverage):
                assert whole is not None
                assert isinstance(placed.shape, Feathered)
                feather = placed.shape.feather * size.scale
                part = _feather_term(part, whole(placed.picture), feather, size)
            self._parts.append((placed.shape, part))

    def weights(self, top: int, rows: int, width: int, pictures: Pictures) -> Plane:
        """Return what the mask weighs, shape `(rows, width)`, 0..1.

        Args:
            top: the first row.
            rows: how many.
            width: of the picture.
            pictures: gives those that parts of it are found in.
        """
        out = new_array((rows, width))
        plane = new_array((rows, width))
        first = self._parts[0][0]
        out[:] = 0.0 if first.join == "add" else 1.0
        for shape, part in self._parts:
            if isinstance(part, Coverage):
                _join_area(out, part, top, shape)
                continue
            part.fill(top, pictures, plane)
            _join(out, plane, JOINS[shape.join], shape.invert, np.float32(shape.strength))
        return out


def _join_area(out: Plane, area: Coverage, top: int, shape: Shape) -> None:
    """Join a shape with an edge, outside of whose span there is none of it."""
    span = area.span_of_rows(top, len(out))
    join, strength = JOINS[shape.join], np.float32(shape.strength)
    if shape.invert:
        whole = np.zeros_like(out)
        if not span.is_empty:
            part = new_array((span.bottom - span.top, span.right - span.left))
            area.fill(top + span.top, part)
            whole[span.top : span.bottom, span.left : span.right] = part
        _join(out, whole, join, True, strength)
        return
    if shape.join == "keep common":
        _keep_within(out, span)
    if not span.is_empty:
        inner = out[span.top : span.bottom, span.left : span.right]
        plane = new_array(inner.shape)
        area.fill(top + span.top, plane)
        _join(inner, plane, join, False, strength)


def _keep_within(out: Plane, span: Span) -> None:
    """Leave nothing of rows but what lies within a span."""
    if span.is_empty:
        out[:] = 0
        return
    out[: span.top] = 0
    out[span.bottom :] = 0
    out[:, : span.left] = 0
    out[:, span.right :] = 0


def _part_of(
    placed: PlacedShape, full_size: Size, size: Size, warp: Warp | None
) -> _MaskTerm | Coverage:
    shape, warp = placed.shape, placed.moved_by(warp, full_size)
    if isinstance(shape, Outline):
        if warp is None:
            return _coverage(shape, size)
        return _warped_coverage(shape, full_size, size, warp)
    if isinstance(shape, Wash):
        ends = np.array([shape.begin, shape.end]) * (full_size.width, full_size.height)
        moved = ends if warp is None else _clamp_points(warp(ends), full_size)
        return _Washed(moved * (size.height / full_size.height))
    if isinstance(shape, Matte):
        return _Weighed(placed.picture)
    if isinstance(shape, ToneRange):
        return _Tones(shape, placed.picture)
    assert isinstance(shape, HueRange)
    return _Hues(shape, placed.picture)


def _coverage(shape: Outline, size: Size) -> Coverage:
    """Return a shape's coverage, kept for the frames to come where nothing moves it."""
    plain = shape.model_copy(update=ALIKE)  # the same outline, however it joins
    return _kept.get_or_make(
        (plain, size), lambda: Coverage(shape.polygon(size), shape.feather * size.scale, size)
    )


def _warped_coverage(shape: Outline, full_size: Size, size: Size, warp: Warp) -> Coverage:
    """Return the coverage of a shape whose edge is moved, and its feather scaled as its middle."""
    polygon = subdivide(shape.polygon(full_size), full_size.height / SIDES_PER_HEIGHT)
    middle = 0.5 * (polygon.min(axis=0) + polygon.max(axis=0))
    o, x, y = _clamp_points(
        warp(middle + np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])), full_size
    )
    (a, b), (c, d) = x - o, y - o
    feather = shape.feather * full_size.scale * abs(a * d - b * c) ** 0.5
    part = size.height / full_size.height
    # to a hundredth of a pixel: a kernel is kept, and made anew for each other feather
    return Coverage(_clamp_points(warp(polygon), full_size) * part, round(feather * part, 2), size)


def _clamp_points(points: Polygon, size: Size) -> Polygon:
    """Return points that are finite, and not too far off."""
    far = FAR * max(size)
    return np.clip(np.nan_to_num(points, nan=far, posinf=far, neginf=-far), -far, far)


def _feather_term(part: "_MaskTerm", picture: Picture, feather: float, size: Size) -> "_Made":
    """A part with its feather, all over the picture that it is found in."""
    plane = new_array((size.height, size.width))

    def fill(top: int, bottom: int) -> None:
        rows = np.ascontiguousarray(picture[:, top:bottom])  # as those of bands are
        part.fill(top, lambda number: rows, plane[top:bottom])

    parallel.for_each_band(size.height, fill, parallel.band_rows(size.width))
    return _Made(feathered_plane(plane, feather))


class _Made(NamedTuple):
    plane: Plane

    def fill(self, top: int, pictures: Pictures, out: Plane) -> None:
        out[:] = self.plane[top : top + len(out)]


class _Washed(NamedTuple):
    ends: Polygon

    def fill(self, top: int, pictures: Pictures, out: Plane) -> None:
        (x, y), along = self.ends[0], self.ends[1] - self.ends[0]
        per = along / max(float(along @ along), 1e-9)
        line = np.array([x, y, *per], np.float32)
        _fill_wash(top, line, out)


class _Weighed(NamedTuple):
    picture: int

    def fill(self, top: int, pictures: Pictures, out: Plane) -> None:
        np.clip(pictures(self.picture)[0], 0, 1, out=out)  # a resampled edge overshoots


class _Tones(NamedTuple):
    shape: ToneRange
    picture: int

    def fill(self, top: int, pictures: Pictures, out: Plane) -> None:
        luma = new_array(out.shape)
        fill_luma(pictures(self.picture), luma)
        weigh_tones(luma.reshape(-1), tone_segments(self.shape.points), out.reshape(-1))


class _Hues(NamedTuple):
    shape: HueRange
    picture: int

    def fill(self, top: int, pictures: Pictures, out: Plane) -> None:
        shape = self.shape
        degrees = np.array([shape.hue % 360, 0.5 * shape.width, shape.soft])
        sixths = (degrees / 60).astype(np.float32)
        _fill_hues(pictures(self.picture), sixths, np.float32(shape.least_saturation), out)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _join(out: Plane, plane: Plane, join: int, invert: bool, strength: np.float32) -> None:
    one = np.float32(1)
    for y in range(out.shape[0]):
        a, b = out[y], plane[y]
        if invert:
            for x in range(b.shape[0]):
                b[x] = one - b[x]
        if join == 0:
            for x in range(b.shape[0]):
                a[x] += strength * b[x] * (one - a[x])
        elif join == 1:
            for x in range(b.shape[0]):
                a[x] *= one - strength * b[x]
        else:
            for x in range(b.shape[0]):
                a[x] *= strength * b[x]


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _fill_wash(top: int, along: NDArray[np.float32], out: Plane) -> None:
    """½ − ½ cos(π t) of the way t along a line, by the series of the sine about its middle.

    `along` is the place it begins at, x and y, and how far t goes for a pixel across and down.
    """
    from_x, from_y, per_x, per_y = along[0], along[1], along[2], along[3]
    half, one, zero = np.float32(0.5), np.float32(1), np.float32(0)
    s3, s5 = np.float32(-(np.pi**3) / 6), np.float32(np.pi**5 / 120)
    s7, s9 = np.float32(-(np.pi**7) / 5040), np.float32(np.pi**9 / 362880)
    s1, s11 = np.float32(np.pi), np.float32(-(np.pi**11) / 39916800)
    for y in range(out.shape[0]):
        line = out[y]
        start = (np.float32(top + y) + half - from_y) * per_y + (half - from_x) * per_x
        for x in range(line.shape[0]):
            t = min(max(start + np.float32(x) * per_x, zero), one) - half
            q = t * t
            sine = t * (s1 + q * (s3 + q * (s5 + q * (s7 + q * (s9 + q * s11)))))
            line[x] = half + half * sine


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _fill_hues(rows: Picture, sixths: NDArray[np.float32], pale: np.float32, out: Plane) -> None:
    """Weights of hues, less where the colour is paler than `pale`.

    Of half as much colour as `pale` there is none; of one and a half times as much, all. `sixths`
    are the hue, half the width, and the soft part, in sixths of a turn.
    """
    hue, half_width, soft = sixths[0], sixths[1], sixths[2]
    three, six = np.float32(3), np.float32(6)
    for y in range(out.shape[0]):
        r, g, b = rows[0, y], rows[1, y], rows[2, y]
        line = out[y]
        for x in range(line.shape[0]):
            low, high = min(r[x], min(g[x], b[x])), max(r[x], max(g[x], b[x]))
            spread = high - low
            weight = np.float32(0)
            if spread > np.float32(1e-6):
                away = abs(hue_sector(r[x], g[x], b[x], spread) - hue)
                weight = smoothstep((half_width + soft - min(away, six - away)) / soft)
                if pale > 0:
                    weight *= smoothstep(min(spread / pale, three) - np.float32(0.5))
            line[x] = weight
