"""Settings that are a place in the tones: a number, or a percentile of the clip's own tones."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from yearning.core.treatment.settings import setting

FIELD = "percentile"
"""Its only field in a file."""

PERCENTILE_SCHEMA = {
    "type": "object",
    "properties": {FIELD: {"type": "number", "minimum": 0, "maximum": 100}},
    "required": [FIELD],
    "additionalProperties": False,
}
"""JSON Schema of a percentile as files have it."""


@dataclass(frozen=True)
class Percentile:
    """The luma that so many per cent of a clip's pixels lie below; `{"percentile": 94}` in files.

    It is found in the picture that the step reads, over frames spread over the whole clip.
    """

    percent: float
    """0..100."""

    def __str__(self) -> str:
        return f"percentile {self.percent:g}"


if TYPE_CHECKING:
    ToneValue = float | Percentile
else:  # `tone_setting` adds the second form behind the bounds, which are those of the number
    ToneValue = float


class _OrPercentile:
    """What makes a field of a number take a percentile too; the last of its metadata."""

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> CoreSchema:
        def validate(value: Any, number: core_schema.ValidatorFunctionWrapHandler) -> ToneValue:
            if isinstance(value, dict | Percentile):
                return _parse_percentile(value)
            found: float = number(value)
            return found

        return core_schema.no_info_wrap_validator_function(
            validate,
            handler(source),
            serialization=core_schema.plain_serializer_function_ser_schema(_serialize),
        )

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        number = handler(schema["schema"])
        return {**number, **PERCENTILE_SCHEMA, "type": ["number", "object"]}


def _parse_percentile(value: "dict[str, Any] | Percentile") -> Percentile:
    """Return a percentile as files have it, or as it is.

    Raises:
        PydanticCustomError: it is none.
    """
    if isinstance(value, Percentile):
        value = {FIELD: value.percent}
    percent = value.get(FIELD) if set(value) == {FIELD} else None
    if isinstance(percent, int | float) and not isinstance(percent, bool) and 0 <= percent <= 100:
        return Percentile(float(percent))
    raise PydanticCustomError(
        "percentile", 'input should be a number, or {"percentile": P} with P from 0 to 100'
    )


def _serialize(value: "ToneValue") -> Any:
    return {FIELD: value.percent} if isinstance(value, Percentile) else value


def tone_setting(*arguments: Any, **declared: Any) -> Any:
    """Declare a setting that is a place in the tones: annotate it as `ToneValue`.

    Args:
        arguments: as `setting` has them.
        declared: as `setting` has them.
    """
    field = setting(*arguments, **declared)
    field.json_schema_extra["by_clip"] = True
    field.metadata.append(_OrPercentile())
    return field


def tone_number(value: "ToneValue") -> float:
    """Return the number that a formula takes.

    Args:
        value: of a setting, as the evaluator has found it for the clip.

    Raises:
        TypeError: it is a percentile still, whose number only a clip has.
    """
    if isinstance(value, Percentile):
        raise TypeError(f"{value} has no number before it is found in a clip")
    return value


def percentile_settings(settings: object) -> dict[str, Percentile]:
    """Return those settings of a treatment that are percentiles, by their names.

    Args:
        settings: a treatment, or another model; None has none.
    """
    values = getattr(settings, "__dict__", {})
    return {name: value for name, value in values.items() if isinstance(value, Percentile)}
