"""Requests and responses about tracks."""

from typing import Annotated

from pydantic import AfterValidator, BaseModel, Field

from yearning.api.schemas.look_document import OutlineDocument, OutlineInput
from yearning.api.schemas.progress import ProgressOut
from yearning.core.motion.tracks import MAX_SMOOTH, Kind, Row, can_be_undone
from yearning.core.validation import Whole

Matrix = tuple[Row, Row, Row]


class TrackOut(BaseModel):
    """A track of the project."""

    file: str
    title: str
    clip: int | None = Field(description="Which clip it is a part of; none of the project's.")
    begin: int = Field(description="The frame it was found from.")
    kind: Kind
    shape: OutlineDocument | None = Field(description="What was followed, as it is there.")
    smooth: int
    frames: int = Field(description="At how many frames it has the part.")
    by_hand: list[int] = Field(description="Frames that were put right.")
    lost: list[tuple[int, int]] = Field(description="Frames at which it is lost: first and last.")


class TrackPlaceOut(BaseModel):
    """Where a track's part is at a frame."""

    frame: int
    matrix: Matrix = Field(
        description="Takes places of its first frame there, in fractions of width and height."
    )
    sure: float
    by_hand: bool


class TrackPlacesOut(TrackOut):
    """A track with where its part is at each frame."""

    places: list[TrackPlaceOut]


class HandOut(BaseModel):
    """Where a part was put by hand."""

    frame: Annotated[Whole, Field(ge=0, le=100_000_000)]
    matrix: Annotated[Matrix, AfterValidator(can_be_undone)] = Field(
        description="From the track's first frame, in fractions."
    )


class FindRequest(BaseModel):
    """What is to be followed in a clip."""

    clip: Whole
    title: str = Field(min_length=1, max_length=120)
    shape: OutlineInput = Field(description="As a mask has it, as it is at the frame.")
    frame: Annotated[Whole, Field(ge=0, le=100_000_000)]
    kind: Kind = "turn"
    by_hand: list[HandOut] = Field([], max_length=1000)
    smooth: Whole = Field(0, ge=0, le=MAX_SMOOTH)
    known: str | None = Field(
        None, description="An earlier track of the same part: what still holds is kept."
    )


class SmoothRequest(BaseModel):
    """How far a track is to be smoothed."""

    smooth: Whole = Field(ge=0, le=MAX_SMOOTH)


class LossOut(BaseModel):
    """Frames at which a part is lost."""

    first: int
    last: int
    why: str


class FindingOut(ProgressOut):
    """How far a track is; what was found till it was stopped is kept, if there is any of it."""

    losses: list[LossOut]
