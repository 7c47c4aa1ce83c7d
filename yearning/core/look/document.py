"""A look: an ordered list of steps, as the file format `yearning-look/3` has it."""

import hashlib
import json
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Annotated, Any, Literal, NamedTuple, Union

from pydantic import (
    Field,
    ValidationError,
    ValidationInfo,
    WrapSerializer,
    WrapValidator,
    create_model,
    model_validator,
)

from yearning.core.errors import InvalidLookError
from yearning.core.look.absent_step import AbsentStep, is_absent
from yearning.core.look.former_names import former_steps, name_hint, present_treatment
from yearning.core.look.mix import FOOTAGE_INPUT, PREVIOUS_INPUT
from yearning.core.look.step import Location, Step, setting_unit
from yearning.core.look.upgrades import FORMAT, upgrade_look
from yearning.core.masks.matte import MattePicture
from yearning.core.masks.shapes import (
    KINDS,
    SHAPE_TAGS,
    LinkedShape,
    Matte,
    PositionedShape,
    ReadsPicture,
    Shape,
)
from yearning.core.treatment.base import AnyTreatment, Treatment
from yearning.core.treatments import LEFT_OUT, TREATMENTS, is_foreign
from yearning.core.validation import PlainText, StrictModel, refusal

LATER_FORMAT = re.compile(r"yearning-look/[0-9]{1,9}")

MAX_STEPS = 64

MAX_BUNDLE_DEPTH = 4
"""How deep bundles may hold each other."""


def _step_model(kind: str, settings: type[AnyTreatment]) -> type[Step]:
    """The Pydantic model of steps of a treatment."""
    model = create_model(
        f"{kind.capitalize().replace('.', '_').replace('-', '_')}Step",
        __base__=Step,
        __doc__=settings.summary,
        treatment=(Literal[kind], ...),  # type: ignore[arg-type]
        settings=(settings, ...),
    )
    model.kind = kind
    model.default_mix = {"blend": settings.default_blend, "amount": settings.default_amount}
    return model


class Bundle(StrictModel):
    """Steps mixed back as one. The first one's input is the bundle's."""

    steps: tuple["AnyStep", ...] = Field((), max_length=MAX_STEPS)


class BundleStep(Step):
    """A step that holds steps of its own, mixed back as one."""

    kind = "bundle"

    name: PlainText = Field("", max_length=120, description="What it is called on the path.")
    treatment: Literal["bundle"]
    settings: Bundle


STEPS: dict[str, type[Step]] = {
    kind: _step_model(kind, TREATMENTS[kind]) for kind in TREATMENTS
} | {"bundle": BundleStep}
"""The step model of every treatment, and of bundles."""

KEEP_ABSENT = "keep absent"
"""In the context of a validation: steps of packages that are not installed are kept."""


def _known_or_absent(data: Any, validate: Any, info: ValidationInfo) -> Any:
    if isinstance(data, AbsentStep):
        return data
    if info.context and info.context.get(KEEP_ABSENT) and is_absent(data, STEPS):
        return AbsentStep.model_validate(data)
    return validate(data)


def _as_written(step: Any, serialize: Any) -> Any:
    return step.model_dump() if isinstance(step, AbsentStep) else serialize(step)


if TYPE_CHECKING:
    AnyStep = Step
else:
    AnyStep = Annotated[
        Annotated[Union[tuple(STEPS.values())], Field(discriminator="treatment")],  # noqa: UP007
        WrapValidator(_known_or_absent),
        WrapSerializer(_as_written),
    ]

Bundle.model_rebuild()
BundleStep.model_rebuild()


class PlacedStep(NamedTuple):
    """A step, where it stands in the look, and how many bundles it is inside of."""

    path: str
    """As in error messages: `steps[0].settings.steps[1]`."""
    depth: int
    step: Step


