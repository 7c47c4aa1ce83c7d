"""Endless grain of a given spectrum: random phase, thrown down in parts that blend into each other.

B. Galerne, Y. Gousseau, J.-M. Morel, Random Phase Textures: Theory and Synthesis, IEEE Transactions
on Image Processing 20, 2011: a texture without structure is its spectrum alone, whatever the
phases. Two large fields are made so, once; every frame is laid in parts, each the sum of a part of
either field from places drawn anew, its edges crossing over into the next so that the variance
stays even. Of such pairs there are some 10¹¹, so grain does not repeat.
"""

import math
from functools import lru_cache, partial
from typing import Any

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.image.resampling import Taps, area_taps
from yearning.core.noise.fields import Word, threefry, white_noise
from yearning.core.noise.scanned_grain import ScannedGrain
from yearning.core.picture import Picture, Size

SIDE = 1024
"""Of a field, in pixels."""

STRIDE, EDGE = 256, 16
"""How far parts lie apart, and over how many pixels one crosses over into the next."""

PART = STRIDE + EDGE

FIELDS = 2

UNIT, HIGHEST = 2048, 16383
"""The rms of the scan's grain in the fields' whole numbers, and the highest: two add up to one of
16 bits."""

_KEY = Word(0x6EA135)

_PLACES = Word(SIDE - PART)
"""Of a part in a field, in either direction."""

Fields = NDArray[np.int16]
"""Shape `(FIELDS, 3, SIDE, SIDE)`; `UNIT` is the rms of the scan's grain."""


class PreparedGrain:
    """Measured grain, ready to be laid on pictures."""

    nbytes = FIELDS * 3 * SIDE * SIDE * np.dtype(np.int16).itemsize

    def __init__(self, grain: ScannedGrain) -> None:
        self.lines = grain.lines
        self.tones = grain.tones
        self._fields = lru_cache(1)(partial(grain_fields, grain.lags))

    def noise(
        self,
        pitch: float,
        size: Size,
        full_size: Size,
        seed: int,
        frame: int,
        rows: tuple[int, int],
    ) -> Picture:
        """Rows of a frame's grain, in parts of its rms on the scan.

        Args:
            pitch: how many of the scan's pixels a full pixel is wide.
            size: of the picture; where it is not the footage's, pixels are the mean of full ones.
            full_size: of the footage.
            seed: another, another grain.
            frame: its number.
            rows: the first, and the one past the last.
        """
        first, end = rows
        fields = self._fields(pitch)
        if size == full_size:
            return _combine_fields(fields, seed, frame, rows, size.width)
        down = area_taps(full_size.height, size.height).rows(first, end)
        top, bottom = down.window()
        whole = _combine_fields(fields, seed, frame, (top, bottom), full_size.width)
        lowered = Taps(down.start - np.int32(top), down.weights)
        across = area_taps(full_size.width, size.width)
        return np.stack(
            [across.resample_horizontally(lowered.resample_vertically(plane)) for plane in whole]
        )


def grain_fields(lags: NDArray[np.float64], pitch: float) -> Fields:
    """Fields of grain, where a pixel is `pitch` of the scan's pixels wide.

    Args:
        lags: the grain's correlation, shape `(3, 3, 2n + 1, 2n + 1)`.
        pitch: above 0.
    """
    spectrum = _spectrum(lags, pitch)
    root = _root(spectrum)
    out = np.empty((FIELDS, 3, SIDE, SIDE), np.int16)
    for field in range(FIELDS):
        phases = [_random_phases(field, layer) for layer in range(3)]
        for c in range(3):
            waves = sum(root[c, i] * phases[i] for i in range(c + 1))
            made = np.fft.irfft2(waves, (SIDE, SIDE))
            rms = math.sqrt(float(np.mean(made**2)))
            wanted = math.sqrt(_mean_power(spectrum[c, c]))
            scale = UNIT * wanted / rms if rms > 0 else 0.0
            np.rint(np.clip(made * scale, -HIGHEST, HIGHEST), out=made)
            out[field, c] = made
    return out


