"""Renders: ask for one, watch it, stop it, take the result; and where they are made."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Literal

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, Response, StreamingResponse

from yearning.api.addresses import V1
from yearning.api.attachments import IMMUTABLE, answers, attachment
from yearning.api.dependencies import CurrentProject, Preview, Renders
from yearning.api.paging import CurrentPage
from yearning.api.problem_kinds import GONE, NOT_NOW, NOT_THERE
from yearning.api.problems import OF_CLIP, Refused, problems
from yearning.api.schemas.renders import FarmOut, RenderOut, RenderRequest, ResultOut, results
from yearning.api.zip_stream import zip_stream
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.look.renderable import without_absent
from yearning.core.parallel import CORES
from yearning.farm import pieces
from yearning.farm.queue import RenderQueue
from yearning.farm.settings import FarmSettings, ResultSpec
from yearning.farm.state import UNENDED, State
from yearning.media.containers import CONTAINERS
from yearning.media.encode.results import check_footage, check_output
from yearning.media.stills.stills import still_bits
from yearning.store.project import Project
from yearning.store.renders import Render

EVENT_SECONDS = 0.25
MEDIA_TYPES = sorted({c.media_type for c in CONTAINERS.values()} | {"application/zip"})

router = APIRouter(prefix=f"{V1}/renders", tags=["renders"])
farm_router = APIRouter(prefix=f"{V1}/farm", tags=["renders"])


def _render_out(project: Project, queue: RenderQueue, render: Render) -> RenderOut:
    live = queue.live
    folder = project.renders.pieces(render.id)
    if live is None or live.id != render.id:
        return RenderOut.of(render, folder)
    now = render._replace(state=live.state, message=live.message or render.message)
    out = RenderOut.of(now, folder, live.progress)
    out.where, out.starting = live.where, live.starting
    return out


@router.get("")
def list_renders(project: CurrentProject, queue: Renders, page: CurrentPage) -> list[RenderOut]:
    """The renders, the last asked for first."""
    renders = page.of(project.renders.all(part=page.part))
    return [_render_out(project, queue, render) for render in renders]


@router.post("", status_code=201, responses=OF_CLIP)
def add_render(preview: Preview, queue: Renders, ask: RenderRequest) -> RenderOut:
    """Render a clip through a look, both as they are now, and the clip as it is read now."""
    project = preview.project
    clip, result = project.clips.get(ask.clip), ask.result
    look = parse_look(ask.look, keep_absent=True)
    without_absent(look)  # or it is refused
    frames = clip.probe["frames"]
    last = frames - 1 if result.last is None else result.last
    if not result.first <= last < frames:
        raise IndexError(
            f"frames {result.first} to {last} are out of range; the clip has 0 to {frames - 1}"
        )
    if result.is_stills:
        still_bits(result.ending, result.bits)
    else:
        check_output(result.ending, result.output)
    check_footage(preview.footage(clip).probe, result.ending, result.output)
    request = {
        "result": result.model_dump(exclude_defaults=True),
        "reading": clip.reading,
        "look": ask.look_id,
    }
    total = last - result.first + 1
    render = project.renders.new(clip, look, total, result.ending, request, result.is_stills)
    queue.wake(render.id)
    return _render_out(project, queue, render)


@router.get("/kinds")
def list_render_kinds() -> list[ResultOut]:
    """What a clip can be rendered as."""
    return results()


@router.get("/events", response_class=StreamingResponse, responses=answers("text/event-stream"))
def watch_renders(project: CurrentProject, queue: Renders, request: Request) -> StreamingResponse:
    """Renders as they change, as Server-Sent Events: first all there are."""

    def changed_renders(since: int, *, first: bool) -> tuple[int, list[RenderOut]]:
        """How many changes there were, and the renders of those after the first `since`."""
        count, ids = queue.changed_renders(since)
        found = project.renders.all() if first else map(project.renders.get, sorted(ids))
        return count, [_render_out(project, queue, render) for render in found]

    async def events() -> AsyncIterator[str]:
        sent: dict[int, str] = {}
        since = 0
        yield ": renders\n\n"
        while not await request.is_disconnected():
            every = not sent or project.read_only  # then another server changes them
            since, renders = await asyncio.to_thread(changed_renders, since, first=every)
            for render in renders:
                text = json.dumps(render.model_dump(mode="json"))
                if sent.get(render.id) != text:
                    yield f"data: {text}\n\n"
                    sent[render.id] = text
            await asyncio.sleep(EVENT_SECONDS)

    return StreamingResponse(events(), media_type="text/event-stream")


def _current(project: Project, queue: RenderQueue, render_id: int) -> Render:
    """A render with the state it has just now."""
    render, live = project.renders.get(render_id), queue.live
    return render._replace(state=live.state) if live and live.id == render_id else render


@router.get("/{render_id}")
def read_render(project: CurrentProject, queue: Renders, render_id: int) -> RenderOut:
    """One render."""
    return _render_out(project, queue, project.renders.get(render_id))


@router.post("/{render_id}/stop", responses=problems(409))
def stop_render(project: CurrentProject, queue: Renders, render_id: int) -> RenderOut:
    """Stop a render; what is finished of it stays, and it can go on."""
    queue.stop(_current(project, queue, render_id))
    return _render_out(project, queue, project.renders.get(render_id))


@router.post("/{render_id}/resume", responses=problems(409))
def resume_render(project: CurrentProject, queue: Renders, render_id: int) -> RenderOut:
    """Have a stopped or failed render go on from what is finished of it."""
    queue.resume(_current(project, queue, render_id))
    return _render_out(project, queue, project.renders.get(render_id))


@router.post("/{render_id}/prioritize", responses=problems(409))
def prioritize_render(project: CurrentProject, queue: Renders, render_id: int) -> RenderOut:
    """Put a render before all others; the one in hand goes on after it."""
    if _current(project, queue, render_id).state not in UNENDED:
        raise Refused(NOT_NOW, "the render has ended; have it go on, or render it again")
    project.renders.prioritize(render_id)
    queue.wake(render_id)
    return _render_out(project, queue, project.renders.get(render_id))


@router.delete("/{render_id}/pieces", responses=problems(409))
def delete_render_pieces(project: CurrentProject, queue: Renders, render_id: int) -> RenderOut:
    """Delete what is finished of a stopped or failed render, to have the room."""
    render = _current(project, queue, render_id)
    if render.state not in (State.STOPPED, State.FAILED):
        raise Refused(NOT_NOW, f"the render is {render.state}; stop it first")
    queue.discard(render)
    return _render_out(project, queue, project.renders.get(render_id))


@router.delete("/{render_id}", responses=problems(409))
def delete_render(project: CurrentProject, queue: Renders, render_id: int) -> RenderOut:
    """Take a render that has ended off the list; its files stay, and it can be put back."""
    state = _current(project, queue, render_id).state
    if state in UNENDED:
        raise Refused(NOT_NOW, f"the render is {state}; stop it first")
    project.renders.put_away(render_id)
    queue.wake(render_id)
    return _render_out(project, queue, project.renders.get(render_id))


@router.post("/{render_id}/restore")
def restore_render(project: CurrentProject, queue: Renders, render_id: int) -> RenderOut:
    """Put a render back on the list."""
    project.renders.get(render_id)
    project.renders.put_away(render_id, away=False)
    queue.wake(render_id)
    return _render_out(project, queue, project.renders.get(render_id))


@router.post("/{render_id}/repeat", status_code=201, responses=problems(410))
def repeat_render(
    project: CurrentProject,
    queue: Renders,
    render_id: int,
    look: Literal["then", "now"] = "then",
) -> RenderOut:
    """Render the same clip and result once more, with the look as it was, or as it is now."""
    found = project.renders.get(render_id)
    result = ResultSpec(**found.request.get("result", {}))
    steps = found.look
    if look == "now":
        look_id = found.request.get("look")
        if look_id is None:
            raise InvalidLookError(
                "which look it was made with is not known; render it with its own"
            )
        steps = project.looks.get(look_id).look_on(found.clip.id)
    render = project.renders.new(
        found.clip, steps, found.total, result.ending, found.request, result.is_stills
    )
    queue.wake(render.id)
    return _render_out(project, queue, render)


@router.get(
    "/{render_id}/pictures/{frame}", response_class=FileResponse, responses=answers("image/jpeg")
)
def read_render_picture(project: CurrentProject, render_id: int, frame: int) -> FileResponse:
    """The small picture of a frame, as it was rendered."""
    path = pieces.picture_path(project.renders.pieces(render_id), frame)
    if not path.exists():
        raise Refused(NOT_THERE, f"render {render_id} has no picture of its frame {frame}")
    return FileResponse(path, media_type="image/jpeg", headers=IMMUTABLE)


@router.get(
    "/{render_id}/file",
    response_class=FileResponse,
    responses=answers(*MEDIA_TYPES) | problems(409, 410),
)
def read_render_file(project: CurrentProject, render_id: int) -> Response:
    """The result; numbered stills as one archive."""
    render = project.renders.get(render_id)
    if render.state != State.DONE:
        raise Refused(NOT_NOW, f"the render is {render.state}; there is no file to take")
    result = ResultSpec(**render.request.get("result", {}))
    if result.is_stills:
        name = render.path.parent.name
        files = sorted(render.path.parent.glob(f"*{result.ending}"))
        if len(files) < render.total:
            raise Refused(GONE, f"stills of {name} were moved or deleted; render it again")
        return StreamingResponse(
            zip_stream(files), media_type="application/zip", headers=attachment(f"{name}.zip")
        )
    if not render.path.exists():
        raise Refused(GONE, f"{render.path.name} was moved or deleted; render it again")
    media_type = CONTAINERS[render.path.suffix].media_type
    return FileResponse(render.path, media_type=media_type, filename=render.path.name)


@farm_router.get("")
def read_farm(project: CurrentProject, queue: Renders) -> FarmOut:
    """Where renders are made."""
    return FarmOut(**project.setting("farm"), cores=CORES, schedulers=list(queue.schedulers))


@farm_router.put("")
def replace_farm(project: CurrentProject, queue: Renders, settings: FarmSettings) -> FarmOut:
    """Say where renders are made; it holds from the next that begins, or goes on."""
    queue.check_scheduler(settings.address)
    project.set_setting("farm", settings.model_dump(exclude_none=True))
    return read_farm(project, queue)
