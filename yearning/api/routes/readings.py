"""Readings: scopes and values of a picture, computed from the whole of it."""

import base64

import numpy as np
from fastapi import APIRouter
from numpy.typing import NDArray

from yearning.api.addresses import V1
from yearning.api.dependencies import Preview
from yearning.api.preview import PreviewService, number_after
from yearning.api.problems import OF_CLIP, problems
from yearning.api.schemas.pictures import PictureRequest
from yearning.api.schemas.readings import (
    Drawing,
    HeldLightOut,
    ReadingsOut,
    SampleRequest,
    TargetOut,
    ValueOut,
)
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.step_light import held_light
from yearning.core.image.histogram import histogram
from yearning.core.look.document import parse_look
from yearning.core.measure import scopes

COLUMNS, LEVELS, SIDE, BINS = 264, 121, 121, 128

router = APIRouter(prefix=V1, tags=["readings"], responses=OF_CLIP | problems(409))


@router.post("/held-light")
def measure_held_light(preview: Preview, ask: PictureRequest) -> HeldLightOut:
    """How much light the step `after` takes from the mid-tones, so that they stay as bright."""
    with preview.computing:
        evaluator, _ = _evaluator_and_picture(preview, ask)
        held = held_light(evaluator, ask.frame, ask.after) if ask.after else 0.0
    return HeldLightOut(held=held)


@router.post("/readings")
def measure_readings(preview: Preview, ask: PictureRequest) -> ReadingsOut:
    """Waveform, parade, vectorscope and histogram of what crops leave, and what is beyond.

    What is beyond is counted between bars.
    """
    with preview.computing:
        evaluator, number = _evaluator_and_picture(preview, ask)
        whole = evaluator.picture_of(ask.frame, number)
        picture = evaluator.visible_box(ask.frame, number, cropped_only=True).of(whole)
        waves = scopes.waveform(picture, COLUMNS, LEVELS)
        vectors = scopes.vectorscope(picture, SIDE)
        counts = histogram(picture, BINS)
        _, outside = scopes.out_of_range(evaluator.visible_box(ask.frame, number).of(whole))
    reach = 2 * scopes.REACH
    return ReadingsOut(
        waveform=_drawing(waves[0, ::-1]),
        parade=_drawing(np.concatenate([wave[::-1, ::3] for wave in waves[1:]], axis=1)),
        vectors=_drawing(vectors),
        targets=[
            TargetOut(name=t.name, x=0.5 + t.cb / reach, y=0.5 - t.cr / reach)
            for t in scopes.targets()
        ],
        skin=scopes.SKIN_DEGREES,
        low=scopes.LOW,
        high=scopes.HIGH,
        histogram=counts.tolist(),
        black=outside.black,
        white=outside.white,
        gamut=outside.gamut,
    )


@router.post("/samples")
def sample_picture(preview: Preview, ask: SampleRequest) -> ValueOut:
    """What a place of a picture holds."""
    with preview.computing:
        evaluator, number = _evaluator_and_picture(preview, ask)
        picture = evaluator.picture_of(ask.frame, number)
    return ValueOut(**scopes.sample_at(picture, ask.at.x, ask.at.y)._asdict())


def _evaluator_and_picture(preview: PreviewService, ask: PictureRequest) -> tuple[Evaluator, int]:
    """The evaluator of the look that is asked about, and the number of the picture."""
    is_stale = preview.latest.register(ask.channel, ask.sequence)
    look, footage = (
        parse_look(ask.look, keep_absent=True),
        preview.footage(preview.project.clips.get(ask.clip)),
    )
    evaluator = preview.evaluator(look, footage, ask.height, is_cancelled=is_stale)
    return evaluator, number_after(evaluator, ask.after)


FAINTEST = 40
"""A point that came once is drawn as bright as that: on paper too it would be picture."""


def _drawing(counts: NDArray[np.uint32]) -> Drawing:
    """Turn counts into brightness 0..255, by their logarithm."""
    most = max(int(counts.max()), 2)
    light = FAINTEST + (255 - FAINTEST) * np.log(np.maximum(counts, 1)) / np.log(most)
    shown = np.where(counts > 0, light, 0).astype(np.uint8)
    data = base64.b64encode(shown.tobytes()).decode()
    return Drawing(width=shown.shape[1], height=shown.shape[0], data=data)
