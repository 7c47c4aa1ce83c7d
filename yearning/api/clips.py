"""Clips: what the project has, taking new ones in, and their plain frames."""

import numpy as np
from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response

from yearning.api.problems import Problem, Refused
from yearning.api.schemas import ClipOut
from yearning.core.picture import Picture, new_picture
from yearning.media.errors import MediaError
from yearning.media.footage import Footage, file_digest
from yearning.media.probe import probe_file
from yearning.media.stills import jpeg
from yearning.store.project import Clip

MOST_UPLOAD = 64 << 30
STRIP_LINES = 54
FOR_EVER = {"Cache-Control": "private, max-age=31536000, immutable"}

router = APIRouter(prefix="/api/clips", tags=["clips"])


@router.get("")
def clips(request: Request) -> list[ClipOut]:
    """All clips."""
    return [ClipOut.of(clip) for clip in request.app.state.desk.project.clips()]


@router.post("", status_code=201, responses={422: {"model": Problem}})
async def add_clip(request: Request, name: str) -> ClipOut:
    """Take in a file, sent as the request's body. The project is as it was if it can't be used."""
    project = request.app.state.desk.project
    place = project.incoming(name)
    size = 0
    try:
        with place.open("wb") as file:
            async for part in request.stream():
                size += len(part)
                if size > MOST_UPLOAD:
                    raise Refused(413, "Too large", f"{name}: more than {MOST_UPLOAD >> 30} GB")
                await run_in_threadpool(file.write, part)

        def take() -> Clip:
            try:
                probe = probe_file(place)
            except MediaError as error:
                raise MediaError(str(error).replace(place.name, name)) from None
            title = name.rsplit(".", 1)[0].replace("-", " ").replace("_", " ").strip() or name
            return project.add_clip(place, title, file_digest(place), probe.as_json())

        return ClipOut.of(await run_in_threadpool(take))
    except OSError as error:
        reason = error.strerror or str(error)
        raise Refused(507, "No room", f"{name}: could not be kept: {reason}") from None
    finally:
        place.unlink(missing_ok=True)


@router.get("/{clip_id}/filmstrip", response_class=Response)
def filmstrip(request: Request, clip_id: int, count: int = 16) -> Response:
    """Frames spread over the clip, side by side in one JPEG, each 54 lines high."""
    desk = request.app.state.desk
    clip = desk.project.clip(clip_id)
    count = min(max(count, 1), 64)
    data = _strip(clip, count)
    return Response(data, media_type="image/jpeg", headers=FOR_EVER)


def _strip(clip: Clip, count: int) -> bytes:
    kept = clip.path.with_suffix(f".strip{count}.jpg")
    if not kept.exists():
        with Footage(clip.path, clip.digest) as footage:
            size = footage.size.with_height(min(STRIP_LINES, footage.size.height))
            strip: Picture = new_picture(size._replace(width=size.width * count))
            for i in range(count):
                frame = _strip_frame(footage, (2 * i + 1) * footage.frames // (2 * count))
                strip[:, :, i * size.width : (i + 1) * size.width] = footage.picture(frame, size)
        part_file = kept.with_suffix(".part")
        part_file.write_bytes(jpeg(strip, 85))
        part_file.replace(kept)
    return kept.read_bytes()


EXACT_STRIP = 1000


def _strip_frame(footage: Footage, frame: int) -> int:
    """The frame itself in a short clip; in a long one the key frame before it, found at once."""
    if footage.frames <= EXACT_STRIP or not footage.index.timed:
        return frame
    return int(np.searchsorted(footage.index.times, footage.index.key_for(frame)))
