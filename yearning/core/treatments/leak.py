"""Leak."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yearning.core import parallel
from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.colour.power import exp2
from yearning.core.colour.transfer import to_light
from yearning.core.image.block_means import EnlargedBlocks, block_grid
from yearning.core.image.linear_light import add_light, add_tinting_light
from yearning.core.kernel_arrays import new_lines
from yearning.core.noise.value_noise import NO_CELL, noise_1d, noise_2d_cached
from yearning.core.picture import Picture, Plane
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import (
    AddsLight,
    FillsFinalFrame,
    Lively,
    Ride,
    RidesOnTrack,
)
from yearning.core.treatment.settings import setting, track_setting
from yearning.core.validation import StrictModel

Edge = Literal[
    "left", "right", "top", "bottom", "top left", "top right", "bottom left", "bottom right"
]

INWARD: dict[str, tuple[float, float]] = {
    "left": (1, 0),
    "right": (-1, 0),
    "top": (0, 1),
    "bottom": (0, -1),
    "top left": (0.8, 0.6),
    "top right": (-0.8, 0.6),
    "bottom left": (0.8, -0.6),
    "bottom right": (-0.8, -0.6),
}
"""Which way light goes from an edge or a corner, across and down."""

OPPOSITE = {
    "left": "bottom right",
    "right": "top left",
    "top": "bottom left",
    "bottom": "top right",
    "top left": "right",
    "top right": "left",
    "bottom left": "right",
    "bottom right": "left",
}
"""Where a second leak comes from."""

FINE = 90
"""Rows of the picture of light, at least: its finest texture is several of them wide."""

LOBES = 4

MAX_PLACED = 24

LobesFrom = tuple[str, tuple[float, float], NDArray[np.float32]]
"""An edge, the place on it that lobes are counted from, and of each lobe its place along the edge,
half width, reach and light, in heights."""

OTHER = 7919
"""What a second leak's seed is apart from the first's."""

SLOW = 80.0
"""Frames from one place or brightness to the next, about."""

DRIFTS = np.array([80, 81, 90, 91])
"""Layers of the noise that drives it."""
SWIM, SWIMS = 77, 1.5
"""The layer of noise by which the texture swims to and fro, and how far, in its own periods."""

WANDERS = 0.22
"""Of the picture's height: how far a lobe drifts to either side at most."""


class PlacedLobe(StrictModel):
    """A lobe of light that was placed by hand."""

    from_edge: Edge = Field(description="Where it comes in.")
    position: float = Field(ge=0, le=1, description="As of a leak.")
    reach: float = Field(gt=0, le=4, description="How far in, of the height.")
    width: float = Field(gt=0, le=4, description="Across, of the height.")
    light: float = Field(ge=0, le=4, description="1: as strong as a leak's strongest.")


