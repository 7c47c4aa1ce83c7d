"""From how footage is coded to the picture's own R'G'B': BT.709 primaries, display-coded.

BT.2020 footage is taken to BT.709 primaries in light (ITU-R BT.2087, read backwards: colours that
BT.709 can't show come out below 0 or above 1). HLG and PQ are first brought to standard range by
BT.2446 method C (`hdr.py`); what is brighter than SDR's white comes out above 1.
"""

from dataclasses import dataclass
from functools import cache
from typing import Literal

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_like
from yearning.core.colour import hdr
from yearning.core.colour.primaries import BT709, BT2020, primaries_matrix
from yearning.core.kernel_arrays import new_line, new_lines
from yearning.core.picture import Picture

Light = Literal["SDR", "HLG", "PQ"]
"""What the codes of footage stand for: standard range, or BT.2100's two systems."""

CELLS = 4096
"""Cells of a table; between their corners values are interpolated."""


@dataclass(frozen=True)
class Conversion:
    """Converts pictures of footage to BT.709; made by `conversion`.

    Tables have `CELLS` + 1 values over 0..1. `light`: of codes, in parts of the system's peak.
    `gain`: what brings that to SDR light, over the fourth root of luminance, since it is steep
    near black; empty where nothing is to be toned.
    """

    light: NDArray[np.float32]
    gain: NDArray[np.float32]

    def convert(self, picture: Picture) -> Picture:
        """A picture or band of rows, shape `(3, height, width)`, as BT.709."""
        out = new_like(picture)
        _convert_pixels(picture, self.light, self.gain, *_gamut(), out)
        return out


@cache
def conversion(light: Light, wide: bool) -> Conversion | None:
    """Return the conversion of footage of such light and primaries; None if none is needed.

    HLG and PQ footage is taken as BT.2020, which BT.2100 has for both.

    Args:
        light: how it is coded.
        wide: its primaries are BT.2020's.
    """
    at = np.linspace(0, 1, CELLS + 1)
    luminance = np.maximum(at, 0.5 / CELLS) ** 4
    if light == "PQ":
        gain = hdr.tone_map(hdr.PEAK_PQ * luminance) / luminance / hdr.PEAK_SDR
        return Conversion(_table(hdr.pq_light(at) / hdr.PEAK_PQ), _table(gain))
    if light == "HLG":
        shown = hdr.PEAK_HLG * luminance**hdr.HLG_SYSTEM_GAMMA
        gain = hdr.tone_map(shown) / luminance / hdr.PEAK_SDR
        return Conversion(_table(hdr.hlg_scene(at)), _table(gain))
    return Conversion(_table(at**hdr.GAMMA), np.zeros(0, np.float32)) if wide else None


def _table(values: NDArray[np.float64]) -> NDArray[np.float32]:
    return values.astype(np.float32)


@cache
def _gamut() -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Convert light to BT.709 primaries and code it, by a table over the square root of light."""
    at = np.linspace(0, 1, CELLS + 1)
    return _table(primaries_matrix(BT2020, BT709)), _table(at ** (2 / hdr.GAMMA))


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _look_up(
    table: NDArray[np.float32], line: NDArray[np.float32], out: NDArray[np.float32]
) -> None:
    """Look a line of values 0..1 up in a table, interpolated linearly and held at its ends."""
    cells = table.shape[0] - 1
    for x in range(line.shape[0]):
        at = min(max(line[x], np.float32(0)), np.float32(1)) * np.float32(cells)
        i = np.uint64(min(max(np.int32(at), 0), cells - 1))  # in integers: also a NaN stays inside
        low = table[i]
        out[x] = low + (at - np.float32(i)) * (table[i + np.uint64(1)] - low)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _convert_pixels(
    picture: Picture,
    light: NDArray[np.float32],
    gain: NDArray[np.float32],
    matrix: NDArray[np.float32],
    to_code: NDArray[np.float32],
    out: Picture,
) -> None:
    kr, kg, kb = np.float32(0.2627), np.float32(0.6780), np.float32(0.0593)
    zero, one = np.float32(0), np.float32(1)
    width = picture.shape[2]
    lit = new_lines(3, width)
    line, found = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        for c in range(3):
            if gain.shape[0] > 0:
                _look_up(light, picture[c, y], lit[c])
            else:
                _mirrored_power(light, picture[c, y], np.float32(2.4), line, lit[c])
        if gain.shape[0] > 0:
            for x in range(width):
                luminance = kr * lit[0, x] + kg * lit[1, x] + kb * lit[2, x]
                line[x] = np.sqrt(np.sqrt(max(luminance, zero)))
            _look_up(gain, line, found)
            for c in range(3):
                for x in range(width):
                    lit[c, x] *= found[x]
        for c in range(3):
            m0, m1, m2 = matrix[c, 0], matrix[c, 1], matrix[c, 2]
            for x in range(width):
                line[x] = m0 * lit[0, x] + m1 * lit[1, x] + m2 * lit[2, x]
            for x in range(width):
                found[x] = np.sqrt(abs(line[x]))
            _look_up(to_code, found, out[c, y])
            for x in range(width):
                if found[x] > one:
                    out[c, y, x] = found[x] ** np.float32(2 / 2.4)
            for x in range(width):
                out[c, y, x] = out[c, y, x] if line[x] >= zero else -out[c, y, x]


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _mirrored_power(
    table: NDArray[np.float32],
    codes: NDArray[np.float32],
    exponent: np.float32,
    spare: NDArray[np.float32],
    out: NDArray[np.float32],
) -> None:
    """Decode a line by a table of a power, continued above 1 and mirrored below 0."""
    for x in range(codes.shape[0]):
        spare[x] = abs(codes[x])
    _look_up(table, spare, out)
    for x in range(codes.shape[0]):
        if spare[x] > np.float32(1):
            out[x] = spare[x] ** exponent
    for x in range(codes.shape[0]):
        out[x] = out[x] if codes[x] >= np.float32(0) else -out[x]
