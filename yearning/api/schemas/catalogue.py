"""The catalogue of treatments, blend modes and stages."""

import inspect
from typing import Any, get_args

from pydantic import BaseModel, Field

from yearning.core.compositing.blend import BLENDS
from yearning.core.look.step import keyable_settings
from yearning.core.treatment.base import AnyTreatment
from yearning.core.treatment.capabilities import (
    AppliesLayer,
    ColourOnly,
    FitsClip,
    HasLayer,
    Lively,
)
from yearning.core.treatment.settings import Handle, Stage, Unit
from yearning.core.treatments import TREATMENTS

COPIED = (
    "label",
    "help",
    "unit",
    "soft_minimum",
    "soft_maximum",
    "visible_if",
    "enabled_by",
)
"""What a setting's declaration has in its JSON Schema beside the schema's own words."""


class SettingOut(BaseModel):
    """One setting of a treatment, as a control shows it."""

    name: str
    label: str
    help: str
    unit: Unit
    default: Any
    soft_minimum: float | None = None
    soft_maximum: float | None = None
    minimum: float | None = None
    maximum: float | None = None
    choices: list[Any] | None = None
    visible_if: dict[str, list[Any]] | None = None
    enabled_by: str | None = None
    keyable: bool = Field(description="Whether keys can pin it.")


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
    fits_clip: bool = Field(description="It can be set from the whole clip.")
    has_layer: bool = Field(description="It adds something of its own, which blend modes can lay.")
    blend: str
    amount: float
    settings: list[SettingOut]

    @staticmethod
    def of(treatment: type[AnyTreatment]) -> "TreatmentOut":
        """Describe a setting of a treatment's model."""
        properties = treatment.model_json_schema()["properties"]
        keyable = keyable_settings(treatment)
        settings = [
            SettingOut(
                name=name,
                default=value["default"],
                choices=value.get("enum"),
                keyable=name in keyable,
                minimum=value.get("minimum"),
                maximum=value.get("maximum"),
                **{key: value[key] for key in COPIED if key in value},
            )
            for name, value in properties.items()
        ]
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
            has_layer=issubclass(treatment, HasLayer) and not issubclass(treatment, AppliesLayer),
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
    return CatalogueOut(
        treatments=[TreatmentOut.of(treatment) for treatment in TREATMENTS.values()],
        blends=list(BLENDS),
        stages=list(get_args(Stage)),
    )


class ProjectOut(BaseModel):
    """The project."""

    name: str
    version: str
