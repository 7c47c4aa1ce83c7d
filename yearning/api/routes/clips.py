"""Clips: taken in, read another way, and looked over."""

import hashlib
import re
import shutil
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, Response

from yearning.api.addresses import V1
from yearning.api.attachments import IMMUTABLE, answers
from yearning.api.dependencies import CurrentProject, Preview
from yearning.api.paging import CurrentPage
from yearning.api.problem_kinds import NO_ROOM
from yearning.api.problems import Refused, problems
from yearning.api.schemas.clips import ClipOut, ReadingIn
from yearning.api.schemas.sounds import LevelsOut
from yearning.api.uploads import BINARY_BODY, save_body
from yearning.core.frame_pattern import is_frame_pattern
from yearning.core.picture import Picture, new_picture
from yearning.media.atomic_write import atomic_write
from yearning.media.audio.waveform import LEVELS_A_SECOND, audio_levels, write_preview_audio
from yearning.media.decode.clip import OpenClip, open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.sandbox import probe_in_sandbox
from yearning.media.stills.stills import jpeg
from yearning.media.stills.tar_stream import unpack_stills
from yearning.store.clips import Clip
from yearning.store.content_store import file_digest
from yearning.store.project import Project

MAX_UPLOAD_BYTES = 64 << 30
STRIP_LINES = 54
MAX_STRIP_FRAMES = 64
STRIP_QUALITY = 85

EXACT_STRIP_FRAMES = 1000
"""Clips up to this long have the frame itself in their filmstrip."""

router = APIRouter(prefix=f"{V1}/clips", tags=["clips"])


@router.get("")
def list_clips(project: CurrentProject, page: CurrentPage) -> list[ClipOut]:
    """The clips, in the order they came."""
    return [ClipOut.of(clip) for clip in page.of(project.clips.all(page.part))]


@router.post("", status_code=201, openapi_extra=BINARY_BODY)
async def add_clip(project: CurrentProject, request: Request, name: str) -> ClipOut:
    """Take in a file, sent as the request's body. The project is as it was if it can't be used.

    A name like `shot.%04d.png` stands for numbered stills, sent as one tar archive.
    """
    file = project.incoming(name)
    stills = file.with_suffix("")

    def take_in() -> Clip:
        path = unpack_stills(file, stills, name) if is_frame_pattern(Path(name).name) else file
        probe = probe_in_sandbox(path, name)
        return project.clips.add(path, _title(name), file_digest(path), probe)

    try:
        await save_body(request, file, name, MAX_UPLOAD_BYTES)
        return ClipOut.of(await run_in_threadpool(take_in))
    except OSError as error:
        reason = error.strerror or str(error)
        raise Refused(NO_ROOM, f"{name}: could not be kept: {reason}") from None
    finally:
        file.unlink(missing_ok=True)
        shutil.rmtree(stills, ignore_errors=True)


def _title(name: str) -> str:
    """What a clip is called after its file: without suffix, number and what joins words."""
    stem = name.rsplit(".", 1)[0].split("%")[0]
    return re.sub(r"[-_.]+", " ", stem).strip() or name


@router.get("/{clip_id}")
def read_clip(project: CurrentProject, clip_id: int) -> ClipOut:
    """One clip."""
    return ClipOut.of(project.clips.get(clip_id))


@router.delete("/{clip_id}", status_code=204)
def delete_clip(project: CurrentProject, clip_id: int) -> None:
    """Take a clip out of the project; its renders stay, and `restore` brings it back."""
    project.clips.delete(clip_id)


@router.post("/{clip_id}/restore")
def restore_clip(project: CurrentProject, clip_id: int) -> ClipOut:
    """Bring a deleted clip back as it was."""
    return ClipOut.of(project.clips.restore(clip_id))


@router.put("/{clip_id}/reading", responses=problems(410))
def replace_reading(project: CurrentProject, clip_id: int, wanted: ReadingIn) -> ClipOut:
    """Say how a clip is to be read where its tags are wrong; what is left out is as tagged."""
    clip = project.clips.get(clip_id)
    project.clips.check(clip)
    reading = InputOverrides.of(wanted.model_dump(exclude_none=True))
    with open_clip(clip.path, reading) as opened:
        probe = opened.probe.as_json()
    return ClipOut.of(project.clips.read(clip_id, reading.as_json(), probe))


@router.get(
    "/{clip_id}/filmstrip",
    response_class=Response,
    responses=answers("image/jpeg") | problems(410),
)
def read_filmstrip(project: CurrentProject, clip_id: int, count: int = 16) -> Response:
    """Frames spread over the clip, side by side in one JPEG, each 54 lines high."""
    clip = project.clips.get(clip_id)
    project.clips.check(clip)
    data = _filmstrip(project, clip, min(max(count, 1), MAX_STRIP_FRAMES))
    return Response(data, media_type="image/jpeg", headers=IMMUTABLE)


def _filmstrip(project: Project, clip: Clip, count: int) -> bytes:
    reading = InputOverrides.of(clip.reading)
    mark = hashlib.sha256(reading.key.encode()).hexdigest()[:8] if reading.key else ""
    cached = project.clips.derived_path(clip, f".strip{count}{mark}.jpg")
    if not cached.exists():
        with open_clip(clip.path, reading, clip.digest) as footage:
            size = footage.size.with_height(min(STRIP_LINES, footage.size.height))
            strip: Picture = new_picture(size._replace(width=size.width * count))
            for i in range(count):
                frame = _strip_frame(footage, (2 * i + 1) * footage.frames // (2 * count))
                strip[:, :, i * size.width : (i + 1) * size.width] = footage.picture(frame, size)
        with atomic_write(cached) as part:
            part.write_bytes(jpeg(strip, STRIP_QUALITY))
    return cached.read_bytes()


def _strip_frame(footage: OpenClip, frame: int) -> int:
    """Return the frame in a short clip; in a long one the key frame before it, which is fast."""
    if footage.frames <= EXACT_STRIP_FRAMES:
        return frame
    return footage.key_frame(frame)


@router.get(
    "/{clip_id}/sound",
    response_class=FileResponse,
    responses=answers("audio/webm") | problems(410),
)
def read_sound(preview: Preview, clip_id: int) -> FileResponse:
    """The clip's sound as Opus in WebM, for play; its time 0 is that of frame 0."""
    clip = preview.project.clips.get(clip_id)
    footage = preview.footage(clip)
    mark = hashlib.sha256(footage.id.encode()).hexdigest()[:8]
    cached = preview.project.clips.derived_path(clip, f".{mark}.sound.webm")
    with preview.writing(cached):
        if not cached.exists():
            write_preview_audio(footage, cached)
    return FileResponse(cached, media_type="audio/webm")


@router.get("/{clip_id}/sound/levels", responses=problems(410))
def read_clip_sound_levels(preview: Preview, clip_id: int) -> LevelsOut:
    """How loud the clip's sound is, from frame 0 on, at the clip's speed."""
    footage = preview.footage(preview.project.clips.get(clip_id))
    peaks = audio_levels(footage.path, float(footage.begins))
    per_second = LEVELS_A_SECOND * float(footage.reading.pace)
    return LevelsOut(per_second=per_second, peaks=peaks.tolist())
