"""Steps, mixes, keys and bursts as plain objects, and what they are in a look document.

They are values: they do not change, and are equal where they say the same. What they say is checked
when a look is made of them, by the rules and with the words of look files.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from typing import Any

from yearning.core.compositing.blend import Blend
from yearning.core.errors import InvalidLookError
from yearning.core.look import document, step
from yearning.core.look.keyframes import Ease
from yearning.core.look.upgrades import FORMAT
from yearning.core.masks.shapes import Shape
from yearning.core.treatment.base import Treatment


@dataclass(frozen=True)
class Key:
    """A setting's value pinned at a frame, and how it moves to the next key's.

    Args:
        frame: number in the clip, from 0.
        value: as the setting itself is given.
        ease: `hold`, `straight`, `ease`, or the handles `(x1, y1, x2, y2)` of a CSS cubic-bezier.
    """

    frame: int
    value: Any
    ease: Ease = "straight"


@dataclass(frozen=True)
class Burst:
    """Frames in which a step is active, first and last included.

    Args:
        first: frame.
        last: frame.
        ramp: frames within it on which it comes, and goes.
    """

    first: int
    last: int
    ramp: int = 0


@dataclass(frozen=True)
class Mix:
    """How a step's result is laid back on the picture; what is None is as the treatment has it.

    Args:
        blend: blend mode, `screen` for example.
        amount: 0 leaves the picture as it was, 1 lays the result back in full.
        tones: tone window: `(tone, weight)` points over the luma of the picture below.
        mask: shapes that say where the step shows: mappings, as look files have them.
        input: `previous`, `footage`, or the id of an earlier step.
        layer: `own` or `treated`: what another blend mode than the treatment's own lays on.
        out_of_range: `limit` or `keep`: what a blend does with values outside 0..1.
    """

    blend: Blend | None = None
    amount: float | None = None
    tones: Sequence[tuple[float, float]] | None = None
    mask: Sequence[Mapping[str, Any] | Shape] | None = None
    input: str | None = None
    layer: str | None = None
    out_of_range: str | None = None


@dataclass(frozen=True)
class Step:
    """One use of a treatment, or of a bundle of steps.

    Args:
        treatment: for example `Glow(spread=60)`.
        id: its name within the look; made from the treatment's where none is given.
        mix: how its result is laid back.
        keys: by the setting that they pin; those of the mix are `mix.amount`, `mix.tones` and, of
            a shape of its mask, `mix.mask.<id>.<field>`.
        bursts: when it is active; without any, always.
        on: whether it is.
        seed_by_clip: whether its seed is another for every clip, and the same for one always.
        note: what it is there for, in words.
    """

    treatment: "Treatment[Any] | Bundle"
    id: str | None = None
    mix: Mix = Mix()
    keys: Mapping[str, Sequence[Key]] = field(default_factory=dict)
    bursts: Sequence[Burst] = ()
    on: bool = True
    seed_by_clip: bool = False
    note: str = ""

    def with_settings(self, **changes: Any) -> "Step":
        """The same step with other settings of its treatment.

        Raises:
            InvalidLookError: the treatment has no such setting, or refuses the value.
        """
        if isinstance(self.treatment, Bundle):
            raise InvalidLookError("a bundle has no settings; change the steps within")
        kind = type(self.treatment)
        return replace(self, treatment=kind(**(dict(self.treatment) | changes)))


@dataclass(frozen=True, init=False)
class Bundle:
    """Steps that are mixed back as one; the first reads what the bundle reads.

    Args:
        steps: treatments, or steps.
        name: what it is called.
    """

    steps: tuple[Step, ...]
    name: str = ""

    def __init__(self, steps: "Iterable[Treatment[Any] | Bundle | Step]", name: str = "") -> None:
        object.__setattr__(self, "steps", as_steps(steps))
        object.__setattr__(self, "name", name)


def as_steps(steps: "Iterable[Treatment[Any] | Bundle | Step]") -> tuple[Step, ...]:
    """Steps, of which those that are treatments or bundles alone are made as they come."""
    made = []
    for i, one in enumerate(steps):
        if isinstance(one, Treatment | Bundle):
            made.append(Step(one))
        elif isinstance(one, Step):
            made.append(one)
        else:
            raise InvalidLookError(
                f"steps[{i}]: a treatment, a Bundle or a Step, not {type(one).__name__}"
            )
    return tuple(made)


def steps_from(steps: Sequence[step.Step]) -> tuple[Step, ...]:
    """Steps of a look document as plain objects."""
    return tuple(_step_from(one) for one in steps)


def _step_from(one: step.Step) -> Step:
    settings = one.settings
    if isinstance(settings, document.Bundle):
        name = one.name if isinstance(one, document.BundleStep) else ""
        treatment: Treatment[Any] | Bundle = Bundle(steps_from(settings.steps), name)
    else:
        assert isinstance(settings, Treatment)
        treatment = settings
    return Step(
        treatment,
        one.id,
        Mix(**{part.name: getattr(one.mix, part.name) for part in fields(Mix)}),
        {n: tuple(Key(k.frame, k.value, k.ease) for k in keys) for n, keys in one.keys.items()},
        tuple(Burst(burst.first, burst.last, burst.ramp) for burst in one.bursts),
        one.on,
        one.seed_by_clip,
        one.note,
    )


def document_of(steps: Sequence[Step], name: str) -> document.Look:
    """Return steps as a look document; ids that are left out are made.

    Args:
        steps: in their order.
        name: of the look.

    Raises:
        InvalidLookError: it names each place that is wrong.
    """
    taken = set(_ids(steps))
    written = [_write_step(one, taken) for one in steps]
    return document.parse_look({"format": FORMAT, "name": name, "steps": written})


def _ids(steps: Sequence[Step]) -> Iterable[str]:
    for one in steps:
        if one.id is not None:
            yield one.id
        if isinstance(one.treatment, Bundle):
            yield from _ids(one.treatment.steps)


def _write_step(one: Step, taken: set[str]) -> dict[str, Any]:
    """A step as a look file has it."""
    treatment = one.treatment
    kind = "bundle" if isinstance(treatment, Bundle) else treatment.kind
    data: dict[str, Any] = {
        "id": _fresh_id(kind, taken) if one.id is None else one.id,
        "treatment": kind,
        "mix": _written_mix(one.mix),
        "keys": {
            name: [{"frame": k.frame, "value": k.value, "ease": k.ease} for k in keys]
            for name, keys in one.keys.items()
        },
        "bursts": [{"from": b.first, "to": b.last, "ramp": b.ramp} for b in one.bursts],
        "on": one.on,
        "seed_by_clip": one.seed_by_clip,
        "note": one.note,
    }
    if isinstance(treatment, Bundle):
        inner = [_write_step(each, taken) for each in treatment.steps]
        return {**data, "name": treatment.name, "settings": {"steps": inner}}
    return {**data, "settings": treatment.model_dump()}


def _written_mix(given: Mix) -> dict[str, Any]:
    said = {part.name: getattr(given, part.name) for part in fields(given)}
    if given.mask is not None:
        said["mask"] = [
            shape.model_dump(by_alias=True) if isinstance(shape, Shape) else dict(shape)
            for shape in given.mask
        ]
    return {name: value for name, value in said.items() if value is not None}


def _fresh_id(kind: str, taken: set[str]) -> str:
    """An id of a kind that none of `taken` is, and add it to them."""
    n = 1
    while f"{kind}-{n}" in taken:
        n += 1
    taken.add(f"{kind}-{n}")
    return f"{kind}-{n}"
