"""Requests and responses about keys and bursts."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from yearning.api.schemas.look_document import SettingValue
from yearning.api.schemas.pictures import FrameRequest
from yearning.core.measure.onsets import THRESHOLD
from yearning.core.validation import Number, Whole


class ValuesRequest(FrameRequest):
    """A step of a look at a frame of a clip."""

    step: str
    looked: list[Whole] = Field([], description="Frames that were looked at.")


class ValuesOut(BaseModel):
    """What a step's keys and bursts say at a frame."""

    settings: dict[str, SettingValue] = Field(description="Keyed settings, as they are there.")
    mix: dict[str, SettingValue | None] = Field(
        description="Keyed fields of the mix, as they are there."
    )
    weight: float = Field(description="How active the step is, by its bursts.")
    next: int | None = Field(description="The next frame worth checking.")


class _Bursts(BaseModel):
    model_config = ConfigDict(extra="forbid")

    ramp: Whole = Field(0, ge=0, le=10_000)


class Repeated(_Bursts):
    """Bursts at an interval."""

    way: Literal["repeated"]
    first: Whole = Field(0, ge=0)
    length: Whole = Field(ge=1)
    every: Whole = Field(ge=2)


class Scattered(_Bursts):
    """Bursts spread by chance."""

    way: Literal["scattered"]
    count: Whole = Field(ge=1, le=2_000)
    shortest: Whole = Field(ge=1)
    longest: Whole = Field(ge=1)
    seed: Whole = Field(1, ge=0)


class OnSound(_Bursts):
    """Bursts where something begins to sound."""

    way: Literal["sound"]
    length: Whole = Field(ge=1)
    threshold: Number = Field(THRESHOLD, ge=0, le=20, description="Higher finds fewer.")


BurstsRequest = Annotated[Repeated | Scattered | OnSound, Field(discriminator="way")]
