"""Requests and responses about the steadiness and the flashes of reels."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from yearning.analysis.report import FlagOut, FlashFault
from yearning.core.validation import Whole


class ReelSteadinessRequest(BaseModel):
    """Which reel is measured."""

    reel: Whole


class ReelFaultOut(FlashFault):
    """Frames of the reel in which too much of the picture flashes too often."""

    shots: list[str]
    by: Literal["look", "cut", "footage"] = Field(description="What makes them.")


class ShotSteadinessOut(BaseModel):
    """What its look adds to a shot from frame to frame."""

    shot: str
    added: float
    added_steady: float
    flags: list[FlagOut] = Field(description="Frames of the reel that are not steady.")


class ReelReportOut(BaseModel):
    """What was found in a reel."""

    passes: bool
    faults: list[ReelFaultOut]
    shots: list[ShotSteadinessOut]
    most_added: float
    most_jump: float


class ReelSteadinessOut(BaseModel):
    """How far a reel is gone through, and what was found once it has ended."""

    model_config = ConfigDict(from_attributes=True)

    reel: int
    revision: int = Field(description="The reel's, as it was measured.")
    title: str
    notes: list[str] = Field(description="Shots, or parts of them, that were taken as black.")
    done: int
    total: int
    rate: float = Field(description="Frames a second.")
    error: str | None
    stopped: bool
    running: bool
    report: ReelReportOut | None
