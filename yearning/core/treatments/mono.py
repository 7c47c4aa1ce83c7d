"""Mono."""

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.colour.luma import bt709_luma, luma_of_rgb
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting


class Mono(ColourOnly, Treatment[tuple[NDArray[np.float32], NDArray[np.float32]]]):
    """Black and white, each hue as light as it is wanted.

    A colour is grey (its lowest channel), plus its middle channel's height of one of the hues
    yellow, cyan, magenta, plus its highest's of red, green or blue. Each part's luma, and what the
    band of its hue adds, make the new grey: smooth from hue to hue, and luma itself where all bands
    are 0.
    """

    kind = "mono"
    stage = "colour"
    summary = "black and white, each hue as light as wanted"
    keywords = ("black and white", "monochrome", "grey", "desaturate", "sepia", "noir")
    max_added_change = 0.01

    red: float = setting(0.0, -1, 1, minimum=-3, maximum=3, label="Red")
    yellow: float = setting(0.0, -1, 1, minimum=-3, maximum=3, label="Yellow")
    green: float = setting(0.0, -1, 1, minimum=-3, maximum=3, label="Green")
    cyan: float = setting(0.0, -1, 1, minimum=-3, maximum=3, label="Cyan")
    blue: float = setting(0.0, -1, 1, minimum=-3, maximum=3, label="Blue")
    magenta: float = setting(0.0, -1, 1, minimum=-3, maximum=3, label="Magenta")
    tint: Colour = setting(
        "#c8a06c",
        unit="colour",
        enabled_by="tinted",
        label="Tint",
        help="What the mid-tones are tinted with.",
    )
    tinted: float = setting(0.0, 0, 1, label="Tinted", help="How far: black and white stay.")

    def prepare(self, context: FrameContext) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """What each hue adds, in the kernel's order, and the tint without its luma."""
        # of the highest channel: R, G, B; of the middle one: what lies opposite the lowest
        hues = [self.red, self.green, self.blue, self.cyan, self.magenta, self.yellow]
        tint = rgb_of(self.tint)
        tint = (tint - luma_of_rgb(tint)) * np.float32(self.tinted)
        return np.array(hues, np.float32), tint

    def apply(self, band: Band[tuple[NDArray[np.float32], NDArray[np.float32]]]) -> None:
        """The picture in grey, or tinted."""
        _grey(band.picture, *band.prepared, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _grey(
    picture: Picture,
    hues: NDArray[np.float32],
    tint: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    zero, one, four = np.float32(0), np.float32(1), np.float32(4)
    red, green, blue, cyan, magenta, yellow = hues
    width = picture.shape[2]
    grey = new_line(width)
    for y in range(picture.shape[1]):
        for x in range(width):
            r, g, b = picture[0, y, x], picture[1, y, x], picture[2, y, x]
            high, low = max(r, max(g, b)), min(r, min(g, b))
            middle = r + g + b - high - low
            first = red if high == r else (green if high == g else blue)
            second = cyan if low == r else (magenta if low == g else yellow)
            light = bt709_luma(r, g, b)
            grey[x] = light + (high - middle) * first + (middle - low) * second
        for c in range(3):
            towards = four * tint[c]
            for x in range(width):
                inside = min(max(grey[x], zero), one)
                out[c, out_top + y, x] = grey[x] + towards * inside * (one - inside)
