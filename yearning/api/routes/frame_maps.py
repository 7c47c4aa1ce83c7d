"""Frame maps: where a look's steps have moved what is in the frame."""

import numpy as np
from fastapi import APIRouter

from yearning.api.addresses import V1
from yearning.api.dependencies import Preview
from yearning.api.problems import OF_CLIP
from yearning.api.schemas.frame_maps import FrameMapOut
from yearning.api.schemas.pictures import FrameRequest
from yearning.core.engine.graph import RenderGraph
from yearning.core.look.clip_seeds import with_clip_seeds
from yearning.core.look.document import parse_look

COLUMNS, ROWS = 49, 28
"""A cell is 40 pixels at 1080p: within it a strong bend is straight but for a fifth of a pixel."""

FAR = 4.0
"""Frames from the first corner beyond which places are drawn in: a bend throws some to infinity."""

router = APIRouter(prefix=V1, tags=["looks"], responses=OF_CLIP)


@router.post("/frame-maps")
def compute_frame_map(preview: Preview, ask: FrameRequest) -> FrameMapOut:
    """Where places of the frame as shot are seen after a look's steps, at a frame."""
    footage = preview.footage(preview.project.clips.get(ask.clip))
    graph = RenderGraph(with_clip_seeds(parse_look(ask.look, keep_absent=True), footage), ask.frame)
    warp = graph.warp_of(graph.results[-1], ask.frame, footage.size)
    places = []
    if warp is not None:
        frame = np.array(footage.size, np.float64)
        across, down = np.meshgrid(np.linspace(0, 1, COLUMNS), np.linspace(0, 1, ROWS))
        grid = np.column_stack([across.ravel(), down.ravel()]) * frame
        seen = np.clip(np.nan_to_num(warp(grid) / frame, nan=FAR), -FAR, FAR)
        places = [(x, y) for x, y in seen.round(7).tolist()]
    return FrameMapOut(columns=COLUMNS, rows=ROWS, places=places)
