"""Where one shot ends and the next begins in a clip of many."""

from collections import deque
from collections.abc import Generator, Iterator
from dataclasses import dataclass
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from yearning.core.engine.footage import Footage
from yearning.core.motion.flow import Codes, flow_between, flow_targets
from yearning.core.picture import Picture

LINES = 72
"""Lines at which frames are compared."""

NEARBY = 4
"""Frames before and after a boundary of which no two are alike: light that flashes for fewer does
not end a shot, as the frames before it are like those after."""

SHORTEST = 3
"""Frames that a shot has at least, to be told from others."""

THRESHOLD = 0.34
"""The usual jump, 0..1, from which on a place is a boundary: of 1200 made cuts of still, panning,
flashing and dark shots all are found, and no others (`python -m benchmarks boundaries`)."""

MIN_THRESHOLD = 0.15
"""The lowest threshold: places that jump less are not kept."""

ALIKE = 0.9
"""From here on two frames are surely of one shot, and no others are compared."""

BLOCKS = (16, 9)
BINS = (16, 16, 16)

CODING_NOISE = 1.0
"""Variance, in squared codes of 8 bits, that is not taken for texture."""

MAX_GAIN = 20.0
"""By how much dark frames are brightened at most before they are compared."""

CLIPPED = 250
"""Code from which on all three channels of a pixel count as burnt out."""


class Boundary(NamedTuple):
    """The place between two shots."""

    frame: int
    """The first of the later shot."""
    jump: float
    """By how much it is more of a change than the places beside it, 0..1."""


@dataclass(frozen=True)
class _Frame:
    colours: Codes
    """Luma and two differences of colour, shape `(height, width, 3)`."""
    luma: NDArray[np.float32]
    brightest: float
    """The code below which 99 % of the luma lie."""
    burnt_out: bool
    """Half of it or more is white: it is like any other such frame."""


class ShotBoundaries:
    """A clip, gone through for the boundaries between its shots.

    Two frames are alike by the mean of two measures, each 0..1. One is of structure: the later
    frame is warped to the earlier by dense flow, and 16 by 9 blocks of both compared by covariance
    over variance (the term of contrast and structure in Wang et al., Image Quality Assessment,
    IEEE TIP 2004), weighted by their contrast. The other is of colour: the histograms'
    intersection (Swain and Ballard, Color Indexing, IJCV 1991). The change at a place is how
    unlike the frames of the `NEARBY` before it are to the `NEARBY` after: of the pair that is most
    alike, so that light which flashes ends no shot (after Hanjalic, Shot-Boundary Detection:
    Unraveled and Resolved?, IEEE TCSVT 2002). A boundary is where the change stands out from those
    beside it, by a threshold (Yeo and Liu, Rapid Scene Analysis on Compressed Video, IEEE TCSVT
    1995): wild motion changes much at every frame. Fades and dissolves are not found.

    Args:
        footage: the clip.
        frames: those that are looked at; None for all.

    Raises:
        IndexError: the clip has no such frames.
    """

    def __init__(self, footage: Footage, frames: range | None = None) -> None:
        self._wanted = range(footage.frames) if frames is None else frames
        if not self._wanted or self._wanted[0] < 0 or self._wanted[-1] >= footage.frames:
            raise IndexError(f"the clip has frames 0 to {footage.frames - 1}")
        self._footage = footage
        self._size = footage.size.with_height(min(LINES, footage.size.height))
        self._frames: deque[_Frame] = deque(maxlen=2 * NEARBY)
        self._likeness: dict[tuple[int, int], float] = {}
        self._changes = [0.0]
        """At each frame, from the one before."""
        self._count = 0

    @property
    def total(self) -> int:
        """How many frames `run` goes through."""
        return len(self._wanted)

    def run(self) -> Generator[int, None, None]:
        """Go through the clip; yields how many frames are done."""
        for frame in self._wanted:
            self._add(self._footage.picture(frame, self._size))
            yield self._count
        for place in range(len(self._changes), self._count):
            self._measure(place)

    def boundaries(self) -> list[Boundary]:
        """Those that are found so far, of a jump of `MIN_THRESHOLD` or more."""
        first = self._wanted[0]
        return [Boundary(first + place, jump) for place, jump in _jumps(self._changes)]

    def _add(self, picture: Picture) -> None:
        codes = np.clip(picture * np.float32(255) + np.float32(0.5), 0, 255).astype(np.uint8)
        rgb = np.ascontiguousarray(codes.transpose(1, 2, 0))
        colours = np.asarray(cv2.cvtColor(rgb, cv2.COLOR_RGB2YCrCb), np.uint8)
        blurred = cv2.GaussianBlur(colours[..., 0].astype(np.float32), (0, 0), 0.8)
        luma = np.asarray(blurred, np.float32)
        burnt_out = float((codes.min(0) >= CLIPPED).mean()) > 0.5
        self._frames.append(_Frame(colours, luma, float(np.percentile(luma, 99)), burnt_out))
        self._count += 1
        if self._count > NEARBY:
            self._measure(self._count - NEARBY)

    def _measure(self, frame: int) -> None:
        """Measure the change from the frame before one, of those that are looked at."""
        self._changes.append(1 - self._closest(frame))
        for pair in [pair for pair in self._likeness if pair[0] <= frame - NEARBY]:
            del self._likeness[pair]

    def _closest(self, frame: int) -> float:
        """How alike those two frames are that are most alike, of those before and from `frame`."""
        first = self._count - len(self._frames)
        before = range(max(first, frame - NEARBY), frame)
        after = range(frame, min(frame + NEARBY, self._count))
        pairs = sorted(((a, b) for a in before for b in after), key=lambda pair: pair[1] - pair[0])
        clear = [pair for pair in pairs if not any(self._at(n).burnt_out for n in pair)]
        best = 0.0
        for pair in clear or pairs:
            best = max(best, self._likeness_of(pair))
            if best > ALIKE:
                break
        return best

    def _at(self, frame: int) -> _Frame:
        return self._frames[frame - self._count + len(self._frames)]

    def _likeness_of(self, pair: tuple[int, int]) -> float:
        if pair not in self._likeness:
            self._likeness[pair] = _likeness(self._at(pair[0]), self._at(pair[1]))
        return self._likeness[pair]


