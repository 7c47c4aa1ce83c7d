"""Reels: shots in their order, in as timelines and out again with results."""

import shutil
import tempfile
from fractions import Fraction
from pathlib import Path
from typing import Annotated, Literal

import numpy as np
from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response

from yearning.api.addresses import V1
from yearning.api.attachments import answers, attachment, file_stem
from yearning.api.dependencies import CurrentProject, MediaFolders, Preview, Renders
from yearning.api.etags import KNOWN, entity_tag, tagged_response
from yearning.api.paging import CurrentPage
from yearning.api.preview import number_after
from yearning.api.problems import problems
from yearning.api.schemas.pictures import Height
from yearning.api.schemas.reels import (
    ReelChange,
    ReelIn,
    ReelOut,
    ReelRenderRequest,
    ReelResultOut,
    ReelStep,
    RenderedShotsOut,
)
from yearning.api.uploads import BINARY_BODY, file_name, save_body
from yearning.core.look.mix import FOOTAGE_INPUT
from yearning.core.picture import Size, new_picture
from yearning.farm.state import State
from yearning.library.project_reels import read_project_timeline, with_media_found
from yearning.library.reel_renders import (
    Results,
    add_renders,
    clip_of,
    look_of,
    write_reel_timeline,
)
from yearning.media.encode.results import check_output
from yearning.media.errors import MediaError
from yearning.media.sandbox import check_timeline_in_sandbox
from yearning.media.stills.stills import jpeg, still_bits
from yearning.media.timeline.rates import exact_rate
from yearning.media.timeline.reading import MAX_BYTES
from yearning.media.timeline.reading import SUFFIXES as TIMELINES
from yearning.store.reel_body import ReelGap, ReelShot

PICTURE_QUALITY = 88

router = APIRouter(prefix=f"{V1}/reels", tags=["reels"])


@router.get("")
def list_reels(project: CurrentProject, page: CurrentPage) -> list[ReelOut]:
    """The reels, the last changed first."""
    return [ReelOut.of(current) for current in page.of(project.reels.all(page.part))]


@router.post("", status_code=201)
def add_reel(project: CurrentProject, wanted: ReelIn) -> ReelOut:
    """A new reel."""
    return ReelOut.of(project.reels.new(wanted.body()))


@router.post("/timelines", status_code=201, openapi_extra=BINARY_BODY)
async def add_timeline(
    project: CurrentProject,
    folders: MediaFolders,
    request: Request,
    name: str,
    rate: Annotated[
        float | None,
        Query(ge=1, le=1000, description="Of an edit list; else that of most of the clips."),
    ] = None,
) -> ReelOut:
    """A new reel from a timeline, .otio or .edl, sent as the request's body.

    Its media are the project's clips that are called so, and files in the folders that were named
    at the server's start; shots without media stay in the reel, to have theirs when it comes.
    """
    plain = Path(file_name(name))
    if plain.suffix.lower() not in TIMELINES:
        raise MediaError(f"{plain.name}: timelines end in {' or '.join(TIMELINES)}")
    folder = project.folder / "timelines" / project.incoming("").stem
    folder.mkdir()
    try:
        await save_body(request, folder / plain, plain.name, MAX_BYTES)
        await run_in_threadpool(check_timeline_in_sandbox, folder / plain, plain.name)
        exact = None if rate is None else exact_rate(rate)
        found = await run_in_threadpool(
            read_project_timeline, project, folder / plain, folders, exact
        )
    except BaseException:
        shutil.rmtree(folder)
        raise
    body = found.body.model_copy(update={"timeline": f"{folder.name}/{plain}"})
    return ReelOut.of(project.reels.new(body), list(found.notes), found.missing)


@router.get("/{reel_id:row}")
def read_reel(project: CurrentProject, reel_id: int) -> ReelOut:
    """A reel as it is now."""
    return ReelOut.of(project.reels.get(reel_id))


@router.put("/{reel_id:row}", responses=problems(409))
def change_reel(project: CurrentProject, reel_id: int, change: ReelChange) -> ReelOut:
    """A new revision, made from the current one; 409 when another is current by now."""
    body = change.body(project.reels.get(reel_id).body.timeline)
    return ReelOut.of(project.reels.change(reel_id, change.revision, body))


@router.post("/{reel_id}/undo", responses=problems(409))
def undo_reel(project: CurrentProject, reel_id: int, step: ReelStep) -> ReelOut:
    """Have an earlier revision, or a later one, be current again."""
    return ReelOut.of(project.reels.go_to(reel_id, step.revision, step.to))


@router.delete("/{reel_id:row}", status_code=204)
def delete_reel(project: CurrentProject, reel_id: int) -> None:
    """Delete a reel; `restore` brings it back."""
    project.reels.delete(reel_id)


