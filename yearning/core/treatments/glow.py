"""Glow."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core import bands, filters
from yearning.core.colour.luma import KB, KG, KR
from yearning.core.colour.transfer import to_code, to_light
from yearning.core.memory import new_array, new_like
from yearning.core.picture import Picture, Plane
from yearning.core.treatment import Moment, Reach, Treatment, setting

PARTS = ((1 / 6, 0.45), (1 / 2.4, 0.3), (1.0, 0.25))
"""(σ as a part of `spread`, weight): a lamp's core, its bloom, and the mist around it."""

SIGMA_PER_BLOCK = 2.0
"""Highlights are averaged over blocks of half the σ of the narrowest blur that follows."""

WARM_RED = 0.30
WARM_BLUE = 0.45
"""At full warmth the glow's red is raised and its blue lowered by these parts."""

_ZERO = np.float32(0)
_ONE = np.float32(1)


class Halo(NamedTuple):
    """Blurred highlights, and the pull on the mid-tones that holds their light."""

    light: filters.BlocksEnlarged
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

    def prepare(self, at: Moment) -> Halo:
        """The blurred highlights at reduced size, and how far to pull the mid-tones down."""
        sigma = self.spread * at.scale
        block = max(1, int(sigma * PARTS[0][0] / SIGMA_PER_BLOCK))
        seen = at.settled(self.settle, lambda picture: self._seen(picture, block))
        bright, luma = seen[:3], seen[3]
        # averaging over blocks blurs by the variance of a box, and enlarging them by its own
        done = (1 - block**-2) / 12 + (filters.ANTI_ALIAS**2 if block > 1 else 0.0)
        parts = [((sigma * s / block) ** 2 - done, w) for s, w in PARTS]
        halo = filters.gaussian_sum(bright, [(max(v, 0.01) ** 0.5, w) for v, w in parts])
        if self.linear:
            _coded(halo)
        halo *= self._tint()[:, None, None]
        pull = self.hold_light * _lift(halo, luma) if self.hold_light else 0.0
        return Halo(filters.BlocksEnlarged(halo, block, at.size), pull)

    def apply(self, at: Moment) -> Picture:
        """The glow alone, on black; below 0 where the mid-tones are to be pulled down."""
        halo: Halo = at.prepared
        glow = new_like(at.picture)
        wide, start, weights = halo.light.taps(*at.rows)
        _glow(wide, start, weights, at.picture, np.float32(halo.pull), glow)
        return glow

    def _seen(self, picture: Picture, block: int) -> NDArray[np.float32]:
        """Highlights and luma averaged over blocks, shape `(4, rows, columns)`."""
        height, width = (-(-n // block) for n in picture.shape[1:])
        seen = new_array((4, height, width))
        low, roll = np.float32(self.from_light), np.float32(max(self.roll_in, 1e-4))
        bands.each_band(
            height,
            lambda top, bottom: _see(
                picture, block, top, low, roll, self.linear, seen[:, top:bottom]
            ),
            rows=16,
        )
        return seen

    def _tint(self) -> NDArray[np.float32]:
        """Gains of R, G, B that tint white without changing its luma."""
        red = 1 + WARM_RED * self.warmth
        blue = 1 - WARM_BLUE * self.warmth
        green = (1 - KR * red - KB * blue) / KG
        return np.array([red, green, blue], np.float32)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _see(
    picture: Picture,
    block: int,
    top: int,
    low: np.float32,
    roll: np.float32,
    linear: bool,
    out: NDArray[np.float32],
) -> None:
    """Block means of highlights and luma; blocks beyond the edge see the mirrored picture."""
    height, width = picture.shape[1:]
    line = np.empty((4, width), np.float32)
    share = _ONE / np.float32(block * block)
    for i in range(out.shape[1]):
        line[:] = 0
        for k in range(block):
            y = (top + i) * block + k
            y = y if y < height else max(2 * height - 1 - y, 0)
            red, green, blue = picture[0, y], picture[1, y], picture[2, y]
            into_r, into_g, into_b, into_l = line[0], line[1], line[2], line[3]
            for x in range(width):
                r, g, b = red[x], green[x], blue[x]
                luma = KR * r + KG * g + KB * b
                t = min(max((luma - low) / roll, _ZERO), _ONE)
                weight = t * t * (np.float32(3) - np.float32(2) * t)
                r, g, b = max(r, _ZERO), max(g, _ZERO), max(b, _ZERO)
                if linear:
                    r, g, b = to_light(r), to_light(g), to_light(b)
                into_r[x] += weight * r
                into_g[x] += weight * g
                into_b[x] += weight * b
                into_l[x] += luma
        for c in range(4):
            for j in range(out.shape[2]):
                total = _ZERO
                for k in range(block):
                    x = j * block + k
                    total += line[c, x if x < width else max(2 * width - 1 - x, 0)]
                out[c, i, j] = total * share


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
    glow: Picture,
) -> None:
    for c in range(3):
        filters.weigh_rows(wide[c], start, weights, glow[c])
    for y in range(glow.shape[1]):
        red, green, blue = picture[0, y], picture[1, y], picture[2, y]
        to_red, to_green, to_blue = glow[0, y], glow[1, y], glow[2, y]
        for x in range(red.shape[0]):
            down = pull * _mid(KR * red[x] + KG * green[x] + KB * blue[x])
            to_red[x] -= down
            to_green[x] -= down
            to_blue[x] -= down
