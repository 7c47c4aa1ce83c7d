"""Weave."""

import math
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.image.row_shift import mirror
from yearning.core.kernel_arrays import new_line
from yearning.core.noise.value_noise import noise_1d
from yearning.core.picture import Picture, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import Lively, WarpsFrame
from yearning.core.treatment.settings import Points, setting

SWAYS = 2.3
"""Places of the slow sway in 24 frames, at a pace of 1."""


class Shifted(NamedTuple):
    """The picture, and what it is drawn from: the first pixel, and four weights, across and down.

    The weights are of the pixel before that one, of it, and of the two after.
    """

    picture: Picture
    right: int
    across: NDArray[np.float32]
    down: int
    along: NDArray[np.float32]


class Weave(Lively, WarpsFrame, Treatment[Shifted]):
    """The picture sways in the gate, by less than its grain is large.

    It is shifted as a whole, by fractions of a pixel: a slow sway that never repeats, and a little
    of another place on each frame, as a claw that does not set the film down twice alike. Its edges
    are mirrored. The form is common practice, no source.
    """

    kind = "weave"
    stage = "film"
    summary = "the picture sways in the gate"
    keywords = ("jitter", "shake", "sway", "wobble", "gate", "unsteady", "camera shake")
    shown = {"across": 12, "down": 12}
    max_added_change = 0.06

    across: float = setting(
        1.0,
        0,
        12,
        unit="px@1080",
        minimum=0,
        maximum=200,
        label="Across",
        help="How far to each side.",
    )
    down: float = setting(
        1.6,
        0,
        12,
        unit="px@1080",
        minimum=0,
        maximum=200,
        label="Down",
        help="How far up and down.",
    )
    pace: float = setting(
        1.0, 0.1, 4, unit="pace", minimum=0.01, maximum=20, label="Speed", help="How fast it sways."
    )
    jump: float = setting(
        0.35,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Jumps",
        help="How much of it is new in every frame.",
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, another sway.")

    def prepare(self, context: FrameContext) -> Shifted:
        """The picture, and where it is."""
        right, down = self.place(context.frame)
        return Shifted(
            context.whole_picture(),
            *_cubic_taps(-right * context.scale),
            *_cubic_taps(-down * context.scale),
        )

    def place(self, frame: int) -> tuple[float, float]:
        """How far a frame is to the right and down, in px@1080."""
        slow = frame * self.pace * SWAYS / 24
        places = []
        for layer, far in ((300, self.across), (302, self.down)):
            sway = float(noise_1d(self.seed, layer, slow))
            jump = float(noise_1d(self.seed, layer + 1, 2.0 * frame))
            places.append(far * ((1 - self.jump) * sway + self.jump * jump))
        return places[0], places[1]

    def map_points(self, points: Points, frame: int, full_size: Size) -> Points:
        """Return where places are seen at a frame.

        Args:
            points: shape `(n, 2)`, x then y, in footage pixels.
            frame: of the footage.
            full_size: of the footage.
        """
        return points + np.array(self.place(frame)) * full_size.scale

    def apply(self, band: Band[Shifted]) -> None:
        """Rows of the picture where it is."""
        _shift_picture(*band.prepared, band.top, *band.result_rows)


def _cubic_taps(places: float) -> tuple[int, NDArray[np.float32]]:
    """Return the sample before a place, and cubic weights of the four around it."""
    whole = math.floor(places)
    s = np.abs(np.arange(-1, 3) - (places - whole))
    near, far = (1.5 * s - 2.5) * s * s + 1, ((-0.5 * s + 2.5) * s - 4) * s + 2
    return whole, np.where(s <= 1, near, far).astype(np.float32)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _shift_picture(
    picture: Picture,
    right: int,
    across: NDArray[np.float32],
    down: int,
    along: NDArray[np.float32],
    top: int,
    whole: Picture,
    first: int,
    last: int,
) -> None:
    rows, width = picture.shape[1:]
    out = whole[:, first:last]
    line = new_line(width + 3)
    w0, w1, w2, w3 = along
    v0, v1, v2, v3 = across
    begin = min(max(1 - right, 0), width + 3)
    end = min(width + 3, width + 1 - right)
    for y in range(out.shape[1]):
        at = top + y + down
        a, b = mirror(at - 1, rows), mirror(at, rows)
        c, d = mirror(at + 1, rows), mirror(at + 2, rows)
        for p in range(3):
            r0, r1, r2, r3 = picture[p, a], picture[p, b], picture[p, c], picture[p, d]
            for x in range(begin):
                m = mirror(x - 1 + right, width)
                line[x] = (w0 * r0[m] + w1 * r1[m]) + (w2 * r2[m] + w3 * r3[m])
            for x in range(max(end, begin), width + 3):
                m = mirror(x - 1 + right, width)
                line[x] = (w0 * r0[m] + w1 * r1[m]) + (w2 * r2[m] + w3 * r3[m])
            inner = line[begin : max(end, begin)]
            first = begin - 1 + right
            a0, a1, a2, a3 = r0[first:], r1[first:], r2[first:], r3[first:]
            for x in range(inner.shape[0]):
                inner[x] = (w0 * a0[x] + w1 * a1[x]) + (w2 * a2[x] + w3 * a3[x])
            to = out[p, y]
            for x in range(width):
                to[x] = (v0 * line[x] + v1 * line[x + 1]) + (v2 * line[x + 2] + v3 * line[x + 3])
