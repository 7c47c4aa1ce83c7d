"""Steps that are kept under names: shown with the treatments, and added again from there."""

from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject
from yearning.api.schemas.steps import KeptStep
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.look.upgrades import FIRST_FORMAT, FORMAT, upgrade_look
from yearning.store.errors import NotThere

NAME = "kept steps"
MAX_KEPT = 100

router = APIRouter(prefix=f"{V1}/kept-steps", tags=["looks"])


@router.get("")
def list_kept_steps(project: CurrentProject) -> list[KeptStep]:
    """The steps that are kept, in the order they were kept in."""
    setting = project.setting(NAME)
    kept = setting.get("kept", [])
    written = {"format": setting.get("format", FIRST_FORMAT), "steps": [e["step"] for e in kept]}
    steps = upgrade_look(written)["steps"]
    return [KeptStep(name=e["name"], step=step) for e, step in zip(kept, steps, strict=True)]


@router.get("/{name}")
def read_kept_step(project: CurrentProject, name: str) -> KeptStep:
    """One step that is kept, by its name."""
    found = [kept for kept in list_kept_steps(project) if kept.name == name]
    if not found:
        raise NotThere(f"no step is kept as '{name}'")
    return found[0]


@router.delete("/{name}", status_code=204)
def delete_kept_step(project: CurrentProject, name: str) -> None:
    """Let a kept step go; the others stay."""
    gone = read_kept_step(project, name)
    replace_kept_steps(project, [k for k in list_kept_steps(project) if k.name != gone.name])


@router.put("")
def replace_kept_steps(project: CurrentProject, kept: list[KeptStep]) -> list[KeptStep]:
    """Keep those steps, and no others."""
    if len(kept) > MAX_KEPT:
        raise InvalidLookError(f"at most {MAX_KEPT} steps are kept; let one go first")
    if len({each.name for each in kept}) < len(kept):
        raise InvalidLookError("two kept steps have one name; give one another")
    for each in kept:
        document = {"format": FORMAT, "name": each.name, "steps": [each.step]}
        parse_look(document, keep_absent=True)
    value = {"format": FORMAT, "kept": [each.model_dump() for each in kept]}
    project.set_setting(NAME, value)
    return kept