def _spectrum(lags: NDArray[np.float64], pitch: float) -> NDArray[np.complex64]:
    """The power spectra of channels with each other, for frequencies as `rfft2` has them.

    Shape `(3, 3, SIDE, SIDE // 2 + 1)`; those above the diagonal are left out.

    A pixel wider than the scan's averages over it, so that what is finer than it folds back.
    """
    reach = lags.shape[2] // 2
    box = math.sqrt(max(pitch**2 - 1, 0.0)) / pitch

    def waves(frequencies: NDArray[np.floating[Any]]) -> NDArray[np.complex64]:
        total = np.zeros((len(frequencies), 2 * reach + 1), np.complex128)
        most = math.ceil(pitch / 2)
        for fold in range(-most, most + 1):
            folded = frequencies + fold
            seen = np.abs(folded) <= pitch / 2 + 1e-12
            ends = np.where(np.abs(np.abs(folded) - pitch / 2) <= 1e-12, 0.5, 1.0)
            power = np.where(seen, ends * np.sinc(folded * box) ** 2, 0.0)
            turns = np.exp(-2j * np.pi / pitch * np.outer(folded, np.arange(-reach, reach + 1)))
            total += power[:, None] * turns
        return np.asarray(total / pitch, np.complex64)

    down, across = waves(np.fft.fftfreq(SIDE)), waves(np.fft.rfftfreq(SIDE))
    found = np.zeros((3, 3, SIDE, SIDE // 2 + 1), np.complex64)
    for i in range(3):
        for j in range(i + 1):
            found[i, j] = down @ lags[i, j].astype(np.complex64) @ across.T
    return found


def _root(spectrum: NDArray[np.complex64]) -> NDArray[np.complex64]:
    """Lower triangles whose product with their conjugate is the spectrum, at each frequency.

    Cholesky's, where what a measurement's noise has made less than nothing is nothing.
    """
    out = np.zeros_like(spectrum)
    left = [np.maximum(spectrum[c, c].real, 0) for c in range(3)]
    for i in range(3):
        out[i, i] = np.sqrt(left[i])
        for j in range(i + 1, 3):
            rest = spectrum[j, i] - sum(out[j, k] * out[i, k].conj() for k in range(i))
            share = rest / np.maximum(out[i, i].real, 1e-6)
            size, room = np.abs(share), np.sqrt(left[j])
            share *= np.minimum(1, room / np.maximum(size, 1e-12))
            out[j, i] = share
            left[j] = np.maximum(left[j] - np.abs(share) ** 2, 0)
    return out


@lru_cache(3 * FIELDS)
def _random_phases(field: int, layer: int) -> NDArray[np.complex64]:
    """A plane of waves of the same size and of random phases, those of a real plane."""
    waves = np.fft.rfft2(white_noise(7919, layer, field, 0, 0, (SIDE, SIDE)))
    return (waves / np.maximum(np.abs(waves), 1e-6)).astype(np.complex64)


def _mean_power(power: NDArray[np.complex64]) -> float:
    """The variance of a plane whose power at `rfft2`'s frequencies is given."""
    twice = np.full(power.shape[1], 2.0)
    twice[[0, -1]] = 1.0
    return float(np.sum(np.maximum(power.real, 0) @ twice)) / SIDE**2


def _combine_fields(
    fields: Fields, seed: int, frame: int, rows: tuple[int, int], width: int
) -> Picture:
    made = new_array((3, rows[1] - rows[0], width))
    _lay(fields, Word(seed & 0xFFFFFFFF), Word(frame & 0xFFFFFFFF), rows[0], made)
    return made


def _crossing() -> NDArray[np.float32]:
    """Weights along a part whose squares add up to one with its neighbours'."""
    part = np.arange(PART) + 0.5
    near = np.minimum(np.minimum(part, PART - part) / EDGE, 1)
    return np.asarray(np.sin(0.5 * np.pi * near), np.float32)


_CROSSING = _crossing()

_ONE = np.float32(1 / (UNIT * math.sqrt(FIELDS)))


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay(fields: Fields, seed: Word, frame: Word, top: int, out: Picture) -> None:
    """Write rows from `top` on: in every part the sum of a part of each field."""
    rows, width = out.shape[1], out.shape[2]
    drawn = threefry(Word(0), Word(1), frame, Word(0), seed, _KEY, 1)
    shift_y, shift_x = int(drawn[0] % Word(STRIDE)), int(drawn[1] % Word(STRIDE))
    for y in range(top, top + rows):
        out[:, y - top] = np.float32(0)
        for iy in range((y + shift_y - EDGE) // STRIDE, (y + shift_y) // STRIDE + 1):
            row = y + shift_y - iy * STRIDE
            weight = _CROSSING[row] * _ONE
            for ix in range((shift_x - EDGE) // STRIDE, (width + shift_x) // STRIDE + 1):
                begin = ix * STRIDE - shift_x
                low, high = max(begin, 0), min(begin + PART, width)
                if low >= high:
                    continue
                weights = _CROSSING[low - begin : high - begin]
                at = threefry(Word(iy), Word(ix), frame, Word(1), seed, _KEY, 1)
                across = low - begin + int(at[1] % _PLACES)
                other_across = low - begin + int(at[3] % _PLACES)
                down, other_down = row + int(at[0] % _PLACES), row + int(at[2] % _PLACES)
                for c in range(3):
                    one = fields[0, c, down, across : across + high - low]
                    other = fields[1, c, other_down, other_across : other_across + high - low]
                    to = out[c, y - top, low:high]
                    for x in range(to.shape[0]):
                        to[x] += weight * weights[x] * np.float32(np.int16(one[x] + other[x]))
