"""Looks: an ordered list of steps, and the file format `yearning-look/1`."""

import hashlib
import json
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, Union

from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    ValidationError,
    create_model,
    field_validator,
    model_validator,
)

from yearning.core.blend import Blend
from yearning.core.treatment import Treatment
from yearning.core.treatments import TREATMENTS

FORMAT = "yearning-look/1"

MOST_STEPS = 64


class LookError(ValueError):
    """A look that can't be used; the message names each place and what is wrong there."""


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Mix(_Strict):
    """How a step's result is laid back on the picture."""

    blend: Blend = Field("normal", description="Blend mode.")
    amount: float = Field(1.0, ge=0, le=1, description="0 leaves the picture as it was.")
    tones: Any = Field(None, description="Tone window; not in this version, leave it out.")
    mask: Any = Field(None, description="Mask; not in this version, leave it out.")
    reads: str = Field("so far", description="What the step reads; in this version 'so far' alone.")

    @field_validator("tones", "mask")
    @classmethod
    def _not_yet(cls, value: Any) -> None:
        if value not in (None, [], {}):
            raise ValueError("is not in this version of Yearning yet; leave it out")

    @field_validator("reads")
    @classmethod
    def _so_far(cls, value: str) -> str:
        if value != "so far":
            raise ValueError(f"'{value}' is not in this version of Yearning yet; use 'so far'")
        return value


class Step(_Strict):
    """One use of a treatment: its settings, and how it is mixed back."""

    kind: ClassVar[str]

    id: str = Field(min_length=1, max_length=64, description="A name of its own within the look.")
    treatment: str
    settings: Treatment
    mix: Mix
    keys: dict[str, Any] = Field(default_factory=dict, description="Not in this version yet.")
    bursts: list[Any] = Field(default_factory=list, description="Not in this version yet.")
    on: bool = True

    @model_validator(mode="before")
    @classmethod
    def _mixed_as_its_treatment(cls, data: Any) -> Any:
        """What the mix leaves out is as the treatment has it: a glow screens."""
        if not isinstance(data, dict):
            return data
        mix = data.get("mix", {})
        if isinstance(mix, dict):
            treatment = TREATMENTS[cls.kind]
            mix = {"blend": treatment.blend, "amount": treatment.amount} | mix
        return {**data, "settings": data.get("settings", {}), "mix": mix}

    @field_validator("keys", "bursts")
    @classmethod
    def _not_yet(cls, value: Any) -> Any:
        if value:
            raise ValueError("is not in this version of Yearning yet; leave it out")
        return value


def _step_of(kind: str, settings: type[Treatment]) -> type[Step]:
    model = create_model(
        f"{kind.capitalize()}Step",
        __base__=Step,
        __doc__=settings.says,
        treatment=(Literal[kind], ...),  # type: ignore[arg-type]
        settings=(settings, ...),
    )
    model.kind = kind
    return model


STEPS: dict[str, type[Step]] = {kind: _step_of(kind, TREATMENTS[kind]) for kind in TREATMENTS}
"""The step model of every treatment."""

if TYPE_CHECKING:
    AnyStep = Step
else:
    AnyStep = Annotated[Union[tuple(STEPS.values())], Field(discriminator="treatment")]  # noqa: UP007


class Look(_Strict):
    """An ordered list of steps. An empty one is the footage itself."""

    format: Literal["yearning-look/1"] = "yearning-look/1"
    name: str = Field("Untitled look", min_length=1, max_length=120)
    steps: tuple[AnyStep, ...] = Field((), max_length=MOST_STEPS)

    @model_validator(mode="after")
    def _own_ids(self) -> "Look":
        ids = [step.id for step in self.steps]
        twice = {step_id for step_id in ids if ids.count(step_id) > 1}
        if twice:
            raise ValueError(f"two steps have the id '{min(twice)}'; give each its own")
        return self

    def path_keys(self) -> list[str]:
        """A hash of the path up to the footage, then up to each step.

        Equal keys mean equal pictures, whatever the steps' ids and the looks' names; a step that
        is off changes nothing.
        """
        digest = hashlib.sha256()
        keys = [digest.hexdigest()]
        for step in self.steps:
            if step.on and step.mix.amount > 0:
                says = step.model_dump(mode="json", include={"treatment", "settings", "mix"})
                digest.update(json.dumps(says, sort_keys=True).encode())
            keys.append(digest.hexdigest())
        return keys


def place(location: tuple[int | str, ...]) -> str:
    """A place in a look in words: `steps[0].settings.spread`."""
    words = ""
    for i, part in enumerate(location):
        if isinstance(part, int):
            words += f"[{part}]"
        elif part in STEPS and i and isinstance(location[i - 1], int):
            continue  # the treatment's tag, not a field
        else:
            words += f".{part}" if words else part
    return words


def _complaint(error: Any) -> str:
    """One validation error as `place: what is wrong`."""
    where = place(error["loc"])
    match error["type"]:
        case "extra_forbidden":
            return f"{where}: unknown field"
        case "union_tag_invalid":
            known = ", ".join(STEPS)
            return (
                f"{where}.treatment: unknown treatment '{error['ctx']['tag']}'; known are {known}"
            )
        case "union_tag_not_found":
            return f"{where}.treatment: missing"
        case "missing":
            return f"{where}: missing"
    message = error["msg"].removeprefix("Value error, ")
    return f"{where}: {message[0].lower()}{message[1:]}" if where else message


def look_of(data: Any) -> Look:
    """The look that `data` (a JSON document's value) describes.

    Raises:
        LookError: one line for each place that is wrong, at most five.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise LookError(f'format: not a look file; it must say "format": "{FORMAT}"')
    try:
        return Look.model_validate(data)
    except ValidationError as error:
        lines = list(dict.fromkeys(_complaint(e) for e in error.errors()))
        more = [f"and {len(lines) - 5} more"] if len(lines) > 5 else []
        raise LookError("; ".join(lines[:5] + more)) from None


def look_from_json(text: str | bytes) -> Look:
    """The look in a JSON text.

    Raises:
        LookError: not JSON (with line and column), or not a look.
    """
    try:
        data = json.loads(text)
    except RecursionError:
        raise LookError("not JSON that can be read: it is nested too deeply") from None
    except UnicodeDecodeError:
        raise LookError("not a look file: it is not text") from None
    except json.JSONDecodeError as error:
        raise LookError(
            f"not JSON: line {error.lineno}, column {error.colno}: {error.msg}"
        ) from None
    return look_of(data)


def look_schema() -> dict[str, Any]:
    """The published JSON Schema of `yearning-look/1`."""
    schema = Look.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["required"] = ["format"]
    for step in schema["$defs"].values():
        if "treatment" in step.get("properties", {}):
            step["required"] = ["id", "treatment"]  # the rest is as the treatment has it
    return schema