def walk_steps(steps: Iterable[Step], path: str = "steps", depth: int = 0) -> Iterator[PlacedStep]:
    """Yield every step in the order in which they are evaluated: a bundle after the steps it holds.

    Args:
        steps: of a look, or of a bundle.
        path: where they stand in the look, as errors name it.
        depth: of bundles around them.
    """
    for i, step in enumerate(steps):
        here = f"{path}[{i}]"
        if isinstance(step.settings, Bundle):
            yield from walk_steps(step.settings.steps, f"{here}.settings.steps", depth + 1)
        yield PlacedStep(here, depth, step)


FileKind = Literal["table", "plate", "track", "grain"]


class NamedFile(NamedTuple):
    """A look-up table, a plate, a track or grain that a step names."""

    path: str
    """Where it is named: `steps[0].settings.file`."""
    kind: FileKind
    name: str
    treatment: AnyTreatment | None = None
    """Which names it, of all but tracks of masks."""


FILE_KINDS: dict[str, FileKind] = {
    "file": "table",
    "plate": "plate",
    "track": "track",
    "grain": "grain",
}
"""What settings of a unit name."""


def named_files(look: "Look") -> Iterator[NamedFile]:
    """The look-up tables, plates, tracks and grain that a look's steps name."""
    for path, _, step in walk_steps(look.steps):
        for i, shape in enumerate(step.mix.mask):
            here = f"{path}.mix.mask[{i}]"
            if isinstance(shape, Matte) and shape.file:
                drawn = MattePicture(file=shape.file, fit=shape.fit, use=shape.use)
                yield NamedFile(f"{here}.file", "plate", shape.file, drawn)
            if isinstance(shape, PositionedShape) and shape.track:
                yield NamedFile(f"{here}.track", "track", shape.track)
        if not isinstance(step.settings, Treatment):
            continue
        for name in type(step.settings).model_fields:
            kind = FILE_KINDS.get(setting_unit(type(step.settings), name) or "")
            file = getattr(step.settings, name)
            if kind and file:
                yield NamedFile(f"{path}.settings.{name}", kind, file, step.settings)


Masks = Mapping[str, Sequence[Shape]]
"""The shapes of every step of a look, by the step's id."""


class Look(StrictModel):
    """An ordered list of steps. An empty one is the footage itself."""

    format: Literal["yearning-look/3"] = FORMAT
    name: PlainText = Field("Untitled look", min_length=1, max_length=120)
    steps: tuple[AnyStep, ...] = Field((), max_length=MAX_STEPS)

    @model_validator(mode="after")
    def _check_steps(self) -> "Look":
        found = list(walk_steps(self.steps))
        if len(found) > MAX_STEPS:
            raise ValueError(f"a look has at most {MAX_STEPS} steps, not {len(found)}")
        earlier: set[str] = set()
        for here, depth, step in found:
            if depth > MAX_BUNDLE_DEPTH:
                raise ValueError(f"{here}: bundles hold each other at most {MAX_BUNDLE_DEPTH} deep")
            if step.id in (PREVIOUS_INPUT, FOOTAGE_INPUT):
                raise ValueError(f"{here}.id: '{step.id}' is what an input is called; name it else")
            if step.id in earlier:
                raise ValueError(f"two steps have the id '{step.id}'; give each its own")
            earlier.add(step.id)
        masks = {step.id: step.mix.mask for _, _, step in found}
        for here, _, step in found:
            for i, shape in enumerate(step.mix.mask):
                if isinstance(shape, LinkedShape):
                    _check_same(shape, f"{here}.mix.mask[{i}]", masks)
        self._check_inputs(self.steps, "steps", set(), masks)
        return self

    def _check_inputs(
        self, steps: tuple[Step, ...], path: str, earlier: set[str], masks: Masks
    ) -> None:
        for i, step in enumerate(steps):
            named = {f"{path}[{i}].mix.input": step.mix.input}
            for n, shape in enumerate(step.mix.mask):
                source = shape if not isinstance(shape, LinkedShape) else _source(shape, masks)
                if isinstance(source, ReadsPicture):
                    named[f"{path}[{i}].mix.mask[{n}].of"] = source.of
            for here, input in named.items():
                if input in (PREVIOUS_INPUT, FOOTAGE_INPUT) or input in earlier:
                    continue
                what = "comes later, or holds it" if input in masks else "is no step of this look"
                raise ValueError(
                    f"{here}: '{input}' {what}; an input is '{PREVIOUS_INPUT}', "
                    f"'{FOOTAGE_INPUT}' or the id of an earlier step"
                )
            if isinstance(step.settings, Bundle):
                inside = f"{path}[{i}].settings.steps"
                self._check_inputs(step.settings.steps, inside, earlier, masks)
            earlier.add(step.id)


