"""What a step does to a clip, as one number, so that it can do alike on several.

It is measured with the step fully mixed in. What lies between the picture below and the treated one
is in proportion to the amount, so the amount that does as much on another clip follows.
"""

from collections.abc import Iterator
from typing import Any, NamedTuple

import cv2
import numpy as np

from yearning.core.cache import Cache
from yearning.core.colour.luma import luma_plane
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.footage import Footage
from yearning.core.engine.sampling import read_forward
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import Look, walk_steps
from yearning.core.look.fitting import ClipOverrides, StepFitting, apply_fitting
from yearning.core.picture import Plane
from yearning.core.smoothstep import smoothstep_array
from yearning.core.treatment.assets import Assets
from yearning.core.treatment.base import Effect, Treatment
from yearning.core.treatment.clip_tones import sample_frames

FRAMES = 12
"""That stand for a clip."""

LINES = 270

CACHE_BYTES = 1 << 26

NOISE_FLOOR = 0.5 / 255
"""No footage has less noise: that of 8-bit codes, and more than that of pictures drawn."""

MID_TONES = (0.1, 0.35, 0.65, 0.9)
"""Between which luma the weight of a mid-tone rises, and falls."""

FEWEST = 0.01
"""Where fewer of the pixels are mid-tones, all of them count."""

SQUARED: tuple[Effect, ...] = ("light", "grain")
"""Root mean squares: light counts by how strong it is, and by how much of the picture has it."""

NOTHING = 1e-4
"""An effect below this, of white, is none."""


class EvenAmount(NamedTuple):
    """The amount with which a step does as much on a clip as it is to."""

    amount: float
    """0..1."""
    reached: float
    """The part of what is wanted that it does, 0..1; below 1 where even the whole is too little."""


def even_amount(wanted: float, effect: float) -> EvenAmount | None:
    """The amount that does what is wanted; None where the step does nothing to speak of.

    Args:
        wanted: what the step is to do.
        effect: what it does with an amount of 1.

    >>> even_amount(0.1, 0.2)
    EvenAmount(amount=0.5, reached=1.0)
    >>> even_amount(0.3, 0.2).amount
    1.0
    """
    if effect < NOTHING:
        return None
    amount = wanted / effect
    return EvenAmount(min(amount, 1.0), min(1 / amount, 1.0) if amount > 0 else 1.0)


def effect_of(look: Look, step_id: str) -> Effect:
    """Return what of a step is measured.

    Args:
        look: that has the step.
        step_id: of the step.

    Raises:
        InvalidLookError: there is no such step, or nothing of it is.
    """
    for here, _, step in walk_steps(look.steps):
        if step.id == step_id:
            effect = step.settings.effect if isinstance(step.settings, Treatment) else None
            if effect is None:
                raise InvalidLookError(f"{here}: what a {step.treatment} does is not measured")
            return effect
    raise InvalidLookError(f"the look has no step '{step_id}'")


class EffectMeter:
    """Measures what a step does to a clip.

    Args:
        look: as it stands on the clip.
        step_id: of the step.
        footage: of the clip.
        assets: finds look-up tables and plates.
        cache: of pictures, where several clips are measured within one budget.

    Raises:
        InvalidLookError: there is no such step, or what it does is not measured.
    """

    def __init__(
        self,
        look: Look,
        step_id: str,
        footage: Footage,
        assets: Assets,
        cache: Cache[Any] | None = None,
    ) -> None:
        self.kind = effect_of(look, step_id)
        self.frames = sample_frames(footage.frames, FRAMES)
        cache = Cache[Any](CACHE_BYTES) if cache is None else cache
        size = footage.size.with_height(min(LINES, footage.size.height))

        def evaluator(amount: float) -> Evaluator:
            own = StepFitting(mix={"amount": amount}, bursts=(), on=True)
            made = apply_fitting(look, ClipOverrides(steps={step_id: own})).look
            return Evaluator(made, footage, size, cache, keep="every step", assets=assets)

        self._whole, self._none = evaluator(1.0), evaluator(0.0)
        self._numbers = [each.number_after(step_id) for each in (self._whole, self._none)]
        self._sums = np.zeros(2)

    @property
    def cache_key(self) -> tuple[str, ...]:
        """The same for what does the same to the same clip."""
        pairs = zip((self._whole, self._none), self._numbers, strict=True)
        return (self.kind, *(each.content_key(number) for each, number in pairs))

    def run(self) -> Iterator[int]:
        """Measure frame after frame; yields how many are done."""
        for done, frame in enumerate(self.frames, start=1):
            read_forward(self._whole, frame)
            whole = luma_plane(self._whole.picture_of(frame, self._numbers[0]))
            below = luma_plane(self._none.picture_of(frame, self._numbers[1]))
            self._sums += _sum_change(self.kind, whole, below)
            yield done

    def effect(self) -> float:
        """What the step does with an amount of 1, over the frames that were measured."""
        change, of = self._sums / len(self.frames)
        return float(np.sqrt(change) / of if self.kind in SQUARED else abs(change) / of)


def noise_of(luma: Plane) -> float:
    """The standard deviation of a picture's noise.

    Source: J. Immerkær, Fast Noise Variance Estimation, Computer Vision and Image Understanding
    64(2), 1996; by the median in place of the mean, which edges and texture move less.
    """
    response = cv2.filter2D(luma, cv2.CV_32F, _IMMERKAER, borderType=cv2.BORDER_REFLECT_101)
    return float(np.median(np.abs(response))) / (0.6745 * 6)


_IMMERKAER = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)


def _sum_change(kind: Effect, whole: Plane, below: Plane) -> tuple[float, float]:
    """What a frame adds to a measure: the change, and what it is counted by."""
    change = whole - below
    match kind:
        case "light":
            return float((np.maximum(change, 0) ** 2).mean()), 1.0
        case "mid-tones":
            first, full, falls, last = MID_TONES
            weight = smoothstep_array((below - first) / (full - first))
            weight -= smoothstep_array((below - falls) / (last - falls))
            if weight.mean() < FEWEST:
                weight = np.ones_like(below)
            return float((weight * change).mean()), float(weight.mean())
        case "edges":
            return float(change.mean()), float(max(below.mean(), NOISE_FLOOR))
        case "grain":
            return float((change**2).mean()), max(noise_of(below), NOISE_FLOOR)
