"""Curve."""

from functools import lru_cache
from itertools import pairwise
from typing import Annotated

import numba
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator

from yearning.core.colour.curves import curve_table, looked_up
from yearning.core.colour.luma import KB, KG, KR
from yearning.core.memory import new_like
from yearning.core.picture import Picture
from yearning.core.treatment import Moment, Treatment, setting

STRAIGHT = ((0.0, 0.0), (1.0, 1.0))
"""The curve that changes nothing."""

MOST_POINTS = 32


def _ascending(points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    if not 2 <= len(points) <= MOST_POINTS:
        raise ValueError(f"a curve has 2 to {MOST_POINTS} points, not {len(points)}")
    if any(b[0] - a[0] < 1e-4 for a, b in pairwise(points)):
        raise ValueError("the points of a curve go from left to right, at least 0.0001 apart")
    return points


CurvePoints = Annotated[tuple[tuple[float, float], ...], AfterValidator(_ascending)]


class Curve(Treatment):
    """Tones redrawn through points.

    Monotone cubics (Fritsch & Carlson 1980). `luma` moves luma and keeps the colour differences
    R'−Y', G'−Y', B'−Y' as they are; then each of `red`, `green`, `blue` moves its own channel.
    Left of the first point and right of the last a curve stays level within 0..1.
    """

    kind = "curve"
    stage = "colour"
    says = "tones redrawn through points"

    luma: CurvePoints = setting(
        STRAIGHT, label="Luma", unit="points", help="Light to dark, colour kept."
    )
    red: CurvePoints = setting(STRAIGHT, label="Red", unit="points", help="The red channel alone.")
    green: CurvePoints = setting(
        STRAIGHT, label="Green", unit="points", help="The green channel alone."
    )
    blue: CurvePoints = setting(
        STRAIGHT, label="Blue", unit="points", help="The blue channel alone."
    )

    def apply(self, at: Moment) -> Picture:
        """The picture with its luma, then its channels, taken through the curves."""
        out = new_like(at.picture)
        _through(at.picture, _tables(self.luma, self.red, self.green, self.blue), out)
        return out


@lru_cache(maxsize=256)
def _tables(*curves: tuple[tuple[float, float], ...]) -> NDArray[np.float32]:
    """The curves' tables, shape `(4, n)`; a straight one begins with NaN, and is passed over."""
    tables = np.stack([curve_table(points) for points in curves])
    for table, points in zip(tables, curves, strict=True):
        if points == STRAIGHT:
            table[0] = np.nan
    return tables


# No fastmath here: this indexes tables by picture values.
@numba.njit(nogil=True, cache=True)
def _through(picture: Picture, tables: NDArray[np.float32], out: Picture) -> None:
    for y in range(picture.shape[1]):
        red, green, blue = picture[0, y], picture[1, y], picture[2, y]
        to_red, to_green, to_blue = out[0, y], out[1, y], out[2, y]
        if np.isnan(tables[0, 0]):
            for x in range(red.shape[0]):
                to_red[x], to_green[x], to_blue[x] = red[x], green[x], blue[x]
        else:
            table = tables[0]
            for x in range(red.shape[0]):
                r, g, b = red[x], green[x], blue[x]
                luma = KR * r + KG * g + KB * b
                move = looked_up(table, luma) - luma
                to_red[x], to_green[x], to_blue[x] = r + move, g + move, b + move
        for c in range(3):
            table, line = tables[c + 1], out[c, y]
            if not np.isnan(table[0]):
                for x in range(line.shape[0]):
                    line[x] = looked_up(table, line[x])
