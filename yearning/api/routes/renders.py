"""Renders: ask for one, watch it, stop it, take the result; and where they are made."""

import asyncio
import json
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, Response, StreamingResponse

from yearning.api.problems import Problem, Refused
from yearning.api.schemas.renders import (
    FarmAsk,
    FarmOut,
    RenderAsk,
    RenderOut,
    ResultAsk,
    ResultOut,
    results,
)
from yearning.api.zipped import zipped
from yearning.core.look.document import check_times, parse_look
from yearning.core.parallel import CORES
from yearning.farm import pieces
from yearning.farm.queue import RenderQueue
from yearning.farm.state import UNENDED, State
from yearning.media.encode.results import check_footage, check_output
from yearning.media.stills.stills import still_bits
from yearning.store.project import Project
from yearning.store.renders import Render

EVENT_SECONDS = 0.25
FOR_EVER = {"Cache-Control": "private, max-age=31536000, immutable"}

router = APIRouter(prefix="/api/renders", tags=["renders"], responses={404: {"model": Problem}})
farm_router = APIRouter(prefix="/api/farm", tags=["renders"], responses={422: {"model": Problem}})


def _project(request: Request) -> Project:
    project: Project = request.app.state.desk.project
    return project


def _queue(request: Request) -> RenderQueue:
    queue: RenderQueue = request.app.state.renders
    return queue


def _out(request: Request, render: Render) -> RenderOut:
    live = _queue(request).live
    folder = _project(request).renders.pieces(render.id)
    if live is None or live.id != render.id:
        return RenderOut.of(render, folder)
    now = render._replace(state=live.state, message=live.message or render.message)
    out = RenderOut.of(now, folder, live.progress)
    out.where = live.where
    return out


@router.get("")
def renders(request: Request) -> list[RenderOut]:
    """All renders, the last asked for first."""
    return [_out(request, found) for found in _project(request).renders.all()]


@router.post("", status_code=201, responses={422: {"model": Problem}})
def new_render(request: Request, ask: RenderAsk) -> RenderOut:
    """Render a clip through a look, both as they are now, and the clip as it is read now."""
    project = _project(request)
    clip, how = project.clips.get(ask.clip), ask.result
    look = parse_look(ask.look)
    frames = clip.probe["frames"]
    check_times(look, frames)
    last = frames - 1 if how.last is None else how.last
    if not how.first <= last < frames:
        raise IndexError(
            f"frames {how.first} to {last} are out of range; the clip has 0 to {frames - 1}"
        )
    if how.numbered:
        still_bits(how.ending, how.bits)
    else:
        check_output(how.ending, how.output)
    check_footage(request.app.state.desk.footage(clip).probe, how.ending, how.output)
    said = {"result": how.model_dump(exclude_defaults=True), "reading": clip.reading}
    made = project.renders.new(clip, look, last - how.first + 1, how.ending, said, how.numbered)
    _queue(request).wake(made.id)
    return _out(request, made)


@router.get("/kinds")
def render_kinds() -> list[ResultOut]:
    """What a clip can be rendered as."""
    return results()


@router.get("/events", response_class=StreamingResponse)
def render_events(request: Request) -> StreamingResponse:
    """Renders as they change, as Server-Sent Events: first all there are."""

    async def events() -> AsyncIterator[str]:
        told: dict[int, str] = {}
        since = 0
        yield ": renders\n\n"
        while not await request.is_disconnected():
            since, changed = await asyncio.to_thread(_changed, request, since, first=not told)
            for render in changed:
                text = json.dumps(render.model_dump(mode="json"))
                if told.get(render.id) != text:
                    yield f"data: {text}\n\n"
                    told[render.id] = text
            await asyncio.sleep(EVENT_SECONDS)

    return StreamingResponse(events(), media_type="text/event-stream")


def _changed(request: Request, since: int, *, first: bool) -> tuple[int, list[RenderOut]]:
    """How many changes there were; and the renders of those after the first `since`, or all."""
    project = _project(request)
    counted, ids = _queue(request).changed(since)
    changed = project.renders.all() if first else map(project.renders.get, sorted(ids))
    return counted, [_out(request, render) for render in changed]


@router.get("/{render_id}")
def one_render(request: Request, render_id: int) -> RenderOut:
    """One render."""
    return _out(request, _project(request).renders.get(render_id))


