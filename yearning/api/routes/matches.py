"""Grades that bring a clip near another picture."""

from collections.abc import Iterator
from typing import Any

import numpy as np
from fastapi import APIRouter
from fastapi.responses import StreamingResponse
from numpy.typing import NDArray

from yearning.api.addresses import V1
from yearning.api.dependencies import Preview
from yearning.api.preview import PreviewService, number_after
from yearning.api.problems import OF_CLIP
from yearning.api.routes.measure import LINES_MEDIA_TYPE
from yearning.api.schemas.matches import (
    FrameLike,
    HeldColoursOut,
    MatchFound,
    MatchProgress,
    MatchRequest,
    PlateLike,
)
from yearning.core.cache import Cache
from yearning.core.engine.sampling import sampled_pictures
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.measure.colour_match import LINES, ColourMatch, colours_of, match_colours
from yearning.core.treatment.clip_tones import sample_frames
from yearning.media.errors import MediaError

router = APIRouter(prefix=V1, tags=["readings"], responses=OF_CLIP)


@router.post(
    "/matches",
    response_class=StreamingResponse,
    responses={200: {"content": {LINES_MEDIA_TYPE: {}}, "model": MatchProgress}},
)
def find_match(preview: Preview, ask: MatchRequest) -> StreamingResponse:
    """A grade that brings a clip near a picture, from frames spread over it; a line each."""
    like = _colours_like(preview, ask.like)
    footage = preview.footage(preview.project.clips.get(ask.clip))
    evaluator = preview.evaluator(
        parse_look(ask.look, keep_absent=True), footage, LINES
    ).with_cache(Cache(0))
    number = number_after(evaluator, ask.after)
    frames = sample_frames(footage.frames)
    key = footage.id, evaluator.content_key(number)
    total = len(frames) + 1

    def line(done: int, **more: Any) -> str:
        progress = MatchProgress(done=done, total=total, **more)
        return progress.model_dump_json(exclude_none=True) + "\n"

    def lines() -> Iterator[str]:
        kept = preview.clip_colours.get(key)
        if kept is None:
            found = []
            pictures = sampled_pictures(evaluator, number)
            for done in range(len(frames)):
                yield line(done)
                try:
                    with preview.computing:
                        picture = next(pictures)
                except (MediaError, InvalidLookError) as error:
                    yield line(done, error=str(error))
                    return
                found.append(colours_of(picture, len(frames)))
            kept = preview.clip_colours.put(key, np.concatenate(found, axis=1))
        yield line(len(frames))
        with preview.computing:
            match = match_colours(kept, like, ask.held, ask.name)
        yield line(total, match=_match_found(match))

    return StreamingResponse(lines(), media_type=LINES_MEDIA_TYPE)


def _colours_like(preview: PreviewService, like: FrameLike | PlateLike) -> NDArray[np.float32]:
    """The colours that a clip is to come near.

    Raises:
        InvalidLookError: there is no such plate.
    """
    if isinstance(like, PlateLike):
        try:
            plate = preview.assets.plate(like.file)
        except LookupError as error:
            raise InvalidLookError(str(error.args[0])) from None
        if not plate.frames:
            raise InvalidLookError(f"{like.file}: this plate can't be read")
        return colours_of(plate.picture(0, plate.size.with_height(min(LINES, plate.size.height))))
    footage = preview.footage(preview.project.clips.get(like.clip))
    evaluator = preview.evaluator(parse_look(like.look, keep_absent=True), footage, LINES)
    if like.frame >= footage.frames:
        raise IndexError(f"frame {like.frame}: the clip has {footage.frames}")
    with preview.computing:
        return colours_of(evaluator.picture_of(like.frame, number_after(evaluator, like.after)))


def _match_found(match: ColourMatch) -> MatchFound:
    return MatchFound(
        step=match.step.model_dump(mode="json"),
        before=match.before,
        after=match.after,
        held=[HeldColoursOut(**held._asdict()) for held in match.held],
    )
