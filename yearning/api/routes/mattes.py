"""Mattes: figures lifted out of the project's clips."""

import numpy as np
from fastapi import APIRouter
from fastapi.responses import Response

from yearning.api.addresses import V1
from yearning.api.attachments import answers
from yearning.api.dependencies import AssetFile, CurrentProject, Mattes, Preview
from yearning.api.preview import preview_size
from yearning.api.problem_kinds import NOT_SUITED, OUT_OF_RANGE
from yearning.api.problems import OF_CLIP, Refused, problems
from yearning.api.schemas.mattes import (
    Draft,
    DraftOut,
    GlimpseRequest,
    LiftedOut,
    LiftRequest,
)
from yearning.api.schemas.progress import ProgressOut
from yearning.core.colour.luma import luma_plane
from yearning.core.engine.evaluator import Cancelled
from yearning.core.motion.strokes import Stroke, Strokes
from yearning.core.picture import Picture, Plane
from yearning.media.plates.lifted import read_lifted
from yearning.media.stills.stills import jpeg

router = APIRouter(prefix=f"{V1}/mattes", tags=["mattes"])

DIM = np.float32(0.3)
"""Light of what is not lifted out."""


@router.post("/finding", status_code=202, responses=OF_CLIP | problems(409))
def find_matte(project: CurrentProject, finder: Mattes, ask: LiftRequest) -> ProgressOut:
    """Begin to lift a figure out of a clip; `GET` the same says how far it is."""
    clip = project.clips.get(ask.clip)
    if not _say_what(ask.strokes):
        raise Refused(
            NOT_SUITED,
            "no stroke says what is to be lifted out: draw one on it, or around it",
        )
    strokes = Strokes(strokes=tuple(ask.strokes))
    try:
        found = finder.find(clip, ask.title, strokes, ask.known)
    except ValueError as error:
        raise Refused(OUT_OF_RANGE, str(error)) from None
    return ProgressOut.model_validate(found)


@router.get("/finding")
def read_matte_finding(finder: Mattes) -> ProgressOut | None:
    """The matte that is being found or was found last, and how far it is."""
    return None if finder.status is None else ProgressOut.model_validate(finder.status)


@router.post("/finding/stop", status_code=204)
def stop_matte_finding(finder: Mattes) -> None:
    """Stop finding a matte; asked for again, it goes on from there."""
    finder.stop()


@router.post(
    "/previews",
    response_class=Response,
    responses=answers("image/jpeg") | OF_CLIP | problems(409),
)
def preview_matte(preview: Preview, finder: Mattes, ask: GlimpseRequest) -> Response:
    """A frame of the footage as JPEG; what is not lifted out of it is grey and dim."""
    is_stale = preview.latest.register(ask.channel, ask.sequence)
    clip = preview.project.clips.get(ask.clip)
    footage = preview.footage(clip)
    size = preview_size(footage, ask.height)
    frame = min(ask.frame, footage.frames - 1)
    with preview.computing:
        if is_stale():
            raise Cancelled
        picture = footage.picture(frame, size)
        matte: Plane | None = None
        if _say_what(ask.strokes):
            strokes = Strokes(strokes=tuple(ask.strokes))
            try:
                matte = finder.glimpse(clip, footage, strokes, ask.known, frame, size)
            except ValueError as error:
                raise Refused(OUT_OF_RANGE, str(error)) from None
    return Response(jpeg(_dim_outside(picture, matte)), media_type="image/jpeg")


@router.get("/drafts")
def read_draft(project: CurrentProject, clip: int, step: str, shape: str) -> DraftOut:
    """The strokes drawn for a shape on a clip, as they were left; none where there were none."""
    return DraftOut.model_validate(project.setting(_draft_name(clip, step, shape)))


@router.put("/drafts", status_code=204)
def keep_draft(project: CurrentProject, drawn: Draft) -> None:
    """Keep the strokes that are drawn for a shape on a clip."""
    kept = drawn.model_dump(mode="json", include={"strokes", "known"})
    project.set_setting(_draft_name(drawn.clip, drawn.step, drawn.shape), kept)


@router.get("/{file}/strokes")
def read_strokes(project: CurrentProject, path: AssetFile) -> LiftedOut | None:
    """What a plate was lifted out by; nothing where it was not."""
    lifted = read_lifted(path)
    if lifted is None:
        return None
    clips = [clip for clip in project.clips.all() if clip.digest == lifted.clip]
    strokes = list(lifted.solved.strokes.strokes)
    return LiftedOut(clip=clips[0].id if clips else None, strokes=strokes)


def _draft_name(clip: int, step: str, shape: str) -> str:
    return f"strokes {clip} {step}.{shape}"


def _say_what(strokes: list[Stroke]) -> bool:
    """Whether strokes say what is to be lifted out, and not only what is not."""
    return any(stroke.kind != "not this" for stroke in strokes)


def _dim_outside(picture: Picture, matte: Plane | None) -> Picture:
    """A picture, grey and dim where a matte is not."""
    if matte is None:
        return picture
    dim = DIM * luma_plane(picture)
    out: Picture = dim + matte * (picture - dim)
    return out
