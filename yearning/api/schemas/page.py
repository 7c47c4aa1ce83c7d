"""What the page remembers of a project from visit to visit."""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from yearning.core.validation import Number, Whole

FrameNumber = Whole
"""From 0; what lies beyond a clip's end is cut to it when it is used."""


class ClipMemory(BaseModel):
    """Where a clip was left: with which look, at which frame, over which frames."""

    model_config = ConfigDict(extra="forbid")

    look: Whole | None = None
    frame: FrameNumber = Field(0, ge=0)
    played: tuple[FrameNumber, FrameNumber] | None = Field(
        None, description="First and last frame of what is played round and round."
    )
    rendered: tuple[FrameNumber | None, FrameNumber | None] = Field(
        (None, None), description="First and last frame that a render is to have."
    )


class HistoryEntry(BaseModel):
    """A change of how a clip is read, or of its ranges, that Undo takes back."""

    model_config = ConfigDict(extra="forbid")

    kind: Literal["reading", "played", "rendered"]
    clip: Whole
    before: Any
    after: Any
    words: str = Field(max_length=400)
    revision: Whole = Field(description="Of the look, that was current then.")
    at: Number


class History(BaseModel):
    """What Undo and Redo walk beside the looks' revisions, the newest last."""

    model_config = ConfigDict(extra="forbid")

    done: list[HistoryEntry] = Field(default_factory=list, max_length=100)
    undone: list[HistoryEntry] = Field(default_factory=list, max_length=100)


class PageMemory(BaseModel):
    """How the page was left: the clip, each clip's own, and how the Bench is divided."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    clip: Whole | None = None
    clips: dict[Whole, ClipMemory] = Field(default_factory=dict, max_length=10_000)
    open: str | None = Field(None, max_length=200, description="The open step's id.")
    question: Literal["what", "where", "mixed", "when"] = "what"
    panel: Literal["readings", "footage", "renders", "manual"] = "readings"
    zoom: Number | None = Field(None, ge=0.1, le=8)
    path_height: Number | None = Field(None, ge=0, le=10_000, description="CSS pixels.")
    side_width: Number | None = Field(None, ge=0, le=10_000, description="CSS pixels.")
    history: History = Field(default_factory=History)