@router.post("/{reel_id}/restore")
def restore_reel(project: CurrentProject, reel_id: int) -> ReelOut:
    """Bring a deleted reel back as it was."""
    return ReelOut.of(project.reels.restore(reel_id))


@router.post("/{reel_id}/media", responses=problems(409))
def find_media(project: CurrentProject, folders: MediaFolders, reel_id: int) -> ReelOut:
    """Look again for media that a reel's timeline names, among clips that came since."""
    current = project.reels.get(reel_id)
    if not current.body.timeline:
        return ReelOut.of(current)
    path = project.folder / "timelines" / current.body.timeline
    rate = current.body.rate
    found = read_project_timeline(
        project, path, folders, Fraction(rate.numerator, rate.denominator)
    )
    body = with_media_found(current.body, found.body)
    changed = project.reels.change(reel_id, current.revision, body)
    return ReelOut.of(changed, list(found.notes), found.missing)


@router.get(
    "/{reel_id}/pictures/{frame}",
    response_class=Response,
    responses=answers("image/jpeg") | problems(410) | KNOWN,
)
def read_reel_picture(
    request: Request,
    preview: Preview,
    reel_id: int,
    frame: int,
    height: Annotated[Height, Query()] = 540,
    plain: Annotated[bool, Query(description="The clip as shot, without its look.")] = False,
) -> Response:
    """A frame of the reel, through its shot's look; black in gaps and where media is missing."""
    begins, item = preview.project.reels.get(reel_id).body.at(frame)
    if isinstance(item, ReelGap) or item.clip is None:
        return tagged_response(
            request, entity_tag("black", height), "image/jpeg", lambda: _black(height)
        )
    footage = preview.footage(clip_of(preview.project, item))
    evaluator = preview.evaluator(look_of(preview.project, item), footage, height)
    number = number_after(evaluator, FOOTAGE_INPUT if plain else None)
    footage.reserve_cache(sum(evaluator.reach(item.begins)) + 1)
    at = item.begins + frame - begins
    if at >= footage.frames:
        raise IndexError(f"{item.name}: frame {at} is beyond its clip's last, {footage.frames - 1}")

    def encode_picture() -> bytes:
        with preview.computing:
            picture = evaluator.picture_of(at, number)
        return jpeg(picture, PICTURE_QUALITY)

    return tagged_response(
        request,
        entity_tag(preview.assets_mark, evaluator.cache_key(at, number)),
        "image/jpeg",
        encode_picture,
    )


def _black(height: int) -> bytes:
    picture = new_picture(Size(16 * height // 9, height))
    picture.fill(np.float32(0))
    return jpeg(picture, PICTURE_QUALITY)


@router.get("/{reel_id}/results")
def list_reel_results(project: CurrentProject, reel_id: int) -> list[ReelResultOut]:
    """What has been rendered of each shot as it is now."""
    results = Results(project)
    shots = [item for item in project.reels.get(reel_id).body.items if isinstance(item, ReelShot)]
    found = [(shot, results.of(shot)) for shot in shots]
    return [
        ReelResultOut(
            shot=shot.id,
            render=None if render is None else render.id,
            state="none" if render is None else "done" if render.state == State.DONE else "coming",
        )
        for shot, render in found
    ]


@router.post("/{reel_id}/renders", status_code=201)
def add_reel_renders(
    project: CurrentProject, queue: Renders, reel_id: int, ask: ReelRenderRequest
) -> RenderedShotsOut:
    """Render shots through their looks, but those that are rendered so already."""
    result = ask.result
    if result.is_stills:
        still_bits(result.ending, result.bits)
    else:
        check_output(result.ending, result.output)
    only = None if ask.shots is None else set(ask.shots)
    body = project.reels.get(reel_id).body
    out = RenderedShotsOut(added=[], kept=0, refused=[])
    for render in add_renders(project, body, result, ask.handles, only):
        if render is None:
            out.kept += 1
        elif isinstance(render, str):
            out.refused.append(render)
        else:
            out.added.append(render.id)
            queue.wake(render.id)
    return out


@router.get(
    "/{reel_id}/timeline",
    response_class=Response,
    responses=answers("application/octet-stream"),
)
def read_reel_timeline(
    project: CurrentProject, reel_id: int, ending: Literal[".otio", ".edl"] = ".otio"
) -> Response:
    """The reel as a timeline whose media are the results that there are, ranges as they came."""
    body = project.reels.get(reel_id).body
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, f"{file_stem(body.name)}{ending}")
        write_reel_timeline(project, body, path)
        return Response(
            path.read_bytes(),
            media_type="application/octet-stream",
            headers=attachment(path.name),
        )
