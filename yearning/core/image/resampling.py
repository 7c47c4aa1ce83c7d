"""Resampling along one axis by weighted taps: the kernels, and the taps themselves.

Edges are mirrored (d c b a | a b c d | d c b a), so nothing darkens towards the frame.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.kernel_arrays import Integer, new_line, new_lines
from yearning.core.picture import Plane


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def weigh_four(
    line: NDArray[np.float32],
    w: NDArray[np.float32],
    r0: NDArray[np.float32],
    r1: NDArray[np.float32],
    r2: NDArray[np.float32],
    r3: NDArray[np.float32],
    more: bool,
) -> None:
    """Sum four weighed rows into `line`, or add them to what it has.

    Args:
        line: the sum.
        w: four weights.
        r0: the first row.
        r1: the second.
        r2: the third.
        r3: the fourth.
        more: add to what is there.
    """
    w0, w1, w2, w3 = w[0], w[1], w[2], w[3]
    if more:
        for x in range(line.shape[0]):
            line[x] += (w0 * r0[x] + w1 * r1[x]) + (w2 * r2[x] + w3 * r3[x])
    else:
        for x in range(line.shape[0]):
            line[x] = (w0 * r0[x] + w1 * r1[x]) + (w2 * r2[x] + w3 * r3[x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def resample_rows(src: Plane, start: NDArray[np.int32], weights: Plane, out: Plane) -> None:
    """Make rows of `out` from weighed rows of `src`.

    Args:
        src: the plane.
        start: for each row of `out`, its first row of `src`.
        weights: shape `(rows, taps)`; the number of taps is a multiple of four.
        out: takes the rows.
    """
    last = src.shape[0] - 1
    for i in range(out.shape[0]):
        for t in range(0, weights.shape[1], 4):
            at = start[i] + t
            weigh_four(
                out[i],
                weights[i, t : t + 4],
                src[min(at, last)],
                src[min(at + 1, last)],
                src[min(at + 2, last)],
                src[min(at + 3, last)],
                t > 0,
            )


@numba.njit(nogil=True, cache=True)
def _turn(src: Plane, out: Plane) -> None:
    """Transpose rows to columns, eight at a time."""
    height, width = src.shape
    whole = height - height % 8
    for top in range(0, whole, 8):
        a, b, c, d = src[top], src[top + 1], src[top + 2], src[top + 3]
        e, f, g, h = src[top + 4], src[top + 5], src[top + 6], src[top + 7]
        for x in range(width):
            to = out[x, top : top + 8]
            to[0], to[1], to[2], to[3] = a[x], b[x], c[x], d[x]
            to[4], to[5], to[6], to[7] = e[x], f[x], g[x], h[x]
    for y in range(whole, height):
        row = src[y]
        for x in range(width):
            out[x, y] = row[x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def resample_columns(
    src: Plane,
    start: NDArray[np.int32],
    weights: Plane,
    out: Plane,
) -> None:
    """Columns of `out` from those of `src`, turned into rows, which are weighed whole.

    Args:
        src: the plane.
        start: for each column of `out`, its first column of `src`.
        weights: shape `(columns, taps)`.
        out: takes the columns.
    """
    rows, columns = src.shape
    turned = new_lines(columns, rows)
    result = new_lines(out.shape[1], rows)
    _turn(src, turned)
    resample_rows(turned, start, weights, result)
    _turn(result, out)


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def gather_columns(
    line: NDArray[np.float32],
    start: NDArray[np.int32],
    weights: Plane,
    out: NDArray[np.float32],
) -> None:
    """out[x] = Σ_t weights[t, x] · line[start[x] + t]; the number of taps is a multiple of four.

    For a few taps this is quicker than turning: indices without a sign let LLVM gather in vectors.

    Args:
        line: a row.
        start: for each sample of `out`, its first sample of `line`.
        weights: shape `(taps, samples)`.
        out: takes the samples.
    """
    for t in range(0, weights.shape[0], 4):
        w0, w1, w2, w3 = weights[t], weights[t + 1], weights[t + 2], weights[t + 3]
        a, b, c, d = line[t:], line[t + 1 :], line[t + 2 :], line[t + 3 :]
        if t == 0:
            for x in range(out.shape[0]):
                s = np.uint32(start[x])
                out[x] = (w0[x] * a[s] + w1[x] * b[s]) + (w2[x] * c[s] + w3[x] * d[s])
        else:
            for x in range(out.shape[0]):
                s = np.uint32(start[x])
                out[x] += (w0[x] * a[s] + w1[x] * b[s]) + (w2[x] * c[s] + w3[x] * d[s])


@numba.njit(nogil=True, cache=True, fastmath=True)
def resample_evenly(src: Plane, step: Integer, weights: NDArray[np.float32], out: Plane) -> None:
    """out[y, x] = Σ_t weights[t] · src[y, step·x + t], `step` 1 or 2: nothing is turned.

    The number of taps is a multiple of four.

    Args:
        src: the plane.
        step: samples of `src` from one of `out` to the next, 1 or 2.
        weights: of the taps, the same for all samples.
        out: takes the samples.
    """
    for y in range(out.shape[0]):
        to = out[y]
        done = 0
        if step == 1 and weights.shape[0] >= 8:  # eight at once: `to` is written once
            w0, w1, w2, w3 = weights[0], weights[1], weights[2], weights[3]
            w4, w5, w6, w7 = weights[4], weights[5], weights[6], weights[7]
            line = src[y]
            for x in range(to.shape[0]):
                to[x] = (
                    (w0 * line[x] + w1 * line[x + 1]) + (w2 * line[x + 2] + w3 * line[x + 3])
                ) + ((w4 * line[x + 4] + w5 * line[x + 5]) + (w6 * line[x + 6] + w7 * line[x + 7]))
            done = 8
        else:
            to[:] = np.float32(0)
        for t in range(done, weights.shape[0], 4):
            w0, w1, w2, w3 = weights[t], weights[t + 1], weights[t + 2], weights[t + 3]
            line = src[y, t:]
            if step == 1:
                for x in range(to.shape[0]):
                    to[x] += (w0 * line[x] + w1 * line[x + 1]) + (
                        w2 * line[x + 2] + w3 * line[x + 3]
                    )
            else:
                for x in range(to.shape[0]):
                    to[x] += (w0 * line[2 * x] + w1 * line[2 * x + 1]) + (
                        w2 * line[2 * x + 2] + w3 * line[2 * x + 3]
                    )


@dataclass(frozen=True)
class Taps:
    """A weighted resampling along one axis: output i is Σ_t weights[i, t] · input[start[i] + t]."""

    start: NDArray[np.int32]
    weights: NDArray[np.float32]
    """Padded with zeros to a multiple of four."""

    @staticmethod
    def of(start: NDArray[np.int64], weights: NDArray[np.float64]) -> "Taps":
        """Return taps padded to a multiple of four.

        Args:
            start: the first input of each output, shape `(n,)`.
            weights: shape `(n, taps)`.
        """
        padded = np.zeros((len(weights), -(-weights.shape[1] // 4) * 4), np.float32)
        padded[:, : weights.shape[1]] = weights
        return Taps(start.astype(np.int32), padded)

    def trimmed_weights(self) -> NDArray[np.float32]:
        """The weights without the zeros that pad them."""
        used = 1 + int(np.flatnonzero(np.abs(self.weights).max(axis=0))[-1])
        return np.ascontiguousarray(self.weights[:, :used])

    def rows(self, first: int, end: int) -> "Taps":
        """Return the taps of outputs `first` to `end` (exclusive) alone.

        Args:
            first: the first output.
            end: the one after the last.
        """
        return Taps(self.start[first:end], self.weights[first:end])

    def window(self) -> tuple[int, int]:
        """The inputs read: first, and one past the last."""
        return int(self.start.min()), int(self.start.max()) + self.weights.shape[1]

    def step(self) -> int:
        """Inputs from one output to the next, 1 or 2, where all weigh alike; else 0."""
        steps = np.diff(self.start)
        even = len(steps) > 0 and steps.min() == steps.max() and steps[0] in (1, 2)
        return int(steps[0]) if even and np.all(self.weights == self.weights[0]) else 0

    def resample_vertically(self, plane: Plane) -> Plane:
        """Resample the rows of a plane."""
        out = new_array((len(self.start), plane.shape[1]))
        resample_rows(plane, self.start, self.weights, out)
        return out

    def resample_horizontally(self, plane: Plane) -> Plane:
        """Resample the columns of a plane."""
        out = new_array((plane.shape[0], len(self.start)))
        resample_columns(plane, self.start, self.weights, out)
        return out


def covered_samples(
    count: int, scale: float
) -> Iterator[tuple[NDArray[np.float64], NDArray[np.float64]]]:
    """Find the small samples that lie under each of `count` larger ones.

    Yields the first sample under each and its share of the area, then the second, to the last.

    Args:
        count: of the larger samples.
        scale: small samples along a larger one.
    """
    edges = np.arange(count + 1) / scale
    first = np.floor(edges[:-1] + 1e-9)
    for k in range(int(np.ceil(1 / scale)) + 1):
        low = np.maximum(first + k, edges[:-1])
        high = np.minimum(first + k + 1, edges[1:])
        yield first + k, np.maximum(high - low, 0.0) * scale


@lru_cache(maxsize=64)
def area_taps(count_in: int, count_out: int) -> Taps:
    """Return taps that average the samples under each output.

    Args:
        count_in: samples of the axis.
        count_out: fewer.
    """
    parts = list(covered_samples(count_out, count_out / count_in))
    weights = np.stack([share for _, share in parts], axis=1)
    start = np.minimum(parts[0][0].astype(np.int64), count_in - 1)
    while weights.shape[1] > 1 and weights[:, -1].max() < 1e-9:
        weights = weights[:, :-1]
    return Taps.of(start, weights)


def mirror_indices(index: NDArray[np.int64], count: int) -> NDArray[np.int64]:
    """Return indices mirrored at both ends of an axis, as often as needed, into 0..count−1.

    Args:
        index: any integers.
        count: samples of the axis.

    >>> mirror_indices(np.arange(-2, 5), 3).tolist()
    [1, 0, 0, 1, 2, 2, 1]
    """
    folded = np.mod(index, 2 * count)
    out: NDArray[np.int64] = np.minimum(folded, 2 * count - 1 - folded)
    return out


TRUNCATE = 4.2
"""Gaussians are cut at this many σ: less than 3e-5 of the weight lies beyond."""


def _fold_taps(low: NDArray[np.int64], weights: NDArray[np.float64], count_in: int) -> Taps:
    """Fold taps that reach beyond an axis' ends back onto it, mirrored."""
    count_out, reach = weights.shape
    taps = min(reach, count_in)
    start = np.clip(low, 0, count_in - taps)
    folded = np.zeros((count_out, taps))
    index = mirror_indices(low[:, None] + np.arange(reach), count_in)
    np.add.at(folded, (np.arange(count_out)[:, None], index - start[:, None]), weights)
    return Taps.of(start, folded)


