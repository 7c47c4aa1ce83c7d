"""Plates: the project's pictures and clips that are laid over others."""

import os
import shutil
import tempfile
from functools import lru_cache
from pathlib import Path

import numpy as np
from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response
from pydantic import BaseModel, Field

from yearning.api.preview import Desk
from yearning.api.problems import Problem, Refused
from yearning.core.look.document import parse_look
from yearning.core.measure import scopes
from yearning.core.picture import Picture, new_picture
from yearning.core.plates.generated_plates import GENERATED_PLATES
from yearning.core.treatments.border import Border
from yearning.core.treatments.plate import Plate
from yearning.media.decode.sandbox import probe_sandboxed
from yearning.media.errors import MediaError
from yearning.media.plates.assets import READERS, asset_path, open_plate
from yearning.media.plates.plate_writer import plate_suffix, write_generated_plate
from yearning.media.plates.plates import STILLS, OpenPlate
from yearning.media.stills.stills import jpeg
from yearning.store.assets import keep, title_of

LARGEST = 4 << 30
STRIP_LINES = 54
BINS = 64

router = APIRouter(prefix="/api/plates", tags=["plates"], responses={422: {"model": Problem}})

BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {}}}}}


class PlateOut(BaseModel):
    """A plate of the project: the name that looks have it under, and what it is."""

    file: str
    title: str
    frames: int
    width: int
    height: int
    rate: float | None = Field(description="Frames a second; none for a picture.")
    matte: bool = Field(description="It is clear in places.")
    histogram: list[list[int]] = Field(description="Counts of luma, R', G', B' of its middle.")


class MadeAsk(BaseModel):
    """Which stand-in is to be made."""

    kind: str
    seed: int = Field(1, ge=0, le=9999)


class KindOut(BaseModel):
    """A kind of stand-in."""

    kind: str
    says: str
    shuffles: bool = Field(description="Its frames may come in any order.")


class UsedAsk(BaseModel):
    """A plate step, to be told what of its plate is used."""

    step: dict[str, object]


class UsedOut(BaseModel):
    """What of a step's plate is used."""

    frames: int
    used: int
    problem: str | None = Field(description="Why nothing of it is seen, and what to do.")


def _desk(request: Request) -> Desk:
    desk: Desk = request.app.state.desk
    return desk


@router.get("")
def plates(request: Request) -> list[PlateOut]:
    """The plates of the project; one that can't be read any more is left out."""
    folder = _desk(request).project.materials
    found = []
    for path in sorted(folder.iterdir()):
        if path.suffix in READERS or path.name.startswith(".") or not path.is_file():
            continue
        try:
            found.append(_told(path))
        except MediaError:
            continue
    return found


@router.get("/kinds")
def kinds() -> list[KindOut]:
    """What can be made by those who have no plates."""
    return [
        KindOut(kind=kind, says=plate.says, shuffles=plate.shuffles)
        for kind, plate in GENERATED_PLATES.items()
    ]


@router.post("", status_code=201, openapi_extra=BODY)
async def add_plate(request: Request, name: str) -> PlateOut:
    """Take in a plate, sent as the request's body."""
    desk = _desk(request)
    with tempfile.TemporaryDirectory(dir=desk.project.materials) as trial:
        place = Path(trial) / Path(name).name
        size = 0
        with place.open("wb") as file:
            async for part in request.stream():
                size += len(part)
                if size > LARGEST:
                    raise Refused(413, "Too large", f"{name}: more than {LARGEST >> 30} GB")
                await run_in_threadpool(file.write, part)
        return await run_in_threadpool(_take, place, desk, Path(name).stem)


@router.post("/made", status_code=201)
def make_plate(request: Request, ask: MadeAsk) -> PlateOut:
    """Make a stand-in."""
    desk = _desk(request)
    ending = plate_suffix(ask.kind)
    with tempfile.TemporaryDirectory(dir=desk.project.materials) as trial:
        place = Path(trial) / f"made{ending}"
        write_generated_plate(ask.kind, place, ask.seed)
        return _take(place, desk, f"{ask.kind} {ask.seed}", known=True)


@router.post("/of-clip/{clip_id}", status_code=201)
def plate_of_clip(request: Request, clip_id: int) -> PlateOut:
    """Have a clip as a plate too: for a double exposure."""
    desk = _desk(request)
    clip = desk.project.clips.get(clip_id)
    desk.project.clips.check(clip)
    if not clip.path.is_file():
        raise MediaError(
            f"{clip.name}: numbered stills are no plate; render them first, as one clip"
        )
    with tempfile.TemporaryDirectory(dir=desk.project.materials) as trial:
        place = Path(trial) / clip.path.name
        try:
            os.link(clip.path, place)
        except OSError:
            shutil.copyfile(clip.path, place)
        return _take(place, desk, clip.name, known=True)


@router.get("/{file}/strip", response_class=Response)
def strip(request: Request, file: str, count: int = 16) -> Response:
    """Frames spread over the plate, side by side in one JPEG."""
    plate = open_plate(asset_path(_desk(request).project.materials, file))
    count = min(max(count, 1), 64, plate.frames)
    size = plate.size.with_height(min(STRIP_LINES, plate.size.height))
    row: Picture = new_picture(size._replace(width=size.width * count))
    for i in range(count):
        frame = (2 * i + 1) * plate.frames // (2 * count)
        seen = plate.picture(frame, size)
        matte = plate.matte(frame, size)
        if matte is not None:  # clear parts are the wall's grey
            seen = seen * matte + np.float32(0.36) * (1 - matte)
        row[:, :, i * size.width : (i + 1) * size.width] = seen
    return Response(jpeg(row, 85), media_type="image/jpeg", headers={"Cache-Control": "no-cache"})


@router.post("/used")
def used(request: Request, ask: UsedAsk) -> UsedOut:
    """How much of a step's plate is used, and why nothing of it is seen where that is so."""
    (step,) = parse_look({"format": "yearning-look/1", "steps": [ask.step]}).steps
    settings = step.settings
    if not isinstance(settings, Plate | Border) or not settings.file:
        return UsedOut(frames=0, used=0, problem=None)
    try:
        plate = open_plate(asset_path(_desk(request).project.materials, settings.file))
    except MediaError as error:
        return UsedOut(frames=0, used=0, problem=f"{error}; bring it in again, or choose another")
    count = len(settings.used(plate.frames)) if isinstance(settings, Plate) else 1
    return UsedOut(frames=plate.frames, used=count, problem=settings.complaint(plate))


def _take(place: Path, desk: Desk, title: str, *, known: bool = False) -> PlateOut:
    """Keep a file as a plate, under a name that tells what it holds.

    Raises:
        MediaError: it can't be used as a plate.
    """
    if not known and place.suffix.lower() not in STILLS:
        probe_sandboxed(place, place.name)
    OpenPlate(place)
    kept = keep(place, desk.project.materials, title)
    desk.forget_pictures()
    return _told(kept)


def _told(path: Path) -> PlateOut:
    """What a plate is; its file is opened once while it stays as it is."""
    found = path.stat()
    return _known(path, found.st_size, found.st_mtime_ns)


@lru_cache(maxsize=512)
def _known(path: Path, size: int, changed: int) -> PlateOut:
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
        histogram=scopes.histogram(plate.picture(plate.frames // 2, small), BINS).tolist(),
    )
