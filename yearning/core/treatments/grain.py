"""Grain."""

import math
from typing import Annotated, Any, Literal

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import BeforeValidator

from yearning.core import fields
from yearning.core.colour.luma import KB, KG, KR
from yearning.core.memory import new_array, new_like
from yearning.core.picture import Picture, Plane, Size
from yearning.core.treatment import Moment, Treatment, setting

GAUGE_WIDTH = {8: 5.79, 16: 10.26, 35: 21.95}
"""Width of the picture on the film in mm, by gauge (SMPTE standards; from memory)."""

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


def _as_gauge(value: Any) -> Any:
    return int(value) if value in ("8", "16", "35") else value


class Grain(Treatment):
    """Film grain, new on every frame, the same for ever.

    Each gauge's grain follows Selwyn's law: σ of density times √area is constant, so a smaller
    gauge, enlarged more, shows larger and stronger grain. `free` takes strength and size as given.
    """

    kind = "grain"
    stage = "film"
    says = "film grain, new on every frame"
    lively = True

    gauge: Annotated[Literal[8, 16, 35, "free"], BeforeValidator(_as_gauge)] = setting(
        16, unit="choice", label="Gauge", help="Width of the film in mm, or free."
    )
    speed: Literal["fine", "medium", "coarse"] = setting(
        "medium",
        unit="choice",
        label="Speed",
        only_if={"gauge": [8, 16, 35]},
        help="Slow films have fine grain, fast ones coarse.",
    )
    strength: float = setting(
        0.03,
        0,
        0.2,
        least=0,
        label="Strength",
        only_if={"gauge": ["free"]},
        help="Rms of the grain in mid-grey, of full scale.",
    )
    size: float = setting(
        2.0,
        0.5,
        12,
        unit="px@1080",
        least=0.1,
        most=100,
        label="Size",
        only_if={"gauge": ["free"]},
        help="Diameter of a grain.",
    )
    clump: float = setting(
        0.25, 0, 1, least=0, most=1, label="Clump", help="How much grains gather in larger flecks."
    )
    soft: float = setting(
        0.0,
        0,
        4,
        unit="px@1080",
        least=0,
        most=50,
        label="Soft",
        help="Blur of the grain; it weakens it, as a soft print does.",
    )
    colour: float = setting(
        0.25, 0, 1, least=0, most=1, label="Colour", help="From grey grain to grain of three dyes."
    )
    response_shadow: float = setting(
        0.4, 0, 1, least=0, label="In shadows", help="How strongly it shows in black."
    )
    response_mid: float = setting(
        1.0, 0, 1, least=0, label="In mid-tones", help="How strongly it shows in mid-grey."
    )
    response_high: float = setting(
        0.3, 0, 1, least=0, label="In highlights", help="How strongly it shows in white."
    )
    cadence: int = setting(
        1, 1, 12, unit="frames", least=1, label="Cadence", help="New grain every so many frames."
    )
    seed: int = setting(
        1,
        0,
        9999,
        unit="seed",
        least=0,
        most=2**32 - 1,
        label="Seed",
        help="Another seed, other grain.",
    )

    def apply(self, at: Moment) -> Picture:
        """The picture with grain added, weighed by luma."""
        rms, sigma = self.rms_and_sigma(at.full)
        response = np.array(
            [self.response_shadow, self.response_mid, self.response_high], np.float32
        )
        out = new_like(at.picture)
        _add(at.picture, self._dyes(at, sigma), np.float32(rms) * response, out)
        return out

    def rms_and_sigma(self, size: Size) -> tuple[float, float]:
        """Rms of mid-grey code at 1080 lines, and σ of a grain in px@1080, for footage of `size`."""
        if self.gauge == "free":
            return self.strength, self.size / 2.355  # a gaussian's full width at half height
        micron = 1000.0 * GAUGE_WIDTH[self.gauge] / (size.width / size.scale)
        granularity, cloud = SPEEDS[self.speed]
        # white noise under a gaussian of σ has, for each unit of power, the variance 1 / (4π σ²)
        spread = math.sqrt(cloud**2 + micron**2 / 12)
        density = granularity / _seen_through(APERTURE_SIDE, cloud) / math.sqrt(4 * math.pi) / spread
        return CODE_PER_DENSITY * density, cloud / micron

    def _dyes(self, at: Moment, sigma: float) -> NDArray[np.float32]:
        """Unit grain: one plane for grey grain, else three that share a grey part."""

        def field(layer: int, wide: float = 1.0) -> Plane:
            frame = at.frame // self.cadence
            return fields.smooth_noise(
                self.seed, layer, frame, at.size, at.scales, at.rows, wide * sigma, self.soft
            )

        dyes = [field(layer) for layer in range(3 if self.colour else 1)]
        clumps = field(3, CLUMP_SIZE) if self.clump else dyes[0]
        out = new_array((len(dyes), *clumps.shape))
        first, second, third = dyes * 3 if len(dyes) == 1 else dyes
        _woven(np.float32(self.colour), np.float32(self.clump), first, second, third, clumps, out)
        return out


