"""What the page remembers of a project from visit to visit."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.clips import ReadingIn
from yearning.core.validation import Number, Whole

FrameNumber = Whole
"""From 0; what lies beyond a clip's end is cut to it when it is used."""

Span = tuple[FrameNumber, FrameNumber]
Ends = tuple[FrameNumber | None, FrameNumber | None]
"""A first and a last frame; none is the clip's own."""


class ClipMemory(BaseModel):
    """Where a clip was left: with which look, at which frame, over which frames."""

    model_config = ConfigDict(extra="forbid")

    look: Whole | None = None
    frame: FrameNumber = Field(0, ge=0)
    played: Span | None = Field(
        None, description="First and last frame of what is played round and round."
    )
    rendered: Ends = Field(
        (None, None), description="First and last frame that a render is to have."
    )


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid")

    clip: Whole
    words: str = Field(max_length=400)
    revision: Whole = Field(description="Of the look, that was current then.")
    at: Number


class ReadingChange(_Entry):
    """A change of how a clip is read."""

    kind: Literal["reading"]
    before: ReadingIn
    after: ReadingIn


class PlayedChange(_Entry):
    """A change of the frames that are played round and round."""

    kind: Literal["played"]
    before: Span | None
    after: Span | None


class RenderedChange(_Entry):
    """A change of the frames that a render is to have."""

    kind: Literal["rendered"]
    before: Ends
    after: Ends


class ReelEdit(_Entry):
    """A change of a reel: its revisions before and after."""

    kind: Literal["reel"]
    reel: Whole
    before: Whole
    after: Whole


HistoryEntry = Annotated[
    ReadingChange | PlayedChange | RenderedChange | ReelEdit, Field(discriminator="kind")
]


class History(BaseModel):
    """What Undo and Redo walk beside the looks' revisions, the newest last."""

    model_config = ConfigDict(extra="forbid")

    done: list[HistoryEntry] = Field([], max_length=100)
    undone: list[HistoryEntry] = Field([], max_length=100)


class PageMemory(BaseModel):
    """How the page was left: the clip, each clip's own, and how the Bench is divided."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    clip: Whole | None = None
    clips: dict[Whole, ClipMemory] = Field({}, max_length=10_000)
    open: str | None = Field(None, max_length=200, description="The open step's id.")
    question: Literal["what", "where", "mixed", "when"] = "what"
    panel: Literal["readings", "footage", "renders", "manual"] = "readings"
    zoom: Number | None = Field(None, ge=0.1, le=8)
    path_height: Number | None = Field(None, ge=0, le=10_000, description="CSS pixels.")
    side_width: Number | None = Field(None, ge=0, le=10_000, description="CSS pixels.")
    history: History = History()
