"""Temporal filtering of a treatment's statistics over neighbouring frames, along the motion."""

import math
from collections.abc import Callable

import cv2
import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.buffers import new_like
from yearning.core.image.bilinear import EXACT, Line, add_bilinear, bilinear_coordinates
from yearning.core.kernel_arrays import new_int_line, new_line, new_lines
from yearning.core.motion.cuts import is_cut
from yearning.core.motion.flow import flow_between, flow_consistency, flow_targets, to_codes
from yearning.core.picture import Plane

Array = NDArray[np.float32]

_ONE = np.float32(1)


LINES = 100
"""At most, of the pictures motion is found on: a treatment's statistics are blurred far wider."""

SOFT = 1.0
"""σ in pixels of those over which trust fades."""


def flow_shape(height: int, width: int) -> tuple[int, int, int, int]:
    """Return the shape of the flow found between two lumas.

    Args:
        height: of the lumas.
        width: of the lumas.
    """
    lines = min(LINES, height)
    return 2, 3, lines, max(1, round(width * lines / height))


def reduced_luma(luma: Plane) -> Plane:
    """Reduce the luma of a treatment's statistics to the size at which motion is estimated."""
    lines, columns = flow_shape(*luma.shape)[2:]
    return np.asarray(cv2.resize(luma, (columns, lines), interpolation=cv2.INTER_AREA), np.float32)


def flow_both_ways(first: Plane, second: Plane) -> Array:
    """Motion between two frames' small lumas, shape `(2, 3, lines, columns)`: there, and back.

    Each way has the flow across and down in pixels of that size, and how far it is to be trusted,
    0..1. Over a cut there is none: it has no lines.

    Args:
        first: luma, 0..1.
        second: luma of the same size.
    """
    if is_cut(first, second):
        return np.zeros((2, 3, 0, 0), np.float32)
    codes = [to_codes(luma) for luma in (first, second)]
    out = np.empty((2, 3, *first.shape), np.float32)
    flows = [np.empty(0, np.float32)] * 2

    def find(n: int) -> None:
        flows[n] = flow_between(codes[n], codes[1 - n], "fast")

    def trust(n: int) -> None:
        out[n, :2] = np.moveaxis(flows[n], -1, 0)
        known = flow_consistency(flows[n], flows[1 - n]).astype(np.float32)
        out[n, 2] = cv2.GaussianBlur(known, (0, 0), SOFT)

    parallel.for_each(find, 2)
    parallel.for_each(trust, 2)
    return out


def binomial_weights(n: int) -> Array:
    """The n + 1 weights of row n of Pascal's triangle, made to sum to 1.

    >>> binomial_weights(2).tolist()
    [0.25, 0.5, 0.25]
    """
    row = np.array([1.0])
    for _ in range(n):
        row = np.convolve(row, [0.5, 0.5])
    return row.astype(np.float32)


