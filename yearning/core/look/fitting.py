"""Fittings: what of a look holds for one clip alone, over the look that many clips share.

A fitting names steps by their ids, and of each only what differs. It is the format
`yearning-fitting/2`. One of the first format is taken under the names of now together with its
look, since only that says of which treatment a step is.
"""

import copy
import json
import re
from collections.abc import Iterator
from typing import Any, Literal, NamedTuple

from pydantic import Field, ValidationError, model_validator

from yearning.core.errors import InvalidLookError
from yearning.core.look.bursts import MAX_BURSTS, Burst
from yearning.core.look.document import Look, format_location, parse_look, walk_steps
from yearning.core.look.former_names import rename_fitting
from yearning.core.look.keyframes import MAX_KEYS, Key
from yearning.core.look.mix import MASK
from yearning.core.validation import StrictModel, refusal

FITTING_FORMAT: Literal["yearning-fitting/2"] = "yearning-fitting/2"
FIRST_FITTING_FORMAT: Literal["yearning-fitting/1"] = "yearning-fitting/1"
LATER_FORMAT = re.compile(r"yearning-fitting/[0-9]{1,9}")

MAX_FITTED_STEPS = 4096
MAX_VALUES = 256
"""Of a step, at the most: more than any has."""


MAX_TRIED = 400
"""Changes that are tried one by one, where not all go with the look: each is a look to check."""


class StepFitting(StrictModel):
    """What of a step holds for the clip; what is left out is as the look has it."""

    settings: dict[str, Any] = Field(
        {},
        max_length=MAX_VALUES,
        description="Values of settings. One that the look keys is not keyed here, unless `keys` "
        "has it too.",
    )
    mix: dict[str, Any] = Field(
        {},
        max_length=MAX_VALUES,
        description="Fields of the mix; a mask stands in the place of the look's, with its keys.",
    )
    keys: dict[str, tuple[Key, ...]] = Field(
        {},
        max_length=MAX_VALUES,
        description="Keys by what they pin, in the place of the look's; none takes them away.",
    )
    bursts: tuple[Burst, ...] | None = Field(
        None, max_length=MAX_BURSTS, description="In the place of the look's; none: always active."
    )
    on: bool | None = None


class ClipOverrides(StrictModel):
    """What of a look holds for one clip alone."""

    format: Literal["yearning-fitting/1", "yearning-fitting/2"] = FITTING_FORMAT
    steps: dict[str, StepFitting] = Field(
        {}, max_length=MAX_FITTED_STEPS, description="By the steps' ids."
    )
    input: dict[str, Any] = Field(
        {},
        max_length=MAX_VALUES,
        title="Input overrides",
        description="How the clip is read, as `--read` has it.",
    )

    @model_validator(mode="before")
    @classmethod
    def _rename_input(cls, data: Any) -> Any:
        """Take what the first format called `reading`."""
        if not isinstance(data, dict) or data.get("format") != FIRST_FITTING_FORMAT:
            return data
        if "input" in data or "reading" not in data:
            return data
        return {{"reading": "input"}.get(name, name): value for name, value in data.items()}


class Fitted(NamedTuple):
    """A look as it stands on one clip."""

    look: Look
    notes: tuple[str, ...]
    """What of the fitting does not hold any more, and why; the rest does."""


def upgrade_fitting(look: Look, fitting: ClipOverrides) -> ClipOverrides:
    """Return a fitting in the newest format.

    Args:
        look: that it belongs to.
        fitting: of any format.
    """
    if fitting.format == FITTING_FORMAT:
        return fitting
    renamed = rename_fitting(fitting.model_dump(mode="json"), look.model_dump(mode="json")["steps"])
    return ClipOverrides.model_validate({**renamed, "format": FITTING_FORMAT})


def apply_fitting(look: Look, fitting: ClipOverrides) -> Fitted:
    """Return the look as it stands on the clip of a fitting, and notes of what was left out.

    What of the fitting no longer goes with the look (a step that went away, a setting of another
    kind) is left out and told.

    Args:
        look: shared by all clips.
        fitting: of one clip.

    >>> from yearning.core.look.document import parse_look
    >>> glow = {"id": "g", "treatment": "glow"}
    >>> shared = parse_look({"format": "yearning-look/3", "steps": [glow]})
    >>> own = ClipOverrides(steps={"g": {"settings": {"spread": 20}}, "gone": {"on": False}})
    >>> found = apply_fitting(shared, own)
    >>> found.look.steps[0].settings.spread, found.notes
    (20.0, ('steps.gone: the look has no such step',))
    """
    fitting = upgrade_fitting(look, fitting)
    document = look.model_dump(mode="json")
    known = {step["id"] for step in _walk(document["steps"])}
    notes = [f"steps.{id}: the look has no such step" for id in fitting.steps if id not in known]
    changes = [change for id in fitting.steps if id in known for change in _changes(fitting, id)]
    try:
        whole = copy.deepcopy(document)
        for change in changes:
            change.apply(whole)
        return Fitted(parse_look(whole, keep_absent=True), tuple(notes))
    except InvalidLookError:
        return _one_by_one(document, changes, notes)


