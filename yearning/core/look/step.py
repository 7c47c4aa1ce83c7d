"""A step of a look: a treatment's settings, how it is mixed back, and when."""

from collections.abc import Mapping, Sequence
from functools import cache
from itertools import pairwise
from typing import Annotated, Any, ClassVar

from annotated_types import Ge, Le
from pydantic import BaseModel, Field, TypeAdapter, ValidationError, model_validator
from pydantic.fields import FieldInfo
from pydantic_core import PydanticCustomError

from yearning.core.compositing.tone_window import FLAT
from yearning.core.look.bursts import MAX_BURSTS, Burst, burst_weight
from yearning.core.look.keyframes import MAX_KEYS, Key, value_at
from yearning.core.look.mix import KEYABLE_OF_MIX, MASK, Mix
from yearning.core.masks.shapes import BezierPath, Shape
from yearning.core.treatment.base import Treatment
from yearning.core.treatment.tone_values import Percentile
from yearning.core.validation import StrictModel

Location = tuple[str | int, ...]
"""A place within a step: names of fields and indices, from the outside in."""


class Step(StrictModel):
    """One use of a treatment: its settings, how it is mixed back, and when it is active."""

    kind: ClassVar[str]
    default_mix: ClassVar[Mapping[str, Any]] = {}
    """Fields of the mix where a file leaves them out."""

    id: str = Field(min_length=1, max_length=64, description="A name of its own within the look.")
    treatment: str
    settings: BaseModel
    """A treatment, or the steps of a bundle."""
    mix: Mix
    keys: dict[str, tuple[Key, ...]] = Field(
        default_factory=dict,
        description="Keys by the setting they pin; those of the mix are mix.amount, mix.tones, and "
        "of a shape of its mask mix.mask.<id>.<field>.",
    )
    bursts: tuple[Burst, ...] = Field(
        (), max_length=MAX_BURSTS, description="When it is active; with none, always."
    )
    on: bool = True
    seed_by_clip: bool = Field(
        False, description="Its seed is another for every clip, and the same for one always."
    )
    note: str = Field("", max_length=500, description="What it is there for, in words.")

    @model_validator(mode="before")
    @classmethod
    def _with_defaults(cls, data: Any) -> Any:
        """Fill in settings and mix that were left out with the treatment's defaults."""
        if not isinstance(data, dict):
            return data
        mix = data.get("mix", {})
        if isinstance(mix, dict):
            mix = dict(cls.default_mix) | mix
        return {**data, "settings": data.get("settings", {}), "mix": mix}

    @model_validator(mode="after")
    def _check_bursts_and_keys(self) -> "Step":
        for i, (before, burst) in enumerate(pairwise(self.bursts), start=1):
            if burst.first <= before.last:
                raise _error(
                    ("bursts", i),
                    f"it begins at frame {burst.first}, before the one at {before.first} to "
                    f"{before.last} is over; bursts follow each other and do not cross",
                )
        keys = {self._full_name(name): (name, self._parsed_keys(name)) for name in self.keys}
        if len(keys) < len(self.keys):
            raise _error(
                ("keys",), "the mix's amount or tones are keyed twice, by both their names"
            )
        # Assigned past the frozen model: the same keys, written in the one way that is compared.
        self.__dict__["keys"] = {name: parsed for name, (_, parsed) in keys.items() if parsed}
        checked: set[int] = set()
        for name, parsed in keys.values():
            for i, key in enumerate(parsed):
                if key.frame in checked:
                    continue
                checked.add(key.frame)
                try:
                    self.at(key.frame)
                except ValidationError as error:
                    raise _error(("keys", name, i), _message(error)) from None
        return self

    @model_validator(mode="after")
    def _has_a_seed(self) -> "Step":
        if self.seed_by_clip and not self.seeds:
            raise _error(("seed_by_clip",), f"a {self.treatment} has no seed")
        return self

    @property
    def seeds(self) -> list[str]:
        """The settings that are seeds."""
        kind = type(self.settings)
        return [name for name in kind.model_fields if setting_unit(kind, name) == "seed"]

    def _full_name(self, name: str) -> str:
        """What a name in `keys` stands for: a setting, or `mix.` and a field of the mix."""
        if name in type(self.settings).model_fields and isinstance(self.settings, Treatment):
            return name
        return f"mix.{name}" if name in KEYABLE_OF_MIX else name

    def _parsed_keys(self, written: str) -> tuple[Key, ...]:
        """The keys under a name in the order of their frames, their values of the field's type."""
        name = self._full_name(written)
        model, field = self._keyed_field(name)
        if field not in _keyable(model):
            names = [*_keyable(type(self.settings)), *(f"mix.{f}" for f in KEYABLE_OF_MIX)]
            names += [f"{MASK}{s.id}.{f}" for s in self.mix.mask for f in s.keyed]
            raise _error(
                ("keys", written), f"no such thing to key; here keys pin {', '.join(names)}"
            )
        if len(self.keys[written]) > MAX_KEYS:
            raise _error(("keys", written), f"there are at most {MAX_KEYS} keys")
        parsed: list[Key] = []
        for i, key in enumerate(self.keys[written]):
            try:
                value = _field_adapter(model, field).validate_python(key.value)
            except ValidationError as error:
                raise _error(("keys", written, i, "value"), _message(error)) from None
            if any(other.frame == key.frame for other in parsed):
                raise _error(
                    ("keys", written, i), f"there are two keys at frame {key.frame}; keep one"
                )
            if parsed and isinstance(value, Percentile) != isinstance(parsed[0].value, Percentile):
                raise _error(
                    ("keys", written, i, "value"), "keys are all numbers, or all percentiles"
                )
            value = FLAT if value is None else value  # no tone window is one that is flat
            if model is BezierPath and field == "points" and parsed:
                _check_counts(written, i, value, parsed[0].value)
            parsed.append(key.model_copy(update={"value": value}))
        return tuple(sorted(parsed, key=lambda key: key.frame))

    def _keyed_field(self, name: str) -> tuple[type[BaseModel], str]:
        """The model that has what a name in `keys` pins, and the field there."""
        if name.startswith(MASK):
            id, _, field = name.removeprefix(MASK).rpartition(".")
            shape = self.mix.shape(id)
            return (Shape, "") if shape is None else (type(shape), field)
        if name.startswith("mix."):
            return Mix, name.removeprefix("mix.")
        return type(self.settings), name

    @property
    def is_timed(self) -> bool:
        """Whether it changes with the frame by keys or bursts."""
        return bool(self.keys or self.bursts)

    def at(self, frame: int) -> "Step":
        """The step as it is at a frame: plain values, without keys and bursts.

        Raises:
            ValidationError: values that the keys give there do not go together.
        """
        if not self.is_timed:
            return self
        settings, mix = self.settings, self.mix
        of_mix: dict[str, Any] = {}
        of_settings: dict[str, Any] = {}
        of_shapes: dict[str, dict[str, Any]] = {}
        for name, keys in self.keys.items():
            model, field = self._keyed_field(name)
            smooth = setting_unit(model, field) == "points"
            value = clamp_to_bounds(model, field, value_at(keys, frame, smooth=smooth))
            if name.startswith(MASK):
                of_shapes.setdefault(name.removeprefix(MASK).rpartition(".")[0], {})[field] = value
            else:
                (of_mix if model is Mix else of_settings)[field] = value
        if of_shapes:
            of_mix["mask"] = tuple(
                type(shape).model_validate({**shape.model_dump(), **of_shapes[shape.id]})
                if shape.id in of_shapes
                else shape
                for shape in mix.mask
            )
        amount = of_mix.get("amount", mix.amount) * burst_weight(self.bursts, frame)
        mix = mix.model_copy(update={**of_mix, "amount": amount})
        if of_settings:
            settings = type(settings).model_validate({**dict(settings), **of_settings})
        changes: dict[str, Any] = {"settings": settings, "mix": mix, "keys": {}, "bursts": ()}
        return self.model_copy(update=changes)

    def last_frame(self) -> tuple[int, Location]:
        """The last frame that its keys and bursts name, and where; −1 where they name none."""
        named: list[tuple[int, Location]] = [(-1, ())]
        for name, keys in self.keys.items():
            named += [(key.frame, ("keys", name, i)) for i, key in enumerate(keys)]
        named += [(burst.last, ("bursts", i)) for i, burst in enumerate(self.bursts)]
        return max(named, key=lambda frame_and_place: frame_and_place[0])


