"""Flurry."""

import math
from dataclasses import replace
from typing import Any, Literal, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.colour.transfer import to_code, to_light
from yearning.core.image.marks import supersampling
from yearning.core.image.moving_discs import moving_disc
from yearning.core.kernel_arrays import new_double_line, new_line
from yearning.core.noise.fields import uniforms
from yearning.core.noise.value_noise import noise_1d
from yearning.core.picture import Picture, Plane
from yearning.core.smoothstep import smoothstep
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import Coverage, Lively, PaintsOver
from yearning.core.treatment.settings import setting

DEEP = 6.0
"""How much farther off the farthest flakes are than the nearest."""

SHARP = 2.6
"""Where the lens is focused, in distances of the nearest."""

NEARER = 4.0
"""At a `near` of 1, by how much the power of the even numbers exceeds 1 that say how far off flakes
are."""

OPEN = 0.5
"""Of a frame's time, how long the shutter is open: 180 degrees, common practice, no source."""

OUT_OF_FOCUS = 58.0
"""px@1080 of radius by which the nearest flakes are blurred at a blur of 1, at the most."""

HOT = np.float32(3)
"""Light of a flake that shines, against white."""

LEAST = 0.7
"""Pixels of the full size: the least radius, and half the least width of an edge."""

MARGIN = 0.16
"""Of the height: how far beyond the frame flakes come in and go out."""

PLACES, OTHERS, GUSTS = 430, 431, 440
"""Layers of random numbers."""


class Flakes(NamedTuple):
    """Flakes of a frame as the kernel takes them, far ones first, in pixels.

    Columns: across, down, half the streak across and down, radius, softness, opacity.
    """

    flakes: Plane
    solid: bool
    colour: NDArray[np.float32]
    shine: np.float32
    samples: int
    """A side of the square of samples a pixel is the mean of."""


