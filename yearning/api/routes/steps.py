"""Steps that are kept under names: shown with the treatments, and added again from there."""

from fastapi import APIRouter

from yearning.api.dependencies import CurrentProject
from yearning.api.schemas.steps import KeptStep
from yearning.core.errors import LookError
from yearning.core.look.document import parse_look
from yearning.core.look.upgrades import FIRST_FORMAT, FORMAT, upgraded

NAME = "kept steps"
MAX_KEPT = 100

router = APIRouter(prefix="/api/steps", tags=["looks"])


@router.get("")
def kept_steps(project: CurrentProject) -> list[KeptStep]:
    """The steps that are kept, in the order they were kept in."""
    setting = project.setting(NAME)
    kept = setting.get("kept", [])
    written = {"format": setting.get("format", FIRST_FORMAT), "steps": [e["step"] for e in kept]}
    steps = upgraded(written)["steps"]
    return [KeptStep(name=e["name"], step=step) for e, step in zip(kept, steps, strict=True)]


@router.put("")
def keep_steps(project: CurrentProject, kept: list[KeptStep]) -> list[KeptStep]:
    """Keep those steps, and no others."""
    if len(kept) > MAX_KEPT:
        raise LookError(f"at most {MAX_KEPT} steps are kept; let one go first")
    if len({each.name for each in kept}) < len(kept):
        raise LookError("two kept steps have one name; give one another")
    for each in kept:
        parse_look({"format": FORMAT, "name": each.name, "steps": [each.step]})
    value = {"format": FORMAT, "kept": [each.model_dump() for each in kept]}
    project.set_setting(NAME, value)
    return kept
