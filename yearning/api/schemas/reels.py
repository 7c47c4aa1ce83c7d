"""Reels of the project as requests and responses have them."""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import FittingDocument
from yearning.core.look.reel import MAX_ITEMS
from yearning.core.validation import PlainText, Whole
from yearning.farm.settings import ResultSpec
from yearning.store.reel_body import (
    ReelBody,
    ReelGap,
    ReelRate,
    ReelShot,
    ReelSound,
    parse_reel_body,
)
from yearning.store.reels import CurrentReel

MAX_HANDLES = 1000


class ReelShotDocument(ReelShot):
    """A part of a clip, from a frame to a frame, through a look."""

    fitting: FittingDocument | None = Field(  # type: ignore[assignment]  # checked as the store's
        None, description="Of the shot to its look; None for the clip's own."
    )


Items = Annotated[
    list[Annotated[ReelShotDocument | ReelGap, Field(discriminator="kind")]],
    Field(max_length=MAX_ITEMS),
]


class ReelIn(BaseModel):
    """A reel that is to be."""

    name: PlainText = Field("Untitled reel", min_length=1, max_length=120)
    rate: ReelRate = ReelRate()
    items: Items = []
    sounds: Annotated[list[ReelSound], Field(max_length=MAX_ITEMS)] = []

    def body(self, timeline: str = "") -> ReelBody:
        """As the store has it.

        Raises:
            ReelError: two items have one id, or a fitting is none.
        """
        own = self.model_dump(include={"name", "rate", "items", "sounds"})
        return parse_reel_body({**own, "timeline": timeline})


class ReelChange(ReelIn):
    """A reel from now on, made from the revision that the page shows."""

    revision: Whole


class ReelStep(BaseModel):
    """Which revision is to be current, and which the page shows."""

    revision: Whole
    to: Whole


class ReelOut(BaseModel):
    """A reel as it is now."""

    id: int
    revision: int
    name: str
    rate: ReelRate
    frames: int
    items: list[Annotated[ReelShotDocument | ReelGap, Field(discriminator="kind")]]
    sounds: list[ReelSound]
    timeline: str = Field(description="The file that it came in by; none of one made by hand.")
    notes: list[str] = Field([], description="What is not as it was in its timeline.")
    missing: dict[str, str] = Field(
        {}, description="Why shots and sounds have no media, by their ids."
    )

    @staticmethod
    def of(
        current: CurrentReel, notes: list[str] | None = None, missing: Mapping[int, str] = {}
    ) -> "ReelOut":
        """Return a reel as the API has it.

        Args:
            current: the store's.
            notes: told when its timeline was read.
            missing: what is said of missing media, by items.
        """
        body = current.body
        return ReelOut(
            id=current.id,
            revision=current.revision,
            frames=body.frames,
            notes=notes or [],
            missing={
                item.id: missing.get(-1 if item.item is None else item.item, "Its clip is gone.")
                for item in body.items
                if isinstance(item, ReelShot) and item.clip is None
            }
            | {
                sound.id: "Its file was not found; drop it on the page."
                for sound in body.sounds
                if sound.clip is None and sound.file is None
            },
            **body.model_dump(),
        )


class ReelRenderRequest(BaseModel):
    """Which shots are rendered, and as what."""

    result: ResultSpec = Field(ResultSpec(), description="Its frames are each shot's own.")
    handles: int = Field(
        0, ge=0, le=MAX_HANDLES, description="Frames more before and after each shot."
    )
    shots: list[str] | None = Field(None, max_length=MAX_ITEMS, description="None for all.")


class ReelResultOut(BaseModel):
    """What has been rendered of a shot as it is now."""

    shot: str
    render: int | None = Field(description="The render that has it, or is to.")
    state: Literal["done", "coming", "none"]


class RenderedShotsOut(BaseModel):
    """What came of asking for a reel's shots."""

    added: list[int] = Field(description="Renders that were asked for.")
    kept: int = Field(description="Shots that are rendered so already, or are being.")
    refused: list[str] = Field(description="Shots that can't be rendered, and why.")
