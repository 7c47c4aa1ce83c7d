"""Timelines of OpenTimelineIO checked before its parser sees them.

The parser takes fields of the wrong kind, ends the process at some of them, and follows references
that lead back to themselves. The fields are those of OpenTimelineIO's file format (its
documentation, "OpenTimelineIO Serialized Data Documentation"), in the kinds that it gives them.
"""

import json
from collections.abc import Callable, Iterator
from typing import Any, TypeGuard

from yearning.core.json_text import JsonError, check_json
from yearning.media.errors import MediaError

MAX_DEPTH = 256
"""Of arrays and objects: sixteen compositions within each other are fifty, metadata the rest."""

MAX_OBJECTS = 2_000_000
"""Objects and arrays of a timeline: twenty thousand clips have a tenth of that."""

FASTEST = 1_000_000.0
"""Units a second of a time; samples of sound are counted at 192 000."""

LONGEST = 1_000_000.0
"""Seconds from a time to 0, on either side: eleven days."""

SCHEMA = "OTIO_SCHEMA"

REFERENCE = "SerializableObjectRef"
"""What stands for an object that stands elsewhere: it may lead round. The library writes none."""


def check_timeline(text: bytes, name: str) -> None:
    """Refuse a text that is no timeline, or that none of OpenTimelineIO's own writers makes.

    Args:
        text: in UTF-8.
        name: of the file, where errors name it.

    Raises:
        MediaError: it is no JSON; it is nested too deeply or has too many objects; a field is of
            the wrong kind, a rate or a time beyond its bounds, or refers to another object.
    """
    try:
        check_json(text, MAX_DEPTH)
        data = json.loads(text)
    except JsonError as error:
        raise MediaError(f"{name}: not a timeline that can be read: {error}") from None
    except (ValueError, RecursionError) as error:
        said = " ".join(str(error).split())[:200]
        raise MediaError(f"{name}: not a timeline that can be read: {said}") from None
    if not isinstance(data, dict) or SCHEMA not in data:
        raise MediaError(f"{name}: holds no timeline")
    for count, (place, found) in enumerate(_objects(data)):
        if count > MAX_OBJECTS:
            raise MediaError(f"{name}: holds more than {MAX_OBJECTS} objects")
        wrong = _fault(found)
        if wrong is not None:
            raise MediaError(f"{name}: {place or 'the timeline'}: {wrong}; export it anew")


def _objects(top: Any) -> Iterator[tuple[str, dict[str, Any]]]:
    """Each object that has a schema, with its place."""
    waiting: list[tuple[str, Any]] = [("", top)]
    while waiting:
        place, value = waiting.pop()
        if isinstance(value, dict):
            if SCHEMA in value:
                yield place, value
            inside = [(f"{place}.{key}" if place else key, each) for key, each in value.items()]
        else:
            inside = [(f"{place}[{n}]", each) for n, each in enumerate(value)]
        waiting += [(where, each) for where, each in inside if isinstance(each, dict | list)]


def _fault(found: dict[str, Any]) -> str | None:
    """What is wrong with an object that has a schema; None for nothing."""
    schema = found[SCHEMA]
    if not isinstance(schema, str):
        return f"{SCHEMA} is no text"
    if schema.partition(".")[0] == REFERENCE:
        return "it refers to another object, where all stand by themselves"
    for field, (is_right, kind) in FIELDS.items():
        if field in found and not is_right(found[field]):
            return f"{field} is no {kind}"
    if schema.startswith("RationalTime."):
        return _time_fault(found)
    if schema.startswith("TimeRange."):
        return _range_fault(found)
    return None


def _time_fault(found: dict[str, Any]) -> str | None:
    rate, value = found.get("rate"), found.get("value")
    if not _is_number(rate) or not _is_number(value):
        return "a time has a rate and a value, both numbers"
    if not 0 < rate <= FASTEST:
        return f"a rate of {rate:g}, where it is above 0 and at most {FASTEST:g}"
    if abs(value / rate) > LONGEST:
        return f"a time of {value / rate:g} s, where {LONGEST:g} is the most"
    return None


def _range_fault(found: dict[str, Any]) -> str | None:
    duration = found.get("duration")
    if not _is_object(found.get("start_time")) or not _is_object(duration):
        return "a range has a start_time and a duration"
    value = duration.get("value")
    if _is_number(value) and value < 0:
        return "a duration is below 0"
    return None


def _is_number(value: Any) -> TypeGuard[int | float]:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _is_object(value: Any) -> TypeGuard[dict[str, Any]]:
    return isinstance(value, dict)


def _has_schema(value: Any) -> bool:
    return isinstance(value, dict) and isinstance(value.get(SCHEMA), str)


def _is_text_or_none(value: Any) -> bool:
    return value is None or isinstance(value, str)


def _is_list(value: Any) -> bool:
    return isinstance(value, list) and all(map(_has_schema, value))


def _is(schema: str) -> Callable[[Any], bool]:
    """Whether a value is an object of a schema, or null."""
    return lambda value: value is None or (_has_schema(value) and value[SCHEMA].startswith(schema))


FIELDS: dict[str, tuple[Callable[[Any], bool], str]] = {
    "name": (_is_text_or_none, "text"),
    "kind": (_is_text_or_none, "text"),
    "target_url": (_is_text_or_none, "text"),
    "effect_name": (_is_text_or_none, "text"),
    "metadata": (_is_object, "object"),
    "enabled": (lambda value: isinstance(value, bool), "true or false"),
    "children": (_is_list, "list of objects"),
    "effects": (_is_list, "list of objects"),
    "markers": (_is_list, "list of objects"),
    "tracks": (_has_schema, "object"),
    "media_reference": (lambda value: value is None or _has_schema(value), "object"),
    "media_references": (_is_object, "object"),
    "active_media_reference_key": (_is_text_or_none, "text"),
    "source_range": (_is("TimeRange."), "range"),
    "available_range": (_is("TimeRange."), "range"),
    "global_start_time": (_is("RationalTime."), "time"),
    "in_offset": (_is("RationalTime."), "time"),
    "out_offset": (_is("RationalTime."), "time"),
    "time_scalar": (_is_number, "number"),
}
"""Fields of any schema, whether a value may stand there, and what it should be."""
