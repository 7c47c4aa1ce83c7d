"""Proof sheets as they are kept: what of a look they try, on which shots."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.even_amounts import ClipAmount
from yearning.api.schemas.look_document import SettingValue, StepInput
from yearning.api.schemas.matches import HeldColoursOut
from yearning.core.measure.colour_match import HELD
from yearning.core.treatment.base import Effect
from yearning.core.validation import Number, Whole
from yearning.media.stills.contact_sheet import MAX_CELLS

StepId = Annotated[str, Field(min_length=1, max_length=64)]
PlaceName = Annotated[
    str, Field(min_length=1, max_length=120, description="As keys are named: 'mix.amount'.")
]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class SheetShot(_Part):
    """A frame of a clip."""

    clip: Whole
    frame: Whole = Field(ge=0)


class ValueSpan(_Part):
    """Values between two."""

    low: Number
    high: Number
    count: Whole = Field(ge=2, le=MAX_CELLS)
    way: Literal["even", "by ratio"] = Field(
        "even", description="Evenly, or each so many times the one before."
    )


class SpanSubject(_Part):
    """Values of a setting between two."""

    kind: Literal["span"]
    step: StepId
    name: PlaceName
    span: ValueSpan


class ChoicesSubject(_Part):
    """Values of a setting, one by one: choices, seeds, blend modes."""

    kind: Literal["choices"]
    step: StepId
    name: PlaceName
    values: list[SettingValue] = Field(min_length=1, max_length=256)


ValuesSubject = Annotated[SpanSubject | ChoicesSubject, Field(discriminator="kind")]


class PairSubject(_Part):
    """Values of two settings, as rows and columns."""

    kind: Literal["pair"]
    rows: ValuesSubject
    columns: ValuesSubject


class LooksSubject(_Part):
    """Looks of the project."""

    kind: Literal["looks"]
    ids: list[Whole] = Field(max_length=MAX_CELLS)


class SnapshotsSubject(_Part):
    """The look's kept states."""

    kind: Literal["snapshots"]


class ClipsSubject(_Part):
    """The look as it stands on each clip."""

    kind: Literal["clips"]


class FrameRef(SheetShot):
    """A frame of a clip, as shot or through the look."""

    kind: Literal["frame"]


class PlateRef(_Part):
    """A plate."""

    kind: Literal["plate"]
    file: str


class MatchSubject(_Part):
    """A grade that was found for a clip, at several amounts."""

    kind: Literal["match"]
    step: StepInput = Field(description="The bundle that was found.")
    place: Literal["before", "after"] = Field(description="Of the look's other steps.")
    like: Annotated[FrameRef | PlateRef, Field(discriminator="kind")]
    distance: Number = Field(description="Of the clip's colours from the picture's, before.")
    remains: Number = Field(description="What remains of that with the whole grade.")
    held: list[HeldColoursOut] = Field(default_factory=list, max_length=len(HELD))


class EvenSubject(_Part):
    """Amounts with which a step does alike on each clip."""

    kind: Literal["even"]
    step: StepId
    effect: Effect
    wanted: Number
    clips: list[ClipAmount] = Field(max_length=MAX_CELLS)


Subject = Annotated[
    SpanSubject
    | ChoicesSubject
    | PairSubject
    | LooksSubject
    | SnapshotsSubject
    | ClipsSubject
    | MatchSubject
    | EvenSubject,
    Field(discriminator="kind"),
]


class Sheet(_Part):
    """What is tried, on which shots."""

    subject: Subject
    shots: list[SheetShot] = Field(max_length=MAX_CELLS)


class ProofSheetIn(_Part):
    """A proof sheet that is to be kept beside a look."""

    name: str = Field(min_length=1, max_length=120)
    sheet: Sheet


class ProofSheetOut(ProofSheetIn):
    """A proof sheet that is kept beside a look."""

    id: str
    digest: str = Field(description="Of the look when it was kept: another, and it has changed.")
