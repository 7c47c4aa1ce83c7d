"""Looks: an ordered list of steps, and the file format `yearning-look/1`."""

import json
from collections.abc import Iterable, Iterator
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
from yearning.core.tones import Tones
from yearning.core.treatment import Treatment
from yearning.core.treatments import TREATMENTS

FORMAT = "yearning-look/1"

MOST_STEPS = 64

DEEPEST = 4
"""Bundles within bundles."""

SO_FAR, AS_SHOT = "so far", "as shot"
"""What a step may read besides another step: the picture before it, or the footage."""


class LookError(ValueError):
    """A look that can't be used; the message names each place and what is wrong there."""


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Mix(_Strict):
    """How a step's result is laid back on the picture."""

    blend: Blend = Field("normal", description="Blend mode.")
    amount: float = Field(1.0, ge=0, le=1, description="0 leaves the picture as it was.")
    tones: Tones | None = Field(
        None, description="Tone window: [tone, weight] points over the luma of the picture below."
    )
    mask: Any = Field(None, description="Mask; not in this version, leave it out.")
    reads: str = Field(
        SO_FAR,
        min_length=1,
        max_length=64,
        description="What the step reads: 'so far', 'as shot', or the id of an earlier step.",
    )

    @field_validator("tones", mode="before")
    @classmethod
    def _none_left_out(cls, value: Any) -> Any:
        return value or None

    @field_validator("mask")
    @classmethod
    def _not_yet(cls, value: Any) -> None:
        if value not in (None, [], {}):
            raise ValueError("is not in this version of Yearning yet; leave it out")


class Step(_Strict):
    """One use of a treatment: its settings, and how it is mixed back."""

    kind: ClassVar[str]
    mixed: ClassVar[dict[str, Any]] = {}
    """What a mix is where it is not said."""

    id: str = Field(min_length=1, max_length=64, description="A name of its own within the look.")
    treatment: str
    settings: "Treatment | Bundle"
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
            mix = cls.mixed | mix
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
    model.mixed = {"blend": settings.blend, "amount": settings.amount}
    return model


class Bundle(_Strict):
    """Steps mixed back as one. The first reads what the bundle reads."""

    steps: tuple["AnyStep", ...] = Field((), max_length=MOST_STEPS)


class BundleStep(Step):
    """A look inside a step."""

    kind = "bundle"

    name: str = Field("", max_length=120, description="What it is called on the path.")
    treatment: Literal["bundle"]
    settings: Bundle


STEPS: dict[str, type[Step]] = {kind: _step_of(kind, TREATMENTS[kind]) for kind in TREATMENTS} | {
    "bundle": BundleStep
}
"""The step model of every treatment, and of bundles."""

if TYPE_CHECKING:
    AnyStep = Step
else:
    AnyStep = Annotated[Union[tuple(STEPS.values())], Field(discriminator="treatment")]  # noqa: UP007

Bundle.model_rebuild()
BundleStep.model_rebuild()


def each_step(
    steps: Iterable[Step], at: str = "steps", depth: int = 0
) -> Iterator[tuple[str, int, Step]]:
    """Every step in the order of its work, with its place in words and how deep in bundles it is.

    A bundle comes after what it holds: it is done when they are.
    """
    for i, step in enumerate(steps):
        here = f"{at}[{i}]"
        if isinstance(step.settings, Bundle):
            yield from each_step(step.settings.steps, f"{here}.settings.steps", depth + 1)
        yield here, depth, step


def files_of(look: "Look") -> Iterator[tuple[str, str]]:
    """The files that a look's steps name, each with its place."""
    for here, _, step in each_step(look.steps):
        for name, field in type(step.settings).model_fields.items():
            extra = field.json_schema_extra
            file = getattr(step.settings, name)
            if isinstance(extra, dict) and extra.get("unit") == "file" and file:
                yield f"{here}.settings.{name}", file


class Look(_Strict):
    """An ordered list of steps. An empty one is the footage itself."""

    format: Literal["yearning-look/1"] = "yearning-look/1"
    name: str = Field("Untitled look", min_length=1, max_length=120)
    steps: tuple[AnyStep, ...] = Field((), max_length=MOST_STEPS)

    @model_validator(mode="after")
    def _steps_know_each_other(self) -> "Look":
        found = list(each_step(self.steps))
        if len(found) > MOST_STEPS:
            raise ValueError(f"a look has at most {MOST_STEPS} steps, not {len(found)}")
        every = {step.id for _, _, step in found}
        earlier: set[str] = set()
        for here, depth, step in found:
            if depth > DEEPEST:
                raise ValueError(f"{here}: bundles hold each other at most {DEEPEST} deep")
            if step.id in (SO_FAR, AS_SHOT):
                raise ValueError(f"{here}.id: '{step.id}' is what a step may read; name it else")
            if step.id in earlier:
                raise ValueError(f"two steps have the id '{step.id}'; give each its own")
            earlier.add(step.id)
        self._check_reads(self.steps, "steps", set(), every)
        return self

    def _check_reads(
        self, steps: tuple[Step, ...], at: str, earlier: set[str], every: set[str]
    ) -> None:
        for i, step in enumerate(steps):
            reads = step.mix.reads
            if reads not in (SO_FAR, AS_SHOT) and reads not in earlier:
                what = "comes later, or holds it" if reads in every else "is no step of this look"
                raise ValueError(
                    f"{at}[{i}].mix.reads: '{reads}' {what}; a step reads '{SO_FAR}', '{AS_SHOT}' "
                    "or the id of an earlier step"
                )
            if isinstance(step.settings, Bundle):
                inside = f"{at}[{i}].settings.steps"
                self._check_reads(step.settings.steps, inside, earlier, every)
            earlier.add(step.id)


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
