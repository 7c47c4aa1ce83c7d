"""Glow."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import KB, KG, KR, bt709_luma
from yearning.core.colour.power import power
from yearning.core.colour.transfer import to_code
from yearning.core.image.block_means import (
    EnlargedBlocks,
    block_grid,
    block_side,
    blur_block_means,
    mirror_aligned_side,
)
from yearning.core.image.highlights import gather_highlights, highlights_of, mid_tone
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment.base import Band, FrameContext, Reach, Treatment
from yearning.core.treatment.capabilities import (
    AppliesLayer,
    HoldsLight,
    StartsFromHighlights,
    UsesFrameStatistics,
)
from yearning.core.treatment.settings import setting
from yearning.core.treatment.statistics import StatisticsSpec
from yearning.core.treatment.tone_values import ToneValue, tone_number, tone_setting

PARTS = ((1 / 6, 0.45), (1 / 2.4, 0.3), (1.0, 0.25))
"""(σ as a part of `spread`, weight): a lamp's core, its bloom, and the mist around it."""

GAINS = (1.5, 3.0, 4.5)
"""The powers of a `gain` above 1 by which the parts are strengthened: the wider one is, the thinner
a small lamp's light is spread in it."""

OVERVIEW_ROWS = 30
"""Rows of blocks, about, on which a whole clip's brightness is measured."""

SIGMA_PER_BLOCK = 1.4
"""σ, in blocks, of the narrowest blur that follows: highlights are averaged over such blocks."""

WARM_RED = 0.30
WARM_BLUE = 0.45
"""At full warmth the glow's red is raised and its blue lowered by these parts."""

_ZERO = np.float32(0)
_ONE = np.float32(1)


class Halo(NamedTuple):
    """Blurred highlights, and the pull on the mid-tones that holds their light."""

    light: EnlargedBlocks
    pull: float


