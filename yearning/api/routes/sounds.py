"""Files of sound, to be laid under reels: brought in, and given to be played."""

from contextlib import suppress
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse

from yearning.api.addresses import V1
from yearning.api.asset_files import delete_asset, restore_asset
from yearning.api.attachments import IMMUTABLE, answers
from yearning.api.dependencies import AssetFile, CurrentProject, Preview
from yearning.api.paging import CurrentPage
from yearning.api.problems import problems
from yearning.api.schemas.sounds import LevelsOut, SoundFileOut
from yearning.api.uploads import BINARY_BODY, file_name, save_body
from yearning.library.project_reels import keep_sound, project_sounds
from yearning.media.audio.waveform import LEVELS_A_SECOND, audio_levels, write_playable
from yearning.media.decode.probe import SOUND_SUFFIXES
from yearning.media.decode.sound_file import probe_sound
from yearning.media.errors import MediaError
from yearning.media.sandbox import check_sound_in_sandbox
from yearning.store.errors import NotThere

MAX_BYTES = 4 << 30

PLAYED = ".played"
"""The folder, in that of the files, where those lie that were written for play."""

router = APIRouter(prefix=f"{V1}/sounds", tags=["sounds"])


@router.get("")
def list_sounds(project: CurrentProject, page: CurrentPage) -> list[SoundFileOut]:
    """The files of sound of the project; what can't be read any more is left out."""
    found = []
    for path in project_sounds(project):
        with suppress(MediaError):
            found.append(SoundFileOut.of(path, probe_sound(path)))
    return page.of_all(found)


@router.post("", status_code=201, openapi_extra=BINARY_BODY)
async def add_sound(project: CurrentProject, request: Request, name: str) -> SoundFileOut:
    """Take in a file of sound, sent as the request's body; the same one again is kept once."""
    plain = Path(file_name(name))
    if plain.suffix.lower() not in SOUND_SUFFIXES:
        raise MediaError(f"{plain.name}: files of sound end in {', '.join(SOUND_SUFFIXES)}")
    place = project.incoming(plain.name)
    try:
        await save_body(request, place, plain.name, MAX_BYTES)
        await run_in_threadpool(check_sound_in_sandbox, place, plain.name)
        kept = await run_in_threadpool(keep_sound, project, place, plain.stem)
    finally:
        place.unlink(missing_ok=True)
    return SoundFileOut.of(kept, await run_in_threadpool(probe_sound, kept))


def _is_sound(path: Path) -> bool:
    return path.suffix in SOUND_SUFFIXES


def _sound_file(path: AssetFile) -> Path:
    if not _is_sound(path):
        raise NotThere(f"{path.name} is no file of sound")
    return path


SoundPath = Annotated[Path, Depends(_sound_file)]


@router.get("/{file}")
def read_sound_file(path: SoundPath) -> SoundFileOut:
    """One file of sound."""
    return SoundFileOut.of(path, probe_sound(path))


@router.delete("/{file}", status_code=204, responses=problems(409))
def delete_sound(project: CurrentProject, path: SoundPath) -> None:
    """Take a file of sound out; `restore` brings it back. 409 while a reel has it."""
    delete_asset(project, path)


@router.post("/{file}/restore")
def restore_sound(project: CurrentProject, file: str) -> SoundFileOut:
    """Bring a deleted file of sound back."""
    kept = restore_asset(project, file, _is_sound)
    return SoundFileOut.of(kept, probe_sound(kept))


@router.get("/{file}/play", response_class=FileResponse, responses=answers("audio/webm"))
def read_playable(preview: Preview, path: SoundPath) -> FileResponse:
    """A file of sound as Opus in WebM, for play."""
    name = f"{path.name}.webm"
    cached = preview.project.clips.derived_place(path.parent / PLAYED / name, name)
    with preview.writing(cached):
        if not cached.exists():
            cached.parent.mkdir(exist_ok=True)
            write_playable(path, cached)
    return FileResponse(cached, media_type="audio/webm")


@router.get("/{file}/levels")
def read_sound_levels(response: Response, path: SoundPath) -> LevelsOut:
    """How loud a file of sound is, from its beginning to its end."""
    response.headers.update(IMMUTABLE)  # a file's name says what it holds
    begins = probe_sound(path).begins
    return LevelsOut(per_second=LEVELS_A_SECOND, peaks=audio_levels(path, begins).tolist())
