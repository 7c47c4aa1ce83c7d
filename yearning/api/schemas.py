"""What goes over the wire. The web client's types are made from these."""

from typing import Any, Literal

from pydantic import BaseModel, Field

from yearning.core.blend import BLENDS
from yearning.core.treatment import Treatment
from yearning.core.treatments import TREATMENTS
from yearning.store.project import Clip, Render, Standing


class SoundOut(BaseModel):
    """One stream of sound."""

    codec: str
    rate: int
    channels: int


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
    codec: str
    audio: list[SoundOut]

    @staticmethod
    def of(clip: Clip) -> "ClipOut":
        """From the store's."""
        return ClipOut(id=clip.id, name=clip.name, **clip.probe)


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


class LookChange(BaseModel):
    """An edit of a look, and the revision it was made from."""

    revision: int
    look: dict[str, Any]


class SettingOut(BaseModel):
    """One setting of a treatment, as a control shows it."""

    name: str
    label: str
    help: str
    unit: Literal["fraction", "px@1080", "frames", "seed", "choice", "switch", "points"]
    default: Any
    low: float | None = None
    high: float | None = None
    least: float | None = None
    most: float | None = None
    choices: list[Any] | None = None
    only_if: dict[str, list[Any]] | None = None


class TreatmentOut(BaseModel):
    """A treatment of the catalogue."""

    kind: str
    stage: str
    says: str
    lively: bool
    blend: str
    amount: float
    settings: list[SettingOut]

    @staticmethod
    def of(treatment: type[Treatment]) -> "TreatmentOut":
        """From the settings model: the one definition."""
        properties = treatment.model_json_schema()["properties"]
        settings = [
            SettingOut(
                name=name,
                default=value["default"],
                choices=value.get("enum"),
                least=value.get("minimum"),
                most=value.get("maximum"),
                **{
                    key: value[key]
                    for key in ("label", "help", "unit", "low", "high", "only_if")
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
            blend=treatment.blend,
            amount=treatment.amount,
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


class RenderAsk(BaseModel):
    """A clip to render through a look."""

    clip: int
    look: dict[str, Any]


class RenderOut(BaseModel):
    """A render and how far it is."""

    id: int
    clip: int
    clip_name: str
    look_name: str
    file: str
    state: Literal["waiting", "running", "done", "stopped", "failed"]
    done: int
    total: int
    rate: float = 0
    left: float | None = None
    message: str = ""
    bytes: int | None = None

    @staticmethod
    def of(render: Render, rate: float = 0, left: float | None = None) -> "RenderOut":
        """From the store's, with the speed of a running one."""
        whole = render.state == "done" and render.path.exists()
        return RenderOut(
            id=render.id,
            clip=render.clip.id,
            clip_name=render.clip.name,
            look_name=render.look.name,
            file=render.path.name,
            state=render.state,
            done=render.done,
            total=render.total,
            rate=rate,
            left=left,
            message=render.message,
            bytes=render.path.stat().st_size if whole else None,
        )
