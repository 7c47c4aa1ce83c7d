"""Grain."""

import math
from dataclasses import replace
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BeforeValidator

from yearning.core.buffers import new_array
from yearning.core.film_gauges import GAUGE_WIDTH, as_gauge
from yearning.core.noise import fields
from yearning.core.noise.film_grain import add_grain
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.noise.scan_response import ScanResponse
from yearning.core.picture import Picture, Size
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


Prepared = NDArray[np.float32] | ScanResponse | None
"""Of a gauge, rms in shadows, mid-tones and highlights; of a scan, its grain; None where no scan is
named."""

GAUGES = (8, 16, 35, "free")


class Grain(Lively, AddsTexture, Treatment[Prepared]):
    """Film grain, new on every frame, the same for ever.

    Each gauge's grain follows Selwyn's law: σ of density times √area is constant, so a smaller
    gauge, enlarged more, shows larger and stronger grain. `free` takes strength and size as given;
    `scan` takes all that was measured on a scan of even film.
    """

    kind = "grain"
    stage = "film"
    summary = "film grain, new on every frame"
    keywords = ("noise", "film", "texture", "iso", "16 mm", "35 mm", "8 mm")
    effect = "grain"
    shown = {"gauge": 8, "coarseness": "coarse"}
    max_added_change = 0.08

    gauge: Annotated[Literal[8, 16, 35, "free", "scan"], BeforeValidator(as_gauge)] = setting(
        16, unit="choice", label="Gauge", help="Width of the film in mm, free, or as on a scan."
    )
    scan: str = setting(
        "",
        unit="grain",
        label="Scan",
        visible_if={"gauge": ["scan"]},
        help="Grain that was measured on a scan of even film.",
    )
    scan_size: float = setting(
        1.0,
        0.25,
        4,
        unit="factor",
        minimum=0.05,
        maximum=20,
        label="Size",
        visible_if={"gauge": ["scan"]},
        help="1: the scan's frame is as high as the picture. More: larger grain.",
    )
    scan_strength: float = setting(
        1.0,
        0,
        3,
        unit="factor",
        minimum=0,
        maximum=20,
        label="Strength",
        visible_if={"gauge": ["scan"]},
        help="1: as strong as on the scan.",
    )
    coarseness: Literal["fine", "medium", "coarse"] = setting(
        "medium",
        unit="choice",
        label="Coarseness",
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
    clumping: float = setting(
        0.25,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Clumping",
        visible_if={"gauge": list(GAUGES)},
        help="How much grains gather in larger flecks.",
    )
    softness: float = setting(
        0.0,
        0,
        4,
        unit="px@1080",
        minimum=0,
        maximum=50,
        label="Softness",
        visible_if={"gauge": list(GAUGES)},
        help="Blur of the grain; it weakens it, as a soft print does.",
    )
    colour: float = setting(
        0.25,
        0,
        1,
        minimum=0,
        maximum=1,
        label="Colour",
        visible_if={"gauge": list(GAUGES)},
        help="From grey grain to grain of three dyes.",
    )
    response_shadow: float = setting(
        0.4,
        0,
        1,
        minimum=0,
        label="In shadows",
        visible_if={"gauge": list(GAUGES)},
        help="How strongly it shows in black.",
    )
    response_mid: float = setting(
        1.0,
        0,
        1,
        minimum=0,
        label="In mid-tones",
        visible_if={"gauge": list(GAUGES)},
        help="How strongly it shows in mid-grey.",
    )
    response_high: float = setting(
        0.3,
        0,
        1,
        minimum=0,
        label="In highlights",
        visible_if={"gauge": list(GAUGES)},
        help="How strongly it shows in white.",
    )
    interval: int = setting(
        1,
        1,
        12,
        unit="frames",
        minimum=1,
        label="New grain every",
        help="In frames; between, it stays.",
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

    def prepare(self, context: FrameContext) -> Prepared:
        """The grain's rms by tone, and a scan's grain."""
        if self.gauge == "scan":
            if not self.scan:
                return None
            return ScanResponse.of(context.assets.grain(self.scan), self.scan_strength)
        rms, _ = self.rms_and_sigma(context.full_size)
        response = [self.response_shadow, self.response_mid, self.response_high]
        return np.array(response, np.float32) * np.float32(rms)

    def apply(self, band: Band[Prepared]) -> None:
        """The picture with grain added, weighed by luma."""
        context, prepared = band.context, band.prepared
        if prepared is None:
            band.copy_through()
            return
        if isinstance(prepared, ScanResponse):
            noise = self._scan_noise(prepared.grain, context, band.rows)
            prepared.lay(band.picture, noise, band.out, band.out_top)
            return
        noise_of = _kept_fields if context.size.height <= KEPT_LINES else _fields
        made = noise_of(
            context.size,
            context.full_size,
            self.rms_and_sigma(context.full_size)[1],
            self.softness,
            3 if self.colour else 1,
            self.clumping > 0,
            self.seed,
            context.frame // self.interval,
            band.rows,
        )
        colour, clump = np.float32(self.colour), np.float32(self.clumping)
        add_grain(band.picture, made, colour, clump, prepared, band.out, band.out_top)

    def layer(self, band: Band[Prepared]) -> Coverage:
        """The grain on mid-grey, whatever its response to tones."""
        if self.gauge == "scan":
            return super().layer(band)
        rms = np.full(3, self.rms_and_sigma(band.context.full_size)[0], np.float32)
        return super().layer(replace(band, prepared=rms))

    def _scan_noise(
        self, grain: PreparedGrain, context: FrameContext, rows: tuple[int, int]
    ) -> Picture:
        noise_of = _kept_noise if context.size.height <= KEPT_LINES else PreparedGrain.noise
        full = context.full_size
        pitch = grain.lines / full.height / self.scan_size
        frame = context.frame // self.interval
        return noise_of(grain, pitch, context.size, full, self.seed, frame, rows)

    def rms_and_sigma(self, size: Size) -> tuple[float, float]:
        """Rms of mid-grey code at 1080 lines, and a grain's σ in px@1080, on footage of `size`."""
        if self.gauge == "free":
            return self.strength, self.size / 2.355  # a gaussian's full width at half height
        assert self.gauge != "scan", "its grain is not of a gauge"
        micron = 1000.0 * GAUGE_WIDTH[self.gauge] / (size.width / size.scale)
        granularity, cloud = SPEEDS[self.coarseness]
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

_kept_noise = lru_cache(KEPT)(PreparedGrain.noise)