NOT_KEYABLE = (
    "choice",
    "switch",
    "seed",
    "file",
    "ratio",
    "pace",
    "marks",
    "blocks",
    "lobes",
    "tints",
    "plate",
    "track",
    "grain",
    "frame",
    "speed",
    "spans",
)
"""Units of settings that no keys pin: there is nothing between two of their values, or a clip has
one for all of its frames. What moves at a `pace` is computed from the frame's number alone, not
from all that came before it; another pace at each frame would throw it about."""


def _field_info(model: type[BaseModel], field: str) -> FieldInfo:
    """A field by its name in files."""
    for name, info in model.model_fields.items():
        if (info.alias or name) == field:
            return info
    raise KeyError(field)


def setting_unit(model: type[BaseModel], field: str) -> str | None:
    """Return the unit that a treatment's setting was declared with; None of no setting.

    Args:
        model: of the treatment, or of a part of its settings.
        field: the setting's name.
    """
    extra = _field_info(model, field).json_schema_extra
    return str(extra.get("unit")) if isinstance(extra, dict) else None


def keyable_settings(settings: type[BaseModel]) -> list[str]:
    """The settings of a treatment that keys can pin; none of a bundle."""
    if not issubclass(settings, Treatment):
        return []
    fields = settings.model_fields
    return [name for name in fields if setting_unit(settings, name) not in NOT_KEYABLE]


