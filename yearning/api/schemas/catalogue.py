"""The catalogue of treatments, blend modes, stages and shapes."""

import inspect
from collections.abc import Collection
from typing import Any, get_args

from pydantic import BaseModel, Field

from yearning.api.schemas.look_document import SettingValue
from yearning.core.compositing.blend import BLENDS, Blend
from yearning.core.look.step import keyable_settings
from yearning.core.masks.shapes import KINDS, Shape
from yearning.core.treatment.base import AnyTreatment, Effect
from yearning.core.treatment.capabilities import (
    AppliesLayer,
    ColourOnly,
    FitsClip,
    HasLayer,
    Lively,
    StartsFromHighlights,
    WarpsFrame,
)
from yearning.core.treatment.settings import Handle, SettingKind, Stage
from yearning.core.treatments import TREATMENTS

COPIED = (
    "label",
    "help",
    "unit",
    "soft_minimum",
    "soft_maximum",
    "visible_if",
    "enabled_by",
    "visible_from",
)
"""What a setting's declaration has in its JSON Schema beside the schema's own words."""


class SettingOut(BaseModel):
    """One setting of a treatment, as a control shows it."""

    name: str
    label: str
    help: str
    unit: SettingKind
    default: SettingValue | None = Field(description="None where it has to be said.")
    soft_minimum: float | None = None
    soft_maximum: float | None = None
    minimum: float | None = None
    maximum: float | None = None
    choices: list[Any] | None = None
    visible_if: dict[str, list[Any]] | None = None
    enabled_by: str | None = None
    visible_from: float | None = Field(
        default=None, description="Of a size, the pixels of the footage from which on it is seen."
    )
    keyable: bool = Field(description="Whether keys can pin it.")


def _settings(model: type[BaseModel], keyable: Collection[str]) -> list[SettingOut]:
    """What a model declares as settings."""
    return [
        SettingOut(
            name=name,
            default=value.get("default"),
            choices=value.get("enum"),
            keyable=name in keyable,
            minimum=value.get("minimum"),
            maximum=value.get("maximum"),
            **{key: value[key] for key in COPIED if key in value},
        )
        for name, value in model.model_json_schema()["properties"].items()
        if "label" in value
    ]


class ShapeOut(BaseModel):
    """A kind of shape that masks are made of."""

    kind: str
    summary: str
    settings: list[SettingOut]

    @staticmethod
    def of(kind: str, shape: type[Shape]) -> "ShapeOut":
        """Describe a kind of shape.

        Args:
            kind: as files name it.
            shape: its class.
        """
        summary = " ".join(inspect.cleandoc(shape.__doc__ or "").split())
        return ShapeOut(kind=kind, summary=summary, settings=_settings(shape, shape.keyed))


class TreatmentOut(BaseModel):
    """A treatment of the catalogue."""

    kind: str
    stage: str
    summary: str
    docs: str = Field(description="How it works, in paragraphs.")
    keywords: list[str] = Field(description="What people call it, or use it for.")
    shown: dict[str, Any] = Field(
        description="Settings under which its effect is plain in a small picture."
    )
    lively: bool
    colour_only: bool
    handle: Handle | None = Field(description="What of it is set on the picture itself.")
    warps: bool = Field(description="It moves what is in the frame.")
    fits_clip: bool = Field(description="It can be set from the whole clip.")
    effect: Effect | None = Field(
        description="What of it is measured, to be made alike on several clips by its amount."
    )
    from_highlights: bool = Field(description="Its light comes from the picture's bright parts.")
    has_layer: bool = Field(description="It adds something of its own, which blend modes can lay.")
    blend: Blend
    amount: float
    settings: list[SettingOut]

    @staticmethod
    def of(treatment: type[AnyTreatment]) -> "TreatmentOut":
        """Describe a treatment."""
        return TreatmentOut(
            kind=treatment.kind,
            stage=treatment.stage,
            summary=treatment.summary,
            docs=inspect.cleandoc(treatment.__doc__ or ""),
            keywords=list(treatment.keywords),
            shown=dict(treatment.shown),
            lively=issubclass(treatment, Lively),
            colour_only=issubclass(treatment, ColourOnly),
            fits_clip=issubclass(treatment, FitsClip),
            handle=treatment.handle,
            warps=issubclass(treatment, WarpsFrame),
            effect=treatment.effect,
            from_highlights=issubclass(treatment, StartsFromHighlights),
            has_layer=issubclass(treatment, HasLayer) and not issubclass(treatment, AppliesLayer),
            blend=treatment.default_blend,
            amount=treatment.default_amount,
            settings=_settings(treatment, keyable_settings(treatment)),
        )


class CatalogueOut(BaseModel):
    """What looks are made of."""

    treatments: list[TreatmentOut]
    blends: list[Blend]
    stages: list[str]
    shapes: list[ShapeOut]


def catalogue() -> CatalogueOut:
    """The catalogue: every treatment, blend mode and stage."""
    return CatalogueOut(
        treatments=[TreatmentOut.of(treatment) for treatment in TREATMENTS.values()],
        blends=list(BLENDS),
        stages=list(get_args(Stage)),
        shapes=[ShapeOut.of(kind, shape) for kind, shape in KINDS.items()],
    )


class ProjectOut(BaseModel):
    """The project."""

    name: str
    version: str
    read_only: bool = Field(description="Open for looking: what would change it is refused.")