class Flurry(Lively, PaintsOver, Treatment[Flakes]):
    """Snow, embers or motes that really fall: each on a path of its own, near ones large and fast.

    Flakes fill the room before the lens evenly; one at a distance d, of 1 to 6, is seen 1/d as
    large, as fast, and out of focus by the difference of 1/d to where the lens is sharp. Its place
    at a frame is drawn by (seed, flake, frame) alone: it falls, goes with the wind and with gusts
    that take near and far alike, and flutters. It leaves the frame wholly before it comes in anew,
    elsewhere. It is a disc with a soft rim, as a shutter open for half a frame sees it: as much
    as it covers a place for, so that a fast one is long, faint and without ends. The form is common
    practice, no source.
    """

    kind = "flurry"
    stage = "film"
    summary = "snow, embers or motes that fall and drift"
    keywords = ("snow", "rain", "embers", "ash", "particles", "motes", "sparks")
    max_added_change = 0.06

    amount: float = setting(
        600.0,
        0,
        4000,
        unit="count",
        minimum=0,
        maximum=50_000,
        label="Flakes",
        help="How many there are.",
    )
    near_share: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Near flakes",
        help="From as many as an even room has near the lens, which are few, to most of them.",
    )
    near_size: float = setting(
        9.0, 0.5, 40, unit="px@1080", minimum=0.1, maximum=400, label="Near size", help="Across."
    )
    far_size: float = setting(
        2.4, 0.5, 20, unit="px@1080", minimum=0.1, maximum=400, label="Far size", help="Across."
    )
    fall_speed: float = setting(
        0.8,
        -3,
        4,
        unit="pace",
        minimum=-40,
        maximum=40,
        label="Fall speed",
        help="Of the height in 24 frames, the nearest; below 0 they rise.",
    )
    wind: float = setting(
        0.25,
        -3,
        3,
        unit="pace",
        minimum=-40,
        maximum=40,
        label="Wind",
        help="Likewise, to the right.",
    )
    gusts: float = setting(
        0.35, 0, 1, minimum=0, maximum=4, label="Gusts", help="How far gusts take them to and fro."
    )
    sway: float = setting(
        0.3, 0, 1, minimum=0, maximum=4, label="Sway", help="How far each sways on its own."
    )
    blur: float = setting(
        0.45, 0, 1, minimum=0, maximum=4, label="Blur", help="How much near ones are out of focus."
    )
    streaks: Literal["open shutter", "solid"] = setting(
        "open shutter",
        unit="choice",
        label="Streaks",
        help="As a shutter sees a flake move, or as dense as one that stands.",
    )
    colour: Colour = setting("#ffffff", unit="colour", label="Colour", help="The flakes' colour.")
    glint: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Glint",
        help="From what hides to what shines itself.",
    )
    twinkle: float = setting(
        0.0, 0, 1, minimum=0, maximum=1, label="Twinkle", help="How much they glow and fade."
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, other flakes.")

    def prepare(self, context: FrameContext) -> Flakes:
        """The frame's flakes."""
        flakes = self.flakes(context.frame, context.full_size.width / context.full_size.height)
        colour = rgb_of(self.colour).astype(np.float32)
        solid = self.streaks == "solid"
        _widen_flakes(flakes, np.float32(LEAST / context.full_size.height), solid)
        flakes[:, :6] *= np.float32(context.size.height)
        return Flakes(
            flakes,
            solid,
            colour,
            np.float32(self.glint),
            supersampling(context.size, context.full_size),
        )

    def apply(self, band: Band[Flakes]) -> None:
        """The picture with flakes before it."""
        band.copy_through()
        flakes: Flakes = band.prepared
        out, first, last = band.result_rows
        _draw(out, first, last, band.top, *flakes)

    def layer(self, band: Band[Flakes]) -> Coverage:
        """The flakes' colour, whether they shine or not, with their coverage."""
        dull: Flakes = band.prepared._replace(shine=np.float32(0))
        return super().layer(replace(band, prepared=dull))

    def flakes(self, frame: int, wide: float) -> NDArray[np.float32]:
        """Return each flake's place, streak, radius, softness, opacity, in heights, far ones first.

        Args:
            frame: of the footage.
            wide: width to height of the picture.
        """
        count = math.ceil(self.amount)
        fixed = _fixed_numbers(self.seed, np.empty((count, 8)))
        away = np.cbrt(1 + fixed[:, 0] ** (1 + NEARER * self.near_share) * (DEEP**3 - 1))
        near = 1 / away
        begun, ended = (self._positions(frame + d, near, fixed) for d in (-0.25, 0.25))
        now = self._positions(frame, near, fixed)
        streak = (ended - begun) * (OPEN / 0.5) / 2
        tall = 1 + 2 * MARGIN
        turn = np.floor((fixed[:, 1] * tall + now[:, 1]) / tall)
        y = fixed[:, 1] * tall + now[:, 1] - turn * tall - MARGIN
        around = wide + 2 * MARGIN
        x = np.mod(_columns(self.seed, turn) * around + now[:, 0], around) - MARGIN
        depth = (near - 1 / DEEP) / (1 - 1 / DEEP)
        radius = (self.far_size + (self.near_size - self.far_size) * depth) / 2160
        radius = radius * (0.75 + 0.5 * fixed[:, 2])
        lost = self.blur * OUT_OF_FOCUS * np.abs(near - 1 / SHARP) / (1 - 1 / SHARP) / 1080
        lost = np.where(near > 1 / SHARP, lost, 0.12 * lost)
        seen = np.hypot(radius, lost)
        far, more = (0.5, 0.45) if self.streaks == "solid" else (0.7, 0.3)
        opacity = (far + more * np.sqrt(depth)) * (radius / seen) ** 1.15
        if self.twinkle:
            slow = 2 * np.pi * (frame / 24 * (0.5 + 1.5 * fixed[:, 3]) + fixed[:, 4])
            wave = 0.5 + 0.3 * np.sin(slow) + 0.2 * np.sin(2.7 * slow + 6 * fixed[:, 2])
            opacity = opacity * (1 - self.twinkle * (1 - wave))
        part = np.minimum(1.0, self.amount - np.arange(count))
        soft = 0.45 * seen + 0.4 / 1080
        flakes = np.stack([x, y, streak[:, 0], streak[:, 1], seen, soft, opacity * part], 1)
        return flakes[np.argsort(-away, kind="stable")].astype(np.float32)

    def _positions(self, frame: float, near: Any, fixed: Any) -> NDArray[np.float64]:
        """How far each flake has come since frame 0, in heights."""
        t = frame / 24
        gusts = [float(noise_1d(self.seed, GUSTS + k, 0.45 * t)) for k in (0, 1)]
        turn = 2 * np.pi * (t * (0.25 + 0.5 * fixed[:, 5]) + fixed[:, 6])
        sway = self.sway * 0.05 * (0.4 + fixed[:, 7])
        pace = 0.8 + 0.4 * fixed[:, 3]
        right = self.wind * t + 0.55 * self.gusts * gusts[0] + sway * np.sin(turn)
        down = self.fall_speed * pace * t + 0.16 * self.gusts * gusts[1]
        return np.stack([near * right, near * (down + 0.35 * sway * np.sin(2 * turn))], 1)


@numba.njit(nogil=True, cache=True)
def _fixed_numbers(seed: int, out: NDArray[np.float64]) -> NDArray[np.float64]:
    """Eight numbers each flake has for ever."""
    for n in range(out.shape[0]):
        drawn = uniforms(seed, np.int64(PLACES), n, np.int64(0), np.int64(8))
        for k in range(8):
            out[n, k] = drawn[k]
    return out


@numba.njit(nogil=True, cache=True)
def _columns(seed: int, turns: NDArray[np.float64]) -> NDArray[np.float64]:
    """Where across each flake comes in, 0..1: another place each time."""
    out = new_double_line(turns.shape[0])
    for n in range(turns.shape[0]):
        out[n] = uniforms(seed, np.int64(OTHERS), n, int(turns[n]), np.int64(1))[0]
    return out


@numba.njit(nogil=True, cache=True)
def _widen_flakes(flakes: Plane, least: np.float32, solid: bool) -> None:
    """Widen what is smaller than a pixel of the full size, and thin it as much."""
    for n in range(flakes.shape[0]):
        radius, soft = flakes[n, 4], flakes[n, 5]
        edge = max(soft, least)
        wide = max(radius, edge)
        long = np.float32(0)
        if solid:
            long = np.float32(2) * np.sqrt(flakes[n, 2] ** 2 + flakes[n, 3] ** 2)
        before = _area(radius, soft, long)
        flakes[n, 4], flakes[n, 5] = wide, edge
        flakes[n, 6] *= before / _area(wide, edge, long)


@numba.njit(nogil=True, cache=True, inline="always")
def _area(radius: np.float32, soft: np.float32, long: np.float32) -> np.float32:
    """The integral of a disc with a smooth rim, and of a streak so long that is as dense.

    Across a rim that runs as 3s² − 2s³ over ±soft, ∫ r dr is (r² + soft²/5)/2.
    """
    disc = np.float32(np.pi) * (radius * radius + soft * soft / np.float32(5))
    return np.float32(disc + np.float32(2) * radius * long)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _draw(
    whole: Picture,
    first: int,
    last: int,
    top: int,
    flakes: Plane,
    solid: bool,
    colour: NDArray[np.float32],
    shine: np.float32,
    samples: int,
) -> None:
    rows = whole[:, first:last]
    height, width = rows.shape[1:]
    zero, one, half = np.float32(0), np.float32(1), np.float32(0.5)
    lit = new_line(3)
    for c in range(3):
        lit[c] = HOT * shine * to_light(colour[c])
    each, share = one / np.float32(samples), one / np.float32(samples * samples)
    for n in range(flakes.shape[0]):
        x, y, sx, sy, radius, soft, opacity = flakes[n]
        wide = radius + soft
        y0 = max(int(np.floor(y - abs(sy) - wide - half)) - top, 0)
        y1 = min(int(np.ceil(y + abs(sy) + wide + half)) - top, height)
        x0 = max(int(np.floor(x - abs(sx) - wide - half)), 0)
        x1 = min(int(np.ceil(x + abs(sx) + wide + half)), width)
        if y0 >= y1 or x0 >= x1 or opacity <= 0:
            continue
        long = np.sqrt(sx * sx + sy * sy)
        ux, uy = (sx / long, sy / long) if long > np.float32(1e-4) else (zero, one)
        for row in range(y0, y1):
            for column in range(x0, x1):
                cover = zero
                for j in range(samples):
                    down = np.float32(top + row) + (np.float32(j) + half) * each - y
                    for i in range(samples):
                        right = np.float32(column) + (np.float32(i) + half) * each - x
                        along, across = right * ux + down * uy, right * uy - down * ux
                        if solid:
                            beyond = max(abs(along) - long, zero)
                            far = np.sqrt(across * across + beyond * beyond)
                            cover += smoothstep((wide - far) / (soft + soft))
                        else:
                            cover += moving_disc(along, across, long, radius, soft)
                cover *= opacity * share
                if cover <= zero:
                    continue
                hides = cover * (one - shine)
                for c in range(3):
                    value = rows[c, row, column]
                    value += hides * (colour[c] - value)
                    if shine > zero:
                        light = to_light(value)
                        room = one - min(light, one)
                        value = to_code(light + cover * lit[c] * room * room)
                    rows[c, row, column] = value
