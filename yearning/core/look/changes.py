"""What was done between two versions of a look, in words."""

from collections.abc import Iterable
from typing import Any, NamedTuple

from yearning.core.look.absent_step import AbsentStep
from yearning.core.look.document import Bundle, BundleStep, Look, walk_steps
from yearning.core.look.mix import MASK
from yearning.core.look.step import Step
from yearning.core.treatment.base import Treatment

MAX_NAMED = 2
"""How many settings of a step are named; of more, their number is said."""

_MIX = {"tones": "tone window", "out_of_range": "below black, above white"}
"""Fields of the mix that are called otherwise on the page than in files."""


class LookChange(NamedTuple):
    """A change of a look, as Undo names it."""

    words: str
    """As in "Glow: spread" or "removing Grain"."""
    step: str | None
    """The id of the step that changed and is there after the change; None where it is no one."""


def describe_change(before: Look, after: Look) -> LookChange:
    """Describe what makes one look of another, in a few words, with the step at which it is seen.

    Args:
        before: the look as it was.
        after: the look as it is.

    Example:
        >>> from yearning.core.look.document import look_from_json
        >>> steps = '{"format": "yearning-look/3", "steps": [%s]}'
        >>> glow = '{"id": "g", "treatment": "glow"}'
        >>> describe_change(look_from_json(steps % ""), look_from_json(steps % glow)).words
        'adding Glow'
    """
    was, now = _by_id(before), _by_id(after)
    gone = [step for id_, step in was.items() if id_ not in now]
    new = [step for id_, step in now.items() if id_ not in was]
    changed = [id_ for id_, step in now.items() if id_ in was and _differs(was[id_], step)]
    if gone and new:
        return LookChange("other steps", None)
    if new:
        return _of_new(new, changed)
    if gone:
        bundles = [step for step in gone if isinstance(step.settings, Bundle)]
        if any(inner.id in now for step in bundles for inner in _inner(step)):
            return LookChange(f"taking apart {_name_steps(bundles)}", None)
        return LookChange(f"removing {_name_steps(gone)}", None)
    if len(changed) == 1:
        step = now[changed[0]]
        return LookChange(_describe_step_change(was[step.id], step), step.id)
    if changed:
        return LookChange(f"{len(changed)} steps", None)
    if before.steps != after.steps:
        return LookChange("the order of the steps", None)
    return LookChange("the look's name", None)


def _by_id(look: Look) -> dict[str, Step]:
    return {step.id: step for _, _, step in walk_steps(look.steps)}


def _inner(step: Step) -> tuple[Step, ...]:
    return step.settings.steps if isinstance(step.settings, Bundle) else ()


def _differs(was: Step, now: Step) -> bool:
    """Whether a step changed by itself; what a bundle holds is looked at by itself."""
    hollow = {"settings": Bundle()} if isinstance(now.settings, Bundle) else {}
    return was.model_copy(update=hollow) != now.model_copy(update=hollow)


def _of_new(new: list[Step], changed: list[str]) -> LookChange:
    bundles = [step for step in new if isinstance(step, BundleStep)]
    around = [step for step in bundles if not any(s in new for s in _inner(step))]
    if around and len(new) == 1:
        return LookChange(f"bundling {len(_inner(around[0]))} steps", around[0].id)
    inner = {s.id for step in bundles for s in _inner(step)}
    outer = [step for step in new if step.id not in inner]
    return LookChange(f"adding {_name_steps(outer)}", outer[0].id if len(outer) == 1 else None)


def _name_steps(steps: list[Step]) -> str:
    return _step_name(steps[0]) if len(steps) == 1 else f"{len(steps)} steps"


def _step_name(step: Step) -> str:
    if isinstance(step, BundleStep):
        return step.name or "Bundle"
    if isinstance(step, AbsentStep):
        return f"a step of {step.package}"
    return step.treatment.capitalize()


def _describe_step_change(was: Step, now: Step) -> str:
    """What changed within one step."""
    name = _step_name(now)
    if was.treatment != now.treatment:
        return f"{_step_name(was)} made {name}"
    if _is_on(was) != _is_on(now):
        return f"switching {name} {'on' if _is_on(now) else 'off'}"
    parts = [*_settings(was, now), *_mix_changes(was, now)]
    if was.keys != now.keys:
        parts += [f"keys of {_label(now, key)}" for key in _differing(was.keys, now.keys)]
    parts += ["seed for every clip"] if was.seed_by_clip != now.seed_by_clip else []
    parts += ["bursts"] if was.bursts != now.bursts else []
    parts += ["note"] if was.note != now.note else []
    if len(parts) > MAX_NAMED:
        return f"{name}: {len(parts)} settings"
    return f"{name}: {' and '.join(parts)}" if parts else f"{name}: name"


def _is_on(step: Step) -> bool:
    return step.is_switched_on if isinstance(step, AbsentStep) else step.on


def _settings(was: Step, now: Step) -> list[str]:
    if not isinstance(now.settings, Treatment):
        return []
    names = _differing(dict(was.settings), dict(now.settings))
    return [_label(now, name) for name in names]


def _mix_changes(was: Step, now: Step) -> list[str]:
    return [_label(now, f"mix.{name}") for name in _differing(dict(was.mix), dict(now.mix))]


def _differing(was: dict[str, Any], now: dict[str, Any]) -> Iterable[str]:
    return [name for name in {**was, **now} if was.get(name) != now.get(name)]


def _label(step: Step, name: str) -> str:
    """What a setting, or a field of the mix or of a shape, is called on the page."""
    if name.startswith(MASK):
        return " of ".join(reversed(name.removeprefix(MASK).rsplit(".", 1)))
    field = name.removeprefix("mix.")
    if field != name:
        return _MIX.get(field, field)
    extra = type(step.settings).model_fields[field].json_schema_extra
    label = str(extra["label"]) if isinstance(extra, dict) else field
    return label if label[:2].isupper() else label[:1].lower() + label[1:]
