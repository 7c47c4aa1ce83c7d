"""Requests and responses about movies of reels."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.core.validation import Whole
from yearning.farm.settings import ResultSpec


class MovieRequest(BaseModel):
    """Which reel is made one movie, and as what."""

    reel: Whole
    result: ResultSpec = Field(ResultSpec(), description="Its frames are each shot's own.")


class MovieOut(BaseModel):
    """How far a movie is."""

    model_config = ConfigDict(from_attributes=True)

    reel: int
    title: str
    done: int = Field(description="Frames that are rendered.")
    total: int
    file: str | None = Field(description="Its file in the project's renders, once it is whole.")
    error: str | None
    stopped: bool
    running: bool


class MadeMovieOut(BaseModel):
    """A movie that was made."""

    file: str = Field(description="Its file in the project's renders.")
    title: str = Field(description="The reel's name as it was then.")
    frames: int
    made: float = Field(description="When, in seconds since 1970.")
    bytes: int
