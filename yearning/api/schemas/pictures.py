"""Requests and responses about pictures."""

from typing import Any, Literal

from pydantic import BaseModel, Field

from yearning.core.validation import Number, Whole


class Crop(BaseModel):
    """A window on the picture: its centre as fractions, its size in pixels."""

    x: Number = Field(ge=0, le=1)
    y: Number = Field(ge=0, le=1)
    width: Whole = Field(ge=1, le=8192)
    height: Whole = Field(ge=1, le=8192)


class PictureRequest(BaseModel):
    """Which picture is wanted: of a look, at a frame, after a step, at a size."""

    clip: Whole
    frame: Whole
    look: dict[str, Any]
    after: str | None = Field(None, description="A step's id; 'as shot' for the footage; else all.")
    height: Whole = Field(
        540,
        ge=16,
        le=4320,
        description="Lines of the whole picture; as many as the footage has give its true pixels.",
    )
    crop: Crop | None = Field(None, description="A window of it alone, without loss.")
    show: Literal["picture", "warnings", "change", "weight", "layer"] = Field(
        "picture",
        description="The picture; with what a display can't show striped; how it differs from "
        "`base`, magnified about grey; where the step `after` shows, by mask and tone window; or "
        "what that step lays on the picture below it, alone.",
    )
    base: str | None = Field(None, description="What `change` compares with, as `after` is named.")
    base_look: dict[str, Any] | None = Field(
        None, description="A look whose result `change` compares with instead."
    )
    base_frame: Whole | None = Field(
        None, ge=0, description="A frame of the same look that `change` compares with instead."
    )
    gain: Number = Field(8, ge=0.25, le=64, description="How far `change` magnifies.")
    channel: str = Field(
        "", description="Who asks; a newer `ticket` of the same overtakes this one."
    )
    sequence: Whole = 0


class PathRequest(BaseModel):
    """Small pictures of every step of a look at a frame."""

    clip: Whole
    frame: Whole
    look: dict[str, Any]
    height: Whole = Field(540, ge=16, le=4320, description="Size at which the path is evaluated.")
    channel: str = ""
    sequence: Whole = 0


class PathOut(BaseModel):
    """The path: the footage and each step's picture as JPEG data addresses."""

    footage: str
    steps: dict[str, str]
