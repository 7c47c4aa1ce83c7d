"""Reels: shots in their order, as the file format `yearning-reel/1` has them."""

import json
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from yearning.core.errors import YearningError
from yearning.core.validation import PlainText, StrictModel, refusal

REEL_FORMAT: Literal["yearning-reel/1"] = "yearning-reel/1"

MAX_ITEMS = 20_000

FarFrame = Annotated[int, Field(ge=0, le=100_000_000)]

SoundStart = Annotated[
    float, Field(ge=0, le=1_000_000, description="Seconds of the file at which it begins.")
]
SoundFrames = Annotated[
    int, Field(ge=1, le=100_000_000, description="Of the reel over which it is heard.")
]
SoundLevel = Annotated[float, Field(ge=-60, le=0, description="In dB; 0 is as it is.")]


class ReelError(YearningError, ValueError):
    """A reel that can't be used; its message says why."""


class Shot(StrictModel):
    """A part of a clip, from a frame to a frame."""

    name: PlainText = Field(min_length=1, max_length=200)
    media: str = Field(
        min_length=1, max_length=4096, description="The clip's file, from the reel's folder."
    )
    first: FarFrame = Field(description="The first frame of the clip that is seen, from 0.")
    last: FarFrame = Field(description="The last one.")
    speed: float = Field(1.0, ge=0.1, le=8, description="Frames of the clip to one that is shown.")
    look: str = Field("", max_length=4096, description="Its look's file, from the reel's folder.")
    fitting: str = Field("", max_length=4096, description="Of the shot, to that look.")
    heard: bool = Field(True, description="Whether the clip's own sound is heard.")

    @model_validator(mode="after")
    def _check_order(self) -> "Shot":
        if self.last < self.first:
            raise ValueError(f"it ends at frame {self.last}, before it begins at {self.first}")
        return self


class Gap(StrictModel):
    """Nothing, for so many frames of the reel."""

    gap: int = Field(ge=1, le=100_000_000)


class SoundClip(StrictModel):
    """A part of a file's sound that is heard besides that of the shots: music, or what is said."""

    name: PlainText = Field(min_length=1, max_length=200)
    media: str = Field(
        min_length=1, max_length=4096, description="The file, from the reel's folder."
    )
    at: FarFrame = Field(description="The reel's frame that it begins with.")
    start: SoundStart = 0.0
    frames: SoundFrames
    level: SoundLevel = 0.0


class Reel(StrictModel):
    """Shots in their order, gaps between them, and what is heard besides."""

    format: Literal["yearning-reel/1"] = REEL_FORMAT
    name: PlainText = Field("Untitled reel", min_length=1, max_length=120)
    rate: tuple[Annotated[int, Field(ge=1, le=1_000_000)], Annotated[int, Field(ge=1, le=10_000)]]
    timeline: str = Field(
        "",
        max_length=4096,
        description="The timeline that it was read from, from the reel's folder: what is given "
        "back has its names, ranges, sound and metadata.",
    )
    items: tuple[Shot | Gap, ...] = Field(max_length=MAX_ITEMS)
    sounds: tuple[SoundClip, ...] = Field((), max_length=MAX_ITEMS)

    @property
    def shots(self) -> list[Shot]:
        """The shots, in their order."""
        return [item for item in self.items if isinstance(item, Shot)]


def parse_reel(text: str | bytes) -> Reel:
    """The reel in a JSON text.

    Raises:
        ReelError: not JSON, or no reel; it names each place that is wrong, at most three.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise ReelError(f"not a reel: it is no JSON ({error})") from None
    if not isinstance(data, dict) or data.get("format") != REEL_FORMAT:
        raise ReelError(f'not a reel: it must say "format": "{REEL_FORMAT}"')
    items = data.get("items")
    for number, item in enumerate(items if isinstance(items, list) else ()):
        if not isinstance(item, dict):
            raise ReelError(f"items[{number}]: is neither a shot nor a gap")
    try:
        return Reel.model_validate(data)
    except ValidationError as error:
        said = [refusal(one, _place(one["loc"])) for one in error.errors()]
        raise ReelError("; ".join(dict.fromkeys(filter(None, said[:6])))) from None


def _place(loc: tuple[Any, ...]) -> str:
    """Where an error is: of an item, without which of both kinds was tried."""
    parts = [part for part in loc if part not in ("Shot", "Gap")]
    return ".".join(map(str, parts))


def reel_json(reel: Reel) -> str:
    """A reel as its file has it, an item on a line."""
    data = reel.model_dump(mode="json", exclude_defaults=True)
    items = data.pop("items", [])
    sounds = data.pop("sounds", [])
    head = json.dumps({"format": REEL_FORMAT, **data}, ensure_ascii=False)[:-1]
    lists = [("items", items), *([("sounds", sounds)] if sounds else [])]
    return head + "".join(f', "{name}": [\n{_lines(each)}\n]' for name, each in lists) + "}\n"


def _lines(items: list[Any]) -> str:
    return ",\n".join(f"  {json.dumps(item, ensure_ascii=False)}" for item in items)


def reel_schema() -> dict[str, Any]:
    """The published JSON Schema of `yearning-reel/1`."""
    schema = Reel.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["required"] = ["format", "rate", "items"]
    return schema
