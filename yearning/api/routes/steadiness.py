"""Steadiness and flashes of a look on a clip, found in the background and kept with the look."""

import threading
import time
from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field

from yearning.api.preview import Desk
from yearning.api.problems import Problem, Refused
from yearning.core.look.document import Look, parse_look
from yearning.core.measure.steadiness import MAX_ADDED, MAX_JUMP, SteadinessAnalysis
from yearning.media.decode.clip import open_clip
from yearning.media.decode.reading import Reading
from yearning.media.errors import MediaError
from yearning.store.clips import Clip
from yearning.store.errors import ClipLost

router = APIRouter(
    prefix="/api", tags=["steadiness"], responses={404: {"model": Problem}, 422: {"model": Problem}}
)

DIGITS = 6
"""Of the values that are kept: a hundredth of an 8-bit code's step is 4e-5."""


class FlagOut(BaseModel):
    """A frame that is not steady."""

    frame: int
    why: str = Field(description="added: change is added; jump: the picture's light jumps.")
    value: float
    step: str = Field(description="The step that adds most.")


class FaultOut(BaseModel):
    """Frames in which too much of the picture flashes too often."""

    model_config = ConfigDict(serialize_by_alias=True)

    first: int = Field(alias="from")
    last: int = Field(alias="to")
    seconds: float
    kind: str
    area: float
    count: float
    step: str | None = Field(description="The step that causes it; None if the footage has it.")


class SteadinessReport(BaseModel):
    """How steady a look is on a clip; values by frame, in display-coded values."""

    change_footage: list[float]
    added: list[float]
    added_steady: list[float]
    lift: list[float]
    cuts: list[int]
    steps: dict[str, float] = Field(description="What each step adds on average.")
    lively: list[str]
    flags: list[FlagOut]
    flashes: list[FaultOut]
    most_added: float = MAX_ADDED
    most_jump: float = MAX_JUMP


class SteadinessOut(BaseModel):
    """How far the examination is, and what it found once it is done."""

    done: int
    total: int
    rate: float = Field(0, description="Frames a second.")
    report: SteadinessReport | None = None
    error: str | None = None


class SteadinessAsk(BaseModel):
    """A look on a clip."""

    clip: int
    look: dict[str, Any]


class SteadyFrameAsk(SteadinessAsk):
    """A look on a clip, at one frame."""

    frame: int = Field(ge=0)


class SteadyFrameOut(BaseModel):
    """The change of one frame against the one before."""

    change_footage: float
    added_steady: float
    jump: float


def report_of(found: SteadinessAnalysis) -> SteadinessReport:
    """What an examination found."""
    whole, changes = found.report(), found.changes

    def each(name: str) -> list[float]:
        return [round(getattr(change, name), DIGITS) for change in changes]

    return SteadinessReport(
        change_footage=each("change_footage"),
        added=each("added"),
        added_steady=each("added_steady"),
        lift=each("lift"),
        cuts=[change.frame for change in changes if change.cut],
        steps={step: round(added, DIGITS) for step, added in whole["steps"].items()},
        lively=whole["lively"],
        flags=whole["flags"],
        flashes=whole["flashes"],
    )


@dataclass
class _Work:
    """The examination in hand, or the last one."""

    clip: Clip
    look: Look
    told: SteadinessOut
    wanted: bool = True


class Examiner:
    """Examines one look on one clip at a time: what was asked for last. `close` it at the end."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._work: _Work | None = None
        self._thread: threading.Thread | None = None
        self._lock = threading.Lock()

    def ask(self, clip: Clip, look: Look) -> SteadinessOut:
        """What is known of a look on a clip; if nothing is, that is begun and what ran given up."""
        kept = self._desk.project.steadiness.of(clip, look)
        if kept is not None:
            report = SteadinessReport.model_validate(kept)
            frames = len(report.added)
            return SteadinessOut(done=frames, total=frames, report=report)
        with self._lock:
            work = self._work
            if work is None or (work.clip, work.look.steps) != (clip, look.steps):
                self._give_up()
                total = clip.probe["frames"]
                work = self._work = _Work(clip, look, SteadinessOut(done=0, total=total))
                self._thread = threading.Thread(
                    target=self._examine, args=(work,), name="steadiness", daemon=True
                )
                self._thread.start()
            return work.told.model_copy()

    def _give_up(self) -> None:
        if self._work is not None and self._thread is not None:
            self._work.wanted = False
            self._thread.join()

    def close(self) -> None:
        """Give up what runs."""
        with self._lock:
            self._give_up()

    def _examine(self, work: _Work) -> None:
        desk, told = self._desk, work.told
        reading = Reading.of(work.clip.reading)
        try:
            desk.project.clips.check(work.clip)
            with open_clip(work.clip.path, reading, work.clip.digest) as footage:
                rate = float(footage.probe.rate)
                found = SteadinessAnalysis(work.look, footage, rate, assets=desk.assets)
                began = time.monotonic()
                for done in found.run():
                    told.done = done
                    told.rate = done / max(time.monotonic() - began, 1e-6)
                    if not work.wanted:
                        return
                    with desk.working:  # a picture that is waited for comes first
                        pass
            report = report_of(found)
            desk.project.steadiness.keep(work.clip, work.look, report.model_dump(mode="json"))
            told.report = report
        except (MediaError, ClipLost, OSError, LookupError) as error:
            told.error = str(error)


def _clip_and_look(request: Request, ask: SteadinessAsk) -> tuple[Clip, Look]:
    return request.app.state.desk.project.clips.get(ask.clip), parse_look(ask.look)


@router.post("/steadiness")
def steadiness(request: Request, ask: SteadinessAsk) -> SteadinessOut:
    """How steady a look is on a clip, and whether it flashes; ask again until it is done."""
    examiner: Examiner = request.app.state.examiner
    return examiner.ask(*_clip_and_look(request, ask))


@router.post("/steadiness/known")
def known_steadiness(request: Request, ask: SteadinessAsk) -> SteadinessOut:
    """What is known of it, without beginning anything."""
    clip, look = _clip_and_look(request, ask)
    kept = request.app.state.desk.project.steadiness.of(clip, look)
    report = None if kept is None else SteadinessReport.model_validate(kept)
    total = clip.probe["frames"]
    return SteadinessOut(done=total if report else 0, total=total, report=report)


@router.post("/steadiness/frame")
def steady_frame(request: Request, ask: SteadyFrameAsk) -> SteadyFrameOut:
    """The change of one frame alone: to see at once what a changed setting would mend."""
    desk: Desk = request.app.state.desk
    clip, look = _clip_and_look(request, ask)
    footage = desk.footage(clip)
    if ask.frame >= footage.frames:
        raise Refused(422, "No such frame", f"the clip has frames 0 to {footage.frames - 1}")
    with desk.working:
        found = SteadinessAnalysis(look, footage, float(footage.probe.rate), assets=desk.assets)
        change = found.at(ask.frame)
    return SteadyFrameOut(
        change_footage=change.change_footage, added_steady=change.added_steady, jump=change.jump
    )