def _did(request: Request, render_id: int) -> RenderOut:
    return _out(request, _project(request).renders.get(render_id))


@router.post("/{render_id}/stop", responses={409: {"model": Problem}})
def stop_render(request: Request, render_id: int) -> RenderOut:
    """Stop a render; what is finished of it stays, and it can go on."""
    _queue(request).stop(_now(request, render_id))
    return _did(request, render_id)


@router.post("/{render_id}/go-on", responses={409: {"model": Problem}})
def go_on(request: Request, render_id: int) -> RenderOut:
    """Have a stopped or failed render go on from what is finished of it."""
    _queue(request).go_on(_now(request, render_id))
    return _did(request, render_id)


@router.post("/{render_id}/sooner", responses={409: {"model": Problem}})
def sooner(request: Request, render_id: int) -> RenderOut:
    """Put a render before all others; the one in hand goes on after it."""
    if _now(request, render_id).state not in UNENDED:
        raise Refused(409, "Not now", "the render has ended; have it go on, or render it again")
    _project(request).renders.sooner(render_id)
    _queue(request).wake(render_id)
    return _did(request, render_id)


@router.post("/{render_id}/let-go", responses={409: {"model": Problem}})
def let_go(request: Request, render_id: int) -> RenderOut:
    """Delete what is finished of a stopped or failed render, to have the room."""
    render = _now(request, render_id)
    if render.state not in (State.STOPPED, State.FAILED):
        raise Refused(409, "Not now", f"the render is {render.state}; stop it first")
    _queue(request).let_go(render)
    return _did(request, render_id)


@router.post("/{render_id}/again", status_code=201)
def again(request: Request, render_id: int) -> RenderOut:
    """Render the same once more: the same clip, look and result."""
    project = _project(request)
    found = project.renders.get(render_id)
    how = ResultAsk(**found.how.get("result", {}))
    made = project.renders.new(
        found.clip, found.look, found.total, how.ending, found.how, how.numbered
    )
    _queue(request).wake(made.id)
    return _out(request, made)


def _now(request: Request, render_id: int) -> Render:
    """A render with the state it has just now."""
    render = _project(request).renders.get(render_id)
    live = _queue(request).live
    return render._replace(state=live.state) if live and live.id == render_id else render


@router.get("/{render_id}/pictures/{frame}", response_class=FileResponse)
def render_picture(request: Request, render_id: int, frame: int) -> FileResponse:
    """The small picture of a frame, as it was rendered."""
    path = pieces.picture_path(_project(request).renders.pieces(render_id), frame)
    if not path.exists():
        raise Refused(404, "Not there", f"render {render_id} has no picture of its frame {frame}")
    return FileResponse(path, media_type="image/jpeg", headers=FOR_EVER)


@router.get("/{render_id}/file", response_class=FileResponse)
def render_file(request: Request, render_id: int) -> Response:
    """The result; numbered stills as one archive."""
    found = _project(request).renders.get(render_id)
    if found.state != State.DONE:
        raise Refused(409, "Not done", f"the render is {found.state}; there is no file to take")
    how = ResultAsk(**found.how.get("result", {}))
    if how.numbered:
        name = found.path.parent.name
        files = sorted(found.path.parent.glob(f"*{how.ending}"))
        if len(files) < found.total:
            raise Refused(410, "Gone", f"stills of {name} were moved or deleted; render it again")
        headers = {"Content-Disposition": f'attachment; filename="{name}.zip"'}
        return StreamingResponse(zipped(files), media_type="application/zip", headers=headers)
    if not found.path.exists():
        raise Refused(410, "Gone", f"{found.path.name} was moved or deleted; render it again")
    kind = {".mp4": "video/mp4", ".webm": "video/webm", ".mkv": "video/matroska"}
    media_type = kind[found.path.suffix]
    return FileResponse(found.path, media_type=media_type, filename=found.path.name)


@farm_router.get("")
def farm(request: Request) -> FarmOut:
    """Where renders are made."""
    return FarmOut(**_project(request).setting("farm"), cores=CORES)


@farm_router.put("")
def set_farm(request: Request, ask: FarmAsk) -> FarmOut:
    """Say where renders are made; it holds from the next that begins, or goes on."""
    from yearning.farm.cluster import check_address

    if ask.address is not None:
        check_address(ask.address)
    _project(request).set_setting("farm", ask.model_dump(exclude_none=True))
    return farm(request)
