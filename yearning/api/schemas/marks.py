"""Requests and responses about marks."""

from pydantic import BaseModel

from yearning.api.schemas.pictures import FrameRequest


class MarksRequest(FrameRequest):
    """Whose marks are wanted, at which frame."""

    step: str


class MarkOut(BaseModel):
    """A mark: its name, its points in parts of the frame, and its radius in parts of its height."""

    name: str
    points: list[tuple[float, float]]
    radius: float
