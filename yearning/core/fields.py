"""Counter-based random fields: values from (seed, frame, position), never from a history.

J. K. Salmon, M. A. Moraes, R. O. Dror, D. E. Shaw, Parallel Random Numbers: As Easy as 1, 2, 3,
SC11 (2011): Threefry-4×32, with 12 rounds, the fewest the paper found to pass every test of
BigCrush. (From memory; the tests check 20 rounds against the authors' published answer.)
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.filters import Taps, covered, weigh_columns, weigh_rows
from yearning.core.memory import new_array
from yearning.core.picture import Plane, Size

Word = np.uint32
Four = tuple[Word, Word, Word, Word]

PARITY = Word(0x1BD11BDA)
"""The constant the key schedule's extra word is made with."""


@numba.njit(nogil=True, cache=True, inline="always")
def _stir(a: Word, b: Word, by: int) -> tuple[Word, Word]:
    a = Word(a + b)
    return a, Word((b << Word(by)) | (b >> Word(32 - by))) ^ a


@numba.njit(nogil=True, cache=True, inline="always")
def _rounds_0_to_3(a: Word, b: Word, c: Word, d: Word) -> Four:
    a, b = _stir(a, b, 10)
    c, d = _stir(c, d, 26)
    a, d = _stir(a, d, 11)
    c, b = _stir(c, b, 21)
    a, b = _stir(a, b, 13)
    c, d = _stir(c, d, 27)
    a, d = _stir(a, d, 23)
    c, b = _stir(c, b, 5)
    return a, b, c, d


@numba.njit(nogil=True, cache=True, inline="always")
def _rounds_4_to_7(a: Word, b: Word, c: Word, d: Word) -> Four:
    a, b = _stir(a, b, 6)
    c, d = _stir(c, d, 20)
    a, d = _stir(a, d, 17)
    c, b = _stir(c, b, 11)
    a, b = _stir(a, b, 25)
    c, d = _stir(c, d, 10)
    a, d = _stir(a, d, 18)
    c, b = _stir(c, b, 20)
    return a, b, c, d


@numba.njit(nogil=True, cache=True, inline="always")
def threefry(a: Word, b: Word, c: Word, d: Word, k0: Word, k1: Word, eights: int) -> Four:
    """Four random words of the counter (a, b, c, d) under the key (k0, k1, 0, 0).

    Four rounds, then `eights` times eight more: 12 rounds for 1, 20 rounds for 2.
    """
    k2 = Word(0)
    k3 = Word(0)
    k4 = Word(PARITY ^ k0 ^ k1)
    a, b, c, d = _rounds_0_to_3(Word(a + k0), Word(b + k1), Word(c + k2), Word(d + k3))
    a, b, c, d = Word(a + k1), Word(b + k2), Word(c + k3), Word(d + k4 + Word(1))
    for e in range(eights):
        n = Word(2 * e)
        a, b, c, d = _rounds_4_to_7(a, b, c, d)
        a, b, c, d = Word(a + k2), Word(b + k3), Word(c + k4), Word(d + k0 + n + Word(2))
        a, b, c, d = _rounds_0_to_3(a, b, c, d)
        a, b, c, d = Word(a + k3), Word(b + k4), Word(c + k0), Word(d + k1 + n + Word(3))
        k0, k1, k2, k3, k4 = k2, k3, k4, k0, k1
    return a, b, c, d


_UNIT = np.float32(np.sqrt(12.0) / 65536.0)
_MIDDLE = np.float32(0.5 * 65535)
_KEY1 = Word(0x59EA4E1)
_LOW_HALF = Word(0xFFFF)
_LANES = 64
_BLOCK = 8 * _LANES
"""A block of 512 columns: 64 counters, each giving one 16-bit value to 8 columns, 64 apart."""


@numba.njit(nogil=True, cache=True, inline="always")
def _spread(words: NDArray[np.uint32], low: Plane, high: Plane) -> None:
    for i in range(_LANES):
        low[i] = (np.float32(np.int32(words[i] & _LOW_HALF)) - _MIDDLE) * _UNIT
        high[i] = (np.float32(np.int32(words[i] >> Word(16))) - _MIDDLE) * _UNIT


@numba.njit(nogil=True, cache=True)
def _fill(seed: Word, layer: Word, frame: Word, top: int, left: int, out: Plane) -> None:
    height, width = out.shape
    first = left // _BLOCK
    blocks = (left + width + _BLOCK - 1) // _BLOCK - first
    line = np.empty(blocks * _BLOCK, np.float32)
    words = np.empty((4, _LANES), np.uint32)
    into_a, into_b, into_c, into_d = words[0], words[1], words[2], words[3]
    skip = left - first * _BLOCK
    for y in range(height):
        row = Word(top + y)
        for block in range(blocks):
            base = Word((first + block) * _LANES)
            for i in range(_LANES):
                a, b, c, d = threefry(Word(base + Word(i)), row, frame, layer, seed, _KEY1, 1)
                into_a[i] = a
                into_b[i] = b
                into_c[i] = c
                into_d[i] = d
            for w in range(4):
                at = block * _BLOCK + 2 * w * _LANES
                _spread(words[w], line[at : at + _LANES], line[at + _LANES : at + 2 * _LANES])
        into, part = out[y], line[skip : skip + width]
        for x in range(width):
            into[x] = part[x]


