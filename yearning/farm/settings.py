"""What is asked of a render, and where renders are made: kept with the project as JSON."""

from typing import Literal, get_args

from pydantic import BaseModel, ConfigDict, Field

from yearning.core.validation import Whole
from yearning.media.codecs import CODECS, CodecName, Quality
from yearning.media.containers import container_for
from yearning.media.encode.results import AS_FOOTAGE, Output
from yearning.media.stills.stills import KINDS as STILL_ENDINGS

MAX_WORKERS = 256
"""Processes on one machine."""

StillName = Literal["PNG", "TIFF", "OpenEXR"]


class ResultSpec(BaseModel):
    """What a render is to result in; what is left out is as the footage."""

    model_config = ConfigDict(extra="forbid")

    codec: CodecName | StillName = "H.264"
    quality: Quality = AS_FOOTAGE.quality
    bits: Whole | None = None
    height: Whole | None = Field(None, description="Lines of a smaller result.")
    overlay: bool = Field(
        False,
        description="Not the footage, but what the look lays over it, with alpha.",
    )
    first: Whole = Field(0, ge=0, description="The first frame.")
    last: Whole | None = Field(None, ge=0, description="The last frame, rendered too.")

    @property
    def ending(self) -> str:
        """The ending of the container for the codec, or of the stills."""
        if self.codec in STILL_ENDINGS:
            return STILL_ENDINGS[self.codec]
        return container_for(self.codec).suffix  # type: ignore[arg-type]

    @property
    def is_stills(self) -> bool:
        """Whether it is numbered stills."""
        return self.codec in STILL_ENDINGS

    @property
    def output(self) -> Output:
        """As the encoders take it."""
        codec = None if self.codec in get_args(StillName) else self.codec
        return Output(
            self.quality,
            codec,  # type: ignore[arg-type]
            self.bits,
            self.height,
            overlay=self.overlay,
        )

    def summary(self) -> str:
        """What it is, in words."""
        if self.is_stills:
            words = [f"{self.codec} stills"]
        else:
            words = [f"{self.codec} {CODECS[self.codec].summary(self.quality)}"]  # type: ignore[index]
        if self.bits is not None:
            words.append(f"{self.bits} bit")
        if self.height is not None:
            words.append(f"{self.height} lines")
        if self.overlay:
            words.append("overlay with alpha")
        if self.first or self.last is not None:
            words.append(f"frames {self.first} to {'the last' if self.last is None else self.last}")
        return ", ".join(words)


class FarmSettings(BaseModel):
    """Where renders are made: on this machine, or by the workers of a Dask scheduler."""

    model_config = ConfigDict(extra="forbid")

    workers: Whole | None = Field(
        None, ge=1, le=MAX_WORKERS, description="Processes on this machine; None for one a core."
    )
    address: str | None = Field(
        None, max_length=200, description="A scheduler's that was named at the server's start."
    )