@lru_cache(maxsize=256)
def gaussian_taps(count_in: int, count_out: int, sigma: float) -> Taps:
    """Gaussian resampling of a mirrored axis: `count_in` samples to `count_out` over one extent.

    Weights of each output sum to 1.

    Args:
        count_in: samples of the axis.
        count_out: samples that are made, over the same extent.
        sigma: σ in input samples.
    """
    centre = (np.arange(count_out) + 0.5) * (count_in / count_out) - 0.5
    radius = max(1.0, TRUNCATE * sigma)
    low = np.ceil(centre - radius).astype(np.int64)
    index = low[:, None] + np.arange(int(2 * radius) + 1)
    weights = np.exp(-0.5 * ((index - centre[:, None]) / sigma) ** 2)
    return _fold_taps(low, weights / weights.sum(axis=1, keepdims=True), count_in)


SPLINE_SIGMA = 3**-0.5
"""σ of the cubic B-spline in samples: four boxes of one sample, of variance 1/12 each."""


@lru_cache(maxsize=64)
def cubic_taps(count_in: int, count_out: int, first: float, step: float) -> Taps:
    """Cubic convolution of an axis: output i is centred at `first` + (i + ½) · `step` of the input.

    R. G. Keys, Cubic Convolution Interpolation for Digital Image Processing, IEEE Transactions on
    Acoustics, Speech, and Signal Processing 29 (1981), eq. 15, with a = −½. At a `step` beyond 1
    the kernel is as much wider, so that nothing aliases. Beyond its ends the input is mirrored.
    Where outputs are inputs, they are exactly those.

    Args:
        count_in: samples of the axis.
        count_out: samples that are made.
        first: the place, in input samples, at which the first output begins.
        step: input samples to one that is made.
    """
    wide = max(step, 1.0)
    place = np.mod(first + (np.arange(count_out) + 0.5) * step, 2 * count_in)
    at = np.minimum(place, 2 * count_in - place) - 0.5
    low = np.floor(at + 1e-9).astype(np.int64) - (1 if wide == 1 else math.ceil(2 * wide) - 1)
    taps = 4 if wide == 1 else 2 * math.ceil(2 * wide)
    s = np.abs(low[:, None] + np.arange(taps) - at[:, None]) / wide
    s[np.abs(s - np.rint(s)) < 1e-6] = np.rint(s[np.abs(s - np.rint(s)) < 1e-6])
    near = (1.5 * s - 2.5) * s * s + 1
    far = ((-0.5 * s + 2.5) * s - 4) * s + 2
    weights = np.where(s <= 1, near, np.where(s < 2, far, 0.0))
    return _fold_taps(low, weights / weights.sum(axis=1, keepdims=True), count_in)


