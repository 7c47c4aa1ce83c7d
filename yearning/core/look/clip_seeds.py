"""Seeds that are another for every clip, so that no two share their dust."""

import hashlib
from typing import Protocol

from yearning.core.look.document import Bundle, Look
from yearning.core.look.step import Step

SEEDS = 1 << 31
"""How many seeds there are."""


class KnownByContent(Protocol):
    """A clip, known by what it shows."""

    @property
    def content_id(self) -> str:
        """A string that is equal for the same content, wherever it lies."""


def with_clip_seeds(look: Look, clip: KnownByContent) -> Look:
    """Return a look with the seeds that its steps have on a clip.

    Of steps that say `seed_by_clip`, a seed is made of theirs and of the clip's content: the same
    in preview and render, on any machine.

    Args:
        look: whose steps may say `seed_by_clip`.
        clip: known by its content.
    """
    if not any(_by_clip(step) for step in look.steps):
        return look
    return look.model_copy(
        update={"steps": tuple(_with_clip_seed(step, clip) for step in look.steps)}
    )


def _by_clip(step: Step) -> bool:
    if isinstance(step.settings, Bundle):
        return any(_by_clip(inner) for inner in step.settings.steps)
    return step.seed_by_clip


def _with_clip_seed(step: Step, clip: KnownByContent) -> Step:
    if not _by_clip(step):
        return step
    settings = step.settings
    if isinstance(settings, Bundle):
        inner = tuple(_with_clip_seed(one, clip) for one in settings.steps)
        return step.model_copy(update={"settings": settings.model_copy(update={"steps": inner})})
    seeds = {name: seed_on(getattr(settings, name), clip.content_id) for name in step.seeds}
    changes = {"settings": settings.model_copy(update=seeds), "seed_by_clip": False}
    return step.model_copy(update=changes)


def seed_on(seed: int, content_id: str) -> int:
    """Return the seed that a step has on a clip.

    Args:
        seed: the step's own.
        content_id: of the clip.

    >>> seed_on(1, "one clip") == seed_on(1, "one clip") != seed_on(1, "another")
    True
    """
    digest = hashlib.sha256(f"{seed} {content_id}".encode()).digest()
    return int.from_bytes(digest[:4], "big") % SEEDS
