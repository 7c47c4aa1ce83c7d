"""Requests and responses about amounts with which a step does alike on several clips."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.look_document import LookInput
from yearning.core.treatment.base import Effect
from yearning.core.validation import Number, Whole
from yearning.media.stills.contact_sheet import MAX_CELLS


class FittedClip(BaseModel):
    """A clip, and the look as it stands on it."""

    model_config = ConfigDict(extra="forbid")

    clip: Whole
    look: LookInput


class EvenAmountsRequest(BaseModel):
    """What a step does on the first of some clips, it is to do on all of them."""

    step: str = Field(min_length=1, max_length=64, description="The step's id.")
    amount: Number = Field(ge=0, le=1, description="Of the step on the first clip.")
    clips: list[FittedClip] = Field(min_length=2, max_length=MAX_CELLS)


class ClipAmount(BaseModel):
    """How much of the step a clip is to have."""

    clip: Whole
    amount: float | None = Field(
        description="0 to 1; null where the step does nothing on it to speak of."
    )
    reached: float = Field(
        description="The part of what is wanted that it does; below 1, all of it is too little."
    )


class EvenAmounts(BaseModel):
    """Amounts with which a step does alike."""

    effect: Effect
    wanted: float = Field(
        description="What the step does on the first clip: light in parts of white, the part of "
        "the light that it takes, or grain in deviations of the footage's noise."
    )
    clips: list[ClipAmount]


class EvenAmountsProgress(BaseModel):
    """A line of the answer: how far it is; the last has the amounts, or what went wrong."""

    done: int
    total: int
    amounts: EvenAmounts | None = None
    error: str | None = None
