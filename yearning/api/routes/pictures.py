"""Pictures: a look at a frame, after any step, at any size."""

import base64
from typing import Annotated, Literal

import numpy as np
from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from yearning.api.addresses import V1
from yearning.api.attachments import answers
from yearning.api.dependencies import Preview
from yearning.api.etags import KNOWN, entity_tag, tagged_response
from yearning.api.preview import number_after, preview_size
from yearning.api.problems import OF_CLIP, problems
from yearning.api.schemas.pictures import After, Height, PathOut, ShownRequest, SizedRequest, Window
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.step_light import step_highlights
from yearning.core.engine.step_weight import step_weight
from yearning.core.image.filters import area_resized
from yearning.core.look.document import parse_look
from yearning.core.look.mix import FOOTAGE_INPUT
from yearning.core.measure import scopes
from yearning.core.picture import Picture, size_of
from yearning.media.stills.stills import jpeg, png

THUMBNAIL_LINES = 108
THUMBNAIL_QUALITY = 88

router = APIRouter(prefix=V1, tags=["pictures"], responses=OF_CLIP | problems(409))


@router.post("/pictures", response_class=Response, responses=answers("image/jpeg", "image/png"))
def make_picture(preview: Preview, ask: ShownRequest) -> Response:
    """One picture at a size: JPEG of all of it, PNG of a window of it."""
    is_stale = preview.latest.register(ask.channel, ask.sequence)
    look, footage = (
        parse_look(ask.look, keep_absent=True),
        preview.footage(preview.project.clips.get(ask.clip)),
    )
    with preview.computing:
        evaluator = preview.evaluator(
            look,
            footage,
            ask.height,
            keep="last" if ask.crop else "every step",
            is_cancelled=is_stale,
        )
        footage.reserve_cache(sum(evaluator.reach(ask.frame)) + 1)
        result = _requested_picture(evaluator, ask)
        if ask.show == "change":
            result = scopes.difference_picture(result, _base(evaluator, ask), ask.gain)
    if ask.crop:
        return Response(png(result, *_window(result, ask.crop)), media_type="image/png")
    return Response(jpeg(result), media_type="image/jpeg")


@router.get(
    "/looks/{look_id}/pictures/{clip_id}/{frame}",
    response_class=Response,
    responses=answers("image/jpeg", "image/png") | KNOWN,
)
def read_picture(
    request: Request,
    preview: Preview,
    look_id: int,
    clip_id: int,
    frame: int,
    after: Annotated[After, Query()] = None,
    height: Annotated[Height, Query()] = 540,
    file: Literal["jpeg", "png"] = "jpeg",
) -> Response:
    """One of the project's looks on a clip at a frame, as it is now; 304 where it is known."""
    look = preview.project.looks.get(look_id).look_on(clip_id)
    footage = preview.footage(preview.project.clips.get(clip_id))
    evaluator = preview.evaluator(look, footage, height)
    number = number_after(evaluator, after)
    if not 0 <= frame < footage.frames:
        raise IndexError(f"frame {frame} is out of range; the clip has 0 to {footage.frames - 1}")

    def encode_picture() -> bytes:
        with preview.computing:
            picture = evaluator.picture_of(frame, number)
        return png(picture) if file == "png" else jpeg(picture)

    tag = entity_tag(preview.assets_mark, evaluator.cache_key(frame, number), file)
    return tagged_response(request, tag, f"image/{file}", encode_picture)


def _requested_picture(evaluator: Evaluator, ask: ShownRequest) -> Picture:
    """The picture, its warnings, or where a step shows, or its layer."""
    number = number_after(evaluator, ask.after)
    if ask.show == "layer":
        return evaluator.layer_picture(ask.frame, ask.after or FOOTAGE_INPUT)
    if ask.show == "highlights":
        if ask.after in (None, FOOTAGE_INPUT):
            return np.zeros_like(evaluator.picture_of(ask.frame, number))
        return step_highlights(evaluator, ask.frame, ask.after)
    if ask.show == "weight":
        if ask.after in (None, FOOTAGE_INPUT):
            return np.ones_like(evaluator.picture_of(ask.frame, number))
        weight = step_weight(evaluator, ask.frame, ask.after)
        return np.ascontiguousarray(np.broadcast_to(weight, (3, *weight.shape)))
    result = evaluator.picture_of(ask.frame, number)
    if ask.show == "warnings":
        box = evaluator.visible_box(ask.frame, number)
        marks = np.zeros(result.shape[1:], np.uint8)
        box.of(marks[None])[0][:] = scopes.out_of_range(box.of(result))[0]
        return scopes.with_warnings(result, marks)
    return result


def _base(evaluator: Evaluator, ask: ShownRequest) -> Picture:
    """What a change is seen against: another look, another frame, or the same after a step."""
    if ask.base_frame is not None:
        return evaluator.picture_of(ask.base_frame, number_after(evaluator, ask.after))
    if ask.base_look is not None:
        return evaluator.with_look(parse_look(ask.base_look, keep_absent=True)).picture(ask.frame)
    return evaluator.picture_of(ask.frame, number_after(evaluator, ask.base or FOOTAGE_INPUT))


@router.post("/path-pictures")
def make_path_pictures(preview: Preview, ask: SizedRequest) -> PathOut:
    """Small pictures after every step, from the same evaluation as the large one."""
    is_stale = preview.latest.register(ask.channel, ask.sequence)
    look, footage = (
        parse_look(ask.look, keep_absent=True),
        preview.footage(preview.project.clips.get(ask.clip)),
    )
    size = preview_size(footage, ask.height)
    small = size.with_height(min(THUMBNAIL_LINES, size.height))
    with preview.computing:
        evaluator = preview.evaluator(
            look, footage, ask.height, keep="every step", is_cancelled=is_stale
        )
        evaluator.picture(ask.frame)  # the steps between are kept on the way
        thumbnails: dict[int, str] = {}
        for number in evaluator.graph.after_step.values():
            if number not in thumbnails:
                step = evaluator.picture_of(ask.frame, number)
                thumbnails[number] = _data_url(area_resized(step, small))
    steps = {id: thumbnails[number] for id, number in evaluator.graph.after_step.items()}
    return PathOut(footage=steps.pop(FOOTAGE_INPUT), steps=steps)


def _window(picture: Picture, crop: Window) -> tuple[slice, slice]:
    """Rows and columns of a crop, kept inside the picture."""
    size = size_of(picture)
    width, height = min(crop.width, size.width), min(crop.height, size.height)
    left = min(max(round(crop.x * size.width - width / 2), 0), size.width - width)
    top = min(max(round(crop.y * size.height - height / 2), 0), size.height - height)
    return slice(top, top + height), slice(left, left + width)


def _data_url(picture: Picture) -> str:
    data = base64.b64encode(jpeg(picture, THUMBNAIL_QUALITY)).decode()
    return f"data:image/jpeg;base64,{data}"
