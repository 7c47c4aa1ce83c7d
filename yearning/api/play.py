"""Play: frames of a look streamed in order, paced by what the client has shown."""

import asyncio
import struct
import threading
from collections import deque
from typing import Any

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, Field, ValidationError

from yearning.api.desk import Desk
from yearning.api.pictures import after_of, preview_size
from yearning.core.look import Look, LookError, look_of
from yearning.core.path import Cancelled, Path
from yearning.media.clip import OpenClip
from yearning.media.errors import MediaError
from yearning.media.stills import jpeg
from yearning.store.project import NotThere

AHEAD = 10
"""Frames sent before the first of them has been acknowledged as shown."""

AT_ONCE = 3
"""Frames worked on at once: one read, one evaluated, one encoded."""

PLAY_QUALITY = 88

router = APIRouter()


class Start(BaseModel):
    """The client's request to play."""

    clip: int
    look: dict[str, Any]
    frame: int = Field(ge=0)
    height: int = Field(540, ge=16, le=2160)
    base: str | None = Field(None, description="Send this step's pictures too, to compare with.")


class Session:
    """One socket's play: what runs, and how much of it has been shown."""

    def __init__(self, socket: WebSocket, desk: Desk) -> None:
        self._socket = socket
        self._desk = desk
        self._running: asyncio.Task[None] | None = None
        self._room = asyncio.Semaphore(AHEAD)
        self._stopped = True
        self._evaluating = threading.Lock()

    async def start(self, ask: Start) -> None:
        """Play from a frame on, round and round, until `stop`."""
        await self.stop()
        look = look_of(ask.look)
        clip = self._desk.project.clip(ask.clip)
        footage = await asyncio.to_thread(self._desk.footage, clip)
        if ask.frame >= footage.frames:
            raise IndexError(f"frame {ask.frame} is out of range; the clip has {footage.frames}")
        self._room = asyncio.Semaphore(AHEAD)
        self._stopped = False
        self._running = asyncio.create_task(self._play(look, footage, ask))

    async def stop(self) -> None:
        """Stop what plays; no frame follows."""
        self._stopped = True
        if self._running is not None:
            self._running.cancel()
            await asyncio.gather(self._running, return_exceptions=True)
            self._running = None

    def shown(self) -> None:
        """The client has shown a frame: there is room for another."""
        self._room.release()

    async def _play(self, look: Look, footage: OpenClip, ask: Start) -> None:
        size = preview_size(footage, ask.height)
        desk = self._desk
        path = Path(
            look, footage, size, desk.pictures, tables=desk.tables, stop=lambda: self._stopped
        )
        base = None if ask.base is None else after_of(path, ask.base)
        compared = "" if base is None else path.key(base)
        key = f"{footage.id}:{size.height}:{path.key(path.number(None))}:{compared}"
        held = self._desk.played.frames(key)
        await self._socket.send_json({"type": "held", "frames": held})
        frame = ask.frame
        coming: deque[asyncio.Task[bytes]] = deque()
        try:
            while True:
                # the next ones are worked on while this one is encoded, waits, and travels
                while len(coming) < AT_ONCE:
                    following = (frame + len(coming)) % footage.frames
                    work = asyncio.to_thread(self._frame, path, base, key, following)
                    coming.append(asyncio.create_task(work))
                data = await coming.popleft()
                await self._room.acquire()
                await self._socket.send_bytes(struct.pack("<I", frame) + data)
                frame = (frame + 1) % footage.frames
        except (Cancelled, MediaError) as error:
            if isinstance(error, MediaError):
                await self._socket.send_json({"type": "error", "detail": str(error)})
        finally:
            self._stopped = True
            await asyncio.gather(*coming, return_exceptions=True)

    def _frame(self, path: Path, base: int | None, key: str, frame: int) -> bytes:
        """The length of the result's JPEG, the JPEG, and that of what it is compared with."""
        held = self._desk.played.get(key, frame)
        if held is not None:
            return held
        path.fetch(frame + path.reach(frame).after)
        with self._evaluating:
            seen = path.picture(frame)
            compared = None if base is None else path.numbered(frame, base)
        result = jpeg(seen, PLAY_QUALITY)
        other = b"" if compared is None else jpeg(compared, PLAY_QUALITY)
        data = struct.pack("<I", len(result)) + result + other
        self._desk.played.put(key, frame, data)
        return data


@router.websocket("/api/play")
async def play(socket: WebSocket) -> None:
    """The client sends `start`, `shown` and `stop`; frames come as a number and JPEGs."""
    await socket.accept()
    session = Session(socket, socket.app.state.desk)
    try:
        while True:
            message = await socket.receive_json()
            try:
                match message.get("type"):
                    case "start":
                        await session.start(Start.model_validate(message))
                    case "shown":
                        session.shown()
                    case "stop":
                        await session.stop()
            except (LookError, MediaError, NotThere, IndexError) as error:
                await socket.send_json({"type": "error", "detail": str(error)})
            except ValidationError as error:
                await socket.send_json({"type": "error", "detail": str(error.errors()[0]["msg"])})
    except (WebSocketDisconnect, ValueError, AttributeError):
        pass
    finally:
        await session.stop()
