"""Parts of a look that steadiness tells apart: lively, steady, moving the frame, fixed to it."""

from yearning.core.look.document import Bundle, Look, walk_steps
from yearning.core.look.step import Step
from yearning.core.treatment.base import Treatment


def is_lively(step: Step) -> bool:
    """Whether a step changes from frame to frame by intent: grain does, and bursts do."""
    if step.bursts or any(
        isinstance(inner.settings, Treatment) and inner.settings.is_lively() and inner.on
        for _, _, inner in walk_steps((step,))
    ):
        return step.on
    return False


def steady_part(look: Look) -> Look:
    """The look with its lively steps switched off, those in bundles too."""

    def calm(step: Step) -> Step:
        lively = bool(step.bursts)
        if isinstance(step.settings, Bundle):
            inner = tuple(map(calm, step.settings.steps))
            step = step.model_copy(
                update={"settings": step.settings.model_copy(update={"steps": inner})}
            )
        else:
            lively |= step.settings.is_lively()
        return step.model_copy(update={"on": False}) if lively else step

    return look.model_copy(update={"steps": tuple(map(calm, look.steps))})


def warping_part(look: Look) -> Look:
    """The look with nothing but its steady steps that move what is in the frame."""

    def moving(step: Step) -> Step:
        if isinstance(step.settings, Bundle):
            inner = tuple(map(moving, step.settings.steps))
            on = step.on and any(one.on for one in inner)
            held = step.settings.model_copy(update={"steps": inner})
            return step.model_copy(update={"settings": held, "on": on})
        return step.model_copy(update={"on": step.on and step.settings.geometry})

    steps = tuple(map(moving, steady_part(look).steps))
    return look.model_copy(update={"steps": steps})


def fixed_pattern_after(look: Look) -> list[bool]:
    """After none, one, … all steps: whether one has laid a pattern fixed to the frame."""
    found = [False]
    for step in look.steps:
        lays = any(
            inner.on and isinstance(inner.settings, Treatment) and inner.settings.fixed
            for _, _, inner in walk_steps((step,))
        )
        found.append(found[-1] or (step.on and lays))
    return found
