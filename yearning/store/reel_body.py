"""What a project's reel holds: shots of its clips in their order, with its looks, and gaps."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import Field, ValidationError, model_validator

from yearning.core.look.document import format_location
from yearning.core.look.fitting import ClipOverrides
from yearning.core.look.reel import (
    MAX_ITEMS,
    FarFrame,
    ReelError,
    SoundFrames,
    SoundLevel,
    SoundStart,
)
from yearning.core.validation import PlainText, StrictModel, Whole, refusal

ItemId = Annotated[str, Field(min_length=1, max_length=64)]


class ReelShot(StrictModel):
    """A part of a clip, from a frame to a frame, through a look."""

    kind: Literal["shot"] = "shot"
    id: ItemId = Field(description="Stays, however the reel is changed.")
    name: PlainText = Field(min_length=1, max_length=200)
    clip: Whole | None = Field(description="The clip's number; None while its media is missing.")
    first: FarFrame = Field(description="The first frame of the clip that is seen, from 0.")
    last: FarFrame = Field(description="The last one.")
    speed: float = Field(1.0, ge=0.1, le=8, description="Frames of the clip to one that is shown.")
    look: Whole | None = Field(None, description="The look's number; None for the clip as shot.")
    fitting: ClipOverrides | None = Field(
        None, description="Of the shot to its look; None for the clip's own."
    )
    heard: bool = Field(True, description="Whether the clip's own sound is heard.")
    item: Whole | None = Field(None, ge=0, description="Its place in the timeline it came in by.")

    @model_validator(mode="after")
    def _check_order(self) -> "ReelShot":
        if self.last < self.first:
            raise ValueError(f"it ends at frame {self.last}, before it begins at {self.first}")
        return self

    @property
    def frames(self) -> int:
        """How many of the reel's frames it is seen in."""
        return max(1, round((self.last - self.first + 1) / self.speed))

    @property
    def begins(self) -> int:
        """Its first frame, counted in the clip's frames at its speed."""
        return round(self.first / self.speed)


class ReelGap(StrictModel):
    """Nothing, for so many frames of the reel."""

    kind: Literal["gap"] = "gap"
    id: ItemId
    frames: int = Field(ge=1, le=100_000_000)
    item: Whole | None = Field(None, ge=0, description="Its place in the timeline it came in by.")


class ReelSound(StrictModel):
    """A part of a file's sound, or of a clip's, that is heard besides that of the shots."""

    id: ItemId
    name: PlainText = Field(min_length=1, max_length=200)
    file: str | None = Field(None, max_length=400, description="The project's file of it.")
    clip: Whole | None = Field(
        None, description="The clip whose sound it is. With neither, its media is missing."
    )
    at: FarFrame = Field(description="The reel's frame that it begins with.")
    start: SoundStart = 0.0
    frames: SoundFrames
    level: SoundLevel = 0.0
    item: Whole | None = Field(None, ge=0, description="Its place in the timeline it came in by.")


ReelItem = Annotated[ReelShot | ReelGap, Field(discriminator="kind")]


class ReelRate(StrictModel):
    """Frames a second, as a fraction."""

    numerator: int = Field(24, ge=1, le=1_000_000)
    denominator: int = Field(1, ge=1, le=10_000)


class ReelBody(StrictModel):
    """A reel of the project, in full."""

    name: PlainText = Field("Untitled reel", min_length=1, max_length=120)
    rate: ReelRate = ReelRate()
    timeline: str = Field(
        "", max_length=400, description="The project's file of the timeline that it came in by."
    )
    items: tuple[ReelItem, ...] = Field((), max_length=MAX_ITEMS)
    sounds: tuple[ReelSound, ...] = Field((), max_length=MAX_ITEMS)

    @model_validator(mode="after")
    def _unique_ids(self) -> "ReelBody":
        ids = [item.id for item in (*self.items, *self.sounds)]
        if len(set(ids)) < len(ids):
            twice = next(id for n, id in enumerate(ids) if id in ids[:n])
            raise ValueError(f"two of its items have the id {twice}")
        return self

    @property
    def frames(self) -> int:
        """How many frames it has."""
        return sum(item.frames for item in self.items)

    def placed_items(self) -> Iterator["PlacedItem"]:
        """Its items, each with the frame of the reel that it begins at."""
        begins = 0
        for item in self.items:
            yield PlacedItem(begins, item)
            begins += item.frames

    def at(self, frame: int) -> "PlacedItem":
        """The item at a frame of the reel.

        Raises:
            IndexError: it has no such frame.
        """
        for placed in self.placed_items():
            if placed.begins <= frame < placed.begins + placed.item.frames:
                return placed
        raise IndexError(f"frame {frame} is out of range; the reel has {self.frames} frames")


def parse_reel_body(data: dict[str, Any]) -> ReelBody:
    """The reel in parsed JSON.

    Raises:
        ReelError: it is none; it names each place that is wrong, at most three.
    """
    try:
        return ReelBody.model_validate(data)
    except ValidationError as error:
        places = [
            (one, [p for p in one["loc"] if p not in ("shot", "gap")]) for one in error.errors()
        ]
        said = [refusal(one, format_location(tuple(place))) for one, place in places[:3]]
        raise ReelError("; ".join(said)) from None


class PlacedItem(NamedTuple):
    """An item, and the frame of the reel that it begins at."""

    begins: int
    item: ReelShot | ReelGap
