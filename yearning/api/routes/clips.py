"""Clips: what the project has, taking new ones in, and their plain frames."""

import hashlib
import re
import shutil
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, Response

from yearning.api.problems import Problem, Refused
from yearning.api.schemas.base import ClipOut, ReadingIn
from yearning.core.picture import Picture, new_picture
from yearning.media.atomic_write import atomic_write
from yearning.media.audio.waveform import write_preview_audio
from yearning.media.decode.clip import OpenClip, open_clip
from yearning.media.decode.reading import Reading
from yearning.media.decode.sandbox import probe_sandboxed
from yearning.media.decode.sequence import is_sequence
from yearning.media.stills.stills import jpeg
from yearning.media.stills.tar_stream import unpack_stills
from yearning.store.clips import Clip
from yearning.store.content_store import file_digest

MAX_UPLOAD = 64 << 30
STRIP_LINES = 54
FOR_EVER = {"Cache-Control": "private, max-age=31536000, immutable"}

router = APIRouter(prefix="/api/clips", tags=["clips"])


@router.get("")
def clips(request: Request) -> list[ClipOut]:
    """All clips."""
    return [ClipOut.of(clip) for clip in request.app.state.desk.project.clips.all()]


@router.post("", status_code=201, responses={422: {"model": Problem}})
async def add_clip(request: Request, name: str) -> ClipOut:
    """Take in a file, sent as the request's body. The project is as it was if it can't be used.

    A name like `shot.%04d.png` stands for numbered stills, sent as one tar archive.
    """
    project = request.app.state.desk.project
    place = project.incoming(name)
    stills = place.with_suffix("")
    size = 0
    try:
        with place.open("wb") as file:
            async for part in request.stream():
                size += len(part)
                if size > MAX_UPLOAD:
                    raise Refused(413, "Too large", f"{name}: more than {MAX_UPLOAD >> 30} GB")
                await run_in_threadpool(file.write, part)

        def take() -> Clip:
            clip = unpack_stills(place, stills, name) if is_sequence(Path(name)) else place
            return project.clips.add(clip, _title(name), file_digest(clip), probe_sandboxed(clip, name))

        return ClipOut.of(await run_in_threadpool(take))
    except OSError as error:
        reason = error.strerror or str(error)
        raise Refused(507, "No room", f"{name}: could not be kept: {reason}") from None
    finally:
        place.unlink(missing_ok=True)
        shutil.rmtree(stills, ignore_errors=True)


def _title(name: str) -> str:
    """What a clip is called after its file: without ending, number and what joins words."""
    stem = name.rsplit(".", 1)[0].split("%")[0]
    return re.sub(r"[-_.]+", " ", stem).strip() or name


@router.put("/{clip_id}/reading", responses={404: {"model": Problem}, 422: {"model": Problem}})
def read_clip(request: Request, clip_id: int, said: ReadingIn) -> ClipOut:
    """Say how a clip is to be read where its tags are wrong; what is left out is as tagged."""
    project = request.app.state.desk.project
    clip = project.clips.get(clip_id)
    project.clips.check(clip)
    reading = Reading.of(said.model_dump(exclude_none=True))
    with open_clip(clip.path, reading) as opened:
        probe = opened.probe.as_json()
    return ClipOut.of(project.clips.read(clip_id, reading.as_json(), probe))


@router.get("/{clip_id}/filmstrip", response_class=Response)
def filmstrip(request: Request, clip_id: int, count: int = 16) -> Response:
    """Frames spread over the clip, side by side in one JPEG, each 54 lines high."""
    desk = request.app.state.desk
    clip = desk.project.clips.get(clip_id)
    desk.project.clips.check(clip)
    count = min(max(count, 1), 64)
    data = _strip(clip, count)
    return Response(data, media_type="image/jpeg", headers=FOR_EVER)


def _strip(clip: Clip, count: int) -> bytes:
    reading = Reading.of(clip.reading)
    mark = hashlib.sha256(reading.key.encode()).hexdigest()[:8] if reading.key else ""
    kept = clip.path.with_suffix(f".strip{count}{mark}.jpg")
    if not kept.exists():
        with open_clip(clip.path, reading, clip.digest) as footage:
            size = footage.size.with_height(min(STRIP_LINES, footage.size.height))
            strip: Picture = new_picture(size._replace(width=size.width * count))
            for i in range(count):
                frame = _strip_frame(footage, (2 * i + 1) * footage.frames // (2 * count))
                strip[:, :, i * size.width : (i + 1) * size.width] = footage.picture(frame, size)
        with atomic_write(kept) as part:
            part.write_bytes(jpeg(strip, 85))
    return kept.read_bytes()


@router.get(
    "/{clip_id}/sound",
    response_class=FileResponse,
    responses={404: {"model": Problem}, 422: {"model": Problem}},
)
def sound(request: Request, clip_id: int) -> FileResponse:
    """The clip's sound as Opus in WebM, for play; its time 0 is that of frame 0."""
    desk = request.app.state.desk
    clip = desk.project.clips.get(clip_id)
    footage = desk.footage(clip)
    mark = hashlib.sha256(footage.id.encode()).hexdigest()[:8]
    kept = clip.path.with_suffix(f".{mark}.sound.webm")
    with desk.hearing:
        if not kept.exists():
            write_preview_audio(footage, kept)
    return FileResponse(kept, media_type="audio/webm")


EXACT_STRIP = 1000


def _strip_frame(footage: OpenClip, frame: int) -> int:
    """The frame itself in a short clip; in a long one the key frame before it, found at once."""
    if footage.frames <= EXACT_STRIP:
        return frame
    return footage.key_frame(frame)
