"""Flashes that can harm: general and red ones, by WCAG 2.2 and ITU-R BT.1702."""

from collections.abc import Iterator
from typing import Literal, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture

Kind = Literal["general", "red"]

MIN_CHANGE = 0.1
DARKER_BELOW = 0.8
"""A transition is a change of relative luminance by a tenth of white or more, where the darker
state is below 0.8 (WCAG 2.2, "general flash and red flash thresholds"; ITU-R BT.1702-3 says 20 and
160 cd/m² of a display whose white is 200)."""

RED_FROM = 0.8
RED_CHANGE = 0.2
"""A red transition leads to or from a state with R/(R + G + B) of 0.8 or more, over 0.2 or more of
the CIE 1976 UCS diagram (WCAG 2.2, after ISO 9241-391; from memory)."""

MAX_TRANSITIONS = 6
"""In a second: three flashes, each a pair of opposing transitions; a half one more is too many."""

MAX_AREA = 0.25
"""Of the picture that may flash more often at once (ITU-R BT.1702-3; WCAG's quarter of a visual
field of 10 degrees, which the picture is held to fill)."""

COLUMNS, ROWS = 128, 72
"""Places looked at, each by the mean light of its part of the picture."""

GLARE = 0.002
"""Light that a display's black gives back, so that black has no hue."""

_GENERAL, _RED = 0, 1
_KINDS: tuple[Kind, Kind] = ("general", "red")


class Fault(NamedTuple):
    """Frames in which too much of the picture flashes too often."""

    first: int
    last: int
    """The first and the last of the transitions that are too many, where half the places are."""
    kind: Kind
    area: float
    """The largest share of the picture that flashes more than three times in a second."""
    flashes: float
    """The most flashes in a second there: half the transitions."""

    def overlaps(self, other: "Fault") -> bool:
        """Whether another is of the same kind and at the same time."""
        together = other.first <= self.last and self.first <= other.last
        return other.kind == self.kind and together


class Flashes:
    """Looks for flashes, frame after frame.

    Each place's state machine follows the light to its extremes; where it has turned back by
    enough, that is a transition. A frame is at fault when more than `MAX_AREA` of the places saw
    more than `MAX_TRANSITIONS` in the second that ends with it.

    Args:
        rate: frames a second.
        first: the number of the first frame that is added.
    """

    def __init__(self, rate: float, first: int = 0) -> None:
        self._rate = rate
        kinds = (2, ROWS * COLUMNS)
        self._way = np.zeros(kinds, np.int8)
        """The last transition's: 1 to lighter (to red), −1 back, 0 for none yet."""
        self._high = np.zeros((2, 4, ROWS * COLUMNS), np.float32)
        self._low = np.zeros((2, 4, ROWS * COLUMNS), np.float32)
        """The extremes since: what orders them, luminance or redness, then u′, v′, redness."""
        self._recent = np.empty((3, ROWS * COLUMNS), np.int32)
        self._times = np.full((2, ROWS * COLUMNS, 64), -(1 << 30), np.int32)
        self._counts = np.zeros(kinds, np.int32)
        self._first = self._frame = first
        self._found: list[list[Fault]] = [[], []]

    def add(self, picture: Picture) -> None:
        """Look at the next frame, display-coded R'G'B' of shape `(3, height, width)`."""
        light = np.empty((3, ROWS * COLUMNS), np.float32)
        _place_light(picture, _LIGHT, light)
        begins = self._frame == self._first
        states = self._way, self._high, self._low, self._times, self._counts
        _follow(light, self._frame, begins, *states)
        since = self._frame - self._rate
        for kind in (_GENERAL, _RED):
            recent = self._recent
            _recent(self._times[kind], self._counts[kind], since, self._frame, *recent)
            within, oldest, latest = recent
            beyond = within > MAX_TRANSITIONS
            area = float(beyond.mean())
            if area > MAX_AREA:
                first, last = int(np.median(oldest[beyond])), int(np.median(latest[beyond]))
                self._note(Fault(first, last, _KINDS[kind], area, float(within.max()) / 2), kind)
        self._frame += 1

    def _note(self, fault: Fault, kind: int) -> None:
        """A fault, or more of the last one."""
        found = self._found[kind]
        if found and fault.first <= found[-1].last + 1:
            last = found.pop()
            fault = Fault(
                last.first,
                fault.last,
                fault.kind,
                max(fault.area, last.area),
                max(fault.flashes, last.flashes),
            )
        found.append(fault)

    def faults(self) -> list[Fault]:
        """What was found, in the order of time."""
        return sorted(fault for found in self._found for fault in found)


def seconds_at_fault(faults: list[Fault], rate: float) -> float:
    """Return how long it flashes too often, overlapping faults counted once.

    Args:
        faults: of a clip.
        rate: frames a second.
    """
    return len(set(_frames_of(faults))) / rate


def _frames_of(faults: list[Fault]) -> Iterator[int]:
    for fault in faults:
        yield from range(fault.first, fault.last + 1)


def _linear_light_table() -> NDArray[np.float32]:
    """Light of evenly spaced values 0..1 (IEC 61966-2-1), and once more the last."""
    value = np.minimum(np.arange(DECODED + 2) / DECODED, 1)
    light = np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)
    return light.astype(np.float32)


DECODED = 1024
_LIGHT = _linear_light_table()
"""sRGB's decoding, as relative luminance has it (WCAG 2.2)."""


