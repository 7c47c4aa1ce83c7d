"""What an analysis of steadiness found, as it is kept with the project and sent to the page."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.core.measure.steadiness import MAX_ADDED, MAX_JUMP, SteadinessAnalysis

DIGITS = 6
"""Of the values that are kept: a hundredth of an 8-bit code's step is 4e-5."""


class FlagOut(BaseModel):
    """A frame that is not steady."""

    frame: int
    why: str = Field(description="added: change is added; jump: the picture's light jumps.")
    value: float
    step: str = Field(description="The step that adds most.")


class FlashFault(BaseModel):
    """Frames in which too much of the picture flashes too often."""

    model_config = ConfigDict(serialize_by_alias=True)

    first: int = Field(alias="from")
    last: int = Field(alias="to")
    seconds: float
    kind: str
    area: float
    count: float


class FaultOut(FlashFault):
    """Such frames of a clip."""

    step: str | None = Field(description="The step that causes it; None if the footage has it.")


class SteadinessReport(BaseModel):
    """How steady a look is on a clip: values by frame, display-coded."""

    change_footage: list[float]
    added: list[float]
    added_steady: list[float]
    lift: list[float]
    cuts: list[int]
    steps: dict[str, float] = Field(description="What each step adds on average.")
    lively: list[str]
    flags: list[FlagOut]
    flashes: list[FaultOut]
    most_added: float = MAX_ADDED
    most_jump: float = MAX_JUMP
    measured: int | None = Field(
        None, description="Frames whose motion was estimated, where not all: long clips."
    )


def report_of(analysis: SteadinessAnalysis) -> SteadinessReport:
    """The report of a finished analysis."""
    whole, changes = analysis.report(), analysis.changes

    def each(name: str) -> list[float]:
        return [round(getattr(change, name), DIGITS) for change in changes]

    return SteadinessReport(
        change_footage=each("change_footage"),
        added=each("added"),
        added_steady=each("added_steady"),
        lift=each("lift"),
        cuts=[change.frame for change in changes if change.cut],
        steps={step: round(added, DIGITS) for step, added in whole["steps"].items()},
        lively=whole["lively"],
        flags=whole["flags"],
        flashes=whole["flashes"],
        measured=len(whole["measured"]) if "measured" in whole else None,
    )
