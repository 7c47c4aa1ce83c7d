"""Film gauges: how wide their pictures are, and what they and their lenses resolve.

Light that scatters in an emulsion leaves a line that falls off exponentially, whose transfer
function is 1 / (1 + (f / f₅₀)²) (H. Frieser, Spread Function and Contrast Transfer Function of
Photographic Layers, Photographic Science and Engineering 4, 1960; from memory). That is a mean of
gaussians, ∫ e⁻ᵗ e^(−t (f / f₅₀)²) dt, here by Gauss-Laguerre quadrature; a lens's is taken as one
more that is ½ at its own frequency. So the product is a sum of gaussians too.
"""

import math
from typing import Any

import numpy as np

FILM = 50.0
"""Cycles per mm at which a colour negative's contrast is half: of data sheets, 40 to 60; from
memory."""

LENSES = {8: 35.0, 16: 50.0, 35: 60.0}
"""The same of lenses as they were used, by gauge in mm. Common practice, no source."""

GAUGE_WIDTH = {8: 5.79, 16: 10.26, 35: 21.95}
"""Width of the picture on the film in mm, by gauge (SMPTE standards; from memory)."""

NODES = 3


def as_gauge(value: Any) -> Any:
    """A gauge that was written as a word, as its number."""
    return int(value) if value in ("8", "16", "35") else value


def film_mtf(gauge: int, cycles: float) -> float:
    """Return the contrast left, 0..1.

    Args:
        gauge: of the film, in mm.
        cycles: per mm.

    >>> round(film_mtf(8, 0), 2), round(film_mtf(8, 26.7), 2)
    (1.0, 0.52)
    """
    lens = math.exp(-math.log(2) * (cycles / LENSES[gauge]) ** 2)
    return lens / (1 + (cycles / FILM) ** 2)


def film_blur(gauge: int, width: float) -> list[tuple[float, float]]:
    """Return (σ, weight) of gaussians that blur as a gauge and its lens do, narrow ones first.

    Args:
        gauge: of the film, in mm.
        width: of the whole picture, in the unit that σ is wanted in.
    """
    nodes, weights = np.polynomial.laguerre.laggauss(NODES)
    falls = nodes / FILM**2 + math.log(2) / LENSES[gauge] ** 2  # of e^(−fall f²), f in cycles/mm
    sigmas = np.sqrt(falls / 2) / math.pi * width / GAUGE_WIDTH[gauge]
    return [(float(s), float(w)) for s, w in zip(sigmas, weights, strict=True)]
