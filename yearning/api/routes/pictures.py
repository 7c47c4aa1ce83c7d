"""Pictures: the look at a frame, after any step, at any size."""

import base64

import numpy as np
from fastapi import APIRouter, Request
from fastapi.responses import Response

from yearning.api.preview import Desk
from yearning.api.problems import Problem
from yearning.api.schemas.base import Crop, PathAsk, PathOut, PictureAsk
from yearning.core.compositing.tone_window import FLAT
from yearning.core.engine.evaluator import Evaluator, Keep
from yearning.core.image.filters import area_resized
from yearning.core.look.document import LookError, parse_look
from yearning.core.look.step import AS_SHOT
from yearning.core.measure import scopes
from yearning.core.picture import Picture, Size, size_of
from yearning.media.decode.clip import OpenClip
from yearning.media.stills.stills import jpeg, png

THUMBNAIL_LINES = 108

router = APIRouter(
    prefix="/api", tags=["pictures"], responses={409: {"model": Problem}, 422: {"model": Problem}}
)


def preview_size(footage: OpenClip, height: int) -> Size:
    """The size of a picture asked for at `height` lines: never larger than the footage."""
    return footage.size.with_height(min(height, footage.size.height))


@router.post("/pictures", response_class=Response)
def picture(request: Request, ask: PictureAsk) -> Response:
    """One picture: JPEG at a preview size, PNG of true pixels for a crop."""
    desk: Desk = request.app.state.desk
    stale = desk.tickets.taken(ask.asker, ask.ticket)
    look, footage = parse_look(ask.look), desk.footage(desk.project.clips.get(ask.clip))
    size = footage.size if ask.crop else preview_size(footage, ask.height)
    keep: Keep = "last" if ask.crop else "every step"
    with desk.working:
        path = Evaluator(
            look, footage, size, desk.pictures, keep=keep, assets=desk.assets, stop=stale
        )
        footage.keep(sum(path.reach(ask.frame)) + 1)
        seen = _shown(path, ask)
        if ask.show == "change":
            seen = scopes.difference_picture(seen, _base(path, ask), ask.gain)
    if ask.crop:
        return Response(png(_window(seen, ask.crop)), media_type="image/png")
    return Response(jpeg(seen), media_type="image/jpeg")


def _shown(path: Evaluator, ask: PictureAsk) -> Picture:
    """What is asked to be seen of a path's picture."""
    number = after_of(path, ask.after)
    if ask.show == "weight":
        operation = path.graph_at(ask.frame).nodes[number]
        tones = operation.mix.tones if operation else None
        below = path.picture_of(ask.frame, operation.below if operation else number)
        return scopes.weight_picture(below, tones or FLAT)
    seen = path.picture_of(ask.frame, number)
    if ask.show == "warnings":
        return scopes.with_warnings(seen, scopes.out_of_range(seen)[0])
    return seen


def _base(path: Evaluator, ask: PictureAsk) -> Picture:
    """What a change is seen against: another look, another frame, or the same after a step."""
    if ask.base_frame is not None:
        return path.picture_of(ask.base_frame, after_of(path, ask.after))
    if ask.base_look is not None:
        return path.with_look(parse_look(ask.base_look)).picture(ask.frame)
    return path.picture_of(ask.frame, after_of(path, ask.base or AS_SHOT))


@router.post("/path")
def path_pictures(request: Request, ask: PathAsk) -> PathOut:
    """Small pictures after every step, from the same evaluation as the large one."""
    desk: Desk = request.app.state.desk
    stale = desk.tickets.taken(ask.asker, ask.ticket)
    look, footage = parse_look(ask.look), desk.footage(desk.project.clips.get(ask.clip))
    size = preview_size(footage, ask.height)
    small = size.with_height(min(THUMBNAIL_LINES, size.height))
    with desk.working:
        path = Evaluator(
            look,
            footage,
            size,
            desk.pictures,
            keep="every step",
            assets=desk.assets,
            stop=stale,
        )
        path.picture(ask.frame)  # the steps between are kept on the way
        made: dict[int, str] = {}
        for number in path.graph.after_step.values():
            if number not in made:
                made[number] = _address(area_resized(path.picture_of(ask.frame, number), small))
    steps = {step_id: made[number] for step_id, number in path.graph.after_step.items()}
    return PathOut(footage=steps.pop(AS_SHOT), steps=steps)


def after_of(path: Evaluator, after: str | None) -> int:
    """The number of the picture after the step named; of the result for None.

    Raises:
        LookError: no step has that id.
    """
    try:
        return path.number_after(after)
    except KeyError as error:
        raise LookError(str(error.args[0])) from None


def _window(picture: Picture, crop: Crop) -> Picture:
    """The window of a crop, kept inside the picture."""
    size = size_of(picture)
    width, height = min(crop.width, size.width), min(crop.height, size.height)
    left = min(max(round(crop.x * size.width - width / 2), 0), size.width - width)
    top = min(max(round(crop.y * size.height - height / 2), 0), size.height - height)
    return np.ascontiguousarray(picture[:, top : top + height, left : left + width])


def _address(picture: Picture) -> str:
    return "data:image/jpeg;base64," + base64.b64encode(jpeg(picture, 88)).decode()
