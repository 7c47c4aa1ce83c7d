"""Marks: what of a step can be taken out of the picture one by one."""

from fastapi import APIRouter, Request
from pydantic import BaseModel, Field

from yearning.api.desk import Desk
from yearning.api.problems import Problem
from yearning.core.look import LookError, each_step, look_of
from yearning.core.treatment import Treatment

router = APIRouter(prefix="/api", tags=["marks"], responses={422: {"model": Problem}})


class MarksAsk(BaseModel):
    """Whose marks are wanted, at which frame."""

    clip: int
    frame: int = Field(ge=0)
    look: dict[str, object]
    step: str


class MarkOut(BaseModel):
    """A mark: its name, its points in parts of the frame, and its radius in parts of its height."""

    name: str
    points: list[tuple[float, float]]
    radius: float


@router.post("/marks")
def marks(request: Request, ask: MarksAsk) -> list[MarkOut]:
    """The marks of a step at a frame, without those that are taken out."""
    desk: Desk = request.app.state.desk
    full = desk.footage(desk.project.clip(ask.clip)).size
    step = next((s for _, _, s in each_step(look_of(ask.look).steps) if s.id == ask.step), None)
    if step is None:
        raise LookError(f"no step has the id '{ask.step}'")
    settings = step.at(ask.frame).settings
    if not isinstance(settings, Treatment):
        return []
    wide = full.width / full.scale
    return [
        MarkOut(
            name=mark.name,
            points=[(float(x) / wide, float(y) / 1080) for x, y in mark.line[:, :2]],
            radius=float(mark.line[:, 2].max() + mark.soft) / 1080,
        )
        for mark in settings.marks(ask.frame, full)
    ]
