"""Which picture is meant: in requests for pictures, and for all that is read off one."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import LookInput
from yearning.core.validation import Number, Whole

After = Annotated[
    str | None, Field(description="A step's id; 'footage' for the footage; else all.")
]
Height = Annotated[
    Whole,
    Field(
        ge=16,
        le=4320,
        description="Lines of the whole picture; as many as the footage has give its true pixels.",
    ),
]


class FrameRequest(BaseModel):
    """A look at a frame of a clip."""

    clip: Whole
    frame: Whole = Field(ge=0)
    look: LookInput


class SizedRequest(FrameRequest):
    """A look at a frame of a clip, at a size; a newer request may overtake it."""

    height: Height = 540
    channel: str = Field(
        "",
        description="Who asks; a newer `sequence` of the same overtakes this one. None overtakes "
        "another where it is empty.",
    )
    sequence: Whole = 0


class PictureRequest(SizedRequest):
    """A picture: of a look at a frame, after a step, at a size."""

    after: After = None


class Window(BaseModel):
    """A window on the picture: its centre as fractions, its size in pixels."""

    x: Number = Field(ge=0, le=1)
    y: Number = Field(ge=0, le=1)
    width: Whole = Field(ge=1, le=8192)
    height: Whole = Field(ge=1, le=8192)


class ShownRequest(PictureRequest):
    """A picture, and what of it is shown."""

    crop: Window | None = Field(None, description="A window of it alone, without loss.")
    show: Literal["picture", "warnings", "change", "weight", "layer", "highlights"] = Field(
        "picture",
        description="The picture; with what a display can't show striped; how it differs from "
        "`base`, magnified about grey; where the step `after` shows, by mask and tone window; "
        "what that step lays on the picture below it, alone; or the highlights its light is from.",
    )
    base: str | None = Field(None, description="What `change` compares with, as `after` is named.")
    base_look: LookInput | None = Field(
        None, description="A look whose result `change` compares with instead."
    )
    base_frame: Whole | None = Field(
        None, ge=0, description="A frame of the same look that `change` compares with instead."
    )
    gain: Number = Field(8, ge=0.25, le=64, description="How far `change` magnifies.")


class PathOut(BaseModel):
    """The path: the footage and each step's picture as JPEG data addresses."""

    footage: str
    steps: dict[str, str]
