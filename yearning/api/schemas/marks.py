"""Requests and responses about marks."""

from pydantic import BaseModel, Field

from yearning.core.validation import Whole


class MarksRequest(BaseModel):
    """Whose marks are wanted, at which frame."""

    clip: Whole
    frame: Whole = Field(ge=0)
    look: dict[str, object]
    step: str


class MarkOut(BaseModel):
    """A mark: its name, its points in parts of the frame, and its radius in parts of its height."""

    name: str
    points: list[tuple[float, float]]
    radius: float
