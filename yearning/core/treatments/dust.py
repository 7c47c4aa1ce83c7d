"""Dust."""

import math
from collections.abc import Iterator
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import StringConstraints

from yearning.core.image.marks import Mark, MarkArrays, draw_marks, mark_arrays
from yearning.core.noise.fields import uniforms
from yearning.core.noise.value_noise import noise_1d
from yearning.core.picture import Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import DrawsMarks, Lively, PaintsOver
from yearning.core.treatment.settings import setting

MarkName = Annotated[
    str, StringConstraints(pattern=r"^(speck|hair|blotch|scratch) -?\d+\.\d+$|^gate hair \d+$")
]
"""A mark's name: its kind, the frame or reel it came with, and its number there."""

SECOND = 24
"""Frames of a second of film."""

REEL = 48
"""Scratches begin in reels of this many frames, and last up to `REELS` of them."""
REELS = 4

BLACK = 14 / 255
"""Code value of dark dust: it lets light by at its edges. Common practice, no source."""

SHARPEST = 0.3
"""px@1080: half the least width of an edge."""

SPECKS, HAIRS, BLOTCHES, SCRATCHES, GATE = 400, 401, 402, 403, 404
"""Layers of random numbers, by kind."""

JOINTS = 26
"""Points of a hair, and twice that of a scratch."""


