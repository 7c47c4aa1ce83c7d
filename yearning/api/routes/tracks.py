"""Tracks: how parts of the project's clips move."""

import tempfile
from contextlib import suppress
from pathlib import Path

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse
from pydantic import TypeAdapter, ValidationError

from yearning.analysis.track_finder import TrackingStatus, keep_track
from yearning.analysis.tracks import Wanted
from yearning.api.addresses import V1
from yearning.api.asset_files import delete_asset, restore_asset
from yearning.api.dependencies import AssetFile, CurrentProject, Preview, Tracks
from yearning.api.paging import CurrentPage
from yearning.api.problem_kinds import NOT_SUITED
from yearning.api.problems import OF_CLIP, Refused, problems
from yearning.api.schemas.tracks import (
    FindingOut,
    FindRequest,
    LossOut,
    SmoothRequest,
    TrackOut,
    TrackPlaceOut,
    TrackPlacesOut,
)
from yearning.api.uploads import BINARY_BODY, file_name, save_body
from yearning.core.masks.shapes import AnyShape, Outline
from yearning.core.motion.tracks import Motion, Track
from yearning.core.picture import Size
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.errors import MediaError
from yearning.media.plates.assets import TRACK_SUFFIX, asset_path
from yearning.media.plates.assets import read_track as track_in
from yearning.store.assets import title_of
from yearning.store.clips import Clip
from yearning.store.project import Project

MAX_BYTES = 32 << 20

router = APIRouter(prefix=f"{V1}/tracks", tags=["tracks"])

_SHAPES = TypeAdapter[AnyShape](AnyShape)


@router.get("")
def list_tracks(project: CurrentProject, page: CurrentPage) -> list[TrackOut]:
    """The tracks of the project; one that can't be read any more is left out."""
    found = []
    for path in sorted(project.assets.glob(f"*{TRACK_SUFFIX}")):
        with suppress(MediaError):
            found.append(TrackOut(**_describe_track(project, path.name, track_in(path))))
    return page.of_all(found)


@router.post("", status_code=201, openapi_extra=BINARY_BODY)
async def add_track(project: CurrentProject, request: Request, name: str) -> TrackOut:
    """Take in a track, sent as the request's body."""
    with tempfile.TemporaryDirectory(dir=project.assets) as folder:
        place = Path(folder) / file_name(name)
        await save_body(request, place, name, MAX_BYTES)
        track = await run_in_threadpool(track_in, place)
    file = keep_track(project, track, file_name(name).partition(".")[0] or "track")
    return TrackOut(**_describe_track(project, file, track))


@router.post("/finding", status_code=202, responses=OF_CLIP | problems(409))
def find_track(project: CurrentProject, finder: Tracks, ask: FindRequest) -> FindingOut:
    """Begin to find a track; `GET` the same says how far it is."""
    clip = project.clips.get(ask.clip)
    try:
        shape = _SHAPES.validate_python(ask.shape)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"][1:])
        raise Refused(NOT_SUITED, f"{where}: {first['msg']}") from None
    if not isinstance(shape, Outline):
        raise Refused(NOT_SUITED, "only an ellipse, a box or a path can be followed")
    size = Size(clip.probe["width"], clip.probe["height"])
    known = None if ask.known is None else track_in(asset_path(project.assets, ask.known))
    wanted = Wanted(
        shape.model_copy(update={"track": ""}),
        ask.frame,
        ask.kind,
        {hand.frame: Motion(hand.matrix).pixels(size) for hand in ask.by_hand},
        ask.smooth,
        known=known,
    )
    return _finding_out(finder.find(clip, ask.title, wanted))


@router.get("/finding")
def read_track_finding(finder: Tracks) -> FindingOut | None:
    """The track that is being found or was found last, and how far it is."""
    return None if finder.status is None else _finding_out(finder.status)


@router.post("/finding/stop", status_code=204)
def stop_track_finding(finder: Tracks) -> None:
    """Stop finding a track; what was found till then is kept."""
    finder.stop()


@router.get("/{file}")
def read_track(project: CurrentProject, path: AssetFile) -> TrackPlacesOut:
    """A track, with where its part is at each frame."""
    found = track_in(path)
    places = [
        TrackPlaceOut(
            frame=each.frame,
            matrix=found.motion_at(each.frame).rows,
            sure=each.sure,
            by_hand=each.by_hand,
        )
        for each in found.frames
    ]
    return TrackPlacesOut(**_describe_track(project, path.name, found), places=places)


@router.delete("/{file}", status_code=204, responses=problems(409))
def delete_track(preview: Preview, path: AssetFile) -> None:
    """Take a track out of the project; `restore` brings it back. 409 while a look has it."""
    track_in(path)
    delete_asset(preview.project, path)
    preview.forget_pictures()


@router.post("/{file}/restore")
def restore_track(preview: Preview, file: str) -> TrackOut:
    """Bring a deleted track back."""
    kept = restore_asset(preview.project, file, lambda path: path.suffix == TRACK_SUFFIX)
    preview.forget_pictures()
    return TrackOut(**_describe_track(preview.project, kept.name, track_in(kept)))


@router.get(
    "/{file}/file",
    response_class=FileResponse,
    responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}},
)
def read_track_file(path: AssetFile) -> FileResponse:
    """A track as its file."""
    track_in(path)
    return FileResponse(path, media_type="application/json", filename=path.name)


@router.post("/{file}/smoothed", status_code=201)
def smooth_track(project: CurrentProject, path: AssetFile, ask: SmoothRequest) -> TrackOut:
    """Have a track smoothed over time, as another."""
    found = track_in(path)
    other = Track.model_validate(found.model_dump(by_alias=True) | {"smooth": ask.smooth})
    kept = keep_track(project, other, title_of(path.name))
    return TrackOut(**_describe_track(project, kept, other))


def _finding_out(status: TrackingStatus) -> FindingOut:
    losses = [LossOut(first=first, last=last, why=why) for first, last, why in status.losses]
    return FindingOut(**{**vars(status), "losses": losses})


def _describe_track(project: Project, file: str, track: Track) -> dict[str, object]:
    clips = [clip for clip in project.clips.all() if clip.digest == track.clip]
    shot = _shot_frames(clips[0]) if clips else track.frames[-1].frame + 1
    return {
        "file": file,
        "title": title_of(file),
        "clip": clips[0].id if clips else None,
        "begin": track.begin,
        "kind": track.kind,
        "shape": _whole(track.shape),
        "smooth": track.smooth,
        "frames": len(track.frames),
        "by_hand": [each.frame for each in track.frames if each.by_hand],
        "lost": track.lost_ranges(shot),
    }


def _whole(shape: dict[str, object] | None) -> dict[str, object] | None:
    """The shape that was followed with every field; none where it is no shape that can be."""
    try:
        return None if shape is None else _SHAPES.validate_python(shape).model_dump(mode="json")
    except ValidationError:
        return None


def _shot_frames(clip: Clip) -> int:
    """How many frames a clip has as shot, but for the last ones that its speed leaves out."""
    return int((clip.probe["frames"] - 1) * InputOverrides.of(clip.reading).pace) + 1
