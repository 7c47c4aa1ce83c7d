"""Sizes that are too fine to be seen on small footage, made as large as they must be."""

import math
from typing import Any

from yearning.core.look.document import Bundle, Look
from yearning.core.look.step import Step
from yearning.core.picture import REFERENCE_LINES


def with_visible_sizes(look: Look, lines: int) -> Look:
    """Return a look with no size too small to be seen on footage of so many lines.

    Settings that say from how many pixels on they are seen are at least as large, rounded up to
    halves of a px@1080; those that are keyed stay.

    Args:
        look: as it was made.
        lines: of the footage.
    """
    steps = tuple(_visible(step, lines) for step in look.steps)
    return look.model_copy(update={"steps": steps})


def _visible(step: Step, lines: int) -> Step:
    settings = step.settings
    larger: dict[str, Any] = {}
    if isinstance(settings, Bundle):
        larger["steps"] = tuple(_visible(inner, lines) for inner in settings.steps)
    for name, field in type(settings).model_fields.items():
        extra = field.json_schema_extra
        pixels = extra.get("visible_from") if isinstance(extra, dict) else None
        if isinstance(pixels, (int, float)) and name not in step.keys:
            minimum = math.ceil(2 * pixels * REFERENCE_LINES / lines) / 2
            larger |= {name: minimum} if getattr(settings, name) < minimum else {}
    if not larger:
        return step
    return step.model_copy(update={"settings": settings.model_copy(update=larger)})
