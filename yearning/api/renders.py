"""Renders: ask for one, watch it, stop it, take the result."""

import asyncio
import json
import queue
import threading
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, StreamingResponse

from yearning.api.problems import Problem, Refused
from yearning.api.schemas import RenderAsk, RenderOut
from yearning.core.look import look_of
from yearning.farm.render import Progress, Stopped, render
from yearning.media.errors import MediaError
from yearning.media.footage import Footage
from yearning.store.project import Project

NOTED_EVERY = 12
"""Frames between two notes of a render's progress in the project."""

EVENT_SECONDS = 0.25

router = APIRouter(prefix="/api/renders", tags=["renders"], responses={404: {"model": Problem}})


class RenderQueue:
    """Renders one after the other, in a thread of its own, whether a page is open or not."""

    def __init__(self, project: Project) -> None:
        self._project = project
        self._waiting: queue.Queue[int | None] = queue.Queue()
        self._stop: set[int] = set()
        self.progress: dict[int, Progress] = {}
        for left in project.renders():  # the server was stopped while these ran
            if left.state in ("waiting", "running"):
                message = "the server was stopped before it was done; render it again"
                project.note_render(left.id, "failed", left.done, message, ended=True)
        self._thread = threading.Thread(target=self._work, name="renders", daemon=True)
        self._thread.start()

    def ask(self, render_id: int) -> None:
        """Put a render in the queue."""
        self._waiting.put(render_id)

    def stop(self, render_id: int) -> None:
        """Stop a render, running or waiting; a finished one stays as it is."""
        self._stop.add(render_id)

    def close(self) -> None:
        """Stop what runs and end the thread."""
        self._stop.update(r.id for r in self._project.renders() if r.state != "done")
        self._waiting.put(None)
        self._thread.join(timeout=20)

    def _work(self) -> None:
        while (render_id := self._waiting.get()) is not None:
            self._run(render_id)
            self.progress.pop(render_id, None)

    def _run(self, render_id: int) -> None:
        note = self._project.note_render
        asked = self._project.render(render_id)
        done = 0

        def told(progress: Progress) -> None:
            nonlocal done
            done = progress.done
            self.progress[render_id] = progress
            if done % NOTED_EVERY == 1:
                note(render_id, "running", done)

        try:
            with Footage(asked.clip.path, asked.clip.digest) as footage:
                render(
                    footage,
                    asked.look,
                    asked.path,
                    told=told,
                    stop=lambda: render_id in self._stop,
                )
        except Stopped:
            note(render_id, "stopped", done, "stopped; nothing of it was kept", ended=True)
        except (MediaError, IndexError) as error:
            note(render_id, "failed", done, str(error), ended=True)
        except OSError as error:
            reason = f"{error.strerror or error}; make room or choose another folder, then again"
            note(render_id, "failed", done, reason, ended=True)
        except Exception as error:
            note(render_id, "failed", done, f"it broke off: {error}", ended=True)
            raise
        else:
            note(render_id, "done", done, ended=True)


def _out(request: Request, render_id: int) -> RenderOut:
    found = request.app.state.desk.project.render(render_id)
    progress = request.app.state.renders.progress.get(render_id)
    if progress is None or found.state not in ("waiting", "running"):
        return RenderOut.of(found)
    running = found._replace(state="running", done=progress.done)
    return RenderOut.of(running, progress.rate, progress.left)


@router.get("")
def renders(request: Request) -> list[RenderOut]:
    """All renders, the last asked for first."""
    return [_out(request, found.id) for found in request.app.state.desk.project.renders()]


@router.post("", status_code=201, responses={422: {"model": Problem}})
def new_render(request: Request, ask: RenderAsk) -> RenderOut:
    """Render a whole clip through a look, as it is now."""
    project = request.app.state.desk.project
    clip = project.clip(ask.clip)
    made = project.new_render(clip, look_of(ask.look), clip.probe["frames"])
    request.app.state.renders.ask(made.id)
    return RenderOut.of(made)


@router.get("/{render_id}")
def one_render(request: Request, render_id: int) -> RenderOut:
    """One render."""
    return _out(request, render_id)


@router.post("/{render_id}/stop")
def stop_render(request: Request, render_id: int) -> RenderOut:
    """Stop a render."""
    request.app.state.desk.project.render(render_id)
    request.app.state.renders.stop(render_id)
    return _out(request, render_id)


@router.get("/{render_id}/events", response_class=StreamingResponse)
def render_events(request: Request, render_id: int) -> StreamingResponse:
    """The render's progress as Server-Sent Events, until it has ended."""
    request.app.state.desk.project.render(render_id)

    async def events() -> AsyncIterator[str]:
        told = ""
        while not await request.is_disconnected():
            state = await asyncio.to_thread(_out, request, render_id)
            text = json.dumps(state.model_dump())
            if text != told:
                yield f"data: {text}\n\n"
                told = text
            if state.state in ("done", "stopped", "failed"):
                return
            await asyncio.sleep(EVENT_SECONDS)

    return StreamingResponse(events(), media_type="text/event-stream")


@router.get("/{render_id}/file", response_class=FileResponse)
def render_file(request: Request, render_id: int) -> FileResponse:
    """The result."""
    found = request.app.state.desk.project.render(render_id)
    if found.state != "done":
        raise Refused(409, "Not done", f"the render is {found.state}; there is no file to take")
    if not found.path.exists():
        raise Refused(410, "Gone", f"{found.path.name} was moved or deleted; render it again")
    return FileResponse(found.path, media_type="video/mp4", filename=found.path.name)