@numba.njit(nogil=True, cache=True, error_model="numpy")
def _place_light(picture: Picture, table: NDArray[np.float32], out: NDArray[np.float32]) -> None:
    """Write the mean linear light of the places, shape `(3, ROWS · COLUMNS)`."""
    height, width = picture.shape[1:]
    line = new_line(width)
    for c in range(3):
        for row in range(ROWS):
            top = row * height // ROWS
            bottom = max((row + 1) * height // ROWS, top + 1)
            line[:] = np.float32(0)
            for y in range(top, bottom):
                for x in range(width):
                    v = min(max(picture[c, y, x], np.float32(0)), np.float32(1))
                    at = v * np.float32(DECODED)
                    i = int(at)
                    line[x] += table[i] + (at - np.float32(i)) * (table[i + 1] - table[i])
            for column in range(COLUMNS):
                left = column * width // COLUMNS
                right = max((column + 1) * width // COLUMNS, left + 1)
                total = np.float32(0)
                for x in range(left, right):
                    total += line[x]
                out[c, row * COLUMNS + column] = total / ((bottom - top) * (right - left))


@numba.njit(nogil=True, cache=True)
def _state(r: float, g: float, b: float) -> tuple[float, float, float, float]:
    """Relative luminance, u′, v′ and R/(R + G + B) of linear light.

    BT.709's primaries (IEC 61966-2-1); u′ = 4X/(X + 15Y + 3Z), v′ = 9Y/(X + 15Y + 3Z) (CIE 15).
    """
    luminance = 0.2126 * r + 0.7152 * g + 0.0722 * b
    r, g, b = r + GLARE, g + GLARE, b + GLARE
    x = 0.4124 * r + 0.3576 * g + 0.1805 * b
    y = 0.2126 * r + 0.7152 * g + 0.0722 * b
    z = 0.0193 * r + 0.1192 * g + 0.9505 * b
    per = 1 / (x + 15 * y + 3 * z)
    return luminance, 4 * x * per, 9 * y * per, r / (r + g + b)


@numba.njit(nogil=True, cache=True)
def _note_extreme(
    extremes: NDArray[np.float32], kind: int, place: int, now: NDArray[np.float32]
) -> None:
    for n in range(now.shape[0]):
        extremes[kind, n, place] = now[n]


@numba.njit(nogil=True, cache=True)
def _is_transition(
    kind: int,
    low: NDArray[np.float32],
    high: NDArray[np.float32],
) -> bool:
    """Return whether the change between two states is a transition of a flash."""
    if kind == _GENERAL:
        # the light of a float32 picture may fall short of a bound by its rounding
        return bool(high[0] - low[0] >= MIN_CHANGE - 1e-6 and low[0] < DARKER_BELOW)
    if max(low[3], high[3]) < RED_FROM - 1e-6:
        return False
    apart = (high[1] - low[1]) ** 2 + (high[2] - low[2]) ** 2
    return bool(apart >= (RED_CHANGE - 1e-6) ** 2)


@numba.njit(nogil=True, cache=True)
def _follow(
    light: NDArray[np.float32],
    frame: int,
    begins: bool,
    way: NDArray[np.int8],
    high: NDArray[np.float32],
    low: NDArray[np.float32],
    times: NDArray[np.int32],
    counts: NDArray[np.int32],
) -> None:
    """Advance the places' state machines by the light of a frame."""
    now = new_line(4)
    for place in range(light.shape[1]):
        luminance, u, v, red = _state(light[0, place], light[1, place], light[2, place])
        for kind in range(2):
            now[0] = luminance if kind == _GENERAL else red
            now[1], now[2], now[3] = u, v, red
            if begins or now[0] > high[kind, 0, place]:
                _note_extreme(high, kind, place, now)
            if begins or now[0] < low[kind, 0, place]:
                _note_extreme(low, kind, place, now)
            if kind == _GENERAL:
                apart = max(now[0] - low[kind, 0, place], high[kind, 0, place] - now[0])
                may_turn = apart >= MIN_CHANGE - 1e-6
            else:
                may_turn = high[kind, 0, place] >= RED_FROM - 1e-6
            if not may_turn:  # most places: the states themselves need not be compared
                continue
            rises = way[kind, place] != 1 and _is_transition(kind, low[kind, :, place], now)
            falls = way[kind, place] != -1 and _is_transition(kind, now, high[kind, :, place])
            if rises or falls:
                way[kind, place] = 1 if rises else -1
                _note_extreme(high, kind, place, now)
                _note_extreme(low, kind, place, now)
                slot = counts[kind, place] % times.shape[2]
                times[kind, place, slot] = frame
                counts[kind, place] += 1


@numba.njit(nogil=True, cache=True)
def _recent(
    times: NDArray[np.int32],
    counts: NDArray[np.int32],
    since: float,
    now: int,
    within: NDArray[np.int32],
    oldest: NDArray[np.int32],
    latest: NDArray[np.int32],
) -> None:
    """Write each place's transitions after `since`: how many, the first's frame, the last's.

    Those of places that never had too many are not looked at.
    """
    for place in range(times.shape[0]):
        within[place], oldest[place], latest[place] = 0, now, -1
        if counts[place] <= MAX_TRANSITIONS:
            continue
        for time in times[place]:
            if time > since:
                within[place] += 1
                oldest[place] = min(oldest[place], time)
                latest[place] = max(latest[place], time)
