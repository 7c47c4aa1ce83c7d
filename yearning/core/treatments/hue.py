"""Hue."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.hues import hue_sector
from yearning.core.colour.luma import KB, KG, KR, bt709_luma
from yearning.core.kernel_arrays import new_lines
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting

Six = tuple[float, float, float, float, float, float]

CELLS = 24
"""Cells a sixth of a turn is tabulated in; straight between them, a turn of 180° from one band to
the next loses less than 1/300 of saturation."""

LIFT = 0.5
"""How far full lightness moves the luma of a fully saturated colour."""

_NONE: Six = (0.0, 0.0, 0.0, 0.0, 0.0, 0.0)


class Hue(ColourOnly, Treatment[NDArray[np.float32]]):
    """Each hue turned, more or less saturated, lighter or darker.

    Red, yellow, green, cyan, blue and magenta have a value each, smooth between (a raised cosine).
    Colours turn about grey at their luma, in the plane of BT.709's colour differences; lightness
    counts with how saturated a colour is, so greys stay (common practice, no source).
    """

    kind = "hue"
    stage = "colour"
    summary = "each hue turned, stronger or weaker, lighter or darker"
    keywords = ("saturation", "colour shift", "recolour", "selective colour", "vibrance")
    shown = {"turn": [0, 0, 40, 0, 0, 0]}
    max_added_change = 0.002

    turn: Six = setting(_NONE, -180, 180, unit="bands", label="Turn", help="Degrees.")
    saturation: Six = setting(
        _NONE, -1, 1, unit="bands", label="Saturation", help="−100 % is grey, +100 % twice as much."
    )
    lightness: Six = setting(_NONE, -1, 1, unit="bands", label="Lightness", help="Luma.")

    def apply(self, band: Band[NDArray[np.float32]]) -> None:
        """The picture with its hues moved."""
        _apply_hue_table(band.picture, band.prepared, band.out, band.out_top)

    def prepare(self, context: FrameContext) -> NDArray[np.float32]:
        """Return how a colour difference is scaled along and across its direction, and its lift.

        Returns:
            Shape `(6 · CELLS + 1, 3)`, from hue 0° to 360°; the lift is by its strength.
        """
        sector = np.arange(6 * CELLS + 1) / CELLS
        band = np.minimum(sector.astype(int), 5)
        weight = 0.5 - 0.5 * np.cos(np.pi * (sector - band))

        def interpolate_bands(values: Six) -> NDArray[np.float64]:
            of = np.array([*values, values[0]])
            return np.asarray(of[band] + weight * (of[band + 1] - of[band]), np.float64)

        scale = np.maximum(1 + interpolate_bands(self.saturation), 0)
        angle = np.radians(interpolate_bands(self.turn))
        lift = LIFT * interpolate_bands(self.lightness)
        return np.stack([scale * np.cos(angle), scale * np.sin(angle), lift], 1).astype(np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"}, error_model="numpy")
def _apply_hue_table(
    picture: Picture, table: NDArray[np.float32], out: Picture, out_top: int
) -> None:
    to_cb, to_cr = np.float32(1 / 1.8556), np.float32(1 / 1.5748)  # BT.709-6, item 3.3
    from_cb, from_cr = np.float32(1.8556), np.float32(1.5748)
    green_cb, green_cr = from_cb * KB / KG, from_cr * KR / KG
    cells = np.float32(CELLS)
    last = table.shape[0] - 2
    width = picture.shape[2]
    at, cb, cr = new_lines(3, width)
    along, across, lift = new_lines(3, width)
    for y in range(picture.shape[1]):
        r, g, b = picture[0, y], picture[1, y], picture[2, y]
        for x in range(width):
            spread = max(r[x], max(g[x], b[x])) - min(r[x], min(g[x], b[x]))
            at[x] = cells * hue_sector(r[x], g[x], b[x], max(spread, np.float32(1e-9)))
        for x in range(width):
            i = np.uint64(min(max(np.int32(at[x]), 0), last))
            part, j = at[x] - np.float32(i), i + np.uint64(1)
            along[x] = table[i, 0] + part * (table[j, 0] - table[i, 0])
            across[x] = table[i, 1] + part * (table[j, 1] - table[i, 1])
            lift[x] = table[i, 2] + part * (table[j, 2] - table[i, 2])
        for x in range(width):
            luma = bt709_luma(r[x], g[x], b[x])
            cb[x] = (b[x] - luma) * to_cb
        for x in range(width):
            luma = bt709_luma(r[x], g[x], b[x])
            cr[x] = (r[x] - luma) * to_cr
        for x in range(width):
            spread = max(r[x], max(g[x], b[x])) - min(r[x], min(g[x], b[x]))
            luma = bt709_luma(r[x], g[x], b[x])
            at[x] = luma + lift[x] * spread
        for x in range(width):
            out[0, out_top + y, x] = at[x] + from_cr * (along[x] * cr[x] + across[x] * cb[x])
        for x in range(width):
            turned_cb = along[x] * cb[x] - across[x] * cr[x]
            turned_cr = along[x] * cr[x] + across[x] * cb[x]
            out[1, out_top + y, x] = at[x] - green_cb * turned_cb - green_cr * turned_cr
        for x in range(width):
            out[2, out_top + y, x] = at[x] + from_cb * (along[x] * cb[x] - across[x] * cr[x])