def spline(distance: NDArray[np.float64]) -> NDArray[np.float64]:
    """The cubic B-spline at `distance` samples from its centre; 0 from 2 samples on.

    M. Unser, Splines: A Perfect Fit for Signal and Image Processing, IEEE Signal Processing
    Magazine 16 (1999), eq. 3.
    """
    u = np.abs(distance)
    inner = 2 / 3 - u**2 + u**3 / 2
    outer = np.maximum(2 - u, 0) ** 3 / 6
    return np.where(u < 1, inner, outer)


@lru_cache(maxsize=256)
def spline_taps(count_in: int, count_out: int) -> Taps:
    """Return taps that enlarge a mirrored axis by cubic B-splines: a blur of `SPLINE_SIGMA`.

    Args:
        count_in: samples of the axis.
        count_out: samples that are made, over the same extent.
    """
    centre = (np.arange(count_out) + 0.5) * (count_in / count_out) - 0.5
    low = np.floor(centre).astype(np.int64) - 1
    return _fold_taps(low, spline(low[:, None] + np.arange(4) - centre[:, None]), count_in)


@lru_cache(maxsize=64)
def spline_weights(block: int, width: int) -> NDArray[np.float32]:
    """Return cubic B-spline weights, shape `(4, width)`, of the four samples around each pixel.

    Args:
        block: pixels from a sample to the next.
        width: in pixels.
    """
    centre = (np.arange(width) + 0.5) / block - 0.5
    distance = np.floor(centre) - 1 + np.arange(4)[:, None] - centre
    return spline(distance).astype(np.float32)


