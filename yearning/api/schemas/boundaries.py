"""Requests and responses about boundaries between a clip's shots."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.progress import ProgressOut
from yearning.core.look.reel import FarFrame
from yearning.core.measure.shot_boundaries import MIN_THRESHOLD, THRESHOLD
from yearning.core.validation import Whole


class BoundariesRequest(BaseModel):
    """Which part of a clip is looked through."""

    clip: Whole
    first: Annotated[FarFrame, Field(description="Its first frame.")] = 0
    last: Annotated[FarFrame | None, Field(description="Its last; none for the clip's.")] = None


class BoundaryOut(BaseModel):
    """The place between two shots."""

    model_config = ConfigDict(from_attributes=True)

    frame: int = Field(description="The first of the later shot.")
    jump: float = Field(
        description="By how much it is more of a change than the places beside it, 0 to 1; "
        f"{MIN_THRESHOLD} at least, and usually a cut from {THRESHOLD} on."
    )


class BoundariesOut(ProgressOut):
    """How far a clip is looked through, and what is found once that has ended."""

    usual: float = Field(THRESHOLD, description="The jump that boundaries usually have at least.")
    boundaries: list[BoundaryOut]
