"""What goes over the wire. The web client's types are made from these."""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from yearning.core.colour.conversion import Light
from yearning.core.colour.matrices import Matrix, Range
from yearning.core.compositing.blend import BLENDS
from yearning.core.look.step import keyable_settings
from yearning.core.treatment.base import Handle, Treatment, Unit
from yearning.core.treatments import TREATMENTS
from yearning.media.decode.reading import BetweenFrames, Fields, StillLight, Stretching
from yearning.store.clips import Clip
from yearning.store.looks import Standing


class SoundOut(BaseModel):
    """One stream of sound."""

    codec: str
    rate: int
    channels: int


class ReadingIn(BaseModel):
    """How a clip is read where its tags are wrong or missing; what is not said is as tagged."""

    model_config = ConfigDict(extra="forbid")

    matrix: Matrix | None = None
    range: Range | None = None
    light: Light | StillLight | None = None
    fields: Fields | None = None
    rate: str | None = Field(None, max_length=24, description="Frames a second: 25, 30000/1001.")
    deflicker: int | None = Field(
        None, description="Frames on each side over which pumping exposure is evened."
    )
    speed: float | None = Field(None, description="Times as fast as it was shot, 0.1 to 8.")
    sound: Stretching | None = Field(
        None, description="What becomes of its sound at that speed; off where left out."
    )
    between: BetweenFrames | None = Field(
        None, description="What is shown between frames at that speed; motion where left out."
    )


class ClipOut(BaseModel):
    """A clip of the project."""

    id: int
    name: str
    width: int
    height: int
    frames: int
    rate: float
    duration: float
    pixel_format: str
    matrix: str
    matrix_tagged: bool
    range: str
    light: str = "SDR"
    fields: str = "progressive"
    variable_rate: bool = False
    timecode: str | None = None
    codec: str
    container: str
    audio: list[SoundOut]
    reading: ReadingIn

    @staticmethod
    def of(clip: Clip) -> "ClipOut":
        """From the store's."""
        reading = ReadingIn(**clip.reading)
        return ClipOut(id=clip.id, name=clip.name, reading=reading, **clip.probe)


class LookOut(BaseModel):
    """A look as it stands; `look` is a document of the format `yearning-look/1`."""

    id: int
    revision: int
    name: str
    look: dict[str, Any]
    can_undo: bool
    can_redo: bool

    @staticmethod
    def of(standing: Standing) -> "LookOut":
        """From the store's."""
        return LookOut(
            id=standing.id,
            revision=standing.revision,
            name=standing.look.name,
            look=standing.look.model_dump(mode="json"),
            can_undo=standing.can_undo,
            can_redo=standing.can_redo,
        )


class Snapshot(BaseModel):
    """A state of a look, kept to compare with and to go back to."""

    model_config = ConfigDict(extra="forbid")

    id: str = Field(min_length=1, max_length=64)
    name: str = Field(min_length=1, max_length=120)
    look: dict[str, Any]


class LookChange(BaseModel):
    """An edit of a look, and the revision it was made from."""

    revision: int
    look: dict[str, Any]


class SettingOut(BaseModel):
    """One setting of a treatment, as a control shows it."""

    name: str
    label: str
    help: str
    unit: Unit
    default: Any
    low: float | None = None
    high: float | None = None
    least: float | None = None
    most: float | None = None
    choices: list[Any] | None = None
    visible_if: dict[str, list[Any]] | None = None
    beside: str | None = None
    keyed: bool = Field(description="Whether keys can pin it.")


class TreatmentOut(BaseModel):
    """A treatment of the catalogue."""

    kind: str
    stage: str
    says: str
    lively: bool
    colour_only: bool
    handle: Handle | None = Field(description="What of it is set on the picture itself.")
    measures: bool = Field(description="It can be set from the whole clip.")
    blend: str
    amount: float
    settings: list[SettingOut]

    @staticmethod
    def of(treatment: type[Treatment]) -> "TreatmentOut":
        """From the settings model: the one definition."""
        properties = treatment.model_json_schema()["properties"]
        keyed = keyable_settings(treatment)
        settings = [
            SettingOut(
                name=name,
                default=value["default"],
                choices=value.get("enum"),
                keyed=name in keyed,
                least=value.get("minimum"),
                most=value.get("maximum"),
                **{
                    key: value[key]
                    for key in ("label", "help", "unit", "low", "high", "visible_if", "beside")
                    if key in value
                },
            )
            for name, value in properties.items()
        ]
        return TreatmentOut(
            kind=treatment.kind,
            stage=treatment.stage,
            says=treatment.says,
            lively=treatment.lively,
            colour_only=treatment.colour_only,
            measures=treatment.measures(),
            handle=treatment.handle,
            blend=treatment.default_blend,
            amount=treatment.default_amount,
            settings=settings,
        )


class CatalogueOut(BaseModel):
    """What looks are made of."""

    treatments: list[TreatmentOut]
    blends: list[str]
    stages: list[str]


def catalogue() -> CatalogueOut:
    """The catalogue: every treatment, blend mode and stage."""
    stages = Treatment.__annotations__["stage"].__args__[0].__args__
    return CatalogueOut(
        treatments=[TreatmentOut.of(treatment) for treatment in TREATMENTS.values()],
        blends=list(BLENDS),
        stages=list(stages),
    )


class ProjectOut(BaseModel):
    """The project."""

    name: str
    version: str


class Crop(BaseModel):
    """A window on the full-size picture: its centre as fractions, its size in pixels."""

    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    width: int = Field(ge=1, le=8192)
    height: int = Field(ge=1, le=8192)


class PictureAsk(BaseModel):
    """Which picture is wanted: of a look, at a frame, after a step, at a size."""

    clip: int
    frame: int
    look: dict[str, Any]
    after: str | None = Field(None, description="A step's id; 'as shot' for the footage; else all.")
    height: int = Field(540, ge=16, le=4320)
    crop: Crop | None = Field(None, description="True pixels of the full-size result instead.")
    show: Literal["picture", "warnings", "change", "weight"] = Field(
        "picture",
        description="The picture; with what a display can't show striped; how it differs from "
        "`base`, magnified about grey; or the weight of the step `after`'s tone window.",
    )
    base: str | None = Field(None, description="What `change` compares with, as `after` is named.")
    base_look: dict[str, Any] | None = Field(
        None, description="A look whose result `change` compares with instead."
    )
    base_frame: int | None = Field(
        None, ge=0, description="A frame of the same look that `change` compares with instead."
    )
    gain: float = Field(8, ge=1, le=64, description="How far `change` magnifies.")
    asker: str = Field("", description="Who asks; a newer `ticket` of the same overtakes this one.")
    ticket: int = 0


class PathAsk(BaseModel):
    """Small pictures of every step of a look at a frame."""

    clip: int
    frame: int
    look: dict[str, Any]
    height: int = Field(540, ge=16, le=4320, description="Size at which the path is evaluated.")
    asker: str = ""
    ticket: int = 0


class PathOut(BaseModel):
    """The path: the footage and each step's picture as JPEG data addresses."""

    footage: str
    steps: dict[str, str]