def white(seed: int, layer: int, frame: int, top: int, left: int, shape: tuple[int, int]) -> Plane:
    """White noise of zero mean and unit variance on a window of an endless lattice.

    Each lattice point has an independent value, uniform over ±√3 in steps of 2^-16 of that span;
    the window chosen does not change it. `top` and `left` are the window's first row and column
    and may be negative; `shape` is (rows, columns); `layer` tells fields of one seed apart.
    """
    out = new_array(shape)
    mask = 0xFFFFFFFF
    _fill(Word(seed & mask), Word(layer & mask), Word(frame & mask), top, left, out)
    return out


@dataclass(frozen=True)
class Correlation:
    """How white noise becomes a field: a lattice `pitch` px@1080 apart, under a gaussian.

    `energy` is each reference pixel's sum of squared weights along one axis: its square is the
    field's variance in a picture of 1080 lines.
    """

    pitch: int
    sigma: float
    energy: float

    def weights(self, centre: NDArray[np.float64]) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
        """First lattice points and weights for pixels centred at `centre` px@1080.

        Weights are scaled to the same sum of squares for every pixel, wherever it falls between
        lattice points, so the field's variance is even.
        """
        at = centre / self.pitch - 0.5
        radius = max(1.0, 2.6 * self.sigma)
        start = np.floor(at - radius).astype(np.int64)
        offsets = np.arange(int(np.ceil(2 * radius)) + 1)
        weights = np.exp(-0.5 * ((start[:, None] + offsets - at[:, None]) / self.sigma) ** 2)
        return start, weights * np.sqrt(self.energy / np.sum(weights**2, axis=1, keepdims=True))


@lru_cache(maxsize=64)
def _lattice_taps(count: int, scale: float, correlation: Correlation) -> Taps:
    """Taps from the lattice to `count` pixels of a picture of `scale` pixels per px@1080.

    A pixel larger than 1 px@1080 is the average of the reference pixels it covers, exactly.
    """
    if scale >= 1:
        return Taps.of(*correlation.weights((np.arange(count) + np.float64(0.5)) / scale))
    parts = []
    for pixel, share in covered(count, scale):
        start, weights = correlation.weights(pixel + 0.5)
        parts.append((start, weights * share[:, None]))
    begin = parts[0][0]
    reach = int(max((start - begin).max() for start, _ in parts)) + parts[0][1].shape[1]
    total = np.zeros((count, reach))
    rows = np.arange(count)[:, None]
    for start, weights in parts:
        total[rows, (start - begin)[:, None] + np.arange(weights.shape[1])] += weights
    return Taps.of(begin, total)


class PackedWeave(NamedTuple):
    """A `Weave` as two arrays: handing many to a kernel costs more than a band's noise."""

    counts: NDArray[np.int32]
    weights: NDArray[np.float32]


class Weave(NamedTuple):
    """How a lattice of white noise becomes rows of smooth noise; made by `weave_for`.

    Down the lattice's rows by `down`; across them by `first`, and then by `second` where `twice`.
    """

    down_start: NDArray[np.int32]
    down_weights: Plane
    first_start: NDArray[np.int32]
    first_weights: Plane
    first_slides: bool
    twice: bool
    second_start: NDArray[np.int32]
    second_weights: Plane
    left: int
    """The lattice's first column that is read, and below how many."""
    columns: int
    line: int
    """Length of a line between the two passes across."""


