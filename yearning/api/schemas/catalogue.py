"""The catalogue of treatments, blend modes and stages."""

from typing import Any

from pydantic import BaseModel, Field

from yearning.core.compositing.blend import BLENDS
from yearning.core.look.step import keyable_settings
from yearning.core.treatment.base import Handle, Treatment, Unit
from yearning.core.treatments import TREATMENTS


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