class Dust(Lively, DrawsMarks, PaintsOver, Treatment[MarkArrays]):
    """Dirt on the film: specks, hairs, blotches, scratches that wander, and hairs in the gate.

    Every mark has a name, by its frame and its number there, and is drawn by (seed, name) alone:
    more of them leaves those that are there where they are, and one that is taken out stays out
    whatever else is set. Numbers are as a Poisson process brings them. A speck, a hair or a blotch
    lives one frame, since it is on one frame of the film; a scratch runs along many; a gate hair
    stays and trembles. What is on a negative is white, what is on the print black.
    """

    kind = "dust"
    stage = "film"
    summary = "specks, hairs and scratches; each can be taken out"
    keywords = ("dirt", "scratches", "hairs", "specks", "old film", "worn print")
    shown = {"specks": 240, "hairs": 24, "blotches": 12, "scratches": 6, "gate_hair": 2, "size": 2}
    handle = "marks"
    max_added_change = 0.02

    specks: float = setting(
        30.0,
        0,
        240,
        unit="per second",
        minimum=0,
        maximum=2000,
        label="Specks",
        help="In a second of film, 24 frames.",
    )
    hairs: float = setting(
        2.0,
        0,
        24,
        unit="per second",
        minimum=0,
        maximum=240,
        label="Hairs",
        help="In a second of film, 24 frames.",
    )
    blotches: float = setting(
        0.5,
        0,
        12,
        unit="per second",
        minimum=0,
        maximum=120,
        label="Blotches",
        help="In a second of film, 24 frames.",
    )
    scratches: float = setting(
        0.5,
        0,
        6,
        unit="per second",
        minimum=0,
        maximum=60,
        label="Scratches",
        help="Begun in a second of film.",
    )
    gate_hair: float = setting(
        0.0, 0, 4, unit="count", minimum=0, maximum=12, label="Gate hairs", help="How many stay."
    )
    polarity: Literal["white", "black", "both"] = setting(
        "both", unit="choice", label="Polarity", help="Dirt on the negative, on the print, on both."
    )
    size: float = setting(
        1.0, 0.3, 3, unit="factor", minimum=0.05, maximum=20, label="Size", help="Of every mark."
    )
    brightness: float = setting(
        0.784,
        0,
        1,
        minimum=0,
        maximum=2,
        label="Brightness",
        visible_if={"polarity": ["both", "white"]},
        help="How light white marks are.",
    )
    softness: float = setting(
        1.0, 0.2, 4, unit="factor", minimum=0, maximum=50, label="Softness", help="Of their edges."
    )
    strength: float = setting(
        1.0, 0, 1, minimum=0, maximum=1, label="Strength", help="How much marks hide."
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, other dirt.")
    removed: tuple[MarkName, ...] = setting(
        (), unit="marks", label="Removed", help="Marks that are not to be there."
    )

    def prepare(self, context: FrameContext) -> MarkArrays:
        """The frame's marks."""
        marks = list(self.marks(context.frame, context.full_size))
        return mark_arrays(marks, context.size, context.full_size)

    def apply(self, band: Band[MarkArrays]) -> None:
        """The picture with dirt on it."""
        band.copy_through()
        draw_marks(band.prepared, *band.result_rows, band.top)

    def marks(self, frame: int, full_size: Size) -> Iterator[Mark]:
        """Return the frame's marks, in px@1080.

        Args:
            frame: of the footage.
            full_size: of the footage.
        """
        wide = full_size.width / full_size.scale
        out = set(self.removed)
        for mark in self._all(frame, wide):
            if mark.name not in out:
                line = mark.line * np.array([1, 1, 1, self.strength], np.float32)
                yield mark._replace(line=line, soft=max(mark.soft * self.softness, SHARPEST))

    def _all(self, frame: int, wide: float) -> Iterator[Mark]:
        for n, u in _draw_arrivals(self.seed, BLOTCHES, frame, self.blotches / SECOND):
            yield self._blotch(f"blotch {frame}.{n}", u, wide)
        for n, u in _draw_arrivals(self.seed, SPECKS, frame, self.specks / SECOND):
            yield self._speck(f"speck {frame}.{n}", u, wide)
        for n, u in _draw_arrivals(self.seed, HAIRS, frame, self.hairs / SECOND):
            yield self._hair(f"hair {frame}.{n}", u, wide)
        last = frame // REEL
        for reel in range(last - REELS, last + 1):
            for n, u in _draw_arrivals(self.seed, SCRATCHES, reel, self.scratches * REEL / SECOND):
                age = frame - reel * REEL - int(u[0] * REEL)
                lives = int(10 - 34 * math.log(u[1]))
                if 0 <= age < min(lives, (REELS - 1) * REEL):
                    yield self._scratch(f"scratch {reel}.{n}", u, wide, frame, age, lives)
        for n in range(math.ceil(self.gate_hair)):
            u = uniforms(self.seed, GATE, n, 0, 40)
            yield self._gate_hair(f"gate hair {n}", u, wide, frame, min(1.0, self.gate_hair - n))

    def _tone(self, u: float) -> tuple[float, float, float]:
        white = self.polarity == "white" or (self.polarity == "both" and u < 0.6)
        return (self.brightness,) * 3 if white else (BLACK,) * 3

    def _speck(self, name: str, u: NDArray[np.float64], wide: float) -> Mark:
        """Grit: most of it tiny, some with a bent outline, a few out of focus."""
        radius = self.size * min(1.35 * math.exp(0.68 * _normal(u[0], u[1])) + 0.4, 11.0)
        far = u[2] < 0.12
        stretch = 1.6 * radius * u[3] ** 2
        turn = 2 * math.pi * u[4]
        x, y = wide * u[5], 1080 * u[6]
        wave: NDArray[np.float32] | None = _wave(u, 0.3, 0.30)
        opacity = (0.35 if far else 0.75) + 0.25 * u[15]
        place = [x, y, radius, opacity]
        line = np.array([place], np.float32)
        if stretch > 0.4 * radius:
            end = [
                x + stretch * math.cos(turn),
                y + stretch * math.sin(turn),
                0.6 * radius,
                opacity,
            ]
            line, wave = np.array([place, end], np.float32), None
        soft = radius * (0.9 if far else 0.28) + 0.35
        return Mark(name, line, soft, self._tone(u[16]), wave)

    def _blotch(self, name: str, u: NDArray[np.float64], wide: float) -> Mark:
        """A drop that has dried: wide, faint and soft."""
        radius = self.size * (9 + 26 * u[0] ** 2)
        wave = _wave(u, 0.2, 0.22)
        line = np.array([[wide * u[1], 1080 * u[2], radius, 0.25 + 0.4 * u[3]]], np.float32)
        return Mark(name, line, 0.25 * radius + 1.5 * u[4], self._tone(u[16]), wave)

    def _hair(self, name: str, u: NDArray[np.float64], wide: float) -> Mark:
        """A fibre that curls: its bend sways along it, and so does its depth."""
        length = self.size * min(34 * math.exp(0.55 * _normal(u[0], u[1])) + 14, 260.0)
        thick = self.size**0.5 * (0.55 + 0.75 * u[2])
        x, y = _curl(length, u)
        line = np.stack(
            [x + wide * u[5], y + 1080 * u[6], *_taper_hair(thick, 0.6 + 0.35 * u[7])], 1
        )
        return Mark(name, line.astype(np.float32), 0.55 + 0.5 * u[8], self._tone(u[16]))

    def _scratch(
        self, name: str, u: NDArray[np.float64], wide: float, frame: int, age: int, lives: int
    ) -> Mark:
        """A line along the film: it wanders, breaks up, and fades in and out."""
        own = 1 + int(u[2] * 2**30)
        along = np.linspace(0, 1, 2 * JOINTS)
        film = frame + along  # a frame's foot is where the next one's head is
        sway = np.array([float(noise_1d(own, 410, t / 30)) for t in film])
        shake = np.array([float(noise_1d(own, 411, t * 1.3)) for t in film])
        x = wide * u[3] + 46 * sway + 1.1 * shake
        worn = np.array([float(noise_1d(own, 412, 3.1 * t)) for t in film])
        fine = np.array([float(noise_1d(own, 413, 17 * t)) for t in film])
        ends = min(1.0, (age + 1) / 6, (lives - age) / 6)
        opacity = np.clip(0.42 + 0.5 * worn + 0.25 * fine, 0, 0.85) * (0.5 + 0.5 * u[4]) * ends
        radius = np.full_like(x, self.size**0.5 * (0.35 + 0.55 * u[5] ** 2))
        line = np.stack([x, 1080 * (1.04 * along - 0.02), radius, opacity], 1)
        return Mark(name, line.astype(np.float32), 0.5, self._tone(u[16]))

    def _gate_hair(
        self, name: str, u: NDArray[np.float64], wide: float, frame: int, strength: float
    ) -> Mark:
        """A fibre caught at the picture's edge: always there, its free end trembling."""
        own = 1 + int(u[2] * 2**30)
        length = self.size * (60 + 150 * u[0])
        x, y = _curl(length, u)
        tremble = np.linspace(0, 1, JOINTS) ** 1.6 * length * 0.035
        x = x - x[0] + tremble * float(noise_1d(own, 420, frame * 0.9))
        y = y - y[0] + tremble * float(noise_1d(own, 421, frame * 0.9))
        side = int(u[3] * 4)
        inward = (0.0, math.pi / 2, math.pi, -math.pi / 2)[side]
        lean = inward + 1.4 * (u[4] - 0.5) - math.atan2(y[-1], x[-1])
        c, s = math.cos(lean), math.sin(lean)
        at = 0.1 + 0.8 * u[5]
        foot = ((-3.0, 1080 * at), (wide * at, -3.0), (wide + 3, 1080 * at), (wide * at, 1083.0))
        thick = self.size**0.5 * (1.0 + 0.8 * u[6])
        radius, opacity = _taper_hair(thick, strength * (0.8 + 0.15 * u[7]))
        opacity[:4] = opacity[4]
        line = np.stack(
            [foot[side][0] + c * x - s * y, foot[side][1] + s * x + c * y, radius, opacity], 1
        )
        tone = (self.brightness,) * 3 if self.polarity == "white" else (BLACK,) * 3
        return Mark(name, line.astype(np.float32), 0.9, tone)


def _draw_arrivals(
    seed: int, layer: int, when: int, expected: float
) -> Iterator[tuple[int, NDArray[np.float64]]]:
    """Draw the marks of a frame, a Poisson number of them, with 20 random numbers each.

    They come as in a process in time, one after the other at exponential distances, until
    `expected` is over: of a higher number the first ones are the same.
    """
    total, n = 0.0, 0
    while True:
        u = uniforms(seed, layer, when, n, 20)
        total -= math.log(u[19])
        if total >= expected:
            return
        yield n, u
        n += 1


def _wave(u: NDArray[np.float64], least: float, deep: float) -> NDArray[np.float32]:
    """Waves around an outline, and their phases."""
    return np.stack([(u[7:11] - least) * deep, 2 * np.pi * u[11:15]]).astype(np.float32)


def _normal(u: float, v: float) -> float:
    """A number of the normal distribution (Box & Muller 1958)."""
    return math.sqrt(-2 * math.log(u)) * math.cos(2 * math.pi * v)


def _curl(length: float, u: NDArray[np.float64]) -> tuple[Any, Any]:
    """A curled line of `length`, from its middle: its bend is a wave with a steady part."""
    along = np.linspace(0, 1, JOINTS)
    steady = 3.4 * (2 * u[9] - 1)
    turn = 2 * np.pi * u[10] + steady * along
    for k, depth in enumerate((2.2, 1.3, 0.8)):
        turn = turn + depth * (u[11 + k] - 0.3) * np.sin(
            2 * np.pi * ((k + 1) * 0.7 * along + u[14 + k % 2])
        )
    step = length / (JOINTS - 1)
    x, y = np.cumsum(np.cos(turn)) * step, np.cumsum(np.sin(turn)) * step
    return x - x.mean(), y - y.mean()


def _taper_hair(thick: float, opacity: float) -> tuple[Any, Any]:
    """Radii and opacities along a hair: thinner towards its ends."""
    along = np.linspace(-1, 1, JOINTS)
    return thick * (1 - 0.55 * along**4), np.full(JOINTS, opacity) * (1 - 0.5 * along**8)
