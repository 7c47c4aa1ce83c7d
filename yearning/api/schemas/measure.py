"""Requests and responses about settings measured from a clip."""

from pydantic import BaseModel

from yearning.api.schemas.look_document import LookInput
from yearning.api.schemas.pictures import After
from yearning.core.validation import Whole


class MeasureRequest(BaseModel):
    """Which clip is to be measured, after which step of a look, to set which treatment."""

    clip: Whole
    look: LookInput
    after: After = None
    treatment: str


class Measured(BaseModel):
    """A line of the answer: how far it is; the last has the settings, or what went wrong."""

    done: int
    total: int
    settings: dict[str, float] | None = None
    error: str | None = None
