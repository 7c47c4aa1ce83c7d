"""Requests and responses about steadiness."""

from pydantic import BaseModel, Field

from yearning.analysis.report import SteadinessReport
from yearning.api.schemas.look_document import LookInput
from yearning.core.validation import Whole


class SteadinessOut(BaseModel):
    """How far the examination is, and what it found once it is done."""

    done: int
    total: int
    rate: float = Field(0, description="Frames a second.")
    report: SteadinessReport | None = None
    error: str | None = None
    stopped: bool = Field(False, description="Given up before it was done.")


class SteadinessRequest(BaseModel):
    """A look on a clip."""

    clip: Whole
    look: LookInput


class ExaminationRequest(SteadinessRequest):
    """A look on a clip, to be gone through."""

    again: bool = Field(False, description="Begins anew what was stopped.")


class SteadyFrameOut(BaseModel):
    """The change of one frame against the one before."""

    change_footage: float
    added_steady: float
    jump: float
