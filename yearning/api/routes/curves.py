"""The line a curve draws, for the editor: the formula is in the core alone."""

import numpy as np
from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.schemas.curves import CurveOut, CurveRequest
from yearning.core.colour.curves import pchip

SAMPLES = 65

router = APIRouter(prefix=V1, tags=["curves"])


@router.post("/curves")
def sample_curve(ask: CurveRequest) -> CurveOut:
    """Sample a curve."""
    x = np.linspace(0.0, 1.0, SAMPLES)
    return CurveOut(line=list(zip(x.tolist(), pchip(ask.points, x).tolist(), strict=True)))
