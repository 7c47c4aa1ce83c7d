"""Grain."""

import math
from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Literal

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import BeforeValidator

from yearning.core.buffers import new_array
from yearning.core.colour.luma import bt709_luma
from yearning.core.film_gauges import GAUGE_WIDTH, as_gauge
from yearning.core.kernel_arrays import new_line
from yearning.core.noise import fields
from yearning.core.picture import Picture, Plane, Size
from yearning.core.smoothstep import smoothstep
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import AddsTexture, Coverage, Lively
from yearning.core.treatment.settings import setting

SPEEDS = {"fine": (0.006, 4.0), "medium": (0.010, 5.5), "coarse": (0.016, 8.0)}
"""Diffuse rms granularity (the σ of density under a 48 µm aperture, ISO 10505) and the σ of a
dye cloud in µm. Common practice, no source: fine negatives are near 6/1000, fast ones near 16."""

APERTURE_SIDE = math.sqrt(math.pi) * 24.0
"""µm; side of the square as large as the standard's round aperture, 48 µm across."""

CODE_PER_DENSITY = 0.7
"""Mid-grey code value moved by a unit of negative density: ln 10 / (0.6 · 2.4) · 0.44, for a
negative's gamma of 0.6 and a display's of 2.4. Common practice, no source."""

CLUMP_SIZE = 3.0
"""Clumps are this much larger than grains."""

CLUMP_LAYER = 3
"""Which of a seed's fields is that of clumps; those before it are the dyes'."""


KEPT_LINES, KEPT = 600, 24
"""Of pictures of so many lines at the most, the noise of so many bands is kept: on a page and on a
sheet, what is changed often lies before the grain, and the frame stays."""