def _source(shape: LinkedShape, masks: Masks) -> Shape | None:
    """The shape that one is the same as; None where there is none."""
    step, id = shape.source
    return next((each for each in masks.get(step, ()) if each.id == id), None)


def _check_same(shape: LinkedShape, here: str, masks: Masks) -> None:
    """Make sure that the shape that one is the same as is there, and is one of its own."""
    source = _source(shape, masks)
    if source is None:
        known = [f"{name}.{each.id}" for name, mask in masks.items() for each in mask]
        others = [name for name in known if not name.endswith(f".{shape.id}")] or ["none yet"]
        raise ValueError(
            f"{here}.same_as: '{shape.same_as}' is no shape of this look; write a step's id, a "
            f"full stop and a shape's id; there are {', '.join(others[:5])}"
        )
    if isinstance(source, LinkedShape):
        raise ValueError(
            f"{here}.same_as: '{shape.same_as}' is itself the same as '{source.same_as}'; name that"
        )


def steps_alone(look: "Look") -> list[Any]:
    """A look's steps as a file has them, without notes: all that a picture depends on."""
    return [_without_note(step) for step in look.model_dump(mode="json")["steps"]]


FEATHERED_LATER = ("tones", "hue", "matte")
"""Kinds of shapes that had no feather at first."""


def _without_note(step: dict[str, Any]) -> dict[str, Any]:
    plain = {name: value for name, value in step.items() if name != "note"}
    if not plain["seed_by_clip"]:
        del plain["seed_by_clip"]  # the digest is that of looks from before there was such a thing
    for shape in plain["mix"]["mask"]:
        if shape.get("kind") in FEATHERED_LATER and not shape["feather"]:
            del shape["feather"]  # likewise
    if step["treatment"] == "bundle":
        inside = [_without_note(inner) for inner in step["settings"]["steps"]]
        plain["settings"] = {"steps": inside}
    return plain


def steps_digest(look: "Look") -> str:
    """A hash that is equal for looks of the same steps, whatever they and their notes say."""
    return hashlib.sha256(json.dumps(steps_alone(look)).encode()).hexdigest()


def former_steps_digest(look: "Look") -> str:
    """What `steps_digest` was of a look in `yearning-look/2`."""
    return hashlib.sha256(json.dumps(former_steps(steps_alone(look))).encode()).hexdigest()


def beyond_end(look: "Look", frames: int) -> list[str]:
    """Say which keys and bursts lie beyond a clip's last frame, where they count for nothing.

    A look is made once for clips of many lengths: what of it lies within counts.

    Args:
        look: with keys or bursts, or without.
        frames: of the clip.

    Returns:
        A line a step, that begins with the place of its farthest.
    """
    found = []
    for path, _, step in walk_steps(look.steps):
        last, location = step.last_frame()
        if last >= frames:
            found.append(
                f"{path}.{format_location(location)}: it names frame {last}; the clip has frames 0 "
                f"to {frames - 1}, and what lies within them counts"
            )
    return found


def format_location(location: Location) -> str:
    """A place in a look as error messages have it.

    >>> format_location(("steps", 0, "settings", "spread"))
    'steps[0].settings.spread'
    """
    words = ""
    for i, part in enumerate(location):
        if isinstance(part, int):
            words += f"[{part}]"
        elif (part in STEPS or part in SHAPE_TAGS) and i and isinstance(location[i - 1], int):
            continue  # the tag of a treatment or a shape, not a field
        else:
            words += f".{part}" if words else part
    return words


