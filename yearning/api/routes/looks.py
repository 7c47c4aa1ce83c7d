"""Looks: revisions that undo and redo, and look files in and out."""

import json

from fastapi import APIRouter, Request
from fastapi.responses import Response

from yearning.api.problems import Problem
from yearning.api.schemas.base import LookChange, LookOut, Snapshot
from yearning.core.look.document import LookError, look_from_json, parse_look
from yearning.store.project import Project

MAX_SNAPSHOTS = 24

router = APIRouter(prefix="/api/looks", tags=["looks"], responses={422: {"model": Problem}})


def _project(request: Request) -> Project:
    project: Project = request.app.state.desk.project
    return project


@router.get("")
def looks(request: Request) -> list[LookOut]:
    """All looks, the last changed first."""
    return [LookOut.of(standing) for standing in _project(request).looks.all()]


@router.post(
    "",
    status_code=201,
    openapi_extra={
        "requestBody": {"required": True, "content": {"application/json": {"schema": {}}}}
    },
)
async def new_look(request: Request) -> LookOut:
    """A new look from a look file."""
    look = look_from_json(await request.body())
    return LookOut.of(_project(request).looks.new(look))


@router.get("/{look_id}")
def look(request: Request, look_id: int) -> LookOut:
    """A look as it stands."""
    return LookOut.of(_project(request).looks.get(look_id))


@router.put("/{look_id}", responses={409: {"model": Problem}})
def change_look(request: Request, look_id: int, change: LookChange) -> LookOut:
    """A new revision, made from the one that stands; 409 when another stands by now."""
    return LookOut.of(
        _project(request).looks.change(look_id, change.revision, parse_look(change.look))
    )


@router.post("/{look_id}/undo", responses={409: {"model": Problem}})
def undo(request: Request, look_id: int) -> LookOut:
    """The revision before."""
    return LookOut.of(_project(request).looks.undo(look_id))


@router.post("/{look_id}/redo", responses={409: {"model": Problem}})
def redo(request: Request, look_id: int) -> LookOut:
    """The revision after."""
    return LookOut.of(_project(request).looks.redo(look_id))


@router.get("/{look_id}/snapshots")
def snapshots(request: Request, look_id: int) -> list[Snapshot]:
    """The states of a look that are kept, in the order they were."""
    project = _project(request)
    project.looks.get(look_id)
    kept = project.setting(f"snapshots of {look_id}").get("kept", [])
    return [Snapshot(**snapshot) for snapshot in kept]


@router.put("/{look_id}/snapshots")
def keep_snapshots(request: Request, look_id: int, kept: list[Snapshot]) -> list[Snapshot]:
    """Keep those states of a look, and no others."""
    project = _project(request)
    project.looks.get(look_id)
    if len(kept) > MAX_SNAPSHOTS:
        raise LookError(f"a look keeps at most {MAX_SNAPSHOTS} snapshots; let one go first")
    for snapshot in kept:
        parse_look(snapshot.look)
    said = {"kept": [snapshot.model_dump() for snapshot in kept]}
    project.set_setting(f"snapshots of {look_id}", said)
    return kept


@router.get("/{look_id}/file", response_class=Response)
def look_file(request: Request, look_id: int) -> Response:
    """The look as a file, to keep or to send."""
    standing = _project(request).looks.get(look_id)
    name = "".join(c if c.isalnum() and c.isascii() else "-" for c in standing.look.name)
    return Response(
        json.dumps(standing.look.model_dump(mode="json"), indent=2),
        media_type="application/json",
        headers={"Content-Disposition": f'attachment; filename="{name}.look.json"'},
    )
