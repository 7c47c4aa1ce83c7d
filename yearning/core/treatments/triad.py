"""Triad."""

from typing import NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.compositing.tone_window import FLAT, Tones, tone_segments, weigh_tones
from yearning.core.kernel_arrays import new_line, new_lines
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting


class Weights(NamedTuple):
    """The three colours, weighed, and the segments of each channel's tone window."""

    colours: NDArray[np.float32]
    red: NDArray[np.float32]
    green: NDArray[np.float32]
    blue: NDArray[np.float32]


class Triad(ColourOnly, Treatment[Weights]):
    """The red, green and blue pictures coloured anew and added up.

    Each channel c, weighed by its weight and by its own tone window w_c, is laid down in its
    colour: V' = Σ_c weight_c · w_c(V_c) · V_c · colour_c. With pure colours, weights of 1 and flat
    windows that is the picture itself.
    """

    kind = "triad"
    stage = "colour"
    summary = "red, green and blue pictures coloured anew and added up"
    keywords = ("three-strip", "channels", "tint", "rgb", "channel mixer")
    shown = {"red_weight": 1.1, "blue_colour": "#2040c0"}

    red_colour: Colour = setting("#ff0000", unit="colour", label="Red's colour")
    red_weight: float = setting(
        1.0, 0, 2, unit="factor", minimum=-4, maximum=4, label="Red's weight"
    )
    red_tones: Tones = setting(FLAT, unit="tones", label="Red's tones")
    green_colour: Colour = setting("#00ff00", unit="colour", label="Green's colour")
    green_weight: float = setting(
        1.0, 0, 2, unit="factor", minimum=-4, maximum=4, label="Green's weight"
    )
    green_tones: Tones = setting(FLAT, unit="tones", label="Green's tones")
    blue_colour: Colour = setting("#0000ff", unit="colour", label="Blue's colour")
    blue_weight: float = setting(
        1.0, 0, 2, unit="factor", minimum=-4, maximum=4, label="Blue's weight"
    )
    blue_tones: Tones = setting(FLAT, unit="tones", label="Blue's tones")

    def prepare(self, context: FrameContext) -> Weights:
        """The colours, weighed, and the pieces of the tone windows."""
        colours = np.stack(
            [
                rgb_of(self.red_colour) * np.float32(self.red_weight),
                rgb_of(self.green_colour) * np.float32(self.green_weight),
                rgb_of(self.blue_colour) * np.float32(self.blue_weight),
            ]
        )
        red, green, blue = (
            tone_segments(tones) for tones in (self.red_tones, self.green_tones, self.blue_tones)
        )
        return Weights(colours, red, green, blue)

    def apply(self, band: Band[Weights]) -> None:
        """The three pictures added up."""
        _add_colours(band.picture, *band.prepared, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _add_colours(
    picture: Picture,
    colours: NDArray[np.float32],
    red: NDArray[np.float32],
    green: NDArray[np.float32],
    blue: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    width = picture.shape[2]
    parts, weight = new_lines(3, width), new_line(width)
    for y in range(picture.shape[1]):
        for c in range(3):
            weigh_tones(picture[c, y], red if c == 0 else (green if c == 1 else blue), weight)
            for x in range(width):
                parts[c, x] = weight[x] * picture[c, y, x]
        for c in range(3):
            r, g, b = colours[0, c], colours[1, c], colours[2, c]
            for x in range(width):
                out[c, out_top + y, x] = r * parts[0, x] + g * parts[1, x] + b * parts[2, x]
