"""Counter-based random fields: values from (seed, frame, position), never from a history.

J. K. Salmon, M. A. Moraes, R. O. Dror, D. E. Shaw, Parallel Random Numbers: As Easy as 1, 2, 3,
SC11 (2011): Threefry-4×32, with 12 rounds, the fewest the paper found to pass every test of
BigCrush. (From memory; the tests check 20 rounds against the authors' published answer.)
"""

from functools import lru_cache
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.image.resampling import (
    Taps,
    area_taps,
    covered_samples,
    gather_columns,
    resample_columns,
    resample_evenly,
    resample_rows,
)
from yearning.core.kernel_arrays import (
    Integer,
    copy_line,
    new_double_line,
    new_line,
    new_lines,
    new_word_line,
)
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
    """Return four random words of the counter (a, b, c, d) under the key (k0, k1, 0, 0).

    Args:
        a: the counter's first word.
        b: its second.
        c: its third.
        d: its fourth.
        k0: the key's first word.
        k1: its second.
        eights: rounds beyond the first four, divided by eight: 12 rounds for 1, 20 rounds for 2.
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
_MIDDLE = np.float32(32767.5)
_KEY1 = Word(0x59EA4E1)
_KEY2 = Word(0xD057)
_LOW_HALF = Word(0xFFFF)
_LANES = 64
_WORDS = 4 * _LANES
_BLOCK = 2 * _WORDS
"""A block of 512 columns: 64 counters give 4 words each, 64 columns apart; a word's lower half is a
column's value, its upper half that of the column 256 further on."""


@numba.njit(nogil=True, cache=True)
def _fill(seed: Word, layer: Word, frame: Word, top: Integer, left: Integer, out: Plane) -> None:
    height, width = out.shape
    first = left // _BLOCK
    blocks = (left + width + _BLOCK - 1) // _BLOCK - first
    words = new_word_line(_WORDS)
    line = new_line(blocks * _BLOCK)
    skip = left - first * _BLOCK
    for y in range(height):
        row = Word(top + y)
        for block in range(blocks):
            base = Word((first + block) * _LANES)
            for i in range(_LANES):
                a, b, c, d = threefry(Word(base + Word(i)), row, frame, layer, seed, _KEY1, 1)
                words[i] = a
                words[_LANES + i] = b
                words[2 * _LANES + i] = c
                words[3 * _LANES + i] = d
            at = block * _BLOCK
            for i in range(_WORDS):
                low, high = np.int32(words[i] & _LOW_HALF), np.int32(words[i] >> Word(16))
                line[at + i] = (np.float32(low) - _MIDDLE) * _UNIT
                line[at + _WORDS + i] = (np.float32(high) - _MIDDLE) * _UNIT
        copy_line(line[skip:], out[y])


def white_noise(
    seed: int, layer: int, frame: int, top: int, left: int, shape: tuple[int, int]
) -> Plane:
    """Return white noise of zero mean and unit variance on a window of an endless lattice.

    Each lattice point has an independent value, evenly distributed over ±√3; the window chosen does
    not change it.

    Args:
        seed: another gives another field.
        layer: tells fields of one seed apart.
        frame: the time.
        top: the window's first row; may be negative.
        left: its first column; may be negative.
        shape: (rows, columns).
    """
    out = new_array(shape)
    mask = 0xFFFFFFFF
    _fill(Word(seed & mask), Word(layer & mask), Word(frame & mask), top, left, out)
    return out


@numba.njit(nogil=True, cache=True)
def uniforms(seed: int, layer: Integer, a: int, b: Integer, count: Integer) -> NDArray[np.float64]:
    """Return numbers evenly spread over 0..1, neither end, of a counter (layer, a, b).

    Args:
        seed: the key.
        layer: tells uses of one seed apart.
        a: any whole number.
        b: any whole number.
        count: of the numbers; of more the first ones stay as they are.
    """
    mask = 0xFFFFFFFF
    out = new_double_line(count)
    for i in range(0, count, 4):
        words = threefry(
            Word(a & mask), Word(b & mask), Word(layer & mask), Word(i), Word(seed & mask), _KEY2, 1
        )
        for k in range(min(4, count - i)):
            out[i + k] = (words[k] + 0.5) / 4294967296.0
    return out