def prune_fitting(look: Look, fitting: ClipOverrides) -> ClipOverrides:
    """Return a fitting without what it says of steps that the look does not have, or nothing of.

    Args:
        look: as it is now.
        fitting: of a clip to an earlier look.
    """
    fitting = upgrade_fitting(look, fitting)
    known = {step.id for _, _, step in walk_steps(look.steps)}
    kept = {id: own for id, own in fitting.steps.items() if id in known and own != StepFitting()}
    return fitting.model_copy(update={"steps": kept})


def check_fitting(look: Look, fitting: ClipOverrides, place: str) -> None:
    """Make sure that all of a fitting goes with a look.

    Args:
        look: shared by all clips.
        fitting: of one clip.
        place: what messages begin with.

    Raises:
        InvalidLookError: some does not; it names each place, at most five.
    """
    notes = apply_fitting(look, fitting).notes
    if notes:
        more = [f"and {len(notes) - 5} more"] if len(notes) > 5 else []
        raise InvalidLookError("; ".join([*(f"{place}.{note}" for note in notes[:5]), *more]))


def _one_by_one(document: dict[str, Any], changes: list["_Change"], notes: list[str]) -> Fitted:
    """The look with those changes that go with it, each tried on top of those before.

    What comes after `MAX_TRIED` of them is left out, and told.
    """
    look = parse_look(document, keep_absent=True)
    for tried, change in enumerate(changes):
        if tried == MAX_TRIED:
            notes.append(f"{change.place}: left out, with {len(changes) - tried - 1} more after it")
            break
        trial = copy.deepcopy(document)
        change.apply(trial)
        try:
            look = parse_look(trial, keep_absent=True)
        except InvalidLookError as error:
            _, _, reason = str(error).partition(": ")
            notes.append(f"{change.place}: {reason or error}")
        else:
            document = trial
    return Fitted(look, tuple(notes))


class _Change(NamedTuple):
    """One thing of a step that is the clip's own."""

    step: str
    field: str
    name: str
    value: Any

    @property
    def place(self) -> str:
        """Where it stands in the fitting."""
        return f"steps.{self.step}.{self.field}" + (f".{self.name}" if self.name else "")

    def apply(self, document: dict[str, Any]) -> None:
        """Change a look's document in place."""
        step = next(step for step in _walk(document["steps"]) if step["id"] == self.step)
        keys = step["keys"]
        if not self.name:
            step[self.field] = self.value
        elif self.field == "keys":
            keys[self.name] = self.value
        else:
            step[self.field][self.name] = self.value
            keyed = self.name if self.field == "settings" else f"mix.{self.name}"
            of_mask = MASK if keyed == "mix.mask" else None
            step["keys"] = {
                name: pinned
                for name, pinned in keys.items()
                if name != keyed and not (of_mask and name.startswith(of_mask))
            }


def _changes(fitting: ClipOverrides, id: str) -> Iterator[_Change]:
    """What a fitting says of a step; keys come after the values that they stand over."""
    own = fitting.steps[id].model_dump(mode="json")
    for field in ("settings", "mix", "keys"):
        for name, value in own[field].items():
            yield _Change(id, field, name, value)
    for field in ("bursts", "on"):
        if own[field] is not None:
            yield _Change(id, field, "", own[field])


def _walk(steps: list[dict[str, Any]]) -> Iterator[dict[str, Any]]:
    """Every step of a look's document, those within bundles too."""
    for step in steps:
        yield step
        if step["treatment"] == "bundle":
            yield from _walk(step["settings"]["steps"])


def parse_fitting(data: Any) -> ClipOverrides:
    """The fitting that a parsed JSON document describes; `upgrade_fitting` renews an older one.

    Raises:
        InvalidLookError: it names each place that is wrong, at most five.
    """
    said = data.get("format") if isinstance(data, dict) else None
    if said not in (FITTING_FORMAT, FIRST_FITTING_FORMAT):
        if isinstance(said, str) and LATER_FORMAT.fullmatch(said):
            raise InvalidLookError(
                f"format: '{said}' is of a later version of this program; this one reads fittings "
                f"up to '{FITTING_FORMAT}'"
            )
        raise InvalidLookError(f'format: not a fitting; it must say "format": "{FITTING_FORMAT}"')
    try:
        fitting = ClipOverrides.model_validate(data)
    except ValidationError as error:
        lines = [refusal(e, format_location(e["loc"])) for e in error.errors()]
        more = [f"and {len(lines) - 5} more"] if len(lines) > 5 else []
        raise InvalidLookError("; ".join(lines[:5] + more)) from None
    for id, own in fitting.steps.items():
        for name, keys in own.keys.items():
            if len(keys) > MAX_KEYS:
                raise InvalidLookError(f"steps.{id}.keys.{name}: there are at most {MAX_KEYS} keys")
    return fitting


def fitting_from_json(text: str | bytes) -> ClipOverrides:
    """The fitting in a JSON text.

    Raises:
        InvalidLookError: not JSON, or not a fitting.
    """
    try:
        data = json.loads(text)
    except (RecursionError, ValueError) as error:
        raise InvalidLookError(f"not JSON that can be read: {error}") from None
    return parse_fitting(data)


def fitting_schema() -> dict[str, Any]:
    """The published JSON Schema of `yearning-fitting/2`."""
    schema = ClipOverrides.model_json_schema() | {"title": "Fitting"}
    schema["properties"]["format"] |= {"const": FITTING_FORMAT}
    del schema["properties"]["format"]["enum"]
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["required"] = ["format"]
    return schema
