"""Time in a look: what keys say at a frame, which to check next, and bursts made by rule."""

from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Request
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from yearning.api.preview import Desk
from yearning.api.problems import Problem
from yearning.core.look.document import LookError, parse_look, walk_steps
from yearning.core.look.keyframes import (
    Burst,
    burst_weight,
    bursts_from,
    next_frame_to_check,
    repeated,
    scattered,
)
from yearning.core.measure.onsets import RATE, THRESHOLD, onsets, spectral_flux
from yearning.media.audio.waveform import decode_mono
from yearning.media.decode.clip import OpenClip
from yearning.media.errors import MediaError

router = APIRouter(
    prefix="/api", tags=["timing"], responses={404: {"model": Problem}, 422: {"model": Problem}}
)


class ValuesAsk(BaseModel):
    """A step of a look at a frame of a clip."""

    clip: int
    frame: int = Field(ge=0)
    look: dict[str, Any]
    step: str
    looked: list[int] = Field([], description="Frames that were looked at.")


class ValuesOut(BaseModel):
    """What a step's keys and bursts say at a frame."""

    settings: dict[str, Any] = Field(description="Keyed settings, as they are there.")
    mix: dict[str, Any] = Field(description="Keyed fields of the mix, as they are there.")
    weight: float = Field(description="How active the step is, by its bursts.")
    next: int | None = Field(description="The next frame worth checking.")


@router.post("/values")
def values(request: Request, ask: ValuesAsk) -> ValuesOut:
    """The keyed values of a step at a frame."""
    clip = request.app.state.desk.project.clips.get(ask.clip)
    steps = [step for _, _, step in walk_steps(parse_look(ask.look).steps) if step.id == ask.step]
    if not steps:
        raise LookError(f"no step has the id '{ask.step}'")
    step = steps[0]
    now = step.model_copy(update={"bursts": ()}).at(ask.frame)
    of_settings, of_mix = now.settings.model_dump(mode="json"), now.mix.model_dump(mode="json")
    keyed = {key.frame for keys in step.keys.values() for key in keys}
    return ValuesOut(
        settings={name: of_settings[name] for name in step.keys if name in of_settings},
        mix={
            name.removeprefix("mix."): of_mix[name.removeprefix("mix.")]
            for name in step.keys
            if name.startswith("mix.")
        },
        weight=burst_weight(step.bursts, ask.frame),
        next=next_frame_to_check(clip.probe["frames"], keyed.union(ask.looked)),
    )


class _Bursts(BaseModel):
    model_config = ConfigDict(extra="forbid")

    ramp: int = Field(0, ge=0, le=10_000)


class Repeated(_Bursts):
    """Bursts at an interval."""

    way: Literal["repeated"]
    first: int = Field(0, ge=0)
    length: int = Field(ge=1)
    every: int = Field(ge=2)


class Scattered(_Bursts):
    """Bursts spread by chance."""

    way: Literal["scattered"]
    count: int = Field(ge=1, le=2_000)
    shortest: int = Field(ge=1)
    longest: int = Field(ge=1)
    seed: int = Field(1, ge=0)


class OnSound(_Bursts):
    """Bursts where something begins to sound."""

    way: Literal["sound"]
    length: int = Field(ge=1)
    threshold: float = Field(THRESHOLD, ge=0, le=20, description="Higher finds fewer.")


BurstsAsk = Annotated[Repeated | Scattered | OnSound, Field(discriminator="way")]


@router.post("/clips/{clip_id}/bursts")
def bursts(request: Request, clip_id: int, ask: BurstsAsk) -> list[Burst]:
    """Bursts made by a rule, for a clip."""
    desk: Desk = request.app.state.desk
    clip = desk.project.clips.get(clip_id)
    frames = clip.probe["frames"]
    try:
        match ask:
            case Repeated():
                return repeated(frames, ask.first, ask.length, ask.every, ask.ramp)
            case Scattered():
                lengths = ask.shortest, ask.longest
                return scattered(frames, ask.count, lengths, ask.ramp, ask.seed)
            case OnSound():
                footage = desk.footage(clip)
                times = onsets(_flux(desk, footage), ask.threshold) / float(footage.reading.pace)
                firsts = np.floor(times * float(footage.probe.rate)).astype(int)
                return bursts_from(frames, firsts.tolist(), ask.length, ask.ramp)
    except ValueError as error:
        raise LookError(str(error)) from None


def _flux(desk: Desk, footage: OpenClip) -> NDArray[np.float64]:
    """The sound's spectral flux, listened to once."""
    kept = desk.heard.get(footage.id)
    if kept is None:
        if not footage.probe.sounds:
            raise MediaError(f"{footage.path.name}: it has no sound to take bursts from")
        kept = spectral_flux(decode_mono(footage.path, RATE, float(footage.begins)))
        desk.heard[footage.id] = kept
    return kept
