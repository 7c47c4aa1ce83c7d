"""Grain measured on scans: brought in, and measured on the project's plates."""

import tempfile
from contextlib import suppress
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Depends, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse

from yearning.api.addresses import V1
from yearning.api.asset_files import delete_asset, restore_asset
from yearning.api.dependencies import AssetFile, CurrentProject, Preview
from yearning.api.paging import CurrentPage
from yearning.api.problems import problems
from yearning.api.routes.plates import PlateFile
from yearning.api.schemas.grains import GrainOut, ToneOut
from yearning.api.uploads import BINARY_BODY, file_name, read_body
from yearning.core.noise.scanned_grain import grain_json
from yearning.media.errors import MediaError
from yearning.media.plates.assets import GRAIN_SUFFIX, MAX_GRAIN_BYTES, open_plate
from yearning.media.plates.assets import read_grain as grain_in
from yearning.media.plates.grain_of_plate import grain_of_plate
from yearning.store.assets import keep, title_of
from yearning.store.errors import NotThere
from yearning.store.project import Project

router = APIRouter(prefix=V1, tags=["grains"])


@router.get("/grains")
def list_grains(project: CurrentProject, page: CurrentPage) -> list[GrainOut]:
    """The grain of the project; what can't be read any more is left out."""
    found = []
    for path in sorted(project.assets.glob(f"*{GRAIN_SUFFIX}")):
        with suppress(MediaError):
            found.append(_describe_grain(path))
    return page.of_all(found)


def _grain_file(path: AssetFile) -> Path:
    if path.suffix != GRAIN_SUFFIX:
        raise NotThere(f"{path.name} is no measured grain")
    return path


GrainFile = Annotated[Path, Depends(_grain_file)]


@router.get("/grains/{file}")
def read_grain(path: GrainFile) -> GrainOut:
    """Grain that was measured."""
    return _describe_grain(path)


@router.get(
    "/grains/{file}/file",
    response_class=FileResponse,
    responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}},
)
def read_grain_file(path: GrainFile) -> FileResponse:
    """Grain as its file."""
    return FileResponse(path, media_type="application/json", filename=path.name)


@router.delete("/grains/{file}", status_code=204, responses=problems(409))
def delete_grain(preview: Preview, path: GrainFile) -> None:
    """Take grain out of the project; `restore` brings it back. 409 while a look has it."""
    delete_asset(preview.project, path)
    preview.forget_pictures()


@router.post("/grains/{file}/restore")
def restore_grain(preview: Preview, file: str) -> GrainOut:
    """Bring deleted grain back."""
    kept = restore_asset(preview.project, file, lambda path: path.suffix == GRAIN_SUFFIX)
    preview.forget_pictures()
    return _describe_grain(kept)


@router.post("/grains", status_code=201, openapi_extra=BINARY_BODY)
async def add_grain(project: CurrentProject, request: Request, name: str) -> GrainOut:
    """Take in measured grain, sent as the request's body."""
    data = await read_body(request, name, MAX_GRAIN_BYTES)
    if Path(name).suffix.lower() != GRAIN_SUFFIX:
        raise MediaError(f"{name}: measured grain ends in {GRAIN_SUFFIX}")
    return await run_in_threadpool(_keep, project, data, file_name(name))


@router.post("/plates/{file}/grain", status_code=201)
def measure_grain(project: CurrentProject, path: PlateFile) -> GrainOut:
    """Measure the grain of a plate that is a scan of even film, and keep it in the project."""
    title = title_of(path.name)
    grain = grain_of_plate(open_plate(path), title)
    return _keep(project, grain_json(grain).encode(), f"{title}{GRAIN_SUFFIX}")


def _keep(project: Project, data: bytes, name: str) -> GrainOut:
    with tempfile.TemporaryDirectory(dir=project.assets) as trial:
        place = Path(trial) / name
        place.write_bytes(data)
        grain_in(place)
        return _describe_grain(keep(place, project.assets, place.stem))


def _describe_grain(path: Path) -> GrainOut:
    grain = grain_in(path)
    tones = [ToneOut(luma=tone.luma, rms=list(tone.rms)) for tone in grain.tones]
    return GrainOut(file=path.name, title=title_of(path.name), lines=grain.lines, tones=tones)
