"""Looks: revisions that undo and redo, and look files in and out."""

import json
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response

from yearning.api.addresses import V1
from yearning.api.attachments import attachment, file_stem
from yearning.api.dependencies import CurrentProject
from yearning.api.paging import CurrentPage
from yearning.api.problems import problems
from yearning.api.schemas.look_document import COMPONENT
from yearning.api.schemas.looks import (
    CheckedFitting,
    CheckedLook,
    LookChange,
    LookOut,
    OnClip,
)
from yearning.core.look.document import look_from_json, parse_look
from yearning.core.look.fitting import (
    FITTING_FORMAT,
    ClipOverrides,
    apply_fitting,
    fitting_from_json,
    upgrade_fitting,
)
from yearning.core.look.upgrades import changed_pictures

LOOK_FILE: dict[int | str, dict[str, Any]] = {
    200: {"content": {"application/json": {"schema": {COMPONENT: "Look"}}}}
}
FITTING_FILE: dict[int | str, dict[str, Any]] = {
    200: {"content": {"application/json": {"schema": {COMPONENT: "FittingInput"}}}}
}
FITTING_BODY = {
    "requestBody": {
        "required": True,
        "content": {"application/json": {"schema": {COMPONENT: "FittingInput"}}},
    }
}
LOOK_BODY = {
    "requestBody": {
        "required": True,
        "content": {"application/json": {"schema": {COMPONENT: "LookInput"}}},
    }
}

Revision = Annotated[int | None, Query(description="Which the page shows.")]

router = APIRouter(prefix=f"{V1}/looks", tags=["looks"])


@router.get("")
def list_looks(project: CurrentProject, page: CurrentPage) -> list[LookOut]:
    """The looks, the last changed first."""
    return [LookOut.of(current) for current in page.of(project.looks.all(page.part))]


@router.post(
    "",
    status_code=201,
    openapi_extra=LOOK_BODY,
)
async def add_look(project: CurrentProject, request: Request) -> LookOut:
    """A new look from a look file."""
    body = await request.body()
    return await run_in_threadpool(lambda: LookOut.of(project.looks.new(look_from_json(body))))


@router.post(
    "/check",
    openapi_extra=LOOK_BODY,
)
async def check_look(request: Request) -> CheckedLook:
    """A look file as it is understood here, every setting in it; nothing is kept."""
    text = await request.body()
    look = await run_in_threadpool(look_from_json, text)
    return CheckedLook(look=look.model_dump(mode="json"), notes=changed_pictures(json.loads(text)))


@router.get("/{look_id:row}")
def read_look(project: CurrentProject, look_id: int) -> LookOut:
    """A look as it is now."""
    return LookOut.of(project.looks.get(look_id))


@router.put("/{look_id:row}", responses=problems(409))
def change_look(project: CurrentProject, look_id: int, change: LookChange) -> LookOut:
    """A new revision, made from the current one; 409 when another is current by now."""
    look = parse_look(change.look, keep_absent=True)
    fittings = change.parsed_fittings(look)
    return LookOut.of(project.looks.change(look_id, change.revision, look, fittings))


@router.delete("/{look_id:row}", status_code=204)
def delete_look(project: CurrentProject, look_id: int) -> None:
    """Delete a look; `restore` brings it back."""
    project.looks.delete(look_id)


@router.post("/{look_id}/restore")
def restore_look(project: CurrentProject, look_id: int) -> LookOut:
    """Bring a deleted look back as it was."""
    return LookOut.of(project.looks.restore(look_id))


@router.post("/{look_id}/undo", responses=problems(409))
def undo_look(project: CurrentProject, look_id: int, revision: Revision = None) -> LookOut:
    """The revision before; 409 when another is current than the one that is given."""
    return LookOut.of(project.looks.undo(look_id, revision))


@router.post("/{look_id}/redo", responses=problems(409))
def redo_look(project: CurrentProject, look_id: int, revision: Revision = None) -> LookOut:
    """The revision after; 409 when another is current than the one that is given."""
    return LookOut.of(project.looks.redo(look_id, revision))


@router.get("/{look_id}/file", response_class=Response, responses=LOOK_FILE)
def read_look_file(project: CurrentProject, look_id: int, clip: OnClip = None) -> Response:
    """The look as a file, to keep or to send: what clips share, or as it stands on one of them."""
    current = project.looks.get(look_id)
    look = current.look if clip is None else current.look_on(project.clips.get(clip).id)
    return _file(look.model_dump(mode="json"), f"{look.name}.look")


@router.post("/{look_id}/fittings/check", openapi_extra=FITTING_BODY)
async def check_fitting(project: CurrentProject, look_id: int, request: Request) -> CheckedFitting:
    """A fitting file as it is understood here, and what does not go with the look."""
    text = await request.body()

    def check() -> CheckedFitting:
        look = project.looks.get(look_id).look
        fitting = upgrade_fitting(look, fitting_from_json(text))
        notes = apply_fitting(look, fitting).notes
        return CheckedFitting(fitting=fitting.model_dump(mode="json"), notes=list(notes))

    return await run_in_threadpool(check)


@router.get("/{look_id}/fittings/{clip_id}/file", response_class=Response, responses=FITTING_FILE)
def read_fitting_file(project: CurrentProject, look_id: int, clip_id: int) -> Response:
    """What a look has of its own on a clip, and how that is read, as a file."""
    current, clip = project.looks.get(look_id), project.clips.get(clip_id)
    own = current.fittings.get(clip.id, ClipOverrides())
    own = own.model_copy(update={"input": {**clip.reading, **own.input}})
    document = own.model_dump(mode="json", exclude_defaults=True)
    return _file({"format": FITTING_FORMAT} | document, f"{clip.name}.fitting")


def _file(document: dict[str, Any], name: str) -> Response:
    """A document as a file to keep."""
    stem, _, kind = name.rpartition(".")
    return Response(
        json.dumps(document, indent=2),
        media_type="application/json",
        headers=attachment(f"{file_stem(stem)}.{kind}.json"),
    )