class Grain(Lively, AddsTexture, Treatment[NDArray[np.float32]]):
    """Film grain, new on every frame, the same for ever.

    Each gauge's grain follows Selwyn's law: σ of density times √area is constant, so a smaller
    gauge, enlarged more, shows larger and stronger grain. `free` takes strength and size as given.
    """

    kind = "grain"
    stage = "film"
    summary = "film grain, new on every frame"
    keywords = ("noise", "film", "texture", "iso", "16 mm", "35 mm", "8 mm")
    effect = "grain"
    shown = {"gauge": 8, "speed": "coarse"}
    max_added_change = 0.08

    gauge: Annotated[Literal[8, 16, 35, "free"], BeforeValidator(as_gauge)] = setting(
        16, unit="choice", label="Gauge", help="Width of the film in mm, or free."
    )
    speed: Literal["fine", "medium", "coarse"] = setting(
        "medium",
        unit="choice",
        label="Speed",
        visible_if={"gauge": [8, 16, 35]},
        help="Slow films have fine grain, fast ones coarse.",
    )
    strength: float = setting(
        0.03,
        0,
        0.2,
        minimum=0,
        label="Strength",
        visible_if={"gauge": ["free"]},
        help="Rms of the grain in mid-grey, of full scale.",
    )
    size: float = setting(
        2.0,
        0.5,
        12,
        unit="px@1080",
        minimum=0.1,
        maximum=100,
        label="Size",
        visible_if={"gauge": ["free"]},
        help="Diameter of a grain.",
    )
    clump: float = setting(
        0.25,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Clump",
        help="How much grains gather in larger flecks.",
    )
    soft: float = setting(
        0.0,
        0,
        4,
        unit="px@1080",
        minimum=0,
        maximum=50,
        label="Soft",
        help="Blur of the grain; it weakens it, as a soft print does.",
    )
    colour: float = setting(
        0.25,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Colour",
        help="From grey grain to grain of three dyes.",
    )
    response_shadow: float = setting(
        0.4, 0, 1, minimum=0, label="In shadows", help="How strongly it shows in black."
    )
    response_mid: float = setting(
        1.0, 0, 1, minimum=0, label="In mid-tones", help="How strongly it shows in mid-grey."
    )
    response_high: float = setting(
        0.3, 0, 1, minimum=0, label="In highlights", help="How strongly it shows in white."
    )
    cadence: int = setting(
        1, 1, 12, unit="frames", minimum=1, label="Cadence", help="New grain every so many frames."
    )
    seed: int = setting(
        1,
        0,
        9999,
        unit="seed",
        minimum=0,
        maximum=2**32 - 1,
        label="Seed",
        help="Another seed, other grain.",
    )

    def prepare(self, context: FrameContext) -> NDArray[np.float32]:
        """The grain's rms in shadows, mid-tones and highlights."""
        rms, _ = self.rms_and_sigma(context.full_size)
        response = [self.response_shadow, self.response_mid, self.response_high]
        return np.array(response, np.float32) * np.float32(rms)

    def apply(self, band: Band[NDArray[np.float32]]) -> None:
        """The picture with grain added, weighed by luma."""
        context = band.context
        noise_of = _kept_fields if context.size.height <= KEPT_LINES else _fields
        made = noise_of(
            context.size,
            context.full_size,
            self.rms_and_sigma(context.full_size)[1],
            self.soft,
            3 if self.colour else 1,
            self.clump > 0,
            self.seed,
            context.frame // self.cadence,
            band.rows,
        )
        colour, clump = np.float32(self.colour), np.float32(self.clump)
        _grained(band.picture, made, colour, clump, band.prepared, band.out, band.out_top)

    def layer(self, band: Band[NDArray[np.float32]]) -> Coverage:
        """The grain on mid-grey, whatever its response to tones."""
        rms = np.full(3, self.rms_and_sigma(band.context.full_size)[0], np.float32)
        return super().layer(replace(band, prepared=rms))

    def rms_and_sigma(self, size: Size) -> tuple[float, float]:
        """Rms of mid-grey code at 1080 lines, and a grain's σ in px@1080, on footage of `size`."""
        if self.gauge == "free":
            return self.strength, self.size / 2.355  # a gaussian's full width at half height
        micron = 1000.0 * GAUGE_WIDTH[self.gauge] / (size.width / size.scale)
        granularity, cloud = SPEEDS[self.speed]
        # white noise under a gaussian of σ has, for each unit of power, the variance 1 / (4π σ²)
        spread = math.sqrt(cloud**2 + micron**2 / 12)
        density = (
            granularity / _seen_through(APERTURE_SIDE, cloud) / math.sqrt(4 * math.pi) / spread
        )
        return CODE_PER_DENSITY * density, cloud / micron


def _seen_through(side: float, sigma: float) -> float:
    """σ of the mean over a square `side` wide of unit white noise under a gaussian of `sigma`.

    Along each axis the variance of the mean is [erf(L/2σ) − 2σ/(L√π)·(1 − e^(−L²/4σ²))] / L, the
    field's correlation, a gaussian of √2·σ, averaged over pairs of places; for large squares it
    is 1/L, which is Selwyn's law.
    """
    t = side / (2 * sigma)
    return (math.erf(t) - (1 - math.exp(-t * t)) / (t * math.sqrt(math.pi))) / side


def _fields(
    size: Size,
    full_size: Size,
    sigma: float,
    soft: float,
    dyes: int,
    has_clumps: bool,
    seed: int,
    frame: int,
    rows: tuple[int, int],
) -> Picture:
    """The noise of each dye and, last, of clumps, on rows of a frame; not to be written to."""
    top, bottom = rows
    made = new_array((dyes + 1, bottom - top, size.width))
    fine = fields.noise_kernel(size, full_size, sigma, soft)
    for layer in range(dyes):
        fields.fill_noise(*fine, seed, layer, frame, top, made[layer])
    if has_clumps:
        wide = fields.noise_kernel(size, full_size, CLUMP_SIZE * sigma, soft)
        fields.fill_noise(*wide, seed, CLUMP_LAYER, frame, top, made[dyes])
    else:
        made[dyes] = 0
    return made


