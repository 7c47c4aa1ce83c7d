"""Readings of a picture: waveform, vectorscope, histogram, what is clipped, a place's value."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import parallel
from yearning.core.colour.hues import hue_colour, hue_sector
from yearning.core.colour.luma import bt709_luma, fill_luma_line, luma_of_rgb
from yearning.core.image.histogram import count_in_parts
from yearning.core.kernel_arrays import new_line, new_word_line
from yearning.core.picture import Picture

LOW, HIGH = -0.1, 1.1
"""The values a waveform spans."""

REACH = 0.6
"""The colour differences a vectorscope spans, on both sides of none."""

SKIN_DEGREES = 123.0
"""The direction of skin's hue on a vectorscope, from +C'B towards +C'R: the I axis of NTSC (common
practice, no source)."""

BAR = 0.75
"""How strong the colours of the targets are: 75 % bars."""

CB, CR = 1.8556, 1.5748
"""ITU-R BT.709-6, item 3.3: E'CB = (E'B − E'Y) / 1.8556, E'CR = (E'R − E'Y) / 1.5748."""

Counts = NDArray[np.uint32]


def waveform(picture: Picture, columns: int, levels: int) -> Counts:
    """Count how often each value comes in each part of the picture's width.

    Shape `(4, levels, columns)`: luma, R', G', B'; level 0 is `LOW`, the last `HIGH`, and what
    lies beyond counts there.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        columns: parts of the width.
        levels: of the values.
    """
    found = np.zeros((parallel.CORES, 4, levels, columns), np.uint32)
    count_in_parts(picture, lambda part, n: _wave(part, found[n]), len(found))
    return np.asarray(found.sum(axis=0), np.uint32)


def vectorscope(picture: Picture, side: int) -> Counts:
    """Count how often each colour difference comes, shape `(side, side)`.

    C'R from high to low, then C'B from low to high, from −`REACH` to `REACH`.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        side: bins each way.
    """
    found = np.zeros((parallel.CORES, side, side), np.uint32)
    count_in_parts(picture, lambda part, n: _vectors(part, found[n]), len(found))
    return np.asarray(found.sum(axis=0), np.uint32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _wave(picture: Picture, counts: Counts) -> None:
    levels, columns = counts.shape[1:]
    width = picture.shape[2]
    low, per = np.float32(LOW), np.float32((levels - 1) / (HIGH - LOW))
    zero, most, half = np.float32(0), np.float32(levels - 1), np.float32(0.5)
    column = new_word_line(width)
    for x in range(width):
        column[x] = x * columns // width
    luma, place = new_line(width), new_word_line(width)
    for y in range(picture.shape[1]):
        fill_luma_line(picture[0, y], picture[1, y], picture[2, y], luma)
        for c in range(4):
            line = luma if c == 0 else picture[c - 1, y]
            for x in range(width):
                level = np.uint32(min(max((line[x] - low) * per + half, zero), most))
                place[x] = level * np.uint32(columns) + column[x]
            flat = counts[c].reshape(-1)
            for x in range(width):
                flat[place[x]] += np.uint32(1)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _vectors(picture: Picture, counts: Counts) -> None:
    side = counts.shape[0]
    per, half, reach = np.float32((side - 1) / (2 * REACH)), np.float32(0.5), np.float32(REACH)
    zero, most = np.float32(0), np.float32(side - 1)
    to_cb, to_cr = np.float32(1 / CB), np.float32(1 / CR)
    width = picture.shape[2]
    place = new_word_line(width)
    flat = counts.reshape(-1)
    for y in range(picture.shape[1]):
        for x in range(width):
            r, g, b = picture[0, y, x], picture[1, y, x], picture[2, y, x]
            luma = bt709_luma(r, g, b)
            row = np.uint32(min(max((reach - (r - luma) * to_cr) * per + half, zero), most))
            column = np.uint32(min(max(((b - luma) * to_cb + reach) * per + half, zero), most))
            place[x] = row * np.uint32(side) + column
        for x in range(width):
            flat[place[x]] += np.uint32(1)


class Target(NamedTuple):
    """A colour's place on the vectorscope."""

    name: str
    cb: float
    cr: float


def targets() -> list[Target]:
    """Where 75 % colour bars lie on the vectorscope (ITU-R BT.709-6, item 3.3)."""
    names = ("R", "Yl", "G", "Cy", "B", "Mg")
    return [Target(name, *_differences(BAR * hue_colour(60 * i))) for i, name in enumerate(names)]


def _differences(rgb: NDArray[np.float32]) -> tuple[float, float]:
    luma = float(luma_of_rgb(rgb))
    return (float(rgb[2]) - luma) / CB, (float(rgb[0]) - luma) / CR


