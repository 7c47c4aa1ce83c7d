"""Look-up tables and grades: brought in, and looks baked as tables."""

import tempfile
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response
from pydantic import BaseModel, ConfigDict, Field

from yearning.api.preview import Desk
from yearning.api.problems import Problem, Refused
from yearning.core.engine.baking import SIDES, bake
from yearning.media.errors import MediaError
from yearning.media.plates.assets import READERS, read_table
from yearning.media.tables.cdl import Cdl, cc_text, cdl_text, read_cdl
from yearning.media.tables.cube import write_cube
from yearning.store.assets import keep, title_of

LARGEST = 256 << 20

router = APIRouter(prefix="/api", tags=["tables"], responses={422: {"model": Problem}})

BODY = {"requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {}}}}}


class TableOut(BaseModel):
    """A look-up table of the project: the name that looks have it under, and its title."""

    file: str
    title: str


class BakedOut(BaseModel):
    """How well a lattice holds a look."""

    side: int
    error: float = Field(description="The largest of a channel, in parts of full scale.")


class Grade(BaseModel):
    """An ASC CDL grade."""

    model_config = ConfigDict(extra="forbid")

    id: str = "yearning"
    slope: tuple[float, float, float] = (1, 1, 1)
    offset: tuple[float, float, float] = (0, 0, 0)
    power: tuple[float, float, float] = (1, 1, 1)
    saturation: float = 1


def _desk(request: Request) -> Desk:
    desk: Desk = request.app.state.desk
    return desk


async def _body(request: Request, name: str) -> bytes:
    data = bytearray()
    async for part in request.stream():
        data += part
        if len(data) > LARGEST:
            raise Refused(413, "Too large", f"{name}: more than {LARGEST >> 20} MB")
    return bytes(data)


@router.get("/tables")
def tables(request: Request) -> list[TableOut]:
    """The look-up tables of the project."""
    folder = _desk(request).project.materials
    found = sorted(path for path in folder.iterdir() if path.suffix in READERS)
    return [TableOut(file=path.name, title=title_of(path.name)) for path in found]


@router.post("/tables", status_code=201, openapi_extra=BODY)
async def add_table(request: Request, name: str) -> TableOut:
    """Take in a look-up table, sent as the request's body."""
    data = await _body(request, name)
    folder = _desk(request).project.materials

    def take() -> TableOut:
        suffix = Path(name).suffix.lower()
        if suffix not in READERS:
            raise MediaError(f"{name}: look-up tables end in {' or '.join(READERS)}")
        with tempfile.TemporaryDirectory(dir=folder) as trial:
            place = Path(trial) / Path(name).name
            place.write_bytes(data)
            read_table(place)
            file = keep(place, folder, Path(name).stem).name
        return TableOut(file=file, title=title_of(file))

    return await run_in_threadpool(take)


@router.get("/looks/{look_id}/table", response_class=Response)
def baked_table(request: Request, look_id: int, side: int = 33) -> Response:
    """The look as a .cube of three dimensions."""
    desk = _desk(request)
    look = desk.project.looks.get(look_id).look
    values, _ = bake(look, _side(side), desk.materials)
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder) / "look.cube"
        write_cube(place, look.name, values)
        data = place.read_bytes()
    name = "".join(c if c.isalnum() and c.isascii() else "-" for c in look.name)
    disposition = f'attachment; filename="{name}.{side}.cube"'
    return Response(data, media_type="text/plain", headers={"Content-Disposition": disposition})


@router.get("/looks/{look_id}/table/error")
def baked_error(request: Request, look_id: int, side: int = 33) -> BakedOut:
    """How far the baked table is from the look."""
    desk = _desk(request)
    _, error = bake(desk.project.looks.get(look_id).look, _side(side), desk.materials)
    return BakedOut(side=side, error=error)


def _side(side: int) -> int:
    if side not in SIDES:
        raise MediaError(f"side: {side} is not one of {', '.join(map(str, SIDES))}")
    return side


@router.post("/grades", openapi_extra=BODY)
async def read_grade(request: Request, name: str) -> Grade:
    """The grade in a .cc, .ccc or .cdl file, sent as the request's body."""
    found = read_cdl(name, await _body(request, name))
    return Grade.model_validate(found._asdict())


@router.post("/grades/{ending}", response_class=Response)
def write_grade(ending: str, grade: Grade) -> Response:
    """A grade as a .cc or .cdl file."""
    texts = {"cc": cc_text, "cdl": cdl_text}
    if ending not in texts:
        raise MediaError(f"{ending}: grades are written as {' or '.join(texts)}")
    text = texts[ending](Cdl(grade.id, grade.slope, grade.offset, grade.power, grade.saturation))
    return Response(text, media_type="application/xml")
