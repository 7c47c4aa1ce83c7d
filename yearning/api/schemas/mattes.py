"""Requests and responses about mattes that are found from strokes."""

from typing import Annotated

from pydantic import BaseModel, Field

from yearning.core.motion.strokes import Stroke
from yearning.core.validation import Whole

Frame = Annotated[Whole, Field(ge=0, le=100_000_000)]


class LiftRequest(BaseModel):
    """A figure that is to be lifted out of a clip."""

    clip: Whole
    title: str = Field(min_length=1, max_length=120)
    strokes: list[Stroke] = Field(max_length=10_000)
    known: str | None = Field(
        None, description="An earlier matte: what the strokes do not change is taken from it."
    )


class GlimpseRequest(BaseModel):
    """A frame, with what is lifted out of it by now."""

    clip: Whole
    frame: Frame
    strokes: list[Stroke] = Field(max_length=10_000)
    known: str | None = None
    height: Annotated[Whole, Field(ge=16, le=4320)]
    channel: str = Field("", description="Of requests on one channel the newest alone is answered.")
    sequence: Whole = 0


class LiftedOut(BaseModel):
    """What a matte was found from."""

    clip: int | None = Field(description="Which clip's it is; none of the project's.")
    strokes: list[Stroke]


class DraftOut(BaseModel):
    """Strokes as they were left, drawn for a shape on a clip."""

    strokes: list[Stroke] = Field([], max_length=10_000)
    known: str | None = Field(None, description="The matte that they are drawn over.")


class Draft(DraftOut):
    """Strokes drawn for a shape on a clip, not lifted out by yet perhaps."""

    clip: Whole
    step: str = Field(max_length=64)
    shape: str = Field(max_length=64)
