"""Readings: what a picture measures, computed from the whole of it."""

import base64

import numpy as np
from fastapi import APIRouter, Request
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from yearning.api.preview import Desk
from yearning.api.problems import Problem
from yearning.api.routes.pictures import after_of, preview_size
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.document import parse_look
from yearning.core.measure import scopes
from yearning.core.picture import Picture

COLUMNS, LEVELS, SIDE, BINS = 264, 121, 121, 128

router = APIRouter(
    prefix="/api", tags=["readings"], responses={409: {"model": Problem}, 422: {"model": Problem}}
)


class Place(BaseModel):
    """A place of the picture, in parts of its width and height."""

    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)


class ReadingsAsk(BaseModel):
    """Which picture is to be read."""

    clip: int
    frame: int
    look: dict[str, object]
    after: str | None = Field(None, description="A step's id; 'as shot' for the footage; else all.")
    height: int = Field(540, ge=16, le=4320)
    asker: str = ""
    ticket: int = 0


class ValueAsk(ReadingsAsk):
    """Which place of which picture is to be read."""

    at: Place


class Drawing(BaseModel):
    """Brightness 0..255 of a drawing's points, row by row from the top, in base64."""

    width: int
    height: int
    data: str


class TargetOut(BaseModel):
    """Where a 75 % bar stands on the vectorscope, 0..1 from the left and from the top."""

    name: str
    x: float
    y: float


class ValueOut(BaseModel):
    """A place's R'G'B' and luma, 0..1 as displayed, and its hue in degrees; none for a grey."""

    red: float
    green: float
    blue: float
    luma: float
    hue: float | None


class ReadingsOut(BaseModel):
    """The readings of a picture."""

    waveform: Drawing
    parade: Drawing
    vectors: Drawing
    targets: list[TargetOut]
    skin: float = Field(description="Degrees of skin's line, from +C'B towards +C'R.")
    low: float
    high: float
    histogram: list[list[int]] = Field(description="Counts of luma, R', G', B' over 0..1.")
    black: float
    white: float
    gamut: float


@router.post("/readings")
def readings(request: Request, ask: ReadingsAsk) -> ReadingsOut:
    """Waveform, parade, vectorscope and histogram, and what is beyond."""
    desk: Desk = request.app.state.desk
    with desk.working:
        seen = _seen(desk, ask)
        waves = scopes.waveform(seen, COLUMNS, LEVELS)
        vectors = scopes.vectorscope(seen, SIDE)
        counts = scopes.histogram(seen, BINS)
        _, out_of_range = scopes.out_of_range(seen)
    reach = 2 * scopes.REACH
    return ReadingsOut(
        waveform=_drawing(waves[0, ::-1]),
        parade=_drawing(np.concatenate([wave[::-1, ::3] for wave in waves[1:]], axis=1)),
        vectors=_drawing(vectors),
        targets=[
            TargetOut(name=t.name, x=0.5 + t.cb / reach, y=0.5 - t.cr / reach)
            for t in scopes.targets()
        ],
        skin=scopes.SKIN_DEGREES,
        low=scopes.LOW,
        high=scopes.HIGH,
        histogram=counts.tolist(),
        black=out_of_range.black,
        white=out_of_range.white,
        gamut=out_of_range.gamut,
    )


@router.post("/value")
def value(request: Request, ask: ValueAsk) -> ValueOut:
    """What a place of a picture holds."""
    desk: Desk = request.app.state.desk
    with desk.working:
        seen = _seen(desk, ask)
    return ValueOut(**scopes.sample_at(seen, ask.at.x, ask.at.y)._asdict())


def _seen(desk: Desk, ask: ReadingsAsk) -> Picture:
    """The picture that is asked about, from what is kept where it can be."""
    stale = desk.tickets.taken(ask.asker, ask.ticket)
    look, footage = parse_look(ask.look), desk.footage(desk.project.clips.get(ask.clip))
    size = preview_size(footage, ask.height)
    path = Evaluator(look, footage, size, desk.pictures, assets=desk.assets, stop=stale)
    return path.picture_of(ask.frame, after_of(path, ask.after))


FAINTEST = 40
"""A point that came once is drawn as bright as that: on paper too it would be seen."""


def _drawing(counts: NDArray[np.uint32]) -> Drawing:
    """Counts as brightness, by their logarithm."""
    most = max(int(counts.max()), 2)
    light = FAINTEST + (255 - FAINTEST) * np.log(np.maximum(counts, 1)) / np.log(most)
    shown = np.where(counts > 0, light, 0).astype(np.uint8)
    data = base64.b64encode(np.ascontiguousarray(shown)).decode()
    return Drawing(width=shown.shape[1], height=shown.shape[0], data=data)
