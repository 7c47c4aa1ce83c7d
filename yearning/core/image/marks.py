"""Marks: small soft-edged shapes drawn on a picture, the same at any size."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.kernel_arrays import new_lines
from yearning.core.picture import Picture, Plane, Size
from yearning.core.smoothstep import smoothstep

WAVES = 4
"""Waves around a blob's outline: of two to five periods."""


class Mark(NamedTuple):
    """One mark, in px@1080 from the frame's left upper corner.

    Args:
        name: tells it from the frame's other marks.
        line: its points, shape `(n, 4)`: x, y, radius, opacity. With one point it is a blob.
        soft: half the width over which its edge runs from full to none.
        colour: R', G', B'.
        wave: how far a blob's outline goes in and out, in radii, and the phases, shape `(2, 4)`.
    """

    name: str
    line: NDArray[np.float32]
    soft: float
    colour: tuple[float, float, float]
    wave: NDArray[np.float32] | None = None

    @property
    def middle(self) -> tuple[float, float]:
        """A place on the mark: the point halfway along a line."""
        across, down = self.line[len(self.line) // 2, :2]
        return float(across), float(down)

    @property
    def reach(self) -> float:
        """The distance from `middle` to the mark's farthest part."""
        apart = np.hypot(*(self.line[:, :2] - self.middle).T)
        return float((apart + self.line[:, 2]).max()) + self.soft


class MarkArrays(NamedTuple):
    """Marks as arrays, for the kernel."""

    points: Plane
    spans: NDArray[np.int32]
    """Each mark's first point, and one past its last."""
    styles: Plane
    """Each mark's softness, R', G', B', its waves and their phases."""
    boxes: Plane
    """Left, top, right, bottom."""
    pixel: float
    """px@1080 a pixel."""
    samples: int
    """A side of the square of samples a pixel is the mean of."""


def supersampling(size: Size, full_size: Size) -> int:
    """Return about how many pixels of the full size lie along one of a smaller picture, 1 to 6.

    Args:
        size: of the smaller picture.
        full_size: of the footage.
    """
    return max(1, min(6, round(full_size.height / size.height)))


def mark_arrays(marks: list[Mark], size: Size, full_size: Size) -> MarkArrays:
    """Marks as `draw_marks` takes them, for a picture of `size`.

    At less than `full_size`, pixels are the means of those of the full size.

    Args:
        marks: in px of the full size, in the order in which they are drawn.
        size: of the picture that they are drawn on.
        full_size: of the footage.
    """
    points = [mark.line for mark in marks] or [np.zeros((0, 4), np.float32)]
    ends = np.cumsum([0, *(len(mark.line) for mark in marks)])
    styles = np.zeros((len(marks), 4 + 2 * WAVES), np.float32)
    boxes = np.zeros((len(marks), 4), np.float32)
    for style, box, mark in zip(styles, boxes, marks, strict=True):
        style[:4] = mark.soft, *mark.colour
        grown = 1.0
        if mark.wave is not None:
            style[4:] = mark.wave.ravel()
            grown += float(np.abs(mark.wave[0]).sum())
        around = mark.line[:, 2:3] * grown + mark.soft
        box[:2] = (mark.line[:, :2] - around).min(axis=0)
        box[2:] = (mark.line[:, :2] + around).max(axis=0)
    return MarkArrays(
        np.concatenate(points).astype(np.float32),
        np.stack([ends[:-1], ends[1:]], axis=1).astype(np.int32),
        styles,
        boxes,
        1 / size.scale,
        supersampling(size, full_size),
    )


def draw_marks(marks: MarkArrays, picture: Picture, first: int, last: int, top: int) -> None:
    """Draw marks, each over those before it, on rows `first` to `last` of a picture, in place.

    Args:
        marks: of the whole frame.
        picture: display-coded, shape `(3, rows, width)`; drawn on.
        first: its first row that is drawn on.
        last: one past the last row.
        top: the frame's row that is its first.
    """
    _draw(picture, first, last, top, *marks)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _draw(
    picture: Picture,
    begin: int,
    beyond: int,
    top: int,
    points: Plane,
    spans: NDArray[np.int32],
    styles: Plane,
    boxes: Plane,
    pixel: float,
    samples: int,
) -> None:
    rows = picture[:, begin:beyond]
    height, width = rows.shape[1:]
    for n in range(spans.shape[0]):
        y0 = max(int(np.floor(boxes[n, 1] / pixel)) - top, 0)
        y1 = min(int(np.ceil(boxes[n, 3] / pixel)) - top, height)
        x0 = max(int(np.floor(boxes[n, 0] / pixel)), 0)
        x1 = min(int(np.ceil(boxes[n, 2] / pixel)), width)
        if y0 >= y1 or x0 >= x1:
            continue
        cover = new_lines(y1 - y0, x1 - x0)
        cover[:] = 0
        first, end = spans[n]
        for p in range(first, max(end - 1, first + 1)):
            _cover(cover, y0 + top, x0, points[p], points[min(p + 1, end - 1)], styles[n], pixel,
                   samples)  # fmt: skip
        for c in range(3):
            colour = styles[n, 1 + c]
            for y in range(y1 - y0):
                line, opacity = rows[c, y0 + y], cover[y]
                for x in range(x1 - x0):
                    line[x0 + x] += opacity[x] * (colour - line[x0 + x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _cover(
    cover: Plane,
    top: int,
    left: int,
    a: NDArray[np.float32],
    b: NDArray[np.float32],
    style: NDArray[np.float32],
    pixel: float,
    samples: int,
) -> None:
    """Raise coverage to that of a line from `a` to `b`, averaged over each pixel's samples."""
    zero, one, half = np.float32(0), np.float32(1), np.float32(0.5)
    soft = max(style[0], np.float32(0.01))
    wide = max(a[2], b[2]) + soft
    for k in range(WAVES):
        wide += a[2] * abs(style[4 + k])
    y0 = max(int(np.floor((min(a[1], b[1]) - wide) / pixel)) - top, 0)
    y1 = min(int(np.ceil((max(a[1], b[1]) + wide) / pixel)) - top, cover.shape[0])
    x0 = max(int(np.floor((min(a[0], b[0]) - wide) / pixel)) - left, 0)
    x1 = min(int(np.ceil((max(a[0], b[0]) + wide) / pixel)) - left, cover.shape[1])
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = dx * dx + dy * dy
    waved = style[4] != 0 or style[5] != 0
    each, share = np.float32(pixel / samples), one / np.float32(samples * samples)
    for y in range(y0, y1):
        for x in range(x0, x1):
            total = zero
            for j in range(samples):
                down = np.float32((top + y) * pixel) + (np.float32(j) + half) * each - a[1]
                for i in range(samples):
                    right = np.float32((left + x) * pixel) + (np.float32(i) + half) * each - a[0]
                    t = zero
                    if length > 0:
                        t = min(max((right * dx + down * dy) / length, zero), one)
                    across, along = right - t * dx, down - t * dy
                    radius = a[2] + t * (b[2] - a[2])
                    far = np.sqrt(across * across + along * along)
                    if waved:
                        angle = np.arctan2(along, across)
                        for k in range(WAVES):
                            turn = np.float32(k + 2) * angle + style[4 + WAVES + k]
                            radius += a[2] * style[4 + k] * np.cos(turn)
                    edge = smoothstep((radius + soft - far) / (soft + soft))
                    total += edge * (a[3] + t * (b[3] - a[3]))
            cover[y, x] = max(cover[y, x], total * share)
