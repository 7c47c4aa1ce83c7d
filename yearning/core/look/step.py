"""A step of a look: a treatment's settings, how it is mixed back, and when."""

from functools import cache
from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, Any, ClassVar

from annotated_types import Ge, Le
from pydantic import (
    BaseModel,
    Field,
    TypeAdapter,
    ValidationError,
    field_validator,
    model_validator,
)
from pydantic_core import PydanticCustomError

from yearning.core.compositing.blend import Blend
from yearning.core.compositing.tone_window import FLAT, Tones
from yearning.core.look.keyframes import MOST_BURSTS, MOST_KEYS, Burst, Key, burst_weight, value_at
from yearning.core.treatment.base import Treatment
from yearning.core.validation import Strict

if TYPE_CHECKING:
    from yearning.core.look.document import Bundle

SO_FAR, AS_SHOT = "so far", "as shot"
"""What a step may read besides another step: the picture before it, or the footage."""


class Mix(Strict):
    """How a step's result is laid back on the picture."""

    blend: Blend = Field("normal", description="Blend mode.")
    amount: float = Field(1.0, ge=0, le=1, description="0 leaves the picture as it was.")
    tones: Tones | None = Field(
        None, description="Tone window: [tone, weight] points over the luma of the picture below."
    )
    mask: Any = Field(None, description="Mask; not in this version, leave it out.")
    reads: str = Field(
        SO_FAR,
        min_length=1,
        max_length=64,
        description="What the step reads: 'so far', 'as shot', or the id of an earlier step.",
    )

    @field_validator("tones", mode="before")
    @classmethod
    def _none_left_out(cls, value: Any) -> Any:
        return value or None

    @field_validator("mask")
    @classmethod
    def _not_yet(cls, value: Any) -> None:
        if value not in (None, [], {}):
            raise ValueError("is not in this version of Yearning yet; leave it out")


