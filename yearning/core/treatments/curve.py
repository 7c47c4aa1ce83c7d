"""Curve."""

from functools import lru_cache

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.curves import apply_curve, curve_segments
from yearning.core.colour.luma import fill_luma_line
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture
from yearning.core.treatment.base import Band, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.curve_points import STRAIGHT, CurvePoints
from yearning.core.treatment.settings import setting


class Curve(ColourOnly, Treatment[None]):
    """Tones redrawn through points.

    Monotone cubics (Fritsch & Carlson 1980). `luma` moves luma and keeps the colour differences
    R'−Y', G'−Y', B'−Y' as they are; then each of `red`, `green`, `blue` moves its own channel.
    Left of the first point and right of the last a curve stays level within 0..1.
    """

    kind = "curve"
    stage = "colour"
    summary = "tones redrawn through points"
    keywords = ("faded black", "contrast", "s-curve", "tone curve", "matte look")
    shown = {"luma": [[0, 0.12], [0.3, 0.24], [0.75, 0.82], [1, 0.97]]}

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

    def apply(self, band: Band[None]) -> None:
        """The picture with its luma, then its channels, taken through the curves."""
        counts, pieces = _pieces(self.luma, self.red, self.green, self.blue)
        _apply_curves(band.picture, counts, pieces, band.out, band.out_top)


@lru_cache(maxsize=256)
def _pieces(
    *curves: tuple[tuple[float, float], ...],
) -> tuple[NDArray[np.int32], NDArray[np.float32]]:
    """The curves' pieces, shape `(4, n, 5)`, and how many each has; none for a straight one."""
    cubics = [curve_segments(points) for points in curves]
    counts = [0 if points == STRAIGHT else len(c) for points, c in zip(curves, cubics, strict=True)]
    pieces = np.zeros((len(curves), max(len(c) for c in cubics), 5), np.float32)
    for padded, c in zip(pieces, cubics, strict=True):
        padded[: len(c)] = c
    return np.array(counts, np.int32), pieces


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _apply_curves(
    picture: Picture,
    counts: NDArray[np.int32],
    pieces: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    width = picture.shape[2]
    line, moved = new_line(width), new_line(width)
    for y in range(picture.shape[1]):
        moved[:] = np.float32(0)
        if counts[0]:
            fill_luma_line(picture[0, y], picture[1, y], picture[2, y], line)
            apply_curve(line, pieces[0, : counts[0]], moved)
            for x in range(width):
                moved[x] -= line[x]
        for c in range(3):
            if counts[c + 1]:
                for x in range(width):
                    line[x] = picture[c, y, x] + moved[x]
                apply_curve(line, pieces[c + 1, : counts[c + 1]], out[c, out_top + y])
            else:
                for x in range(width):
                    out[c, out_top + y, x] = picture[c, y, x] + moved[x]