def _keyable(model: type[BaseModel]) -> Sequence[str]:
    """The fields of a treatment, a mix or a shape that keys can pin."""
    if model is Mix:
        return KEYABLE_OF_MIX
    return model.keyed if issubclass(model, Shape) else keyable_settings(model)


def _check_counts(written: str, i: int, points: Sequence[Any], first: Sequence[Any]) -> None:
    """Make sure that a path has as many points at one key as at another."""
    if len(points) != len(first):
        raise _error(
            ("keys", written, i, "value"),
            f"a path keeps its number of points from key to key, {len(first)}, not {len(points)}",
        )


@cache
def _field_adapter(model: type[BaseModel], field: str) -> TypeAdapter[Any]:
    """Validates values of one field by themselves."""
    info = _field_info(model, field)
    return TypeAdapter(Annotated[info.annotation, None, *info.metadata])  # type: ignore[arg-type]


def clamp_to_bounds(model: type[BaseModel], field: str, value: Any) -> Any:
    """Return a value within the bounds of its field.

    Args:
        model: of the treatment, or of a part of its settings.
        field: the setting's name.
        value: as an ease has it, which may overshoot, or as it was found in a clip.
    """
    if isinstance(value, Percentile):
        return Percentile(min(max(value.percent, 0.0), 100.0))
    for bound in _field_info(model, field).metadata:
        if isinstance(bound, Ge):
            value = max(value, type(value)(bound.ge))
        if isinstance(bound, Le):
            value = min(value, type(value)(bound.le))
    return value


def _message(error: ValidationError) -> str:
    return error.errors()[0]["msg"].removeprefix("Value error, ")


def _error(location: Location, message: str) -> PydanticCustomError:
    """A validation error at a place within a step."""
    return PydanticCustomError("within", "{what}", {"what": message, "place": location})
