"""Looks: an ordered list of steps, and the file format `yearning-look/1`."""

import json
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Annotated, Any, Literal, NamedTuple, Union

from pydantic import Field, ValidationError, create_model, model_validator

from yearning.core.look.step import AS_SHOT, SO_FAR, Step
from yearning.core.treatment.base import Treatment
from yearning.core.treatments import TREATMENTS
from yearning.core.validation import Strict

FORMAT = "yearning-look/1"

MOST_STEPS = 64

DEEPEST = 4
"""Bundles within bundles."""


class LookError(ValueError):
    """A look that can't be used; the message names each place and what is wrong there."""


def _step_of(kind: str, settings: type[Treatment]) -> type[Step]:
    model = create_model(
        f"{kind.capitalize()}Step",
        __base__=Step,
        __doc__=settings.says,
        treatment=(Literal[kind], ...),  # type: ignore[arg-type]
        settings=(settings, ...),
    )
    model.kind = kind
    model.mixed = {"blend": settings.new_blend, "amount": settings.new_amount}
    return model


class Bundle(Strict):
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


class Named(NamedTuple):
    """A file that a step names: where, by which treatment, whether it is a plate, and its name."""

    here: str
    settings: Treatment
    plate: bool
    name: str


def files_of(look: "Look") -> Iterator[Named]:
    """The files that a look's steps name."""
    for here, _, step in each_step(look.steps):
        for name, field in type(step.settings).model_fields.items():
            extra = field.json_schema_extra
            file = getattr(step.settings, name)
            unit = extra.get("unit") if isinstance(extra, dict) else None
            if unit in ("file", "plate") and file and isinstance(step.settings, Treatment):
                yield Named(f"{here}.settings.{name}", step.settings, unit == "plate", file)


class Look(Strict):
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


def check_times(look: "Look", frames: int) -> None:
    """Make sure that all keys and bursts lie within a clip.

    Raises:
        LookError: some lie beyond its last frame; the message names them.
    """
    for here, _, step in each_step(look.steps):
        last, where = step.last_frame()
        if last >= frames:
            raise LookError(
                f"{here}.{place(where)}: it names frame {last}; the clip has frames 0 to "
                f"{frames - 1}. Move it there, or take it out"
            )


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
    where = place((*error["loc"], *error.get("ctx", {}).get("place", ())))
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