class Step(Strict):
    """One use of a treatment: its settings, and how it is mixed back."""

    kind: ClassVar[str]
    mixed: ClassVar[dict[str, Any]] = {}
    """What a mix is where it is not said."""

    id: str = Field(min_length=1, max_length=64, description="A name of its own within the look.")
    treatment: str
    settings: "Treatment | Bundle"
    mix: Mix
    keys: dict[str, tuple[Key, ...]] = Field(
        default_factory=dict,
        description="Keys by the setting they pin; those of the mix are mix.amount and mix.tones.",
    )
    bursts: tuple[Burst, ...] = Field(
        (), max_length=MOST_BURSTS, description="When it is active; with none, always."
    )
    on: bool = True

    @model_validator(mode="before")
    @classmethod
    def _mixed_as_its_treatment(cls, data: Any) -> Any:
        """What the mix leaves out is as the treatment has it: a glow screens."""
        if not isinstance(data, dict):
            return data
        mix = data.get("mix", {})
        if isinstance(mix, dict):
            mix = cls.mixed | mix
        return {**data, "settings": data.get("settings", {}), "mix": mix}

    @model_validator(mode="after")
    def _in_order(self) -> "Step":
        for i, (before, burst) in enumerate(pairwise(self.bursts), start=1):
            if burst.first <= before.last:
                raise _at(
                    ("bursts", i),
                    f"it begins at frame {burst.first}, before the one at {before.first} to "
                    f"{before.last} is over; bursts follow each other and do not cross",
                )
        keys = {self._keyed(name): (name, self._in_kind(name)) for name in self.keys}
        if len(keys) < len(self.keys):
            raise _at(("keys",), "the mix's amount or tones are keyed twice, by both their names")
        # frozen, and not another model: what is written in another way is the same step
        self.__dict__["keys"] = {name: kept for name, (_, kept) in keys.items() if kept}
        for said, kept in keys.values():
            for i, key in enumerate(kept):
                try:
                    self.at(key.frame)
                except ValidationError as error:
                    message = error.errors()[0]["msg"].removeprefix("Value error, ")
                    raise _at(("keys", said, i), message) from None
        return self

    def _keyed(self, name: str) -> str:
        """What a name of keys stands for: a setting, or `mix.` and a field of the mix."""
        if name in type(self.settings).model_fields and isinstance(self.settings, Treatment):
            return name
        return f"mix.{name}" if name in KEYED_OF_MIX else name

    def _in_kind(self, said: str) -> tuple[Key, ...]:
        """Keys in the order of their frames, their values as the setting has them."""
        name = self._keyed(said)
        holder: type[BaseModel] = Mix if name.startswith("mix.") else type(self.settings)
        field = name.removeprefix("mix.")
        known = KEYED_OF_MIX if holder is Mix else keyable(holder)
        if field not in known:
            may = ", ".join([*keyable(type(self.settings)), *(f"mix.{f}" for f in KEYED_OF_MIX)])
            raise _at(("keys", said), f"no such thing to key; here keys pin {may}")
        if len(self.keys[said]) > MOST_KEYS:
            raise _at(("keys", said), f"there are at most {MOST_KEYS} keys")
        kept: list[Key] = []
        for i, key in enumerate(self.keys[said]):
            try:
                value = _kind_of(holder, field).validate_python(key.value)
            except ValidationError as error:
                message = error.errors()[0]["msg"].removeprefix("Value error, ")
                raise _at(("keys", said, i, "value"), message) from None
            if any(other.frame == key.frame for other in kept):
                raise _at(("keys", said, i), f"there are two keys at frame {key.frame}; keep one")
            value = FLAT if value is None else value  # the tones: none left out
            kept.append(key.model_copy(update={"value": value}))
        return tuple(sorted(kept, key=lambda key: key.frame))

    @property
    def timed(self) -> bool:
        """Whether it changes with the frame by keys or bursts."""
        return bool(self.keys or self.bursts)

    def at(self, frame: int) -> "Step":
        """The step as it is at a frame, without keys and bursts.

        Raises:
            ValidationError: what the keys say there does not go together.
        """
        if not self.timed:
            return self
        settings, mix = self.settings, self.mix
        of_mix: dict[str, Any] = {}
        of_settings: dict[str, Any] = {}
        for name, keys in self.keys.items():
            field = name.removeprefix("mix.")
            holder = Mix if field != name else type(settings)
            smooth = _unit(holder, field) == "points"
            value = _within(holder, field, value_at(keys, frame, smooth=smooth))
            (of_mix if holder is Mix else of_settings)[field] = value
        amount = of_mix.get("amount", mix.amount) * burst_weight(self.bursts, frame)
        mix = mix.model_copy(update={**of_mix, "amount": amount})
        if of_settings:
            settings = type(settings).model_validate({**dict(settings), **of_settings})
        changes: dict[str, Any] = {"settings": settings, "mix": mix, "keys": {}, "bursts": ()}
        return self.model_copy(update=changes)

    def last_frame(self) -> tuple[int, tuple[str | int, ...]]:
        """The last frame that its keys and bursts name, and where; −1 where they name none."""
        named: list[tuple[int, tuple[str | int, ...]]] = [(-1, ())]
        for name, keys in self.keys.items():
            named += [(key.frame, ("keys", name, i)) for i, key in enumerate(keys)]
        named += [(burst.last, ("bursts", i)) for i, burst in enumerate(self.bursts)]
        return max(named, key=lambda at: at[0])


KEYED_OF_MIX = ("amount", "tones")

UNKEYED = (
    "choice",
    "switch",
    "seed",
    "file",
    "ratio",
    "pace",
    "marks",
    "blocks",
    "tints",
    "plate",
    "frame",
    "speed",
    "spans",
)
"""Units of settings that no keys pin: there is nothing between two of their values, or a clip has
one for all of its frames. What moves at a `pace` is told from the frame alone, not from all that
came before it; another pace at each frame would throw it about."""


def _unit(holder: type[BaseModel], field: str) -> str | None:
    extra = holder.model_fields[field].json_schema_extra
    return str(extra.get("unit")) if isinstance(extra, dict) else None


def keyable(settings: type[BaseModel]) -> list[str]:
    """The settings of a treatment that keys can pin."""
    if not issubclass(settings, Treatment):
        return []
    return [name for name in settings.model_fields if _unit(settings, name) not in UNKEYED]


@cache
def _kind_of(holder: type[BaseModel], field: str) -> TypeAdapter[Any]:
    """Takes values of a field alone."""
    info = holder.model_fields[field]
    return TypeAdapter(Annotated[info.annotation, info])  # type: ignore[arg-type]


def _within(holder: type[BaseModel], field: str, value: Any) -> Any:
    """A number within the field's bounds, beyond which an ease may throw it."""
    for bound in holder.model_fields[field].metadata:
        if isinstance(bound, Ge):
            value = max(value, type(value)(bound.ge))
        if isinstance(bound, Le):
            value = min(value, type(value)(bound.le))
    return value


def _at(place: tuple[str | int, ...], what: str) -> PydanticCustomError:
    """A complaint about a place within a step."""
    return PydanticCustomError("within", "{what}", {"what": what, "place": place})
