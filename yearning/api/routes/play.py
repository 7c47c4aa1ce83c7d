"""Play: frames of a look streamed in order, paced by what the client has shown.

The client keeps the time. With each frame it is done with it says how far its clock is, counted in
frames from where play began; where frames come too late for that, those between are left out.
"""

import asyncio
import contextlib
import json
import logging
import struct
from collections import deque
from collections.abc import Callable, Coroutine
from contextlib import AbstractContextManager
from functools import cache
from typing import Any, NamedTuple

import numpy as np
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from fastapi.concurrency import run_in_threadpool
from pydantic import ValidationError

from yearning.api.addresses import V1
from yearning.api.body_limits import MAX_BYTES, MAX_DEPTH
from yearning.api.dependencies import Preview
from yearning.api.played_reel import PICTURE_BYTES, PlayedReel
from yearning.api.preview import PreviewService, number_after
from yearning.api.schemas.play import PlayRequest, ReelPlayRequest, Shown
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Cancelled, Evaluator
from yearning.core.errors import InvalidLookError, TreatmentError
from yearning.core.json_text import check_json
from yearning.core.look.document import Look, parse_look
from yearning.core.measure.scopes import difference_picture
from yearning.core.picture import Picture
from yearning.media.decode.clip import OpenClip
from yearning.media.disk import reason_of
from yearning.media.errors import MediaError
from yearning.media.stills.stills import jpeg
from yearning.store.errors import ClipLost, NotThere

AHEAD = 10
"""Frames sent before the first of them has been acknowledged as shown."""

AT_ONCE = 3
"""Frames worked on at once: one read, one evaluated, one encoded."""

MADE_AHEAD = 720
"""Frames made ahead of play at the most, from the play head on: half a minute of most clips."""

PLAY_QUALITY = 88

ENDS_PLAY = (InvalidLookError, TreatmentError, MediaError, ClipLost, IndexError, OSError)
"""What play ends for, and says so."""

router = APIRouter()

log = logging.getLogger(__name__)


