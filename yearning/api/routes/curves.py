"""The line a curve draws, for the editor: the formula stands in the core alone."""

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel

from yearning.api.problems import Problem
from yearning.core.colour.curves import pchip
from yearning.core.treatments.curve import CurvePoints

SAMPLES = 65

router = APIRouter(prefix="/api", tags=["curves"], responses={422: {"model": Problem}})


class CurveAsk(BaseModel):
    """A curve's points."""

    points: CurvePoints


class CurveOut(BaseModel):
    """The curve from 0 to 1 as short straight pieces."""

    line: list[tuple[float, float]]


@router.post("/curve")
def curve(ask: CurveAsk) -> CurveOut:
    """Sample a curve."""
    x = np.linspace(0.0, 1.0, SAMPLES)
    return CurveOut(line=list(zip(x.tolist(), pchip(ask.points, x).tolist(), strict=True)))
