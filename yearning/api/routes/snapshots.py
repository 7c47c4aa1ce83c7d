"""States of a look that are kept, to compare with and to go back to."""

from typing import Annotated

from fastapi import APIRouter, Path

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject
from yearning.api.schemas.snapshots import Snapshot, SnapshotIn
from yearning.core.look.document import parse_look
from yearning.core.look.upgrades import upgrade_look
from yearning.store.errors import NotThere
from yearning.store.kept_list import KeptList
from yearning.store.project import Project

MAX_SNAPSHOTS = 24

SnapshotId = Annotated[str, Path(min_length=1, max_length=64)]

router = APIRouter(prefix=f"{V1}/looks/{{look_id}}/snapshots", tags=["looks"])


def _of(project: Project, look_id: int) -> KeptList:
    return KeptList(project, "snapshots", look_id, MAX_SNAPSHOTS)


@router.get("")
def list_snapshots(project: CurrentProject, look_id: int) -> list[Snapshot]:
    """The states of a look that are kept, in the order they were kept in."""
    kept = _of(project, look_id).all()
    return [Snapshot(**{**snapshot, "look": upgrade_look(snapshot["look"])}) for snapshot in kept]


@router.get("/{snapshot_id}")
def read_snapshot(project: CurrentProject, look_id: int, snapshot_id: SnapshotId) -> Snapshot:
    """One state of a look that is kept."""
    found = [one for one in list_snapshots(project, look_id) if one.id == snapshot_id]
    if not found:
        raise NotThere(f"look {look_id} has no snapshot {snapshot_id}")
    return found[0]


@router.put("/{snapshot_id}")
def keep_snapshot(
    project: CurrentProject, look_id: int, snapshot_id: SnapshotId, kept: SnapshotIn
) -> Snapshot:
    """Keep a state of a look, beside those that are kept already."""
    snapshots = _of(project, look_id)
    look = parse_look(kept.look, keep_absent=True).model_dump(mode="json")
    snapshot = Snapshot(id=snapshot_id, name=kept.name, look=look)
    snapshots.keep(snapshot.model_dump())
    return snapshot


@router.delete("/{snapshot_id}", status_code=204)
def delete_snapshot(project: CurrentProject, look_id: int, snapshot_id: SnapshotId) -> None:
    """Let a kept state of a look go; the others stay."""
    _of(project, look_id).remove(snapshot_id)
