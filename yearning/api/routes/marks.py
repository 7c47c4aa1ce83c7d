"""Marks: what of a step can be taken out of the picture one by one."""

import numpy as np
from fastapi import APIRouter, Request
from pydantic import BaseModel, Field

from yearning.api.preview import Desk
from yearning.api.problems import Problem
from yearning.core.image.marks import Mark
from yearning.core.look.document import LookError, parse_look, walk_steps
from yearning.core.picture import Size
from yearning.core.treatment.base import Treatment

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
    """The marks of a step at a frame but those that are taken out, where the result shows them."""
    desk: Desk = request.app.state.desk
    full = desk.footage(desk.project.clips.get(ask.clip)).size
    look = parse_look(ask.look)
    row = [[inner.id for _, _, inner in walk_steps((step,))] for step in look.steps]
    place = next((i for i, ids in enumerate(row) if ask.step in ids), None)
    if place is None:
        raise LookError(f"no step has the id '{ask.step}'")
    step = next(s for _, _, s in walk_steps(look.steps) if s.id == ask.step)
    settings = step.at(ask.frame).settings
    if not isinstance(settings, Treatment):
        return []
    later = [s.at(ask.frame).settings for s in look.steps[place + 1 :] if s.on]
    movers = [mover for mover in later if isinstance(mover, Treatment) and mover.geometry]
    return [_told(mark, movers, ask.frame, full) for mark in settings.marks(ask.frame, full)]


def _told(mark: Mark, movers: list[Treatment], frame: int, full: Size) -> MarkOut:
    points = mark.line[:, :2].astype(np.float64) * full.scale
    radius = float(mark.line[:, 2].max() + mark.soft) * full.scale
    rim = np.concatenate([points, points[:1] + np.array([radius, 0])])
    for mover in movers:
        rim = mover.carried(rim, frame, full)
    return MarkOut(
        name=mark.name,
        points=[(x / full.width, y / full.height) for x, y in rim[:-1].tolist()],
        radius=float(np.hypot(*(rim[-1] - rim[0]))) / full.height,
    )
