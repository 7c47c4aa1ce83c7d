"""Marks: what of a step can be taken out of the picture one by one."""

import numpy as np
from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.dependencies import Preview
from yearning.api.problems import OF_CLIP
from yearning.api.schemas.marks import MarkOut, MarksRequest
from yearning.core.errors import InvalidLookError
from yearning.core.image.marks import Mark
from yearning.core.look.clip_seeds import with_clip_seeds
from yearning.core.look.document import parse_look, walk_steps
from yearning.core.picture import Size
from yearning.core.treatment.capabilities import DrawsMarks, WarpsFrame

router = APIRouter(prefix=V1, tags=["marks"], responses=OF_CLIP)


@router.post("/marks")
def find_marks(preview: Preview, ask: MarksRequest) -> list[MarkOut]:
    """The marks of a step at a frame but those that are taken out, where the result shows them."""
    footage = preview.footage(preview.project.clips.get(ask.clip))
    full_size, look = footage.size, with_clip_seeds(parse_look(ask.look, keep_absent=True), footage)
    ids = [[placed.step.id for placed in walk_steps((step,))] for step in look.steps]
    index = next((i for i, inner in enumerate(ids) if ask.step in inner), None)
    if index is None:
        raise InvalidLookError(f"no step has the id '{ask.step}'")
    step = next(placed.step for placed in walk_steps(look.steps) if placed.step.id == ask.step)
    treatment = step.at(ask.frame).settings
    if not isinstance(treatment, DrawsMarks):
        return []
    later = [step.at(ask.frame).settings for step in look.steps[index + 1 :] if step.on]
    warps: list[WarpsFrame] = [warp for warp in later if isinstance(warp, WarpsFrame)]
    found = treatment.marks(ask.frame, full_size)
    return [_mark_out(mark, warps, ask.frame, full_size) for mark in found]


def _mark_out(mark: Mark, warps: list[WarpsFrame], frame: int, full_size: Size) -> MarkOut:
    points = mark.line[:, :2].astype(np.float64) * full_size.scale
    radius = float(mark.line[:, 2].max() + mark.soft) * full_size.scale
    with_rim = np.concatenate([points, points[:1] + np.array([radius, 0])])
    for warp in warps:
        with_rim = warp.map_points(with_rim, frame, full_size)
    return MarkOut(
        name=mark.name,
        points=[(x / full_size.width, y / full_size.height) for x, y in with_rim[:-1].tolist()],
        radius=float(np.hypot(*(with_rim[-1] - with_rim[0]))) / full_size.height,
    )