REACH = 2.9
"""Bells are cut at this many σ."""

MIN_SIGMA = 3**-0.5
"""σ, in lattice points, of the narrowest bell that lets no lattice show: four taps."""


def _even_bell(distance: NDArray[np.float64], sigma: float) -> NDArray[np.float64]:
    """Return weights at whole distances that correlate white noise as a gaussian of `sigma` would.

    On a lattice as coarse as the pixels, a narrow gaussian's own values would correlate neighbours
    too little: the spectrum's root is taken instead (Wiener–Khinchin).
    """
    lag = np.fft.fftfreq(256, 1 / 256)
    spectrum = np.fft.fft(np.exp(-(lag**2) / (4 * sigma**2))).real
    weights = np.fft.ifft(np.sqrt(np.maximum(spectrum, 0.0))).real
    return weights[np.rint(distance).astype(np.int64)]


@lru_cache(maxsize=64)
def _lattice_taps(count: int, full: int, pitch: float, sigma: float, energy: float) -> Taps:
    """Taps from a lattice to the `count` pixels of an axis that has `full` at full size.

    The lattice is `pitch` full pixels apart. A full pixel weighs it by a bell of σ `sigma`
    full pixels, scaled to the sum of squares `energy` wherever the pixel falls between lattice
    points, so that the field's variance is even. A larger pixel is the average of the full ones it
    covers, exactly.
    """
    starts, parts = [], []
    width = sigma / pitch
    radius = max(1.0, REACH * width)
    for pixel, share in covered_samples(count, count / full):
        at = (pixel + 0.5) / pitch - 0.5
        start = np.ceil(at - radius).astype(np.int64)
        distance = start[:, None] + np.arange(int(2 * radius) + 1) - at[:, None]
        bell = _even_bell(distance, sigma) if pitch == 1 else np.exp(-0.5 * (distance / width) ** 2)
        weights = bell * (np.abs(distance) <= radius)
        weights *= np.sqrt(energy / np.sum(weights**2, axis=1, keepdims=True))
        starts.append(start)
        parts.append(weights * share[:, None])
    begin = starts[0]
    reach = parts[0].shape[1]
    total = np.zeros((count, reach + int(max((start - begin).max() for start in starts))))
    rows = np.arange(count)[:, None]
    for start, weights in zip(starts, parts, strict=True):
        total[rows, (start - begin)[:, None] + np.arange(reach)] += weights
    while total[:, -1].max() == 0:
        total = total[:, :-1]
    return Taps.of(begin, total)


class NoiseKernel(NamedTuple):
    """A separable resampling of white noise on a lattice to rows of correlated noise.

    Made by `noise_kernel`, packed into two arrays, since handing many to a compiled function costs
    more than a band's noise.

    Args:
        counts: the lattice's first column and number of columns; pixels and taps in y; pixels and
            taps in x; the step from pixel to pixel where it is even; the taps of a full pixel,
            where those in x are of full pixels, and 0 where they are of lattice points; then each
            pixel's first lattice point in y, and first lattice point or full pixel in x.
        weights: of the taps in y; in x, pixel by pixel, or, of full pixels, tap by tap; and of a
            full pixel's.
    """

    counts: NDArray[np.int32]
    weights: NDArray[np.float32]


_HEAD = 8

FINE = 6.0
"""σ in full pixels up to which the lattice has a column for every full pixel: rows of it are
then weighed as they lie."""