@lru_cache(maxsize=64)
def weave_for(size: Size, scales: tuple[float, float], sigma: float, soft: float) -> PackedWeave:
    """The weave of a field of gaussian-correlated noise, fixed to the frame, not to its pixels.

    A field of zero mean: white noise under a gaussian of `sigma` px@1080, blurred by `soft`
    px@1080, and averaged over each pixel of a picture of `size`. With `soft` 0 it has unit
    variance at 1080 lines; a smaller picture has what averaging the larger one leaves. `scales`
    are its pixels per px@1080 across and down.
    """
    # a box of width w has the variance w²/12; a pixel averages over such a box
    reference = sigma**2 + 1 / 12
    pixel = min(1.0, 1.0 / scales[1])
    wide = sigma**2 + soft**2 + pixel**2 / 12
    pitch = max(1, int(sigma))
    correlation = Correlation(pitch, max(wide**0.5 / pitch, 0.45), (reference / wide) ** 0.5)
    down = _lattice_taps(size.height, scales[1], correlation)
    if scales[0] < 1 and pitch == 1:  # reference pixels slide along the lattice: two light passes
        parts = list(covered(size.width, scales[0]))
        shares = np.stack([share for _, share in parts], axis=1)
        second = Taps.of(parts[0][0].astype(np.int64), shares)
        line = second.window()[1]
        first = Taps.of(*correlation.weights(np.arange(line) + np.float64(0.5)))
    else:
        first = second = _lattice_taps(size.width, scales[0], correlation)
        line = size.width
    left, right = first.window()
    starts = (down.start, first.start - np.int32(left), second.start)
    weights = (down.weights, first.weights, second.weights)
    shapes = [n for part in weights for n in part.shape]
    head = [left, right - left, line, first.slides, second is not first, *shapes]
    return PackedWeave(
        np.concatenate([np.array(head, np.int32), *starts]),
        np.concatenate([part.ravel() for part in weights]),
    )


@numba.njit(nogil=True, cache=True)
def _unpacked(counts: NDArray[np.int32], weights: NDArray[np.float32]) -> Weave:
    down, d, first, f, second, s = counts[5:11]
    starts = counts[11:]
    return Weave(
        starts[:down],
        weights[: down * d].reshape(down, d),
        starts[down : down + first],
        weights[down * d : down * d + first * f].reshape(first, f),
        counts[3] != 0,
        counts[4] != 0,
        starts[down + first :],
        weights[down * d + first * f :].reshape(second, s),
        counts[0],
        counts[1],
        counts[2],
    )


@numba.njit(nogil=True, cache=True, fastmath=True)
def _areas(src: Plane, start: NDArray[np.int32], weights: Plane, out: Plane) -> None:
    """Columns averaged over a few each: too few to be worth turning into rows."""
    taps = weights.shape[1]
    while taps > 1 and weights[:, taps - 1].max() == 0:
        taps -= 1
    for y in range(out.shape[0]):
        row, line = src[y], out[y]
        for i in range(line.shape[0]):
            at = np.uint64(start[i])
            total = weights[i, 0] * row[at]
            for t in range(1, taps):
                total += weights[i, t] * row[at + np.uint64(t)]
            line[i] = total


@numba.njit(nogil=True, cache=True, fastmath=True)
def _across(field: Plane, weave: Weave, scratch: NDArray[np.float32], out: Plane) -> None:
    rows = field.shape[0]
    if not weave.twice:
        weigh_columns(
            field, weave.first_start, weave.first_weights, weave.first_slides, scratch, out
        )
        return
    line = scratch[: rows * weave.line].reshape(rows, weave.line)
    rest = scratch[rows * weave.line :]
    weigh_columns(field, weave.first_start, weave.first_weights, weave.first_slides, rest, line)
    _areas(line, weave.second_start, weave.second_weights, out)


@numba.njit(nogil=True, cache=True, fastmath=True)
def weave_rows(
    counts: NDArray[np.int32],
    packed: NDArray[np.float32],
    seed: int,
    layer: int,
    frame: int,
    first: int,
    scratch: NDArray[np.float32],
    out: Plane,
) -> None:
    """Rows from `first` on of the field of (seed, layer, frame), into `out`.

    `counts` and `packed` are a packed weave; `layer` tells fields of one seed apart; `scratch`
    has the length that `scratch_for` says.
    """
    weave = _unpacked(counts, packed)
    start = weave.down_start[first : first + out.shape[0]]
    weights = weave.down_weights[first : first + out.shape[0]]
    top = start[0]
    rows = start[-1] + weights.shape[1] - top
    columns = weave.columns
    lattice = scratch[: rows * columns].reshape(rows, columns)
    rest = scratch[rows * columns :]
    _fill(Word(seed), Word(layer), Word(frame), top, weave.left, lattice)
    height, width = out.shape
    if rows > height:
        lowered = rest[: height * columns].reshape(height, columns)
        weigh_rows(lattice, start - top, weights, lowered)
        _across(lowered, weave, rest[height * columns :], out)
    else:
        widened = rest[: rows * width].reshape(rows, width)
        _across(lattice, weave, rest[rows * width :], widened)
        weigh_rows(widened, start - top, weights, out)


def scratch_for(weave: PackedWeave, band: tuple[int, int], width: int) -> int:
    """The length of scratch that `weave_rows` needs for a band of a picture `width` wide."""
    columns, line, taps = (int(weave.counts[i]) for i in (1, 2, 6))
    start = weave.counts[11 + band[0] : 11 + band[1]]
    rows = int(start[-1] - start[0]) + taps
    return rows * (columns + max(columns, width) + 2 * line + columns + width)