def temporally_filtered(
    statistics: Callable[[int], Array], flow: Callable[[int, int], Array | None], frames: int
) -> Array:
    """Smooth values over `frames` frames before and after, each warped to this one.

    The frames are weighed binomially (1 2 1 for one frame on each side), and those before or after
    by how far each place of this frame is found in them, from frame to frame. What is beyond a cut,
    or the clip's ends, has no weight. Equal frames give exactly their values.

    Args:
        statistics: the values so many frames from this one, shape `(planes, height, width)`.
        flow: flow and trust from one such frame to the next to it, as `link` has them; None
            where there is nothing to go to.
        frames: how many on each side.
    """
    own = statistics(0)
    if frames == 0:
        return own
    weights = binomial_weights(2 * frames)[frames:]
    height, width = own.shape[1:]
    others: list[tuple[np.float32, Array, Array]] = []
    for way in (-1, 1):
        going: Array | None = None
        for k in range(1, frames + 1):
            found = flow(way * (k - 1), way * k)
            if found is None:
                break
            going = found if going is None else _compose_flows(going, found)
            others.append((weights[k], statistics(way * k), going))
    more = new_like(own)
    columns = others[0][2].shape[2] if others else 1
    at = (np.arange(width) + 0.5) * (columns / width) - 0.5
    before = np.clip(np.floor(at), 0, max(columns - 2, 0)).astype(np.int32)
    part = np.clip(at - before, 0, 1).astype(np.float32)

    def add(top: int, bottom: int) -> None:
        weight = np.full((bottom - top, width), weights[0], np.float32)
        more[:, top:bottom] = 0
        for share, values, going in others:
            flat = values.reshape(len(values), -1)
            _accumulate_warped(flat, own, going, before, part, share, top, more, weight)
        _finish(own, weight, top, more)

    parallel.for_each_band(height, add, -(-height // (2 * parallel.CORES)))
    return more


def _compose_flows(going: Array, then: Array) -> Array:
    """Chain two flows: follow one, and from there the other; trust is the product."""
    at = flow_targets(np.ascontiguousarray(np.moveaxis(going[:2], 0, -1)))
    further = np.empty_like(then)
    for plane, drawn in zip(then, further, strict=True):
        cv2.remap(plane, at, None, cv2.INTER_LINEAR, dst=drawn, borderMode=cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
    further[:2] += going[:2]
    further[2] *= going[2]
    return further


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def _enlarge_row(row: Line, before: NDArray[np.int32], part: Line, out: Line) -> None:
    """Enlarge a row linearly."""
    others = row[min(1, row.shape[0] - 1) :]
    for x in range(out.shape[0]):
        n = np.uint32(before[x])
        out[x] = row[n] + part[x] * (others[n] - row[n])


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def _interpolate_rows(upper: Line, lower: Line, fy: np.float32, out: Line) -> None:
    for x in range(out.shape[0]):
        out[x] = upper[x] + fy * (lower[x] - upper[x])


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def _follow_flows(
    y: np.float32, across: np.float32, down: np.float32, x: Line, below: Line
) -> None:
    """Replace the flows of a row by the coordinates they lead to."""
    for i in range(x.shape[0]):
        x[i] = np.float32(i) + x[i] * across
        below[i] = y + below[i] * down


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def _add(there: Line, own: Line, trust: Line, share: np.float32, more: Line) -> None:
    for x in range(own.shape[0]):
        more[x] += share * trust[x] * (there[x] - own[x])


@numba.njit(nogil=True, cache=True, fastmath=EXACT)
def _accumulate_warped(
    flat: Plane,
    own: Array,
    going: Array,
    before: NDArray[np.int32],
    part: Line,
    share: np.float32,
    top: int,
    more: Array,
    weight: Plane,
) -> None:
    """Add another frame's warped values, less this frame's, to the rows from `top` on.

    `flat` are its planes, `going` is where each place is in it, enlarged by `before` and `part`
    across. What is added is weighed by `share` and by the trust, and so is added to `weight`.
    """
    planes, height, width = own.shape
    _, lines, columns = going.shape
    wide = new_lines(2, 3 * width).reshape(2, 3, width)  # rows of `going`, by turns, enlarged
    have = -9  # the first of the two; each row lies at its number's remainder
    right, below = new_line(width), new_line(width)
    trust, there = new_line(width), new_line(width)
    at = new_int_line(width)
    for i in range(weight.shape[0]):
        place = (top + i + 0.5) * lines / height - 0.5
        row = int(min(max(math.floor(place), 0), max(lines - 2, 0)))
        fy = np.float32(min(max(place - row, 0.0), 1.0))
        for line in range(row, row + 2):
            if line < have or line > have + 1:
                for p in range(3):
                    _enlarge_row(going[p, min(line, lines - 1)], before, part, wide[line % 2, p])
        have = row
        upper, lower = wide[row % 2], wide[(row + 1) % 2]
        _interpolate_rows(upper[0], lower[0], fy, right)
        _interpolate_rows(upper[1], lower[1], fy, below)
        _interpolate_rows(upper[2], lower[2], fy, trust)
        across, down = np.float32(width / columns), np.float32(height / lines)
        _follow_flows(np.float32(top + i), across, down, right, below)
        bilinear_coordinates(right, below, height, width, at)
        for x in range(width):
            weight[i, x] += share * trust[x]
        for p in range(planes):
            there[:] = np.float32(0)
            add_bilinear(flat[p], height, width, at, right, below, _ONE, there)
            _add(there, own[p, top + i], trust, share, more[p, top + i])


@numba.njit(nogil=True, cache=True, fastmath=EXACT, error_model="numpy")
def _finish(own: Array, weight: Plane, top: int, more: Array) -> None:
    """Add the weighted differences to this frame's values, from row `top` on."""
    for p in range(own.shape[0]):
        for y in range(weight.shape[0]):
            for x in range(weight.shape[1]):
                sum_ = more[p, top + y, x] / weight[y, x]
                more[p, top + y, x] = own[p, top + y, x] + sum_
