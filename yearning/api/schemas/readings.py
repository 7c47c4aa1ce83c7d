"""Requests and responses about readings."""

from pydantic import BaseModel, Field

from yearning.api.schemas.pictures import PictureRequest
from yearning.core.validation import Number


class Place(BaseModel):
    """A place of the picture, in parts of its width and height."""

    x: Number = Field(ge=0, le=1)
    y: Number = Field(ge=0, le=1)


class SampleRequest(PictureRequest):
    """Which place of which picture is to be read."""

    at: Place


class Drawing(BaseModel):
    """Brightness 0..255 of a drawing's points, row by row from the top, in base64."""

    width: int
    height: int
    data: str


class TargetOut(BaseModel):
    """Where a 75 % bar stands on the vectorscope, 0..1 from the left and from the top."""

    name: str
    x: float
    y: float


class ValueOut(BaseModel):
    """A place's R'G'B' and luma, 0..1 as displayed, and its hue in degrees; none for a grey."""

    red: float
    green: float
    blue: float
    luma: float
    hue: float | None


class HeldLightOut(BaseModel):
    """How much of its own light a step holds back from the mid-tones."""

    held: float = Field(description="From mid-grey, 0..1 of white, before its amount; of most 0.")


class ReadingsOut(BaseModel):
    """The readings of a picture."""

    waveform: Drawing
    parade: Drawing
    vectors: Drawing
    targets: list[TargetOut]
    skin: float = Field(description="Degrees of skin's line, from +C'B towards +C'R.")
    low: float
    high: float
    histogram: list[list[int]] = Field(description="Counts of luma, R', G', B' over 0..1.")
    black: float
    white: float
    gamut: float
