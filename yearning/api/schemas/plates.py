"""Requests and responses about plates."""

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import StepInput
from yearning.core.validation import Whole


class PlateOut(BaseModel):
    """A plate of the project: the name that looks have it under, and what it is."""

    file: str
    title: str
    frames: int
    width: int
    height: int
    rate: float | None = Field(description="Frames a second; none for a picture.")
    matte: bool = Field(description="It is clear in places.")
    premultiplied: bool = Field(
        description="Its alpha was found multiplied into its colour, and is taken out of it."
    )
    histogram: list[list[int]] = Field(description="Counts of luma, R', G', B' of its middle.")


class MadeRequest(BaseModel):
    """Which plate is to be computed."""

    kind: str
    seed: Whole = Field(1, ge=0, le=9999)


class MakingOut(BaseModel):
    """A plate that is being computed, and its frames that are done."""

    kind: str
    done: int
    total: int


class KindOut(BaseModel):
    """A kind of plate that can be computed."""

    kind: str
    summary: str
    shuffles: bool = Field(description="Its frames may come in any order.")


class UsedRequest(BaseModel):
    """A plate step, of whose plate the used frames are wanted."""

    step: StepInput


class UsedOut(BaseModel):
    """What of a step's plate is used."""

    frames: int
    used: int
    problem: str | None = Field(description="Why nothing of it is seen, and what to do.")


class OddSpan(BaseModel):
    """Frames of a plate from one to another, both among them."""

    first: int
    last: int


class OddFramesOut(BaseModel):
    """Frames of a plate that are unlike those about them."""

    spans: list[OddSpan]
    looked_at: int = Field(description="How many of the plate's frames, from its first.")
