"""Light of high dynamic range: ITU-R BT.2100 transfer functions, and BT.2446 method C to SDR.

Here in float64, as published; `conversion.py` tabulates what pictures are taken through.
"""

import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.matrices import LUMA_WEIGHTS

Array = NDArray[np.float64]

PEAK_HLG = 1000.0
"""cd/m²; the peak of HLG's reference display."""

PEAK_PQ = 10000.0
"""cd/m²; the highest light PQ can code."""

PEAK_SDR = 100.0
"""cd/m²; the peak of the reference display of BT.1886."""

GAMMA = 2.4
"""The exponent between light and display-coded values (BT.1886)."""

HLG_SYSTEM_GAMMA = 1.2
"""BT.2100-2, table 5, note 5f: at a nominal peak of 1000 cd/m²."""

PQ_M1, PQ_M2 = 2610 / 16384, 2523 / 4096 * 128
PQ_C1, PQ_C2, PQ_C3 = 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32

HLG_A = 0.17883277
HLG_B = 1 - 4 * HLG_A
HLG_C = 0.5 - HLG_A * np.log(4 * HLG_A)

_KR, _KB = LUMA_WEIGHTS["bt2020"]
BT2020_LUMA = np.array([_KR, 1 - _KR - _KB, _KB])


def pq_light(code: Array) -> Array:
    """Display light in cd/m², 0..10 000, of PQ codes 0..1 (BT.2100-2, table 4, EOTF)."""
    power = np.power(np.clip(code, 0, 1), 1 / PQ_M2)
    ratio = np.maximum(power - PQ_C1, 0) / (PQ_C2 - PQ_C3 * power)
    return PEAK_PQ * np.power(ratio, 1 / PQ_M1)


def hlg_scene(code: Array) -> Array:
    """Scene light 0..1 of HLG codes 0..1 (BT.2100-2, table 5, inverse OETF)."""
    code = np.clip(code, 0, 1)
    low = code**2 / 3
    high = (np.exp((np.maximum(code, 0.5) - HLG_C) / HLG_A) + HLG_B) / 12
    return np.where(code <= 0.5, low, high)


def hlg_light(scene: Array) -> Array:
    """Display light in cd/m² of scene light, colour on the first axis (BT.2100-2, table 5, OOTF).

    F_D = L_W · Y_S^(γ−1) · E, with Y_S the scene's luminance and L_W `PEAK_HLG`.
    """
    luminance = np.tensordot(BT2020_LUMA, scene, 1)
    return PEAK_HLG * np.power(luminance, HLG_SYSTEM_GAMMA - 1) * scene


K1, K2, K3, K4 = 0.83802, 15.09968, 0.74204, 78.99439
INFLECTION = 58.5 / K1
"""BT.2446-1, section 6.4, from memory: straight below the inflection, in cd/m², logarithmic above;
the tests hold that the two join in value and slope."""


def tone_map(luminance: Array) -> Array:
    """Map HDR luminance to SDR luminance, both in cd/m² (BT.2446-1, section 6.4: method C).

    HDR reference white, 203 cd/m² (BT.2408), comes to 91 of 100; brighter light above that.
    """
    above = np.maximum(luminance, INFLECTION) / INFLECTION
    return np.where(luminance < INFLECTION, K1 * luminance, K2 * np.log(above - K3) + K4)


def method_c(light: Array) -> Array:
    """SDR light, 1 for `PEAK_SDR`, of display light in cd/m²; colour on the first axis.

    BT.2446-1, section 6, with no crosstalk: luminance is toned and chromaticity stays.
    """
    luminance = np.tensordot(BT2020_LUMA, light, 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        gain = np.where(luminance > 0, tone_map(luminance) / luminance, K1)
    return np.asarray(gain * light / PEAK_SDR, np.float64)