def _message(error: Any) -> str:
    """One validation error as `place: what is wrong`."""
    where = format_location((*error["loc"], *error.get("ctx", {}).get("place", ())))
    match error["type"]:
        case "union_tag_invalid" if "mask" in error["loc"]:
            known = ", ".join(KINDS)
            return f"{where}.kind: unknown shape '{error['ctx']['tag']}'; known are {known}"
        case "union_tag_not_found" if "mask" in error["loc"]:
            return f"{where}.kind: missing"
        case "union_tag_invalid":
            return f"{where}.treatment: {unknown_treatment(error['ctx']['tag'])}"
        case "union_tag_not_found":
            return f"{where}.treatment: missing"
        case "extra_forbidden":
            return refusal(error, where) + _hint(error["loc"])
    return refusal(error, where)


def _hint(location: Location) -> str:
    """What an unknown field is called now, where it had another name in a former format."""
    match location:
        case (*_, str(treatment), "settings", str(name)):
            return name_hint(treatment, name)
        case (*_, str(treatment), "mix", str(name)):
            return name_hint(treatment, f"mix.{name}")
    return ""


def unknown_treatment(kind: str) -> str:
    """What is said of a treatment that is not in the catalogue."""
    if kind in LEFT_OUT:
        return f"'{kind}' could not be loaded ({LEFT_OUT[kind]}); install its package anew"
    if is_foreign(kind):
        package = kind.partition(".")[0]
        return f"'{kind}' is of the package '{package}', which is not installed here; install it"
    now = present_treatment(kind)
    hint = "" if now == kind else f"; it is called '{now}' now"
    return f"unknown treatment '{kind}'; known are {', '.join(STEPS)}{hint}"


def parse_look(data: Any, *, keep_absent: bool = False) -> Look:
    """The look that a parsed JSON document describes; one of an older format is upgraded.

    Args:
        data: parsed JSON.
        keep_absent: keep steps of packages that are not installed, and pass over them, instead of
            refusing the look.

    Raises:
        InvalidLookError: it names each place that is wrong, at most five.

    >>> parse_look({"format": "yearning-look/3", "steps": []}).name
    'Untitled look'
    """
    data = upgrade_look(data)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        said = data.get("format") if isinstance(data, dict) else None
        if isinstance(said, str) and LATER_FORMAT.fullmatch(said):
            raise InvalidLookError(
                f"format: '{said}' is of a later version of this program; this one reads looks up "
                f"to '{FORMAT}'"
            )
        raise InvalidLookError(f'format: not a look file; it must say "format": "{FORMAT}"')
    try:
        return Look.model_validate(data, context={KEEP_ABSENT: keep_absent})
    except ValidationError as error:
        lines = list(dict.fromkeys(_message(e) for e in error.errors()))
        more = [f"and {len(lines) - 5} more"] if len(lines) > 5 else []
        raise InvalidLookError("; ".join(lines[:5] + more)) from None


def look_from_json(text: str | bytes, *, keep_absent: bool = False) -> Look:
    """Return the look in a JSON text; see `parse_look`.

    Args:
        text: in UTF-8 where it is bytes.
        keep_absent: keep steps of packages that are not installed, to be passed over.

    Raises:
        InvalidLookError: not JSON (with line and column), or not a look.
    """
    try:
        data = json.loads(text)
    except RecursionError:
        raise InvalidLookError("not JSON that can be read: it is nested too deeply") from None
    except UnicodeDecodeError:
        raise InvalidLookError("not a look file: it is not text") from None
    except json.JSONDecodeError as error:
        raise InvalidLookError(
            f"not JSON: line {error.lineno}, column {error.colno}: {error.msg}"
        ) from None
    except ValueError:  # Python reads at most 4300 digits
        raise InvalidLookError("not JSON that can be read: a number has too many digits") from None
    return parse_look(data, keep_absent=keep_absent)


def look_schema() -> dict[str, Any]:
    """The published JSON Schema of `yearning-look/3`."""
    schema = Look.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["required"] = ["format"]
    for step in schema["$defs"].values():
        if "treatment" in step.get("properties", {}):
            step["required"] = ["id", "treatment"]  # the rest is as the treatment has it
    return schema
