"""Variants of a look: the same but for one value of one step, as a proof sheet compares them."""

from typing import Any, NamedTuple

from yearning.core.compositing.blend import BLENDS
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import Look, walk_steps
from yearning.core.look.fitting import ClipOverrides, StepFitting, apply_fitting
from yearning.core.look.former_names import name_hint
from yearning.core.look.step import Step

OF_MIX = "mix."
"""What names of fields of a mix begin with."""


class Place(NamedTuple):
    """What of a look is varied: a setting of a step, or a field of its mix."""

    step: str
    """The step's id."""
    name: str
    """As keys are named: `spread`, or `mix.amount`."""

    @staticmethod
    def parse(text: str) -> "Place":
        """A place as it is written: `bloom.spread`, `bloom.mix.blend`.

        Raises:
            InvalidLookError: it is not written so.

        >>> Place.parse("bloom.mix.amount")
        Place(step='bloom', name='mix.amount')
        """
        step, _, name = text.partition(".")
        if not step or not name:
            raise InvalidLookError(
                f"'{text}': write STEP.SETTING or STEP.mix.FIELD, like 'glow-1.spread'"
            )
        return Place(step, name)

    def __str__(self) -> str:
        return f"{self.step}.{self.name}"


def with_value(look: Look, place: Place, value: Any) -> Look:
    """The look with another value of one setting; where that was keyed it no longer is.

    Args:
        look: of which the step is.
        place: of the value.
        value: as look files have it.

    Raises:
        InvalidLookError: there is no such step or setting, or it can't have the value.

    >>> from yearning.core.look.document import parse_look
    >>> glow = {"id": "bloom", "treatment": "glow"}
    >>> look = parse_look({"format": "yearning-look/3", "steps": [glow]})
    >>> with_value(look, Place("bloom", "spread"), 12).steps[0].settings.spread
    12.0
    """
    if place.name.startswith(OF_MIX):
        own = StepFitting(mix={place.name.removeprefix(OF_MIX): value})
    else:
        check_setting(look, place)
        own = StepFitting(settings={place.name: value})
    check_step(look, place)
    found = apply_fitting(look, ClipOverrides(steps={place.step: own}))
    for note in found.notes:
        raise InvalidLookError(f"{place}: {note.partition(': ')[2]}")
    return found.look


def choices_of(look: Look, place: Place) -> tuple[Any, ...]:
    """Return all values of a setting that is a choice: every blend mode, say.

    Args:
        look: that has the step.
        place: the step and the setting.

    Raises:
        InvalidLookError: there is no such step, or it is no choice.
    """
    if place.name == f"{OF_MIX}blend":
        check_step(look, place)
        return tuple(BLENDS)
    setting = check_setting(look, place)
    choices = (False, True) if setting.get("unit") == "switch" else setting.get("enum")
    if not choices:
        raise InvalidLookError(f"{place}: is no choice; write out the values to be tried")
    return tuple(choices)


def even_values(low: float, high: float, count: int) -> list[float]:
    """Return values evenly from one to another, of four digits.

    Args:
        low: the first.
        high: the last.
        count: how many.

    >>> even_values(0, 1, 4)
    [0.0, 0.3333, 0.6667, 1.0]
    """
    step = (high - low) / max(count - 1, 1)
    return [float(f"{low + n * step:.4g}") for n in range(count)]


UNITS = {
    "px@1080": "px",
    "degrees": "°",
    "stops": "stops",
    "frames": "frames",
    "factor": "×",
    "speed": "×",
}
"""Units as a value's caption has them; a fraction is in percent."""


def value_caption(look: Look, place: Place, value: Any) -> str:
    """Return a value as a sheet captions it.

    Args:
        look: that has the step.
        place: the step and the setting.
        value: of the setting.

    Raises:
        InvalidLookError: the look has no such step.
    """
    of_mix = place.name.startswith(OF_MIX)
    unit = "fraction" if of_mix else check_setting(look, place).get("unit")
    if isinstance(value, bool):
        return "on" if value else "off"
    if isinstance(value, dict):
        return ", ".join(f"{name} {number}" for name, number in value.items())
    if not isinstance(value, int | float):
        return str(value)
    if unit == "fraction":
        return f"{100 * value:g} %"
    return f"{value:g} {UNITS.get(unit or '', '')}".strip()


def check_step(look: Look, place: Place) -> Step:
    """Return the step of a place.

    Args:
        look: to find it in.
        place: the step and the setting.

    Raises:
        InvalidLookError: the look has none of that id.
    """
    steps = {step.id: step for _, _, step in walk_steps(look.steps)}
    if place.step not in steps:
        known = ", ".join(steps) or "none"
        raise InvalidLookError(f"{place}: the look has no step '{place.step}'; there are {known}")
    return steps[place.step]


def check_setting(look: Look, place: Place) -> dict[str, Any]:
    """Return what a setting is declared as in its treatment's schema.

    Args:
        look: that has the step.
        place: the step and the setting.

    Raises:
        InvalidLookError: the look has no such step, or that no such setting.
    """
    step = check_step(look, place)
    declared: dict[str, dict[str, Any]] = type(step.settings).model_json_schema()["properties"]
    if place.name not in declared:
        known = ", ".join(declared) or "none"
        raise InvalidLookError(
            f"{place}: {step.treatment} has no setting '{place.name}'; it has {known}"
            + name_hint(step.treatment, place.name)
        )
    return declared[place.name]
