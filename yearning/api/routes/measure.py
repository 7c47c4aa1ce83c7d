"""Settings from a whole clip: measured in the background, with progress, and kept."""

import json
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse
from pydantic import BaseModel, Field

from yearning.api.preview import Desk
from yearning.api.problems import Problem
from yearning.api.routes.pictures import after_of, preview_size
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import LookError, parse_look
from yearning.core.treatment.clip_tones import ClipCounts, ClipTones, sample_frames
from yearning.core.treatments import TREATMENTS
from yearning.media.decode.clip import open_clip
from yearning.media.decode.deflickered import Deflickered, measure_light
from yearning.media.decode.reading import Reading
from yearning.media.decode.retimed import Retimed
from yearning.media.errors import MediaError

LINES = 270

router = APIRouter(prefix="/api", tags=["readings"], responses={422: {"model": Problem}})


class MeasureAsk(BaseModel):
    """Which clip is to be measured, after which step of a look, to set which treatment."""

    clip: int
    look: dict[str, object]
    after: str | None = Field(None, description="A step's id; 'as shot' for the footage; else all.")
    treatment: str


class Measured(BaseModel):
    """A line of the answer: how far it is; the last has the settings, or what went wrong."""

    done: int
    total: int
    settings: dict[str, float] | None = None
    error: str | None = None


def said(done: int, total: int, **more: Any) -> str:
    """A line of an answer."""
    found = Measured(done=done, total=total, **more)
    return json.dumps(found.model_dump(exclude_none=True)) + "\n"


@router.post(
    "/measure",
    response_class=StreamingResponse,
    responses={200: {"content": {"application/x-ndjson": {}}, "model": Measured}},
)
def measure(request: Request, ask: MeasureAsk) -> StreamingResponse:
    """Settings that suit the clip, from frames spread over it; a `Measured` a line."""
    desk: Desk = request.app.state.desk
    treatment = TREATMENTS.get(ask.treatment)
    if treatment is None or not treatment.measures():
        raise LookError(f"{ask.treatment}: can't be set from a clip")
    footage = desk.footage(desk.project.clips.get(ask.clip))
    size = preview_size(footage, LINES)
    path = Evaluator(parse_look(ask.look), footage, size, Cache(0), assets=desk.assets)
    number = after_of(path, ask.after)
    frames = sample_frames(footage.frames)
    kept = desk.measured.get((footage.id, path.content_key(number)))

    def line(done: int, tones: ClipTones | None = None, error: str | None = None) -> str:
        settings = None if tones is None else treatment.set_from(tones)
        return said(done, len(frames), settings=settings, error=error)

    def lines() -> Iterator[str]:
        if kept is not None:
            yield line(len(frames), kept)
            return
        counts = ClipCounts()
        try:
            for done, frame in enumerate(frames):
                yield line(done)
                with desk.working:
                    counts.add(path.picture_of(frame, number))
        except MediaError as error:
            yield line(done, error=str(error))
            return
        tones = counts.tones()
        desk.keep_measured((footage.id, path.content_key(number)), tones)
        yield line(len(frames), tones)

    return StreamingResponse(lines(), media_type="application/x-ndjson")


@router.post(
    "/clips/{clip_id}/light",
    response_class=StreamingResponse,
    responses={200: {"content": {"application/x-ndjson": {}}}},
)
def measure_light(request: Request, clip_id: int) -> StreamingResponse:
    """Measure a clip's light, so that its exposure can be evened at once; a `Measured` a line."""
    desk: Desk = request.app.state.desk
    clip = desk.project.clips.get(clip_id)
    desk.project.clips.check(clip)
    reading = replace(Reading.of(clip.reading).as_shot, deflicker=None)
    footage = open_clip(clip.path, reading, clip.digest)
    assert not isinstance(footage, Deflickered | Retimed)

    def lines() -> Iterator[str]:
        with footage:
            yield said(0, footage.frames)
            try:
                for done in measure_light(footage):
                    if done % 8 == 0:
                        yield said(done, footage.frames)
            except (MediaError, OSError) as error:
                yield said(0, footage.frames, error=str(error))
                return
            yield said(footage.frames, footage.frames)

    return StreamingResponse(lines(), media_type="application/x-ndjson")