def _jumps(changes: list[float]) -> Iterator[tuple[int, float]]:
    """The places where changes stand out from those beside them, and by how much."""
    for place, change in enumerate(changes):
        beside = (
            changes[max(0, place - SHORTEST + 1) : place] + changes[place + 1 :][: SHORTEST - 1]
        )
        jump = change - max(beside, default=0.0)
        if jump >= MIN_THRESHOLD:
            yield place, jump


def _likeness(first: _Frame, second: _Frame) -> float:
    """How alike two frames are, 0..1, wherever their parts have moved."""
    gain = min(255 / max(first.brightest, second.brightest, 1), MAX_GAIN)
    return (_structure(first, second, gain) + _colours(first, second, gain)) / 2


def _structure(first: _Frame, second: _Frame, gain: float) -> float:
    height, width = first.luma.shape
    codes = [
        np.asarray(cv2.convertScaleAbs(each.luma, alpha=gain), np.uint8) for each in (first, second)
    ]
    at = flow_targets(flow_between(codes[0], codes[1], "fast"))
    x, y = at[..., 0], at[..., 1]
    seen = ((x >= 0) & (x <= width - 1) & (y >= 0) & (y <= height - 1)).astype(np.float32)
    moved = cv2.remap(second.luma, at, None, cv2.INTER_LINEAR) * seen  # type: ignore[call-overload]
    here = first.luma * seen
    share = _block_means(seen) + np.float32(1e-6)
    mean, other = _block_means(here) / share, _block_means(moved) / share
    spread = _block_means(here * here) / share - mean * mean
    spread += _block_means(moved * moved) / share - other * other
    together = _block_means(here * moved) / share - mean * other
    np.maximum(spread, 0, out=spread)
    like = (2 * together + CODING_NOISE) / (spread + CODING_NOISE)
    weight = np.sqrt(spread) * share
    return float((weight * like).sum() / (weight.sum() + 1e-6))


def _block_means(plane: NDArray[np.float32]) -> NDArray[np.float32]:
    return np.asarray(cv2.resize(plane, BLOCKS, interpolation=cv2.INTER_AREA))


def _colours(first: _Frame, second: _Frame, gain: float) -> float:
    one, other = (_histogram(each.colours, gain) for each in (first, second))
    return float(np.minimum(one, other).sum() / one.sum())


def _histogram(colours: Codes, gain: float) -> NDArray[np.float32]:
    """Of brightened colours, in which the bins of one difference of colour run into each other."""
    brightened = colours.astype(np.float32) * np.float32(gain)
    brightened[..., 1:] += np.float32(128 - 128 * gain)
    codes = np.clip(brightened, 0, 255).astype(np.uint8)
    counts = cv2.calcHist([codes], [0, 1, 2], None, BINS, [0, 256] * 3)
    rows = counts.reshape(BINS[0] * BINS[1], BINS[2])
    return np.asarray(cv2.GaussianBlur(rows, (3, 1), 0.8))
