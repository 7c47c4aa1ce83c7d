"""Requests and responses about a grade that brings a clip near another picture."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.look_document import LookInput, StepDocument
from yearning.api.schemas.pictures import After
from yearning.core.measure.colour_match import Held
from yearning.core.validation import PlainText, Whole

Distance = Annotated[
    float, Field(description="Root mean square of a channel, in parts of white, 0..1.")
]


class FrameLike(BaseModel):
    """A frame of a clip, after a step of a look."""

    model_config = ConfigDict(extra="forbid")

    kind: Literal["frame"]
    clip: Whole
    frame: Whole = Field(ge=0)
    look: LookInput
    after: After = None


class PlateLike(BaseModel):
    """A plate, as it is; of one that moves its first frame."""

    model_config = ConfigDict(extra="forbid")

    kind: Literal["plate"]
    file: str


class MatchRequest(BaseModel):
    """Which clip is to come near which picture, after which step of a look it is graded."""

    clip: Whole
    look: LookInput
    after: After = None
    like: Annotated[FrameLike | PlateLike, Field(discriminator="kind")]
    held: list[Held] = Field(
        default_factory=list,
        max_length=2,
        description="Colours that keep their hue and saturation, as far as such a grade can.",
    )
    name: PlainText = Field("Match", max_length=120, description="Of the bundle that is made.")


class HeldColoursOut(BaseModel):
    """What becomes of colours that are to be held."""

    kind: Held
    share: float = Field(description="Of all colours of the clip, 0..1.")
    off: Distance = Field(description="How far they are from where they would stay.")
    unheld: Distance = Field(description="How far they would be if they were not held.")


class MatchFound(BaseModel):
    """The grade, and how near it comes."""

    step: StepDocument = Field(description="A bundle of balance, curve and tone.")
    before: Distance = Field(description="Of the clip's colours from the picture's.")
    after: Distance = Field(description="What remains.")
    held: list[HeldColoursOut]


class MatchProgress(BaseModel):
    """A line of the answer: how far it is; the last has the grade, or what went wrong."""

    done: int
    total: int
    match: MatchFound | None = None
    error: str | None = None
