"""How far work in the background is."""

from pydantic import BaseModel, ConfigDict, Field


class ProgressOut(BaseModel):
    """How far work on a clip is, and under which name what it makes is kept."""

    model_config = ConfigDict(from_attributes=True)

    clip: int
    title: str
    done: int
    total: int
    rate: float = Field(description="Steps a second.")
    file: str | None
    error: str | None
    stopped: bool
    running: bool