class Leak(Lively, FillsFinalFrame, AddsLight, RidesOnTrack, Treatment[EnlargedBlocks]):
    """Light that has come through the camera's seams: soft lobes, hot where they come in.

    Several lobes fan out from an edge or a corner of the frame that is left at the end of the path,
    each with its own width and reach, by the seed or placed one by one; where they meet they add
    up. Where they are brightest they are pale, and further in they
    turn to the leak's colour and darken to red, as the falling light exposes the film's layers less
    and less. They wander and breathe by smooth noise of (seed, frame), and have the faint
    streaks of light along a gap. All of it is done in light. The form is common practice, no
    source.
    """

    kind = "leak"
    stage = "light"
    summary = "light through the camera's seams"
    keywords = ("light leak", "burn", "flare", "sun", "edge light")
    max_added_change = 0.002
    handle = "line"

    lobes: Literal["by seed", "placed"] = setting(
        "by seed", unit="choice", label="Patches", help="Four by the seed, or placed one by one."
    )
    placed: Annotated[tuple[PlacedLobe, ...], Field(max_length=MAX_PLACED)] = setting(
        (),
        unit="lobes",
        label="By hand",
        visible_if={"lobes": ["placed"]},
        help="Each comes in where it is dragged to; where they meet they add up.",
    )
    from_edge: Edge = setting(
        "left",
        unit="choice",
        label="Edge",
        visible_if={"lobes": ["by seed"]},
        help="Where it comes in.",
    )
    position: float = setting(
        0.4,
        0,
        1,
        label="Position",
        visible_if={"lobes": ["by seed"]},
        help="Where along that edge, from its left or top; from a corner, to which side it leans.",
    )
    reach: float = setting(
        0.45,
        0.05,
        1.2,
        minimum=0.01,
        maximum=4,
        label="Length",
        visible_if={"lobes": ["by seed"]},
        help="How far in, of the height.",
    )
    colour: Colour = setting(
        "#ff6a1c", unit="colour", label="Colour", help="Between its pale core and its red end."
    )
    on_pale: float = setting(
        1.0,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Over highlights",
        help="How far a pale sky, which has no room for more light, takes its hue.",
    )
    second: float = setting(
        0.0,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Second",
        visible_if={"lobes": ["by seed"]},
        help="How strong another is, across from it.",
    )
    drift: float = setting(
        0.4, 0, 1, minimum=0, maximum=2, label="Drift", help="How far the lobes wander."
    )
    breathe: float = setting(
        0.35, 0, 1, minimum=0, maximum=1, label="Pulse", help="How far they swell and fade."
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, another leak.")

    track: str = track_setting()

    def settings_on_track(self, ride: Ride) -> dict[str, Any]:
        """Where along its edge its track has taken it; from a corner it leans no other way."""
        placed = tuple(
            lobe.model_copy(
                update={"position": _position_on_track(lobe.from_edge, lobe.position, ride)}
            )
            for lobe in self.placed
        )
        return {
            "position": _position_on_track(self.from_edge, self.position, ride),
            "placed": placed,
        }

    def prepare(self, context: FrameContext) -> EnlargedBlocks:
        """The light, at reduced size."""
        block = max(1, context.size.height // FINE)
        rows, columns = block_grid(context.size, block)
        light = np.zeros((rows, columns), np.float32)
        box = context.final_box
        scale, wide = block / box.height, box.width / box.height
        corner = np.array([box.left, box.top]) / box.height
        leaks = self._by_hand if self.lobes == "placed" else self._by_seed
        for n, (edge, origin, lobes) in enumerate(leaks(context.frame, wide)):
            given = (
                scale,
                corner + origin,
                np.array(INWARD[edge], np.float64),
                lobes,
                self.seed + OTHER * n,
                SWIMS
                * self.drift
                * float(noise_1d(self.seed + OTHER * n, SWIM, context.frame / SLOW)),
            )

            def shine(top: int, bottom: int, given: tuple[Any, ...] = given) -> None:
                cells = np.full((len(DRIFTS), 2), NO_CELL, np.int64)
                _shine(light, top, bottom, cells, *given)

            parallel.for_each_band(rows, shine, -(-rows // parallel.CORES))
        base = np.array([to_light(np.float32(c)) for c in rgb_of(self.colour)], np.float32)
        out = np.empty((3, rows, columns), np.float32)
        _tint_light(light, np.maximum(base, 1e-3), out)
        return EnlargedBlocks(out, block, context.size)

    def apply(self, band: Band[EnlargedBlocks]) -> None:
        """The picture with the light."""
        where = band.picture, band.top, band.out, band.out_top
        if self.on_pale:
            add_tinting_light(band.prepared, self.on_pale, *where)
        else:
            add_light(band.prepared, *where)

    def _by_seed(self, frame: int, wide: float) -> Iterator[LobesFrom]:
        """The leak, and the second across from it."""
        origin = _origin(self.from_edge, self.position, wide)
        yield self.from_edge, origin, self._lobes(0, frame, 1.0)
        if self.second:
            edge = OPPOSITE[self.from_edge]
            yield edge, _origin(edge, 1 - self.position, wide), self._lobes(1, frame, self.second)

    def _by_hand(self, frame: int, wide: float) -> Iterator[LobesFrom]:
        """The lobes that were placed, those of an edge together."""
        slow = frame / SLOW
        for edge in dict.fromkeys(lobe.from_edge for lobe in self.placed):
            across, down = _origin(edge, 0.5, wide)
            found = []
            for n, lobe in enumerate(self.placed):
                if lobe.from_edge == edge:
                    x, y = _origin(edge, lobe.position, wide)
                    to_x, to_y = INWARD[edge]
                    wander = WANDERS * self.drift * float(noise_1d(self.seed, 10 * n + 4, slow))
                    swell = 1 + self.breathe * float(noise_1d(self.seed, 10 * n + 5, 1.3 * slow))
                    along = (y - down) * to_x - (x - across) * to_y
                    reach = lobe.reach * (0.8 + 0.2 * swell)
                    found.append((along + wander, lobe.width / 2, reach, lobe.light * swell))
            yield edge, (across, down), np.array(found, np.float32)

    def _lobes(self, leak: int, frame: int, strength: float) -> NDArray[np.float32]:
        """Of each lobe: its place along the edge, width, reach and light, in heights."""
        seed, slow = self.seed + OTHER * leak, frame / SLOW
        lobes = np.empty((LOBES, 4), np.float32)
        for n in range(LOBES):
            place, width, long, light = (float(noise_1d(seed, 10 * n + k, 0.5)) for k in range(4))
            wander = WANDERS * self.drift * float(noise_1d(seed, 10 * n + 4, slow))
            swell = 1 + self.breathe * float(noise_1d(seed, 10 * n + 5, 1.3 * slow))
            part = 1 / (1 + 0.6 * n)
            lobes[n] = (
                0.22 * n * place + wander,
                (0.16 + 0.07 * width) * (0.6 + 0.4 * n * part),
                self.reach * (0.75 + 0.35 * long) * (0.8 + 0.2 * swell),
                strength * swell * part * (1.1 + 0.4 * light),
            )
        return lobes


def _position_on_track(edge: str, position: float, ride: Ride) -> float:
    """Where along its edge a track has taken a place; from a corner it stays."""
    if edge in ("left", "right"):
        return ride.place((0.0 if edge == "left" else 1.0, position))[1]
    if edge in ("top", "bottom"):
        return ride.place((position, 0.0 if edge == "top" else 1.0))[0]
    return position


def _origin(edge: str, position: float, wide: float) -> tuple[float, float]:
    """Where a leak comes in, in heights from the left upper corner."""
    across, down = position * wide, position
    lean = 0.5 * (position - 0.5)
    return {
        "left": (0.0, down),
        "right": (wide, down),
        "top": (across, 0.0),
        "bottom": (across, 1.0),
        "top left": (max(lean, 0.0), max(-lean, 0.0)),
        "top right": (wide - max(lean, 0.0), max(-lean, 0.0)),
        "bottom left": (max(lean, 0.0), 1 - max(-lean, 0.0)),
        "bottom right": (wide - max(lean, 0.0), 1 - max(-lean, 0.0)),
    }[edge]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _shine(
    light: Plane,
    top: int,
    bottom: int,
    cells: NDArray[np.int64],
    scale: float,
    origin: NDArray[np.float64],
    inward: NDArray[np.float64],
    lobes: NDArray[np.float32],
    seed: int,
    moves: float,
) -> None:
    """Add a leak's light, 1 at the heart of its strongest lobe."""
    corners = new_lines(4, 4)
    for y in range(top, bottom):
        for x in range(light.shape[1]):
            right = (x + 0.5) * scale - origin[0]
            down = (y + 0.5) * scale - origin[1]
            deep = max(right * inward[0] + down * inward[1], 0.0)
            along = down * inward[0] - right * inward[1]
            u, v = 2.1 * deep + moves, 2.1 * along
            along += (
                0.22 * noise_2d_cached(seed, DRIFTS[0], u, v, cells[0], corners[0]) * (0.3 + deep)
            )
            u, v = 1.6 * deep - 0.7 * moves, 2.6 * along
            deep *= 1 + 0.45 * noise_2d_cached(seed, DRIFTS[1], u, v, cells[1], corners[1])
            u, v = 3 * deep - moves, 7 * along / (0.6 + deep)
            streaks = 1 + 0.16 * noise_2d_cached(seed, DRIFTS[2], u, v, cells[2], corners[2])
            u, v = 7 * deep, 19 * along / (0.6 + deep) + moves
            streaks += 0.07 * noise_2d_cached(seed, DRIFTS[3], u, v, cells[3], corners[3])
            total = 0.0
            for n in range(lobes.shape[0]):
                place, width, reach, strength = lobes[n]
                fan = width * (0.7 + 0.8 * deep / reach)
                off = (along - place) / fan
                far = deep / reach
                total += strength * np.exp(-0.5 * off * off - 1.7 * far - 1.3 * far * far)
            light[y, x] += np.float32(total * streaks)


@numba.njit(nogil=True, cache=True, fastmath=True, error_model="numpy")
def _tint_light(light: Plane, base: NDArray[np.float32], out: Picture) -> None:
    """Colour light by its strength: pale where strong, redder than the base colour where weak."""
    for c in range(3):
        power = np.float32(np.log2(base[c]))
        for y in range(light.shape[0]):
            for x in range(light.shape[1]):
                s = light[y, x]
                deeper = np.float32(1) / (np.float32(0.4) + np.float32(1.1) * s)
                out[c, y, x] = s * exp2(power * deeper)
