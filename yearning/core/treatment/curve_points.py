"""Points of curves as settings have them."""

from itertools import pairwise
from typing import Annotated

from pydantic import AfterValidator

from yearning.core.validation import Number

STRAIGHT = ((0.0, 0.0), (1.0, 1.0))
"""The curve that changes nothing."""

MAX_POINTS = 32


def _ascending(points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    if not 2 <= len(points) <= MAX_POINTS:
        raise ValueError(f"a curve has 2 to {MAX_POINTS} points, not {len(points)}")
    if any(b[0] - a[0] < 1e-4 for a, b in pairwise(points)):
        raise ValueError("the points of a curve go from left to right, at least 0.0001 apart")
    return points


CurvePoints = Annotated[tuple[tuple[Number, Number], ...], AfterValidator(_ascending)]
