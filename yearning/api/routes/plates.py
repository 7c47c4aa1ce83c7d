"""Plates: the project's pictures and clips that are laid over others."""

import os
import shutil
import tempfile
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Depends, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response

from yearning.api.addresses import V1
from yearning.api.asset_files import delete_asset, restore_asset
from yearning.api.attachments import answers
from yearning.api.dependencies import AssetFile, CurrentProject, Preview
from yearning.api.etags import KNOWN, entity_tag, tagged_response
from yearning.api.paging import CurrentPage
from yearning.api.preview import PlateMaking, PreviewService
from yearning.api.problem_kinds import NOT_NOW, STOPPED
from yearning.api.problems import Refused, problems
from yearning.api.schemas.plates import (
    KindOut,
    MadeRequest,
    MakingOut,
    OddFramesOut,
    OddSpan,
    PlateOut,
    UsedOut,
    UsedRequest,
)
from yearning.api.uploads import BINARY_BODY, file_name, save_body
from yearning.core.image.histogram import histogram
from yearning.core.look.document import parse_look
from yearning.core.measure import odd_frames
from yearning.core.picture import Picture, new_picture
from yearning.core.plates.generated_plates import GENERATED_PLATES
from yearning.core.treatments.border import Border
from yearning.core.treatments.plate import Plate
from yearning.media.decode.probe import SOUND_SUFFIXES
from yearning.media.errors import MediaError
from yearning.media.plates.assets import (
    GRAIN_SUFFIX,
    TABLE_READERS,
    TRACK_SUFFIX,
    asset_path,
    open_plate,
)
from yearning.media.plates.plate_writer import plate_suffix, write_generated_plate
from yearning.media.plates.plates import OpenPlate
from yearning.media.plates.stills_plate import write_plate_of_stills
from yearning.media.sandbox import check_plate_in_sandbox
from yearning.media.stills.stills import jpeg
from yearning.store.assets import keep, title_of
from yearning.store.errors import NotThere

MAX_BYTES = 4 << 30
STRIP_LINES = 54

MAX_LOOKED_AT = 3000
"""Frames of a plate that are looked at for odd ones: two minutes."""

BINS = 64

router = APIRouter(prefix=f"{V1}/plates", tags=["plates"])


@router.get("")
def list_plates(project: CurrentProject, page: CurrentPage) -> list[PlateOut]:
    """The plates of the project; one that can't be read any more is left out."""
    found = []
    for path in sorted(filter(_is_plate, project.assets.iterdir())):
        with suppress(MediaError):
            found.append(_describe_plate(path))
    return page.of_all(found)


def _is_named_as_plate(path: Path) -> bool:
    others = (*TABLE_READERS, TRACK_SUFFIX, GRAIN_SUFFIX, *SOUND_SUFFIXES)
    return path.suffix not in others and not path.name.startswith(".")


def _is_plate(path: Path) -> bool:
    return _is_named_as_plate(path) and path.is_file()


def _plate_file(path: AssetFile) -> Path:
    if not _is_plate(path):
        raise NotThere(f"{path.name} is no plate")
    return path


PlateFile = Annotated[Path, Depends(_plate_file)]


@router.get("/kinds")
def list_plate_kinds() -> list[KindOut]:
    """What can be made by those who have no plates."""
    return [
        KindOut(kind=kind, summary=plate.summary, shuffles=plate.shuffles)
        for kind, plate in GENERATED_PLATES.items()
    ]


@router.post("", status_code=201, openapi_extra=BINARY_BODY)
async def add_plate(preview: Preview, request: Request, name: str) -> PlateOut:
    """Take in a plate, sent as the request's body."""
    with tempfile.TemporaryDirectory(dir=preview.project.assets) as folder:
        place = Path(folder) / file_name(name)
        await save_body(request, place, name, MAX_BYTES)
        return await run_in_threadpool(_take_in, place, preview, place.stem)


@router.post("/generated", status_code=201, responses=problems(409))
def generate_plate(preview: Preview, ask: MadeRequest) -> PlateOut:
    """Compute a plate; `GET /api/v1/plates/generation` says how far it is, meanwhile."""
    ending = plate_suffix(ask.kind)
    if preview.making is not None:
        raise Refused(NOT_NOW, f"{preview.making.kind} is being made; wait, or stop it")
    making = preview.making = PlateMaking(ask.kind)

    def on_frame(done: int, total: int) -> None:
        making.done, making.total = done, total
        if making.stopped:
            raise Refused(STOPPED, f"making {ask.kind} was stopped; nothing of it is kept")

    try:
        with tempfile.TemporaryDirectory(dir=preview.project.assets) as folder:
            place = Path(folder) / f"made{ending}"
            write_generated_plate(ask.kind, place, ask.seed, on_frame=on_frame)
            return _take_in(place, preview, f"{ask.kind} {ask.seed}", known=True)
    finally:
        preview.making = None


@router.get("/generation")
def read_plate_generation(preview: Preview) -> MakingOut | None:
    """The plate that is being computed, and how far it is."""
    now = preview.making
    return None if now is None else MakingOut(kind=now.kind, done=now.done, total=now.total)


@router.post("/generation/stop", status_code=204)
def stop_plate_generation(preview: Preview) -> None:
    """Stop computing a plate, if one is being computed."""
    if preview.making is not None:
        preview.making.stopped = True