@numba.njit(nogil=True, cache=True, fastmath=True)
def spread_columns(src: Plane, block: int, weights: Plane, out: Plane) -> None:
    """Enlarge rows `block` times by cubic B-splines, `weights` as `spline_weights` has them.

    Each sample is repeated `block` times; the four under a pixel then lie `block` places apart.

    Args:
        src: rows of samples.
        block: pixels from a sample to the next.
        weights: as `spline_weights` gives them.
        out: takes the rows.
    """
    columns, width = src.shape[1], out.shape[1]
    spare, other = new_line((columns + 4) * block), new_line((columns + 4) * block)
    line = new_line(columns + 4)
    shift = (block + 1) // 2
    for y in range(out.shape[0]):
        for j in range(-2, 0):
            line[j + 2] = src[y, min(-1 - j, columns - 1)]
            line[columns + 1 - j] = src[y, max(columns + j, 0)]
        for j in range(columns):
            line[j + 2] = src[y, j]
        repeated = _repeat(line, block, spare, other)
        a, b = repeated[shift:], repeated[shift + block :]
        c, d = repeated[shift + 2 * block :], repeated[shift + 3 * block :]
        for x in range(width):
            out[y, x] = (weights[0, x] * a[x] + weights[1, x] * b[x]) + (
                weights[2, x] * c[x] + weights[3, x] * d[x]
            )


@numba.njit(nogil=True, cache=True)
def _repeat(
    line: NDArray[np.float32], times: int, out: NDArray[np.float32], spare: NDArray[np.float32]
) -> NDArray[np.float32]:
    """Each value of a line several times over, at the begin of `out` or `spare`, or `line` itself.

    Threes and twos of `times` are written from one line to the other by turns, on vectors.
    """
    count, whole, odd = line.shape[0], line.shape[0] * times, times
    while odd % 2 == 0:
        odd //= 2
    if odd == 3:
        for j in range(count):
            out[3 * j] = line[j]
            out[3 * j + 1] = line[j]
            out[3 * j + 2] = line[j]
    elif odd > 1:
        for j in range(count):
            for k in range(odd):
                out[j * odd + k] = line[j]
    if odd > 1:
        line, out, spare = out, spare, out
    count *= odd
    while count < whole:
        for j in range(count):
            out[2 * j] = line[j]
            out[2 * j + 1] = line[j]
        line, out, spare = out, spare, out
        count *= 2
    return line