class Glow(UsesFrameStatistics, HoldsLight, StartsFromHighlights, AppliesLayer, Treatment[Halo]):
    """Bright parts bloom and lift the picture.

    The parts lighter than `threshold` are taken with a smooth knee, blurred by a sum of three
    gaussians, and laid back by the step's blend (screen, as made). Light beyond white glows as much
    as it is. `keep_midtones` takes back, from the mid-tones alone, the brightness the glow adds to
    them over the whole clip.
    """

    kind = "glow"
    stage = "light"
    summary = "bright parts bloom and lift the picture"
    keywords = ("bloom", "halo", "haze", "dreamy", "diffusion", "soft light", "shine")
    effect = "light"
    shown = {"threshold": 0.45, "spread": 70}
    default_blend = "screen"
    default_amount = 0.75

    threshold: ToneValue = tone_setting(
        0.55, 0, 1, label="Threshold", help="Luma from which parts begin to glow."
    )
    gain: float = setting(
        1.0,
        0,
        4,
        unit="factor",
        minimum=0,
        maximum=32,
        label="Gain",
        help="How much light it has; small lamps need more to make a wide haze.",
    )
    knee: float = setting(
        0.3,
        0,
        1,
        minimum=0,
        label="Knee",
        help="How far above that they glow fully; a soft knee does not pop in motion.",
    )
    spread: float = setting(
        52,
        2,
        200,
        unit="px@1080",
        minimum=0.1,
        maximum=1000,
        label="Spread",
        help="How far the light reaches: the σ of the widest blur.",
    )
    warmth: float = setting(
        0.15,
        -1,
        1,
        minimum=-2,
        maximum=2,
        label="Warmth",
        help="Warmer or cooler glow, at the same luma.",
    )
    keep_midtones: float = setting(
        0.6,
        0,
        1,
        label="Keep mid-tones",
        help="How far the mid-tones' brightness is held as it was.",
    )
    temporal_smoothing: int = setting(
        1,
        0,
        6,
        unit="frames",
        minimum=0,
        maximum=24,
        label="Smooth over time",
        help="Frames before and after over which the highlights are smoothed.",
    )
    linear: bool = setting(
        False,
        unit="switch",
        label="Linear light",
        help="Blur light rather than code values: small lamps glow harder.",
    )

    def neighbours(self) -> Reach:
        """`temporal_smoothing` frames on both sides."""
        return Reach(self.temporal_smoothing, self.temporal_smoothing)

    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """Highlights and luma averaged over blocks, shape `(4, rows, columns)`."""
        return self._drive(size, self._block(size))

    def clip_statistics_spec(self, size: Size) -> StatisticsSpec:
        """Gather the same over larger blocks, since many frames are measured."""
        return self._drive(size, self._overview_block(size))

    def _drive(self, size: Size, block: int) -> StatisticsSpec:
        low, roll = np.float32(tone_number(self.threshold)), np.float32(max(self.knee, 1e-4))

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            gather_highlights(
                band, top, size.height, block, low, roll, self.linear, np.float32(0), values
            )

        key = ("highlights", low, roll, self.linear, block)
        return StatisticsSpec(key, (4, *block_grid(size, block)), block, gather, luma_plane=3)

    def prepare(self, context: FrameContext) -> Halo:
        """The blurred highlights at reduced size, and how far to pull the mid-tones down."""
        block = self._block(context.size)
        light = self._halo(
            context.temporally_filtered(self.temporal_smoothing)[:3], block, context.size
        )
        pull = self.held_light(context.clip_statistics()) if self.keep_midtones else 0.0
        return Halo(EnlargedBlocks(light, block, context.size), pull)

    def _halo(self, bright: Picture, block: int, size: Size) -> Picture:
        reaches = [(self.spread * size.scale * part, weight) for part, weight in PARTS]
        if self.gain <= 1:
            less = [(sigma, weight * self.gain) for sigma, weight in reaches]
            light = blur_block_means(bright, block, size, less)
        else:
            parts = [blur_block_means(bright, block, size, [(sigma, 1.0)]) for sigma, _ in reaches]
            light = np.zeros_like(parts[0])
            for part, (_, weight), exponent in zip(parts, reaches, GAINS, strict=True):
                _add_gained(part, np.float32(self.gain**exponent), np.float32(weight), light)
        if self.linear:
            _encode_halo(light)
        light *= self._tint()[:, None, None]
        return light

    def reduce_clip(self, frames: list[NDArray[np.float32]], size: Size) -> NDArray[np.float32]:
        """Return how far mid-tones are pulled down to be, over the clip, as bright as they were.

        Args:
            frames: values of each sampled frame.
            size: of the picture that they were gathered from.
        """
        block = self._overview_block(size)
        lift = room = 0.0
        for frame in frames:
            light = self._halo(frame[:3], block, size)
            rows, columns = frame.shape[1:]
            lifted, under = _lift(light[:, :rows, :columns], frame[3])
            lift, room = lift + lifted, room + under
        return np.array([lift / max(room, 1e-9)], np.float32)

    def held_light(self, values: NDArray[np.float32]) -> float:
        """The pull on mid-grey; black and white are left where they are."""
        return self.keep_midtones * float(values[0])

    def highlights(self, picture: Picture) -> Picture:
        """What is brighter than `threshold`, with its soft knee."""
        return highlights_of(picture, tone_number(self.threshold), self.knee)

    def apply(self, band: Band[Halo]) -> None:
        """The glow alone, on black; below 0 where the mid-tones are to be pulled down."""
        halo: Halo = band.prepared
        wide, start, weights = halo.light.taps(*band.rows)
        pull = np.float32(halo.pull)
        _glow(wide, start, weights, band.picture, pull, band.out, band.out_top)

    def _block(self, size: Size) -> int:
        """The side of the blocks in pixels: the largest that the narrowest blur allows."""
        return mirror_aligned_side(self.spread * size.scale * PARTS[0][0] / SIGMA_PER_BLOCK, size)

    def _overview_block(self, size: Size) -> int:
        return block_side(size.height / OVERVIEW_ROWS)

    def _tint(self) -> NDArray[np.float32]:
        """Gains of R, G, B that tint white without changing its luma."""
        red = 1 + WARM_RED * self.warmth
        blue = 1 - WARM_BLUE * self.warmth
        green = (1 - KR * red - KB * blue) / KG
        return np.array([red, green, blue], np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _add_gained(part: Picture, gain: np.float32, weight: np.float32, halo: Picture) -> None:
    """Add a blurred part to a halo, strengthened as if screened over itself so often: 1 − (1 − h)ⁿ.

    What is faint grows by n, and nothing beyond its weight, where it would have an edge.
    """
    left, raised = new_line(halo.shape[2]), new_line(halo.shape[2])
    for c in range(3):
        for y in range(halo.shape[1]):
            seen, line = part[c, y], halo[c, y]
            for x in range(line.shape[0]):
                left[x] = max(_ONE - seen[x], _ZERO)
            power(left, gain, raised)
            for x in range(line.shape[0]):
                line[x] += weight * max(_ONE - raised[x], seen[x])  # beyond white as it is


@numba.njit(nogil=True, cache=True, fastmath=True)
def _encode_halo(halo: Picture) -> None:
    for c in range(3):
        for y in range(halo.shape[1]):
            for x in range(halo.shape[2]):
                halo[c, y, x] = to_code(halo[c, y, x])


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lift(halo: Picture, luma: Plane) -> tuple[float, float]:
    """Return what screening a halo adds to the mid-tones' mean, and what a pull of 1 takes away.

    Both are sums: of the lift weighed by `mid_tone`, and of `mid_tone` as a glow so weighed.
    """
    lift = 0.0
    room = 0.0
    for y in range(luma.shape[0]):
        for x in range(luma.shape[1]):
            mid = mid_tone(luma[y, x])
            above = mid * (_ONE - min(max(luma[y, x], _ZERO), _ONE))
            lift += above * bt709_luma(halo[0, y, x], halo[1, y, x], halo[2, y, x])
            room += above * mid
    return lift, room


@numba.njit(nogil=True, cache=True, fastmath=True)
def _glow(
    wide: Picture,
    start: NDArray[np.int32],
    weights: Plane,
    picture: Picture,
    pull: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    """Rows of the halo, weighed from four lines of `wide` each, less the pull."""
    last = wide.shape[1] - 1
    width = picture.shape[2]
    down = new_line(width)
    down[:] = 0
    for y in range(picture.shape[1]):
        a, b = min(start[y], last), min(start[y] + 1, last)
        c, d = min(start[y] + 2, last), min(start[y] + 3, last)
        w0, w1, w2, w3 = weights[y, 0], weights[y, 1], weights[y, 2], weights[y, 3]
        if pull != _ZERO:
            for x in range(width):
                luma = bt709_luma(picture[0, y, x], picture[1, y, x], picture[2, y, x])
                down[x] = pull * mid_tone(luma)
        for p in range(3):
            for x in range(width):
                out[p, out_top + y, x] = (
                    (w0 * wide[p, a, x] + w1 * wide[p, b, x])
                    + (w2 * wide[p, c, x] + w3 * wide[p, d, x])
                    - down[x]
                )
