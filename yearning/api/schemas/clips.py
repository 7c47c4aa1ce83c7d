"""Clips as requests and responses have them."""

from pydantic import BaseModel, ConfigDict, Field

from yearning.core.colour.conversion import Light
from yearning.core.colour.matrices import Matrix, Range
from yearning.core.validation import Number, Whole
from yearning.media.decode.input_overrides import BetweenFrames, Fields, StillLight, Stretching
from yearning.store.clips import Clip


class SoundOut(BaseModel):
    """One stream of sound."""

    codec: str
    rate: int
    channels: int


class ReadingIn(BaseModel):
    """How a clip is read where its tags are wrong or missing; what is not said is as tagged."""

    model_config = ConfigDict(extra="forbid")

    matrix: Matrix | None = None
    range: Range | None = None
    light: Light | StillLight | None = None
    fields: Fields | None = None
    rate: str | None = Field(None, max_length=24, description="Frames a second: 25, 30000/1001.")
    deflicker: Whole | None = Field(
        None, description="Frames on each side over which pumping exposure is evened."
    )
    speed: Number | None = Field(None, description="Times as fast as it was shot, 0.1 to 8.")
    sound: Stretching | None = Field(
        None, description="What becomes of its sound at that speed; off where left out."
    )
    between: BetweenFrames | None = Field(
        None, description="What is shown between frames at that speed; motion where left out."
    )


class ClipOut(BaseModel):
    """A clip of the project."""

    id: int
    name: str
    width: int
    height: int
    frames: int
    rate: float
    duration: float
    pixel_format: str
    matrix: str
    matrix_tagged: bool
    range: str
    light: str = "SDR"
    fields: str = "progressive"
    variable_rate: bool = False
    timecode: str | None = None
    codec: str
    container: str
    audio: list[SoundOut]
    reading: ReadingIn

    @staticmethod
    def of(clip: Clip) -> "ClipOut":
        """From the store's."""
        reading = ReadingIn(**clip.reading)
        return ClipOut(id=clip.id, name=clip.name, reading=reading, **clip.probe)
