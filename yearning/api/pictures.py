"""Pictures: the look at a frame, after any step, at any size."""

import base64

import numpy as np
from fastapi import APIRouter, Request
from fastapi.responses import Response

from yearning.api.desk import Desk
from yearning.api.problems import Problem
from yearning.api.schemas import Crop, PathAsk, PathOut, PictureAsk
from yearning.core.filters import area_resized
from yearning.core.look import Look, LookError, look_of
from yearning.core.path import Path
from yearning.core.picture import Picture, Size, size_of
from yearning.media.footage import Footage
from yearning.media.stills import jpeg, png

THUMBNAIL_LINES = 108
AS_SHOT = "as shot"

router = APIRouter(
    prefix="/api", tags=["pictures"], responses={409: {"model": Problem}, 422: {"model": Problem}}
)


def preview_size(footage: Footage, height: int) -> Size:
    """The size of a picture asked for at `height` lines: never larger than the footage."""
    return footage.size.with_height(min(height, footage.size.height))


@router.post("/pictures", response_class=Response)
def picture(request: Request, ask: PictureAsk) -> Response:
    """One picture: JPEG at a preview size, PNG of true pixels for a crop."""
    desk: Desk = request.app.state.desk
    stale = desk.tickets.taken(ask.asker, ask.ticket)
    look, footage = look_of(ask.look), desk.footage(desk.project.clip(ask.clip))
    size = footage.size if ask.crop else preview_size(footage, ask.height)
    with desk.working:
        path = Path(look, footage, size, desk.pictures, keep_steps=not ask.crop, stop=stale)
        seen = path.picture(ask.frame, after_of(look, path, ask.after))
    if ask.crop:
        return Response(png(_window(seen, ask.crop)), media_type="image/png")
    return Response(jpeg(seen), media_type="image/jpeg")


@router.post("/path")
def path_pictures(request: Request, ask: PathAsk) -> PathOut:
    """Small pictures after every step, from the same evaluation as the large one."""
    desk: Desk = request.app.state.desk
    stale = desk.tickets.taken(ask.asker, ask.ticket)
    look, footage = look_of(ask.look), desk.footage(desk.project.clip(ask.clip))
    size = preview_size(footage, ask.height)
    small = size.with_height(min(THUMBNAIL_LINES, size.height))
    with desk.working:
        path = Path(look, footage, size, desk.pictures, keep_steps=True, stop=stale)
        seen = [path.picture(ask.frame, n) for n in range(len(look.steps) + 1)]
        thumbnails = [_address(area_resized(picture, small)) for picture in seen]
    ids = [step.id for step in look.steps]
    return PathOut(footage=thumbnails[0], steps=dict(zip(ids, thumbnails[1:], strict=True)))


def after_of(look: Look, path: Path, after: str | None) -> int:
    """How many steps have run after the one named; all of them for None.

    Raises:
        LookError: no step has that id.
    """
    if after is None:
        return len(look.steps)
    if after == AS_SHOT:
        return 0
    try:
        return path.index_after(after)
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
