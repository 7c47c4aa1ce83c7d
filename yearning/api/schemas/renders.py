"""Requests and responses about renders: what is asked, how far they are, where they are made."""

from collections.abc import Collection, Mapping
from itertools import pairwise
from pathlib import Path
from typing import Literal, get_args

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import LookInput
from yearning.core.look.document import beyond_end, steps_digest
from yearning.core.validation import Whole
from yearning.farm import pieces
from yearning.farm.job import CHUNK, preview_frames
from yearning.farm.progress import Progress
from yearning.farm.settings import FarmSettings, ResultSpec, StillName
from yearning.farm.state import UNENDED, State
from yearning.media.codecs import CODECS, QUALITIES, CodecName, Quality
from yearning.media.containers import CONTAINERS
from yearning.media.stills.stills import KINDS as STILL_ENDINGS
from yearning.media.stills.stills import STILLS, WITH_ALPHA
from yearning.store.renders import Render


class QualityOut(BaseModel):
    """A quality, with the encoder's own value."""

    quality: Quality
    summary: str


class ResultOut(BaseModel):
    """A kind of result: a codec in the container its ending says, or numbered stills."""

    codec: CodecName | StillName
    ending: str
    bits: list[int] = Field(description="A channel; as the footage, or the first for stills.")
    qualities: list[QualityOut] = Field(description="None where it is lossless.")
    alpha: bool = Field(description="Whether it can be an overlay, which has alpha.")


def results() -> list[ResultOut]:
    """Every kind of result that can be rendered."""
    movies = [
        ResultOut(
            codec=name,
            ending=ending,
            bits=list(CODECS[name].depths),
            qualities=[QualityOut(quality=q, summary=CODECS[name].summary(q)) for q in QUALITIES]
            if not CODECS[name].lossless
            else [],
            alpha=CODECS[name].alpha,
        )
        for ending, container in CONTAINERS.items()
        for name in container.codecs
    ]
    stills = [
        ResultOut(
            codec=name,
            ending=STILL_ENDINGS[name],
            bits=list(depths),
            qualities=[],
            alpha=STILL_ENDINGS[name] in WITH_ALPHA,
        )
        for name in get_args(StillName)
        for depths in [STILLS[STILL_ENDINGS[name]][0]]
    ]
    return movies + stills


class RenderRequest(BaseModel):
    """A clip to render through a look."""

    clip: Whole
    look: LookInput
    look_id: Whole | None = Field(None, description="Which of the project's looks it is.")
    result: ResultSpec = ResultSpec()


class CellOut(BaseModel):
    """A part of a render's strip."""

    state: Literal["waits", "in hand", "done"]
    picture: int | None = Field(None, description="The frame whose picture stands for it.")


def strip(
    first: int,
    frames: int,
    chunk: int,
    finished: Collection[int],
    in_hand: Mapping[int, int],
    pictures: Collection[int],
) -> list[CellOut]:
    """Sum up a render's frames as a row of cells, each with the state of its chunks.

    Args:
        first: the render's first frame.
        frames: result many it has.
        chunk: frames of a chunk.
        finished: numbers of the chunks that are.
        in_hand: those that are worked on, with the frames done of each.
        pictures: frames that there is a picture of.
    """
    cells = []
    for begins, ends in pairwise([*preview_frames(first, frames), first + frames]):
        within = range(begins - first, ends - first)
        left = [
            n
            for n in within
            if n // chunk not in finished and n % chunk >= in_hand.get(n // chunk, 0)
        ]
        state: Literal["waits", "in hand", "done"] = "waits"
        if not left:
            state = "done"
        elif any(n // chunk in in_hand for n in within):
            state = "in hand"
        cells.append(CellOut(state=state, picture=begins if begins in pictures else None))
    return cells


class RenderOut(BaseModel):
    """A render, and how far it is."""

    id: int
    clip: int
    clip_name: str
    look_name: str
    look_id: int | None = Field(description="Of the project's look it was made with, if it is one.")
    look_digest: str = Field(description="Of the steps it was made with; see a look's `digest`.")
    first: int = Field(description="The first frame of the clip that it has.")
    file: str
    path: str = Field(description="Where the result is, or will be, on the server's machine.")
    summary: str = Field(description="What it is rendered as.")
    state: State
    rank: float = Field(description="Of those that wait, the lowest is next.")
    done: int
    total: int
    rate: float = Field(0, description="Frames a second: now, or of the whole when it is done.")
    left: float | None = None
    message: str = ""
    notes: list[str] = Field(description="What of its look lies beyond the clip's end.")
    where: str = Field("", description="Which workers render it.")
    starting: bool = Field(False, description="Workers are being started for it.")
    put_away: bool = Field(description="It is off the list, and can be put back.")
    asked: float
    ended: float | None = None
    bytes: int | None = Field(None, description="Of the result; of the pieces while there is none.")
    strip: list[CellOut] = []
    picture: int | None = Field(None, description="The frame whose picture stands for the whole.")

    @staticmethod
    def of(render: Render, folder: Path, progress: Progress | None = None) -> "RenderOut":
        """Return a render as the API has it.

        Args:
            render: the store's.
            folder: of its pieces.
            progress: of the one in hand; None for others.
        """
        result = ResultSpec(**render.request.get("result", {}))
        out = RenderOut(
            id=render.id,
            clip=render.clip.id,
            clip_name=render.clip.name,
            look_name=render.look.name,
            look_id=render.request.get("look"),
            look_digest=steps_digest(render.look),
            first=result.first,
            put_away=render.put_away is not None,
            file=render.path.parent.name if result.is_stills else render.path.name,
            path=str(render.path.parent if result.is_stills else render.path),
            summary=result.summary(),
            state=State(render.state),
            rank=render.rank,
            done=render.done,
            total=render.total,
            message=render.message,
            notes=beyond_end(render.look, render.clip.probe["frames"]),
            asked=render.asked,
            ended=render.ended,
        )
        seen = pieces.pictures(folder)
        out.picture = seen[len(seen) // 2] if seen else None
        if out.state is State.DONE:
            out.rate = render.total / render.seconds if render.seconds else 0
            out.bytes = _bytes(render.path.parent if result.is_stills else render.path)
            return out
        finished = {line.chunk for line in pieces.read_manifest(folder)}
        in_hand = {}
        if progress is not None:
            out.done, out.rate, out.left = progress.done, progress.rate, progress.seconds_left
            in_hand = dict(progress.in_hand)
        out.strip = strip(result.first, render.total, CHUNK, finished, in_hand, seen)
        if out.state not in UNENDED:
            out.bytes = _bytes(folder)
        return out


def _bytes(path: Path) -> int | None:
    """Return the bytes of a file, or of all files below a folder; None if it is not there."""
    if path.is_dir():
        return sum(p.stat().st_size for p in path.rglob("*") if p.is_file())
    return path.stat().st_size if path.exists() else None


class FarmOut(FarmSettings):
    """Where renders are made, and what this machine has."""

    cores: int
    schedulers: list[str] = Field(description="Addresses that renders may be given to.")