@lru_cache(maxsize=64)
def noise_kernel(size: Size, full_size: Size, sigma: float, soft: float) -> NoiseKernel:
    """Return the kernel of a field of correlated noise, fixed to the frame, not to its pixels.

    A field of zero mean: white noise under a gaussian of σ `sigma` px@1080, blurred by `soft`
    px@1080, and averaged over each pixel of footage of `full_size`; at another `size`, the average
    of that. With `soft` 0 it has unit variance at 1080 lines.

    Args:
        size: of the picture.
        full_size: of the footage.
        sigma: σ of the gaussian, in px@1080.
        soft: of a second one, in px@1080; 0 for none.
    """
    # a box of width w has the variance w²/12; a pixel averages over such a box
    reference = sigma**2 + 1 / 12
    wide = sigma**2 + soft**2 + full_size.scale**-2 / 12
    bell = wide**0.5 * full_size.scale
    energy = (reference / wide) ** 0.5
    coarse = 1.0 if bell <= FINE else float(int(bell / 3))
    down = _lattice_taps(size.height, full_size.height, bell / MIN_SIGMA, bell, energy)
    across = _lattice_taps(size.width, full_size.width, coarse, bell, energy)
    step = across.step()
    if coarse == 1 and not step:  # full pixels first, then what each pixel covers of them
        full = _lattice_taps(full_size.width, full_size.width, coarse, bell, energy).weights[0]
        left = int(across.start[0])
        across = area_taps(full_size.width, size.width)
        columns = full_size.width + across.weights.shape[1] + len(full)
        start_x, weights_x = across.start, across.weights.T
    else:
        full = np.zeros(0, np.float32)
        left, right = across.window()
        columns = right - left
        start_x, weights_x = across.start - np.int32(left), across.weights
    shapes = *down.weights.shape, *across.weights.shape
    head = [left, columns, *shapes, step, len(full)]
    return NoiseKernel(
        np.concatenate([np.array(head, np.int32), down.start, start_x]),
        np.concatenate([down.weights.ravel(), weights_x.ravel(), full]),
    )


@numba.njit(nogil=True, cache=True, fastmath=True)
def _weave_across(
    src: Plane,
    step: int,
    start: NDArray[np.int32],
    weights: NDArray[np.float32],
    taps: int,
    full: NDArray[np.float32],
    out: Plane,
) -> None:
    pixels = out.shape[1]
    if step:
        resample_evenly(src, step, weights[:taps], out)
    elif full.shape[0] == 0:
        resample_columns(src, start, weights.reshape(pixels, taps), out)
    else:
        whole = new_lines(src.shape[0], src.shape[1] - full.shape[0])
        resample_evenly(src, np.int64(1), full, whole)
        shares = weights.reshape(taps, pixels)
        for y in range(out.shape[0]):
            gather_columns(whole[y], start, shares, out[y])


@numba.njit(nogil=True, cache=True, fastmath=True)
def fill_noise(
    counts: NDArray[np.int32],
    weights: NDArray[np.float32],
    seed: int,
    layer: Integer,
    frame: int,
    first: int,
    out: Plane,
) -> None:
    """Fill rows with the field of (seed, layer, frame).

    Args:
        counts: of a noise kernel.
        weights: of the same.
        seed: another gives another field.
        layer: tells fields of one seed apart.
        frame: the time.
        first: the first row.
        out: takes the rows.
    """
    left, columns, n_down, t_down, n_across, t_across, step, t_full = counts[:_HEAD]
    height, width = out.shape
    start = counts[_HEAD + first : _HEAD + first + height]
    down = weights[: n_down * t_down].reshape(n_down, t_down)[first : first + height]
    start_across = counts[_HEAD + n_down :]
    after = n_down * t_down + n_across * t_across
    across, full = weights[n_down * t_down : after], weights[after : after + t_full]
    top = start[0]
    rows = start[-1] + t_down - top
    lattice = new_lines(rows, columns)
    _fill(Word(seed), Word(layer), Word(frame), np.int64(top), np.int64(left), lattice)
    if rows > height:
        lowered = new_lines(height, columns)
        resample_rows(lattice, start - top, down, lowered)
        _weave_across(lowered, step, start_across, across, t_across, full, out)
    else:
        widened = new_lines(rows, width)
        _weave_across(lattice, step, start_across, across, t_across, full, widened)
        resample_rows(widened, start - top, down, out)
