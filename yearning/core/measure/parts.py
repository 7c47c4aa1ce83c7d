"""Parts of a look that steadiness tells apart: lively, steady, warping the frame, fixed to it."""

from yearning.core.look.document import Bundle, Look, walk_steps
from yearning.core.look.step import Step
from yearning.core.treatment.capabilities import FixedPattern, WarpsFrame, is_lively


def is_lively_step(step: Step) -> bool:
    """Whether a step changes from frame to frame by intent: grain does, and bursts do."""
    if not step.on:
        return False
    inner = (placed.step for placed in walk_steps((step,)))
    return bool(step.bursts) or any(one.on and is_lively(one.settings) for one in inner)


def steady_part(look: Look) -> Look:
    """The look with its lively steps switched off, those in bundles too."""

    def steady(step: Step) -> Step:
        if isinstance(step.settings, Bundle):
            step = _with_inner(step, tuple(map(steady, step.settings.steps)))
        if step.bursts or is_lively(step.settings):
            return step.model_copy(update={"on": False})
        return step

    return look.model_copy(update={"steps": tuple(map(steady, look.steps))})


def warping_part(look: Look) -> Look:
    """The look with nothing but its steady steps that warp the frame."""

    def warping(step: Step) -> Step:
        if isinstance(step.settings, Bundle):
            inner = tuple(map(warping, step.settings.steps))
            on = step.on and any(one.on for one in inner)
            return _with_inner(step, inner).model_copy(update={"on": on})
        return step.model_copy(update={"on": step.on and isinstance(step.settings, WarpsFrame)})

    steps = tuple(map(warping, steady_part(look).steps))
    return look.model_copy(update={"steps": steps})


def fixed_pattern_after(look: Look) -> list[bool]:
    """After none, one, … all steps: whether one has laid a pattern that stays in the frame."""
    found = [False]
    for step in look.steps:
        inner = (placed.step for placed in walk_steps((step,)))
        lays = any(one.on and isinstance(one.settings, FixedPattern) for one in inner)
        found.append(found[-1] or (step.on and lays))
    return found


def _with_inner(bundle: Step, steps: tuple[Step, ...]) -> Step:
    settings = bundle.settings.model_copy(update={"steps": steps})
    return bundle.model_copy(update={"settings": settings})