_kept_fields = lru_cache(KEPT)(_fields)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _grained(
    picture: Picture,
    made: Picture,
    colour: np.float32,
    clump: np.float32,
    rms: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    """Add grain to a band: noise of each dye and of clumps, weighted by tone."""
    layers = made.shape[0] - 1
    dyes, clumps = made[:layers], made[layers]
    grey, own, flecks = _shares(colour, clump, layers)
    if layers == 1:
        _laid_grey(picture, dyes[0], clumps, grey + own, flecks, rms, out, out_top)
    else:
        _laid(picture, dyes, clumps, grey, own, flecks, rms, out, out_top)


@numba.njit(nogil=True, cache=True, fastmath=True)
def _laid_grey(
    picture: Picture,
    fine: Plane,
    clumps: Plane,
    own: np.float32,
    flecks: np.float32,
    rms: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    """Add the same grain to all planes."""
    width = picture.shape[2]
    weight, shared = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        _responding(picture, y, rms, weight)
        grain, fleck = fine[y], clumps[y]
        for x in range(width):
            shared[x] = weight[x] * (own * grain[x] + flecks * fleck[x])
        for c in range(3):
            line, to = picture[c, y], out[c, out_top + y]
            for x in range(width):
                to[x] = line[x] + shared[x]


@numba.njit(nogil=True, cache=True, fastmath=True)
def _laid(
    picture: Picture,
    dyes: Picture,
    clumps: Plane,
    grey: np.float32,
    own: np.float32,
    flecks: np.float32,
    rms: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    """Add each plane's grain, and what they share."""
    width = picture.shape[2]
    weight, shared = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        _responding(picture, y, rms, weight)
        red, green, blue, fleck = dyes[0, y], dyes[1, y], dyes[2, y], clumps[y]
        for x in range(width):
            shared[x] = grey * (red[x] + green[x] + blue[x]) + flecks * fleck[x]
        for c in range(3):
            line, grain, to = picture[c, y], dyes[c, y], out[c, out_top + y]
            for x in range(width):
                to[x] = line[x] + weight[x] * (shared[x] + own * grain[x])


@numba.njit(nogil=True, cache=True, fastmath=True, inline="always")
def _responding(
    picture: Picture, y: int, rms: NDArray[np.float32], weight: NDArray[np.float32]
) -> None:
    """How strongly grain shows along row `y`: by luma, smoothly from end to middle to end."""
    zero, one, two = np.float32(0), np.float32(1), np.float32(2)
    shadow, mid, high = rms[0], rms[1], rms[2]
    for x in range(weight.shape[0]):
        luma = bt709_luma(picture[0, y, x], picture[1, y, x], picture[2, y, x])
        side = min(max(two * luma - one, -one), one)
        end = shadow if side < zero else high
        weight[x] = end + (mid - end) * smoothstep(one - abs(side))


@numba.njit(nogil=True, cache=True)
def _shares(
    colour: np.float32, clump: np.float32, dyes: int
) -> tuple[np.float32, np.float32, np.float32]:
    """Shares of the dyes' sum, of each dye itself, and of clumps, for unit variance in all.

    The grey part of three dyes n is g = (n1 + n2 + n3) / √3, so a·g + b·n has the variance
    a² + b² + 2ab/√3.
    """
    one = np.float32(1)
    fine = (one - clump) / np.sqrt((one - clump) ** 2 + clump**2)
    flecks = clump / np.sqrt((one - clump) ** 2 + clump**2)
    if dyes == 1:
        return np.float32(0), fine, flecks
    root = one / np.sqrt(np.float32(3))
    a, b = one - colour, colour
    unit = fine / np.sqrt(a * a + b * b + np.float32(2) * a * b * root)
    return np.float32(unit * a * root), np.float32(unit * b), flecks