class Session:
    """One socket's play: what runs, and how much of it has been shown."""

    def __init__(self, socket: WebSocket, preview: PreviewService) -> None:
        self._socket = socket
        self._preview = preview
        self._running: asyncio.Task[None] | None = None
        self._room = asyncio.Semaphore(AHEAD)
        self._stopped = True
        self._due: int | None = None
        self._finding = asyncio.Lock()
        self._reading = asyncio.Lock()
        self._evaluating = asyncio.Lock()

    async def start(self, ask: PlayRequest | ReelPlayRequest, *, ahead: bool = False) -> None:
        """Play from a frame on, round and round, until `stop`.

        Args:
            ask: what is played.
            ahead: whether frames are only made and kept, so that play finds them.
        """
        await self.stop()
        if isinstance(ask, PlayRequest):
            pictures = Cache[Picture](PICTURE_BYTES) if ahead else None
            played, held = await asyncio.to_thread(self._clip, ask, pictures)
        else:
            played, held = await asyncio.to_thread(self._reel, ask), []
        self._room = asyncio.Semaphore(AHEAD)
        self._stopped = False
        self._due = None
        await self._send_held_frames(held)
        running = self._make_ahead(played, held) if ahead else self._play(played)
        self._running = asyncio.create_task(running)

    def _clip(
        self, ask: PlayRequest, pictures: Cache[Picture] | None
    ) -> tuple["_Played", list[int]]:
        look = parse_look(ask.look, keep_absent=True)
        footage = self._preview.footage(self._preview.project.clips.get(ask.clip))
        ask.check(footage.frames, "clip")
        work = self._work(look, footage, ask, pictures)
        played = _Played(
            ask.count(footage.frames),
            lambda following: ask.frame_at(following, footage.frames),
            lambda frame: (work, frame),
        )
        return played, self._preview.played.frames(work.key)

    def _reel(self, ask: ReelPlayRequest) -> "_Played":
        body = self._preview.project.reels.get(ask.reel).body
        ask.check(body.frames, "reel")
        reel = PlayedReel(
            *(self._preview, body, ask.height),
            lambda evaluator: self._work_of(evaluator, evaluator.number_after(None)),
            plain=ask.plain,
            is_cancelled=lambda: self._stopped,
        )
        return _Played(
            ask.count(reel.frames),
            lambda following: ask.frame_at(following, reel.frames),
            lambda frame: reel.at(frame) or (None, 0),
        )

    async def stop(self) -> None:
        """Stop what plays; no frame follows."""
        self._stopped = True
        if self._running is not None:
            self._running.cancel()
            await asyncio.wait({self._running})  # its end is not taken for one of this task
            self._running = None

    def acknowledge(self, due: int | None) -> None:
        """The client is done with a frame: there is room for another, from where its clock is."""
        self._due = due
        self._room.release()

    def _work(
        self, look: Look, footage: OpenClip, ask: PlayRequest, pictures: Cache[Picture] | None
    ) -> "_Work":
        evaluator = self._preview.evaluator(
            look, footage, ask.height, pictures=pictures, is_cancelled=lambda: self._stopped
        )
        base = None if ask.base is None else number_after(evaluator, ask.base)
        return self._work_of(evaluator, number_after(evaluator, ask.after), base, ask.change)

    @staticmethod
    def _work_of(
        evaluator: Evaluator, number: int, base: int | None = None, change: float | None = None
    ) -> "_Work":
        compared = "" if base is None else evaluator.content_key(base)
        shown = evaluator.content_key(number)
        key = f"{evaluator.footage.id}:{evaluator.size.height}:{shown}:{compared}:{change}"
        return _Work(evaluator, number, base, change, key)

    async def _send_held_frames(self, frames: list[int]) -> None:
        await self._send(self._socket.send_json({"type": "held", "frames": frames}))

    async def _send_error(self, detail: str) -> None:
        with contextlib.suppress(WebSocketDisconnect):
            await self._send(self._socket.send_json({"type": "error", "detail": detail}))

    async def _send(self, sending: Coroutine[Any, Any, None]) -> None:
        """Send something.

        Raises:
            WebSocketDisconnect: the socket is closed by now.
        """
        try:
            await sending
        except RuntimeError as error:
            raise WebSocketDisconnect from error

    async def _make_ahead(self, played: "_Played", told: list[int]) -> None:
        """Make frames one by one, and say so; whatever else is computed goes first."""
        held = set(told)
        found: list[int] = []
        with contextlib.suppress(Cancelled, *ENDS_PLAY, WebSocketDisconnect):
            for following in range(min(played.frames, MADE_AHEAD)):
                shown = played.frame_at(following)
                if shown in held:
                    continue
                work, frame = await asyncio.to_thread(played.drawn, shown)
                found.append(shown)
                if work is not None and self._preview.played.get(work.key, frame) is None:
                    await self._frame(work, frame, self._preview.computing)
                    await self._send_held_frames(found)
                    found = []
            if found:
                await self._send_held_frames(found)

    async def _play(self, played: "_Played") -> None:
        """Send frames in order, those left out that are over before they could be made."""
        following = 0
        coming: deque[tuple[int, asyncio.Task[bytes]]] = deque()
        try:
            while True:
                # the next ones are worked on while this one is encoded, waits, and travels
                while len(coming) < AT_ONCE:
                    task = asyncio.create_task(self._due_frame(played, following))
                    coming.append((following, task))
                    following = self._following(following)
                at, task = coming.popleft()
                data = await task
                await self._room.acquire()
                await self._send(self._socket.send_bytes(struct.pack("<I", at) + data))
        except (Cancelled, WebSocketDisconnect):
            pass
        except ENDS_PLAY as error:
            await self._send_error(reason_of(error))
        except Exception as error:
            log.exception("play broke off")
            await self._send_error(f"play broke off: {type(error).__name__}: {error}")
        finally:
            self._stopped = True
            await asyncio.gather(*(task for _, task in coming), return_exceptions=True)

    async def _due_frame(self, played: "_Played", following: int) -> bytes:
        async with self._finding:
            work, frame = await asyncio.to_thread(played.drawn, played.frame_at(following))
        return black_frame() if work is None else await self._frame(work, frame)

    def _following(self, at: int) -> int:
        """Choose the frame to make after `at`: if play is late, one the clock has yet to reach."""
        due = self._due
        return at + 1 if due is None else max(at + 1, due + AT_ONCE)

    async def _frame(
        self,
        work: "_Work",
        frame: int,
        after: AbstractContextManager[Any] = contextlib.nullcontext(),
    ) -> bytes:
        """Pack a frame for the socket: the JPEG's length, the JPEG, and what it is compared with.

        Each stage takes one frame at a time, in the order of play: a decoder goes forward. `after`
        is held while it is evaluated.
        """
        held = self._preview.played.get(work.key, frame)
        if held is not None:
            return held
        async with self._reading:
            await asyncio.to_thread(work.read, frame)
        async with self._evaluating:
            seen, compared = await asyncio.to_thread(work.evaluate, frame, after)
        data = await asyncio.to_thread(_encode_frame, seen, compared)
        self._preview.played.put(work.key, frame, data)
        return data