class OutOfRange(NamedTuple):
    """Which part of the pixels a display can't show as they are."""

    black: float
    """Some channel is below black while luma is not above it: crushed."""
    white: float
    """Some channel is above white, and luma nearly so: blown."""
    gamut: float
    """Some channel is outside 0..1 though luma lies well within: too strong a colour."""


NEAR = 0.02
"""How near to black or white luma is taken as there."""

SLACK = 0.002
"""Half a code of 8 bits: a channel that little outside is shown as it is."""

BLACK, WHITE, GAMUT = 1, 2, 3


def out_of_range(picture: Picture) -> tuple[NDArray[np.uint8], OutOfRange]:
    """Which pixels are `BLACK`, `WHITE` or `GAMUT`, shape `(height, width)`; 0 where none."""
    marks = np.zeros(picture.shape[1:], np.uint8)

    def work(top: int, bottom: int) -> None:
        _mark_out_of_range(picture[:, top:bottom], marks[top:bottom])

    parallel.for_each_band(picture.shape[1], work, parallel.band_rows(picture.shape[2]))
    parts = (np.count_nonzero(marks == mark) / marks.size for mark in (BLACK, WHITE, GAMUT))
    return marks, OutOfRange(*parts)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _mark_out_of_range(picture: Picture, marks: NDArray[np.uint8]) -> None:
    low, high = np.float32(-SLACK), np.float32(1 + SLACK)
    dark, light = np.float32(NEAR), np.float32(1 - NEAR)
    none, black, white, gamut = np.uint8(0), np.uint8(BLACK), np.uint8(WHITE), np.uint8(GAMUT)
    for y in range(picture.shape[1]):
        for x in range(picture.shape[2]):
            r, g, b = picture[0, y, x], picture[1, y, x], picture[2, y, x]
            luma = bt709_luma(r, g, b)
            over, under = max(r, max(g, b)) > high, min(r, min(g, b)) < low
            mark = gamut if over | under else none
            mark = black if under & (luma < dark) else mark
            marks[y, x] = white if over & (luma > light) else mark


STRIPE = 6
"""Pixels from one stripe of a warning to the next."""

SHOWN_AS = {BLACK: (0.35, 0.62, 1.0), WHITE: (1.0, 0.45, 0.3), GAMUT: (1.0, 0.9, 0.2)}
"""What the stripes of each kind are drawn in."""


def with_warnings(picture: Picture, marks: NDArray[np.uint8]) -> Picture:
    """Return the picture with what is out of range striped.

    One way for black, the other for white, both for colours that are too strong; so they can be
    distinguished without colour too.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        marks: `BLACK`, `WHITE` or `GAMUT` of each pixel; 0 for none.
    """
    y, x = np.mgrid[: picture.shape[1], : picture.shape[2]]
    rising, falling = (x + y) % STRIPE < 2, (x - y) % STRIPE < 2
    out = picture.copy()
    for mark, stripes in ((BLACK, rising), (WHITE, falling), (GAMUT, rising | falling)):
        for plane, value in zip(out, SHOWN_AS[mark], strict=True):
            plane[(marks == mark) & stripes] = value
    return out


class Value(NamedTuple):
    """What a place of a picture holds: R'G'B', luma, hue in degrees (None for grey)."""

    red: float
    green: float
    blue: float
    luma: float
    hue: float | None


AROUND = 1
"""Pixels on each side of a place that are averaged."""


def sample_at(picture: Picture, x: float, y: float) -> Value:
    """Return the mean around a place.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        x: in parts of the width.
        y: in parts of the height.
    """
    height, width = picture.shape[1:]
    column = min(max(int(x * width), 0), width - 1)
    row = min(max(int(y * height), 0), height - 1)
    rows = slice(max(row - AROUND, 0), row + AROUND + 1)
    part = picture[:, rows, max(column - AROUND, 0) : column + AROUND + 1]
    rgb = part.mean(axis=(1, 2)).astype(np.float32)
    r, g, b = rgb
    spread = np.float32(max(r, g, b) - min(r, g, b))
    hue = None if spread < SLACK else 60 * float(hue_sector(r, g, b, spread))
    return Value(float(r), float(g), float(b), float(luma_of_rgb(rgb)), hue)


GREY = np.float32(0.5)
"""What no change is shown as."""


def difference_picture(picture: Picture, base: Picture, gain: float) -> Picture:
    """Return how a picture differs from another, magnified about grey.

    Args:
        picture: display-coded, shape `(3, height, width)`.
        base: of the same shape.
        gain: factor.
    """
    out = picture - base
    out *= np.float32(gain)
    out += GREY
    return out
