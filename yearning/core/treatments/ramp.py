"""Ramp."""

from itertools import pairwise
from typing import Annotated, NamedTuple

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator

from yearning.core.colour.hues import Colour, rgb_of
from yearning.core.colour.luma import bt709_luma
from yearning.core.compositing.tone_window import MIN_SPACING
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting

MAX_STOPS = 8

Stops = tuple[tuple[float, Colour], ...]


def _ascending(stops: Stops) -> Stops:
    if not 2 <= len(stops) <= MAX_STOPS:
        raise ValueError(f"a ramp has 2 to {MAX_STOPS} stops, not {len(stops)}")
    if any(not 0 <= at <= 1 for at, _ in stops):
        raise ValueError("the stops of a ramp lie within 0 and 1")
    if any(b[0] - a[0] < MIN_SPACING for a, b in pairwise(stops)):
        raise ValueError(
            f"the stops of a ramp go from black to white, at least {MIN_SPACING} apart"
        )
    return stops


class Segments(NamedTuple):
    """Where the stops lie, their colours, and the slopes after them."""

    places: NDArray[np.float32]
    colours: NDArray[np.float32]
    slopes: NDArray[np.float32]


class Ramp(ColourOnly, Treatment[Segments]):
    """Luma drawn in a ramp of colours.

    Straight between the stops in display-coded values, level beyond the first and the last.
    """

    kind = "ramp"
    stage = "colour"
    summary = "dark to light drawn in a ramp of colours"
    keywords = ("duotone", "gradient map", "tritone", "false colour", "colourise")

    stops: Annotated[Stops, AfterValidator(_ascending)] = setting(
        ((0.0, "#0f1a26"), (0.45, "#7d6a5c"), (1.0, "#f5ead4")),
        unit="ramp",
        label="Stops",
        help="Which luma is shown in which colour.",
    )

    def prepare(self, context: FrameContext) -> Segments:
        """Where the stops are, their colours, and the slopes after them."""
        places = np.array([place for place, _ in self.stops], np.float32)
        colours = np.stack([rgb_of(colour) for _, colour in self.stops])
        slopes = np.zeros_like(colours)
        slopes[:-1] = (colours[1:] - colours[:-1]) / (places[1:] - places[:-1])[:, None]
        return Segments(places, colours, slopes)

    def apply(self, band: Band[Segments]) -> None:
        """The ramp's colour of each pixel's luma."""
        _draw_ramp(band.picture, *band.prepared, band.out, band.out_top)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _draw_ramp(
    picture: Picture,
    at: NDArray[np.float32],
    colours: NDArray[np.float32],
    slopes: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    zero = np.float32(0)
    last = at.shape[0] - 1
    width = picture.shape[2]
    luma = new_line(width)
    for y in range(picture.shape[1]):
        for x in range(width):
            light = bt709_luma(picture[0, y, x], picture[1, y, x], picture[2, y, x])
            luma[x] = min(max(light, at[0]), at[last])
        for c in range(3):
            line = out[c, out_top + y]
            for n in range(last):
                start, colour, slope = at[n], colours[n, c], slopes[n, c]
                if n == 0:
                    for x in range(width):
                        line[x] = colour + slope * (luma[x] - start)
                else:
                    for x in range(width):
                        t = luma[x] - start
                        line[x] = colour + slope * t if t >= zero else line[x]
