"""Static."""

import math
from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.noise import fields
from yearning.core.noise.fields import uniforms
from yearning.core.picture import Picture, Size
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import AddsTexture, Lively
from yearning.core.treatment.settings import setting

FULL = 0.42
"""Rms of the noise at full strength, in code values."""

DROPOUTS = 510
"""A layer of random numbers."""

SECOND = 24

MONO, OWN = 520, 521
"""Layers of noise: the one that all channels share, and the first of their own."""


class Noise(NamedTuple):
    """The noise kernel of a frame, its pattern's number, and its dropouts."""

    kernel: fields.NoiseKernel
    pattern: int
    dropouts: NDArray[np.float64]


class Static(Lively, AddsTexture, Treatment[Noise]):
    """A weak signal: noise over the picture, and dropouts that flash along a line and fade.

    Gaussian noise of `size` is added, the same in R, G and B or one of its own in each; it is drawn
    by (seed, pattern, place), the pattern being the frame by `hold`, and so are the dropouts, whose
    number is as a Poisson process brings them. The form is common practice, no source.
    """

    kind = "static"
    stage = "ink & signal"
    summary = "the noise and dropouts of a weak signal"
    keywords = ("noise", "snow", "glitch", "bad signal", "television", "dropout", "interference")
    shown = {"strength": 0.3, "size": 3, "dropouts": 480}
    max_added_change = 0.5

    strength: float = setting(
        0.14, 0, 1, minimum=0, maximum=2, label="Strength", help="How loud the noise is."
    )
    size: float = setting(
        1.3,
        0.3,
        12,
        unit="px@1080",
        minimum=0.1,
        maximum=100,
        label="Size",
        help="Of its specks, as σ.",
    )
    colour: float = setting(
        0.3,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Colour",
        help="How far each channel has its own noise.",
    )
    hold: int = setting(
        1,
        1,
        12,
        unit="frames",
        minimum=1,
        maximum=1000,
        label="Hold",
        help="Frames a pattern stays.",
    )
    dropouts: float = setting(
        40.0,
        0,
        480,
        unit="per second",
        minimum=0,
        maximum=4000,
        label="Dropouts",
        help="In 24 patterns.",
    )
    seed: int = setting(1, 0, 9999, unit="seed", label="Seed", help="Another seed, other noise.")

    def prepare(self, context: FrameContext) -> Noise:
        """The noise of this frame."""
        pattern = context.frame // self.hold
        kernel = fields.noise_kernel(context.size, context.full_size, self.size, 0.0)
        return Noise(kernel, pattern, self._dropouts(pattern, context.size))

    def _dropouts(self, pattern: int, size: Size) -> NDArray[np.float64]:
        """Left, top, bottom, length in pixels and brightness of each, shape `(n, 5)`."""
        total = 0.0
        found: list[list[float]] = []
        while True:
            u = uniforms(self.seed, DROPOUTS, pattern, len(found), 6)
            total -= math.log(u[0])
            if total >= self.dropouts / SECOND:
                return np.array(found, np.float64).reshape(-1, 5)
            high, top = (1.2 + 2.4 * u[1]) * size.scale, u[2] * size.height
            long = (30 + 330 * u[3] ** 2) * size.scale
            bright = 0.9 if u[4] < 0.8 else -0.7
            found.append([u[5] * size.width, top, top + high, long, bright])

    def apply(self, band: Band[Noise]) -> None:
        """The picture with noise."""
        noise: Noise = band.prepared
        rows, width = band.picture.shape[1:]
        planes = new_array((4 if self.colour else 1, rows, width))
        for layer, plane in enumerate(planes):
            number = MONO if layer == 0 else OWN + layer
            fields.fill_noise(*noise.kernel, self.seed, number, noise.pattern, band.top, plane)
        # both together have unit variance
        shared = np.float32((1 - self.colour) / math.hypot(self.colour, 1 - self.colour))
        own = np.float32(self.colour / math.hypot(self.colour, 1 - self.colour))
        by = np.float32(FULL * self.strength)
        _add(band.picture, planes, by * shared, by * own, band.out, band.out_top)
        _drop(noise.dropouts, band.top, *band.result_rows)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _add(
    picture: Picture,
    noise: Picture,
    shared: np.float32,
    own: np.float32,
    out: Picture,
    out_top: int,
) -> None:
    for c in range(3):
        for y in range(picture.shape[1]):
            to, line, grey = out[c, out_top + y], picture[c, y], noise[0, y]
            if noise.shape[0] == 1:
                for x in range(to.shape[0]):
                    to[x] = line[x] + shared * grey[x]
            else:
                coloured = noise[1 + c, y]
                for x in range(to.shape[0]):
                    to[x] = line[x] + (shared * grey[x] + own * coloured[x])


@numba.njit(nogil=True, cache=True)
def _drop(dropouts: NDArray[np.float64], top: int, whole: Picture, start: int, end: int) -> None:
    """Flashes along lines: at once there, then fading as e^(−3s) of their length."""
    out = whole[:, start:end]
    rows, width = out.shape[1:]
    for n in range(dropouts.shape[0]):
        left, first, last, long, bright = dropouts[n]
        for y in range(max(int(first) - top, 0), min(math.ceil(last) - top, rows)):
            high = min(last, top + y + 1.0) - max(first, float(top + y))
            for x in range(int(left), min(int(left + 2 * long) + 1, width)):
                covered = min(x + 1 - left, 1.0)
                fading = math.exp(-3.0 * max(x + 0.5 - left, 0.0) / long)
                more = np.float32(bright * high * covered * fading)
                for c in range(3):
                    out[c, y, x] += more