@router.post("/of-clips/{clip_id}", status_code=201, responses=problems(410))
def add_plate_of_clip(preview: Preview, clip_id: int) -> PlateOut:
    """Have a clip as a plate too: for a double exposure. Numbered stills become one movie."""
    clip = preview.project.clips.get(clip_id)
    preview.project.clips.check(clip)
    with tempfile.TemporaryDirectory(dir=preview.project.assets) as folder:
        place = Path(folder) / clip.path.name
        if not clip.path.is_file():  # numbered stills
            place = Path(folder) / "stills.mkv"
            write_plate_of_stills(clip.path, place)
            return _take_in(place, preview, clip.name, known=True)
        try:
            os.link(clip.path, place)
        except OSError:
            shutil.copyfile(clip.path, place)
        return _take_in(place, preview, clip.name, known=True)


@router.get("/{file}")
def read_plate(path: PlateFile) -> PlateOut:
    """One plate."""
    return _describe_plate(path)


@router.delete("/{file}", status_code=204, responses=problems(409))
def delete_plate(preview: Preview, path: PlateFile) -> None:
    """Take a plate out of the project; `restore` brings it back. 409 while a look has it."""
    delete_asset(preview.project, path)
    preview.forget_pictures()


@router.post("/{file}/restore")
def restore_plate(preview: Preview, file: str) -> PlateOut:
    """Bring a deleted plate back."""
    kept = restore_asset(preview.project, file, _is_named_as_plate)
    preview.forget_pictures()
    return _describe_plate(kept)


@router.get("/{file}/strip", response_class=Response, responses=answers("image/jpeg") | KNOWN)
def read_plate_strip(
    request: Request, path: AssetFile, count: int = 16, first: int = 0, last: int = -1
) -> Response:
    """Frames spread over the plate, or over those from `first` to `last`, side by side in one JPEG.

    A `last` of -1 is its last.
    """
    tag = entity_tag(path.name, path.stat().st_mtime_ns, count, first, last)
    return tagged_response(request, tag, "image/jpeg", lambda: _strip(path, count, first, last))


def _strip(path: Path, count: int, first: int, last: int) -> bytes:
    plate = open_plate(path)
    end = plate.frames if last < 0 else min(last + 1, plate.frames)
    begin = min(max(first, 0), end - 1)
    count = min(max(count, 1), 64, end - begin)
    size = plate.size.with_height(min(STRIP_LINES, plate.size.height))
    row: Picture = new_picture(size._replace(width=size.width * count))
    for i in range(count):
        frame = begin + (2 * i + 1) * (end - begin) // (2 * count)
        seen = plate.picture(frame, size)
        matte = plate.matte(frame, size)
        if matte is not None:  # clear parts are the wall's grey
            seen = seen * matte + np.float32(0.36) * (1 - matte)
        row[:, :, i * size.width : (i + 1) * size.width] = seen
    return jpeg(row, 85)


@router.get("/{file}/odd-frames")
def list_odd_frames(path: PlateFile) -> OddFramesOut:
    """Frames that are unlike those before and after them, as marks and splices are."""
    found = path.stat()
    return _odd_frames(path, found.st_size, found.st_mtime_ns)


@lru_cache(maxsize=64)
def _odd_frames(path: Path, size: int, changed: int) -> OddFramesOut:
    plate = open_plate(path)
    looked = min(plate.frames, MAX_LOOKED_AT)
    small = plate.size.with_height(min(odd_frames.LINES, plate.size.height))
    spans = odd_frames.odd_frames(plate.picture(n, small) for n in range(looked))
    found = [OddSpan(first=first, last=last) for first, last in spans]
    return OddFramesOut(spans=found, looked_at=looked)


@router.post("/uses")
def measure_plate_use(project: CurrentProject, ask: UsedRequest) -> UsedOut:
    """How much of a step's plate is used, and why nothing of it is seen where that is so."""
    (step,) = parse_look({"format": "yearning-look/3", "steps": [ask.step]}).steps
    settings = step.settings
    if not isinstance(settings, Plate | Border) or not settings.file:
        return UsedOut(frames=0, used=0, problem=None)
    try:
        plate = open_plate(asset_path(project.assets, settings.file))
    except MediaError as error:
        return UsedOut(frames=0, used=0, problem=f"{error}; bring it in again, or choose another")
    count = len(settings.used_frames(plate.frames)) if isinstance(settings, Plate) else 1
    return UsedOut(frames=plate.frames, used=count, problem=settings.validate_plate(plate))


def _take_in(place: Path, preview: PreviewService, title: str, *, known: bool = False) -> PlateOut:
    """Keep a file as a plate, under a name that tells what it holds.

    Raises:
        MediaError: it can't be used as a plate.
    """
    if not known:
        check_plate_in_sandbox(place, place.name)
    kept = keep(place, preview.project.assets, title)
    preview.forget_pictures()
    return _describe_plate(kept)


def _describe_plate(path: Path) -> PlateOut:
    """What a plate is; its file is opened once while it stays as it is."""
    found = path.stat()
    return _description(path, found.st_size, found.st_mtime_ns)


@lru_cache(maxsize=512)
def _description(path: Path, size: int, changed: int) -> PlateOut:
    plate = OpenPlate(path)
    small = plate.size.with_height(min(135, plate.size.height))
    return PlateOut(
        file=path.name,
        title=title_of(path.name),
        frames=plate.frames,
        width=plate.size.width,
        height=plate.size.height,
        rate=plate.rate,
        matte=plate.has_matte,
        premultiplied=plate.was_premultiplied,
        histogram=histogram(plate.picture(plate.frames // 2, small), BINS).tolist(),
    )
