"""Looks as they can be rendered: without steps of packages that are not installed."""

from collections.abc import Iterable, Iterator
from typing import Any

from yearning.core.errors import InvalidLookError
from yearning.core.look.absent_step import AbsentStep
from yearning.core.look.document import Bundle, Look, parse_look, unknown_treatment, walk_steps
from yearning.core.look.step import Step


def absent_steps(look: Look) -> Iterator[tuple[str, AbsentStep]]:
    """Steps whose treatment is of a package that is not installed, each with its place."""
    for path, _, step in walk_steps(look.steps):
        if isinstance(step, AbsentStep):
            yield path, step


def check_absent(look: Look, before: Look) -> None:
    """Make sure that steps of packages that are not installed are as they were before a change.

    Switched on or off, moved and mixed otherwise they may be.

    Args:
        look: as it is to be.
        before: as it was.

    Raises:
        InvalidLookError: one is new, or other settings; the message names it.
    """
    known = {step.id: step for _, step in absent_steps(before)}
    for path, step in absent_steps(look):
        was = known.get(step.id)
        if was is None or was.treatment != step.treatment:
            raise InvalidLookError(f"{path}.treatment: {unknown_treatment(step.treatment)}")
        if was.written["settings"] != step.written["settings"]:
            raise InvalidLookError(
                f"{path}.settings: they stay as they are while the package '{step.package}' is "
                "not installed"
            )


def without_absent(look: Look) -> Look:
    """A look without steps of packages that are not installed, all of which are switched off.

    Raises:
        InvalidLookError: one is on, or another step reads one; the message names it.
    """
    found = list(absent_steps(look))
    if not found:
        return look
    wanted = [
        f"{path}.treatment: {unknown_treatment(step.treatment)}, or switch the step off"
        for path, step in found
        if step.is_switched_on
    ]
    if wanted:
        raise InvalidLookError("; ".join(wanted[:5]))
    gone = {step.id for _, step in found}
    return parse_look({**look.model_dump(mode="json"), "steps": _steps_but(look.steps, gone)})


def _steps_but(steps: Iterable[Step], gone: set[str]) -> list[dict[str, Any]]:
    """Steps as a file has them but for some, those inside bundles too."""
    kept = []
    for step in steps:
        if step.id in gone:
            continue
        written = step.model_dump(mode="json")
        if isinstance(step.settings, Bundle):
            written["settings"] = {"steps": _steps_but(step.settings.steps, gone)}
        kept.append(written)
    return kept