@cache
def black_frame() -> bytes:
    """What is shown where there is nothing."""
    return _encode_frame(np.zeros((3, 90, 160), np.float32), None)


def _encode_frame(seen: Picture, compared: Picture | None) -> bytes:
    result = jpeg(seen, PLAY_QUALITY)
    other = b"" if compared is None else jpeg(compared, PLAY_QUALITY)
    return struct.pack("<I", len(result)) + result + other


class _Work(NamedTuple):
    """A picture of a look that is played, alone or beside what it is compared with."""

    evaluator: Evaluator
    number: int
    base: int | None
    change: float | None
    key: str

    def read(self, frame: int) -> None:
        """Decode the footage that the picture is made of."""
        reach = self.evaluator.reach(frame)
        for each in range(frame - reach.before, frame + reach.after + 1):
            self.evaluator.prefetch(each)

    def evaluate(
        self, frame: int, after: AbstractContextManager[Any]
    ) -> tuple[Picture, Picture | None]:
        """The picture that is shown, and the one it is compared with."""
        with after:
            seen = self.evaluator.picture_of(frame, self.number)
            compared = None if self.base is None else self.evaluator.picture_of(frame, self.base)
        if self.change is not None and compared is not None:
            return difference_picture(seen, compared, self.change), None
        return seen, compared


class _Played(NamedTuple):
    """What is played round and round: a clip's range through a look, or a reel's.

    Attributes:
        frames: how many there are.
        frame_at: the frame that is due so many after the first, however often round.
        drawn: what draws a frame, and which of its clip's it is; None where nothing is shown.
    """

    frames: int
    frame_at: Callable[[int], int]
    drawn: Callable[[int], tuple[_Work | None, int]]


@router.websocket(f"{V1}/play")
async def play(socket: WebSocket, preview: Preview) -> None:
    """The client sends `start`, `shown` and `stop`; frames come as JPEGs after a number.

    `start` asks for a clip through a look, or for one of the project's reels. For `ahead`, asked in
    the same way, frames are made and kept, and only their numbers come.

    The number is how many frames after the first that was asked for it is due, round and round.
    """
    await socket.accept()
    session = Session(socket, preview)
    try:
        while True:
            try:
                message = await _receive_message(socket)
                match message.get("type"):
                    case "start" | "ahead" as way:
                        asks = ReelPlayRequest if "reel" in message else PlayRequest
                        await session.start(asks.model_validate(message), ahead=way == "ahead")
                    case "shown":
                        session.acknowledge(Shown.model_validate(message).due)
                    case "stop":
                        await session.stop()
            except ValidationError as error:
                await socket.send_json({"type": "error", "detail": str(error.errors()[0]["msg"])})
            except (*ENDS_PLAY, NotThere, ValueError) as error:
                await socket.send_json({"type": "error", "detail": reason_of(error)})
    except WebSocketDisconnect:
        pass
    finally:
        await session.stop()


async def _receive_message(socket: WebSocket) -> dict[str, Any]:
    """The next message.

    Raises:
        ValueError: it is no object of JSON, or too large, nested too deeply, or has no numbers.
        WebSocketDisconnect: there are no more.
    """
    message = await socket.receive()
    if message["type"] == "websocket.disconnect":
        raise WebSocketDisconnect(message.get("code", 1000))
    text = message.get("text")
    if text is None:
        raise ValueError("what is not text is not understood")
    if len(text) > MAX_BYTES:
        raise ValueError("too much at once")
    await run_in_threadpool(check_json, text.encode(errors="replace"), MAX_DEPTH)
    found = json.loads(text)
    if not isinstance(found, dict):
        raise ValueError("only objects are understood")
    return found
