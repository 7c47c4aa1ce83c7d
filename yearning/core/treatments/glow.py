"""Glow."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import filters
from yearning.core.blocks import BlocksEnlarged, add_neighbours, block_side, variance_done
from yearning.core.colour.luma import KB, KG, KR
from yearning.core.colour.transfer import to_code, to_light
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment import Band, Drive, Moment, Reach, Treatment, setting

PARTS = ((1 / 6, 0.45), (1 / 2.4, 0.3), (1.0, 0.25))
"""(σ as a part of `spread`, weight): a lamp's core, its bloom, and the mist around it."""

SIGMA_PER_BLOCK = 1.4
"""σ, in blocks, of the narrowest blur that follows: highlights are averaged over such blocks."""

WARM_RED = 0.30
WARM_BLUE = 0.45
"""At full warmth the glow's red is raised and its blue lowered by these parts."""

_ZERO = np.float32(0)
_ONE = np.float32(1)


class Halo(NamedTuple):
    """Blurred highlights, and the pull on the mid-tones that holds their light."""

    light: BlocksEnlarged
    pull: float


class Glow(Treatment):
    """Bright parts bloom and lift the picture.

    The parts lighter than `from_light` are taken with a smooth knee, blurred by a sum of three
    gaussians, and laid back by the step's blend (screen, as made). `hold_light` takes back, from
    the mid-tones alone, the brightness the glow adds to them.
    """

    kind = "glow"
    stage = "light"
    says = "bright parts bloom and lift the picture"
    blend = "screen"
    amount = 0.75

    from_light: float = setting(
        0.55, 0, 1, label="From light", help="Luma from which parts begin to glow."
    )
    roll_in: float = setting(
        0.3,
        0,
        1,
        least=0,
        label="Roll-in",
        help="How far above that they glow fully; a soft knee does not pop in motion.",
    )
    spread: float = setting(
        52,
        2,
        200,
        unit="px@1080",
        least=0.1,
        most=1000,
        label="Spread",
        help="How far the light reaches: the σ of the widest blur.",
    )
    warmth: float = setting(
        0.15,
        -1,
        1,
        least=-2,
        most=2,
        label="Warmth",
        help="Warmer or cooler glow, at the same luma.",
    )
    hold_light: float = setting(
        0.6, 0, 1, label="Hold light", help="How far the mid-tones' brightness is held as it was."
    )
    settle: int = setting(
        1,
        0,
        6,
        unit="frames",
        least=0,
        most=24,
        label="Settle",
        help="Frames before and after over which the highlights are smoothed.",
    )
    linear: bool = setting(
        False,
        unit="switch",
        label="In light",
        help="Blur light rather than code values: small lamps glow harder.",
    )

    def reach(self) -> Reach:
        """`settle` frames on both sides."""
        return Reach(self.settle, self.settle)

    def drive(self, size: Size) -> Drive:
        """Highlights and luma averaged over blocks, shape `(4, rows, columns)`."""
        block = self._block(size)
        low, roll = np.float32(self.from_light), np.float32(max(self.roll_in, 1e-4))

        def gather(band: Picture, top: int, values: NDArray[np.float32]) -> None:
            _see(band, top, size.height, block, low, roll, self.linear, values)

        return Drive(
            ("glow", low, roll, self.linear, block),
            (4, -(-size.height // block), -(-size.width // block)),
            block,
            gather,
        )

    def prepare(self, at: Moment) -> Halo:
        """The blurred highlights at reduced size, and how far to pull the mid-tones down."""
        block = self._block(at.size)
        seen = at.settled(self.settle)
        bright, luma = seen[:3], seen[3]
        # averaging over blocks blurs by the variance of a box, and enlarging them by its own
        done = variance_done(block)
        sigma = self.spread * at.scale / block
        parts = [((sigma * s) ** 2 - done, w) for s, w in PARTS]
        halo = filters.gaussian_sum(bright, [(max(v, 0.01) ** 0.5, w) for v, w in parts])
        if self.linear:
            _coded(halo)
        halo *= self._tint()[:, None, None]
        pull = self.hold_light * _lift(halo, luma) if self.hold_light else 0.0
        return Halo(BlocksEnlarged(halo, block, at.size), pull)

    def apply(self, band: Band) -> None:
        """The glow alone, on black; below 0 where the mid-tones are to be pulled down."""
        halo: Halo = band.prepared
        wide, start, weights = halo.light.taps(*band.rows)
        pull = np.float32(halo.pull)
        _glow(wide, start, weights, band.picture, pull, band.out, band.into)

    def _block(self, size: Size) -> int:
        """The side of the blocks in pixels: the largest that the narrowest blur allows."""
        return block_side(self.spread * size.scale * PARTS[0][0] / SIGMA_PER_BLOCK)

    def _tint(self) -> NDArray[np.float32]:
        """Gains of R, G, B that tint white without changing its luma."""
        red = 1 + WARM_RED * self.warmth
        blue = 1 - WARM_BLUE * self.warmth
        green = (1 - KR * red - KB * blue) / KG
        return np.array([red, green, blue], np.float32)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _see(
    band: Picture,
    top: int,
    height: int,
    block: int,
    low: np.float32,
    roll: np.float32,
    linear: bool,
    out: NDArray[np.float32],
) -> None:
    """Block means of highlights and luma of the rows from `top`, a multiple of `block`, on.

    Blocks beyond the picture's edge, at `height`, see it mirrored.
    """
    rows, width = band.shape[1:]
    columns = out.shape[2]
    sums = np.empty((4, columns * block), np.float32)
    luma, weight = np.empty(width, np.float32), np.empty(width, np.float32)
    spare = np.empty(columns * block, np.float32)
    share = _ONE / np.float32(block * block)
    for i in range(top // block, -(-(top + rows) // block)):
        sums[:] = _ZERO
        for k in range(block):
            y = i * block + k
            y = (y if y < height else max(2 * height - 1 - y, top)) - top
            for x in range(width):
                luma[x] = KR * band[0, y, x] + KG * band[1, y, x] + KB * band[2, y, x]
            for x in range(width):
                sums[3, x] += luma[x]
            above = _ZERO  # a sum, since LLVM vectorizes that and not a maximum
            for x in range(width):
                above += max(luma[x] - low, _ZERO)
            if above > _ZERO:
                _add_highlights(band, y, luma, low, roll, linear, weight, sums)
        for c in range(4):
            for x in range(width, columns * block):
                sums[c, x] = sums[c, max(2 * width - 1 - x, 0)]
            line = add_neighbours(sums[c], block, spare)
            for x in range(columns):
                out[c, i, x] = line[x] * share


@numba.njit(nogil=True, cache=True, fastmath=True)
def _add_highlights(
    band: Picture,
    y: int,
    luma: NDArray[np.float32],
    low: np.float32,
    roll: np.float32,
    linear: bool,
    weight: NDArray[np.float32],
    sums: Plane,
) -> None:
    """Add what glows of a row to the sums; `weight` is scratch."""
    per = _ONE / roll
    for x in range(luma.shape[0]):
        t = min(max((luma[x] - low) * per, _ZERO), _ONE)
        weight[x] = t * t * (np.float32(3) - np.float32(2) * t)
    for c in range(3):
        if linear:
            for x in range(luma.shape[0]):
                sums[c, x] += weight[x] * to_light(max(band[c, y, x], _ZERO))
        else:
            for x in range(luma.shape[0]):
                sums[c, x] += weight[x] * max(band[c, y, x], _ZERO)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _coded(halo: Picture) -> None:
    for c in range(3):
        for y in range(halo.shape[1]):
            for x in range(halo.shape[2]):
                halo[c, y, x] = to_code(halo[c, y, x])


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _mid(luma: np.float32) -> np.float32:
    """How much a mid-tone it is: 0 at black and white, 1 half-way."""
    inside = min(max(luma, _ZERO), _ONE)
    return np.float32(4) * inside * (_ONE - inside)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lift(halo: Picture, luma: Plane) -> float:
    """The pull, times `_mid`, that undoes what screening `halo` adds to the mid-tones' mean."""
    lift = 0.0
    room = 1e-6 * luma.size
    for y in range(luma.shape[0]):
        for x in range(luma.shape[1]):
            mid = _mid(luma[y, x])
            above = mid * (_ONE - min(max(luma[y, x], _ZERO), _ONE))
            lift += above * (KR * halo[0, y, x] + KG * halo[1, y, x] + KB * halo[2, y, x])
            room += above * mid
    return lift / room


@numba.njit(nogil=True, cache=True, fastmath=True)
def _glow(
    wide: Picture,
    start: NDArray[np.int32],
    weights: Plane,
    picture: Picture,
    pull: np.float32,
    out: Picture,
    into: int,
) -> None:
    """Rows of the halo, weighed from four lines of `wide` each, less the pull."""
    last = wide.shape[1] - 1
    width = picture.shape[2]
    down = np.zeros(width, np.float32)
    for y in range(picture.shape[1]):
        a, b = min(start[y], last), min(start[y] + 1, last)
        c, d = min(start[y] + 2, last), min(start[y] + 3, last)
        w0, w1, w2, w3 = weights[y, 0], weights[y, 1], weights[y, 2], weights[y, 3]
        if pull != _ZERO:
            for x in range(width):
                luma = KR * picture[0, y, x] + KG * picture[1, y, x] + KB * picture[2, y, x]
                down[x] = pull * _mid(luma)
        for p in range(3):
            for x in range(width):
                out[p, into + y, x] = (
                    (w0 * wide[p, a, x] + w1 * wide[p, b, x])
                    + (w2 * wide[p, c, x] + w3 * wide[p, d, x])
                    - down[x]
                )
