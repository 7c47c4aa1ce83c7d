"""Look-up tables and grades: brought in, and looks baked as tables."""

import tempfile
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Depends, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response

from yearning.api.addresses import V1
from yearning.api.asset_files import delete_asset, restore_asset
from yearning.api.attachments import answers, attachment, file_stem
from yearning.api.dependencies import AssetFile, CurrentProject, Preview
from yearning.api.paging import CurrentPage
from yearning.api.problems import problems
from yearning.api.schemas.looks import OnClip
from yearning.api.schemas.tables import BakedOut, Grade, TableOut
from yearning.api.uploads import BINARY_BODY, file_name, read_body
from yearning.core.engine.baking import SIDES, bake
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import Look
from yearning.media.errors import MediaError
from yearning.media.plates.assets import TABLE_READERS
from yearning.media.plates.assets import read_table as table_in
from yearning.media.tables.cdl import Cdl, cc_text, cdl_text, read_cdl
from yearning.media.tables.cube import write_cube
from yearning.store.assets import keep, title_of
from yearning.store.errors import NotThere

MAX_BYTES = 256 << 20

router = APIRouter(prefix=V1, tags=["tables"])


@router.get("/tables")
def list_tables(project: CurrentProject, page: CurrentPage) -> list[TableOut]:
    """The look-up tables of the project."""
    folder = project.assets
    found = sorted(path for path in folder.iterdir() if path.suffix in TABLE_READERS)
    return [TableOut(file=p.name, title=title_of(p.name)) for p in page.of_all(found)]


def _table_file(path: AssetFile) -> Path:
    if path.suffix not in TABLE_READERS:
        raise NotThere(f"{path.name} is no look-up table")
    return path


TableFile = Annotated[Path, Depends(_table_file)]


@router.get("/tables/{file}")
def read_table(path: TableFile) -> TableOut:
    """One look-up table."""
    return TableOut(file=path.name, title=title_of(path.name))


@router.delete("/tables/{file}", status_code=204, responses=problems(409))
def delete_table(preview: Preview, path: TableFile) -> None:
    """Take a table out of the project; `restore` brings it back. 409 while a look has it."""
    delete_asset(preview.project, path)
    preview.forget_pictures()


@router.post("/tables/{file}/restore")
def restore_table(preview: Preview, file: str) -> TableOut:
    """Bring a deleted look-up table back."""
    kept = restore_asset(preview.project, file, lambda path: path.suffix in TABLE_READERS)
    preview.forget_pictures()
    return read_table(kept)


@router.post("/tables", status_code=201, openapi_extra=BINARY_BODY)
async def add_table(project: CurrentProject, request: Request, name: str) -> TableOut:
    """Take in a look-up table, sent as the request's body."""
    data = await read_body(request, name, MAX_BYTES)
    folder = project.assets

    def take() -> TableOut:
        suffix = Path(name).suffix.lower()
        if suffix not in TABLE_READERS:
            raise MediaError(f"{name}: look-up tables end in {' or '.join(TABLE_READERS)}")
        with tempfile.TemporaryDirectory(dir=folder) as trial:
            place = Path(trial) / file_name(name)
            place.write_bytes(data)
            table_in(place)
            file = keep(place, folder, Path(name).stem).name
        return TableOut(file=file, title=title_of(file))

    return await run_in_threadpool(take)


@router.get("/looks/{look_id}/table", response_class=Response, responses=answers("text/plain"))
def bake_table(preview: Preview, look_id: int, side: int = 33, clip: OnClip = None) -> Response:
    """The look as a .cube of three dimensions."""
    look = _look(preview, look_id, clip)
    values, _ = bake(look, _checked_side(side), preview.assets)
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder) / "look.cube"
        write_cube(place, look.name, values)
        data = place.read_bytes()
    headers = attachment(f"{file_stem(look.name)}.{side}.cube")
    return Response(data, media_type="text/plain", headers=headers)


@router.get("/looks/{look_id}/table/error")
def measure_table_error(
    preview: Preview, look_id: int, side: int = 33, clip: OnClip = None
) -> BakedOut:
    """How far the baked table is from the look, or which step is more than colours."""
    look, checked = _look(preview, look_id, clip), _checked_side(side)
    try:
        _, error = bake(look, checked, preview.assets)
    except InvalidLookError as refusal:
        return BakedOut(side=side, reason=str(refusal))
    return BakedOut(side=side, error=error)


def _look(preview: Preview, look_id: int, clip: int | None) -> Look:
    current = preview.project.looks.get(look_id)
    return current.look if clip is None else current.look_on(clip)


def _checked_side(side: int) -> int:
    if side not in SIDES:
        raise MediaError(f"side: {side} is not one of {', '.join(map(str, SIDES))}")
    return side


@router.post("/grades", openapi_extra=BINARY_BODY)
async def read_grade(request: Request, name: str) -> Grade:
    """The grade in a .cc, .ccc or .cdl file, sent as the request's body."""
    found = read_cdl(name, await read_body(request, name, MAX_BYTES))
    return Grade.model_validate(found._asdict())


@router.post("/grades/{ending}", response_class=Response, responses=answers("application/xml"))
def write_grade(ending: str, grade: Grade) -> Response:
    """A grade as a .cc or .cdl file."""
    texts = {"cc": cc_text, "cdl": cdl_text}
    if ending not in texts:
        raise MediaError(f"{ending}: grades are written as {' or '.join(texts)}")
    text = texts[ending](Cdl(grade.id, grade.slope, grade.offset, grade.power, grade.saturation))
    return Response(text, media_type="application/xml")
