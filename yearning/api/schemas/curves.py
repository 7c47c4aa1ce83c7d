"""Requests and responses about curves."""

from pydantic import BaseModel

from yearning.core.treatment.curve_points import CurvePoints


class CurveRequest(BaseModel):
    """A curve's points."""

    points: CurvePoints


class CurveOut(BaseModel):
    """The curve from 0 to 1 as short straight pieces."""

    line: list[tuple[float, float]]