def _seen_through(side: float, sigma: float) -> float:
    """σ of the mean over a square `side` wide of unit white noise under a gaussian of `sigma`.

    Along each axis the variance of the mean is [erf(L/2σ) − 2σ/(L√π)·(1 − e^(−L²/4σ²))] / L, the
    field's correlation, a gaussian of √2·σ, averaged over pairs of places; for large squares it
    is 1/L, which is Selwyn's law.
    """
    t = side / (2 * sigma)
    return (math.erf(t) - (1 - math.exp(-t * t)) / (t * math.sqrt(math.pi))) / side


@numba.njit(nogil=True, cache=True, fastmath=True)
def _woven(
    colour: np.float32,
    clump: np.float32,
    first: Plane,
    second: Plane,
    third: Plane,
    clumps: Plane,
    out: NDArray[np.float32],
) -> None:
    """Unit-variance mixture of grain layers: grey and own parts, fine grain and clumps.

    The grey part of three dyes n is g = (n1 + n2 + n3) / √3, so a·g + b·n has the variance
    a² + b² + 2ab/√3.
    """
    one = np.float32(1)
    root = one / np.sqrt(np.float32(3))
    fine = (one - clump) / np.sqrt((one - clump) ** 2 + clump**2)
    flecks = clump / np.sqrt((one - clump) ** 2 + clump**2)
    if out.shape[0] == 1:
        out[0] = fine * first + flecks * clumps
        return
    a, b = one - colour, colour
    unit = fine / np.sqrt(a * a + b * b + np.float32(2) * a * b * root)
    grey, own = unit * a * root, unit * b
    for y in range(out.shape[1]):
        for x in range(out.shape[2]):
            n1, n2, n3 = first[y, x], second[y, x], third[y, x]
            shared = grey * (n1 + n2 + n3) + flecks * clumps[y, x]
            out[0, y, x] = shared + own * n1
            out[1, y, x] = shared + own * n2
            out[2, y, x] = shared + own * n3


@numba.njit(nogil=True, cache=True, fastmath=True)
def _add(
    picture: Picture, dyes: NDArray[np.float32], rms: NDArray[np.float32], out: Picture
) -> None:
    shadow, mid, high = rms[0], rms[1], rms[2]
    one, two, three = np.float32(1), np.float32(2), np.float32(3)
    for y in range(picture.shape[1]):
        for x in range(picture.shape[2]):
            r, g, b = picture[0, y, x], picture[1, y, x], picture[2, y, x]
            luma = min(max(KR * r + KG * g + KB * b, np.float32(0)), one)
            t = one - abs(two * luma - one)
            t = t * t * (three - two * t)
            end = shadow if luma < np.float32(0.5) else high
            weight = end + (mid - end) * t
            if dyes.shape[0] == 1:
                n = weight * dyes[0, y, x]
                out[0, y, x] = r + n
                out[1, y, x] = g + n
                out[2, y, x] = b + n
            else:
                out[0, y, x] = r + weight * dyes[0, y, x]
                out[1, y, x] = g + weight * dyes[1, y, x]
                out[2, y, x] = b + weight * dyes[2, y, x]
