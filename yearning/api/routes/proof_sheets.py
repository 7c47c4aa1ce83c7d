"""Proof sheets that are kept beside a look, to be opened again."""

from typing import Annotated

from fastapi import APIRouter, Path

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject
from yearning.api.schemas.proof_sheets import ProofSheetIn, ProofSheetOut
from yearning.core.look.document import steps_digest
from yearning.store.kept_list import KeptList
from yearning.store.project import Project

MAX_SHEETS = 64

SheetId = Annotated[str, Path(min_length=1, max_length=64)]

router = APIRouter(prefix=f"{V1}/looks/{{look_id}}/proof-sheets", tags=["looks"])


def _of(project: Project, look_id: int) -> KeptList:
    return KeptList(project, "proof sheets", look_id, MAX_SHEETS)


@router.get("")
def list_proof_sheets(project: CurrentProject, look_id: int) -> list[ProofSheetOut]:
    """The proof sheets kept beside a look, in the order they were kept in."""
    return [ProofSheetOut(**sheet) for sheet in _of(project, look_id).all()]


@router.put("/{sheet_id}")
def keep_proof_sheet(
    project: CurrentProject, look_id: int, sheet_id: SheetId, kept: ProofSheetIn
) -> ProofSheetOut:
    """Keep a proof sheet beside a look; one of the same id gives way."""
    sheets = _of(project, look_id)
    digest = steps_digest(project.looks.get(look_id).look)
    sheet = ProofSheetOut(id=sheet_id, name=kept.name, sheet=kept.sheet, digest=digest)
    sheets.keep(sheet.model_dump(mode="json"))
    return sheet


@router.delete("/{sheet_id}", status_code=204)
def delete_proof_sheet(project: CurrentProject, look_id: int, sheet_id: SheetId) -> None:
    """Let a kept proof sheet go; the others stay."""
    _of(project, look_id).remove(sheet_id)
