"""Time in a look: what keys say at a frame, which to check next, and bursts made by rule."""

import numpy as np
from fastapi import APIRouter
from numpy.typing import NDArray

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject, Preview
from yearning.api.preview import PreviewService
from yearning.api.problems import OF_CLIP
from yearning.api.schemas.timing import (
    BurstsRequest,
    OnSound,
    Repeated,
    Scattered,
    ValuesOut,
    ValuesRequest,
)
from yearning.core.errors import InvalidLookError
from yearning.core.look.bursts import (
    Burst,
    burst_weight,
    bursts_at_interval,
    bursts_from,
    random_bursts,
)
from yearning.core.look.document import parse_look, walk_steps
from yearning.core.look.keyframes import next_frame_to_check
from yearning.core.measure.onsets import RATE, onsets, spectral_flux
from yearning.media.audio.waveform import decode_mono
from yearning.media.decode.clip import OpenClip
from yearning.media.errors import MediaError

router = APIRouter(prefix=V1, tags=["timing"], responses=OF_CLIP)


@router.post("/step-values")
def compute_step_values(project: CurrentProject, ask: ValuesRequest) -> ValuesOut:
    """The keyed values of a step at a frame."""
    clip = project.clips.get(ask.clip)
    placed = walk_steps(parse_look(ask.look, keep_absent=True).steps)
    step = next((each.step for each in placed if each.step.id == ask.step), None)
    if step is None:
        raise InvalidLookError(f"no step has the id '{ask.step}'")
    now = step.model_copy(update={"bursts": ()}).at(ask.frame)
    of_settings, of_mix = now.settings.model_dump(mode="json"), now.mix.model_dump(mode="json")
    of_mix |= {
        f"mask.{shape['id']}.{field}": value
        for shape in of_mix["mask"]
        for field, value in shape.items()
    }
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


@router.post("/clips/{clip_id}/bursts")
def make_bursts(preview: Preview, clip_id: int, ask: BurstsRequest) -> list[Burst]:
    """Bursts made by a rule, for a clip."""
    clip = preview.project.clips.get(clip_id)
    frames = clip.probe["frames"]
    try:
        match ask:
            case Repeated():
                return bursts_at_interval(frames, ask.first, ask.length, ask.every, ask.ramp)
            case Scattered():
                lengths = ask.shortest, ask.longest
                return random_bursts(frames, ask.count, lengths, ask.ramp, ask.seed)
            case OnSound():
                footage = preview.footage(clip)
                times = onsets(_flux(preview, footage), ask.threshold) / float(footage.reading.pace)
                firsts = np.floor(times * float(footage.probe.rate)).astype(int)
                return bursts_from(frames, firsts.tolist(), ask.length, ask.ramp)
    except ValueError as error:
        raise InvalidLookError(str(error)) from None


def _flux(preview: PreviewService, footage: OpenClip) -> NDArray[np.float64]:
    """The sound's spectral flux, listened to once."""
    if not footage.probe.sounds:
        raise MediaError(f"{footage.path.name}: it has no sound to take bursts from")

    def compute_flux() -> NDArray[np.float64]:
        return spectral_flux(decode_mono(footage.path, RATE, float(footage.begins)))

    return preview.spectral_flux.get_or_make(footage.id, compute_flux)
