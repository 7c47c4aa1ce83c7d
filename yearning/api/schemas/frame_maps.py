"""Responses about where the frame's contents have been moved."""

from pydantic import BaseModel, Field


class FrameMapOut(BaseModel):
    """Where places of the frame as shot are seen after a look: a grid of them, row by row.

    Its first place is the frame's first corner, its last the last one; between four of them places
    are moved nearly as by a bilinear map.
    """

    columns: int
    rows: int
    places: list[tuple[float, float]] = Field(
        description="In parts of the frame; none where nothing is moved."
    )
