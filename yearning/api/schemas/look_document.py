"""Looks in the OpenAPI document: a step is a union by its treatment, as look files have it.

Routes hand looks on as parsed JSON, which the core alone checks. Here they get their types in the
document: `Look` as it is answered, with every field in it, and `LookInput` as it may be sent, with
what has a default left out.
"""

from collections.abc import Iterator
from typing import Annotated, Any

from pydantic import WithJsonSchema

from yearning.core.look.document import look_schema
from yearning.core.look.fitting import fitting_schema
from yearning.core.treatment.tone_values import PERCENTILE_SCHEMA
from yearning.core.treatments import NAME, is_foreign

COMPONENT = "x-component"
"""In a schema, stands for the component of that name until the document is whole."""

LookDocument = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "Look"})]
LookInput = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "LookInput"})]
StepDocument = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "Step"})]
StepInput = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "StepInput"})]
FittingDocument = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "Fitting"})]
FittingInput = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "FittingInput"})]
OutlineInput = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "OutlineInput"})]
OutlineDocument = Annotated[dict[str, Any], WithJsonSchema({COMPONENT: "Outline"})]
SettingValue = Annotated[Any, WithJsonSchema({COMPONENT: "SettingValue"})]

JsonSchema = dict[str, Any]

USED = ("Fitting", "FittingInput", "Look", "LookInput", "Outline", "OutlineInput", "StepInput")
"""What requests and responses consist of."""

SHARED = ("Burst",)
"""Models of the core that responses have by themselves, too."""


def _ref(name: str) -> JsonSchema:
    return {"$ref": f"#/components/schemas/{name}"}


def _tuples(*items: str) -> JsonSchema:
    """An array of tuples of those types."""
    each = [{"type": item} for item in items]
    return {
        "type": "array",
        "items": {
            "type": "array",
            "prefixItems": each,
            "minItems": len(each),
            "maxItems": len(each),
        },
    }


SETTING_VALUE: JsonSchema = {
    "title": "SettingValue",
    "description": "What a setting may be: a number, a word or a switch; or rows of them: a place, "
    "points of a curve or a path, stops of a ramp, blocks, lobes, a bundle's steps; or a "
    "percentile of the clip's tones.",
    "anyOf": [
        {"type": "number"},
        {"type": "string"},
        {"type": "boolean"},
        {"type": "array", "items": {"type": "number"}},
        {"type": "array", "items": {"type": "string"}},
        _tuples("number", "number"),
        _tuples("number", "string"),
        _tuples(*["number"] * 6),
        {"type": "array", "items": {COMPONENT: "PlacedBlock"}},
        {"type": "array", "items": {COMPONENT: "PlacedLobe"}},
        {"type": "array", "items": {COMPONENT: "Step"}},
        PERCENTILE_SCHEMA,
    ],
}


def components() -> dict[str, JsonSchema]:
    """The components that looks consist of, by name; those that are sent end in `Input`."""
    schema = look_schema()
    definitions: dict[str, JsonSchema] = schema.pop("$defs")
    schema.pop("$schema")
    kinds = [name for name, one in definitions.items() if _is_own_step(one)]
    definitions["Key"]["properties"]["value"] = {
        "anyOf": [{COMPONENT: "SettingValue"}, {"type": "null"}],
        "description": "As the setting itself is written.",
    }
    shape = definitions["Mix"]["properties"]["mask"]["items"]
    definitions["Mix"]["properties"]["mask"]["items"] = {COMPONENT: "Shape"}
    definitions["Bundle"]["properties"]["steps"]["items"] = {COMPONENT: "Step"}
    schema["properties"]["steps"]["items"] = {COMPONENT: "Step"}
    made = {
        **definitions,
        **_fittings(),
        "OpenMixFields": _mix_fields(definitions["Mix"]),
        "OpenStep": _open_step(definitions["GlowStep"]),
        "OpenMix": _open_mix(definitions["Mix"]),
        "OpenShape": _open_shape(definitions["LinkedShape"]),
        "Step": {"oneOf": [{COMPONENT: name} for name in (*kinds, "OpenStep")]},
        "Shape": {"oneOf": shape["oneOf"]},
        "Outline": {"oneOf": [{COMPONENT: n} for n in ("Ellipse", "Rectangle", "BezierPath")]},
        "Look": schema,
        "SettingValue": SETTING_VALUE,
    }
    out: dict[str, JsonSchema] = {}
    for name, one in made.items():
        out[name] = _complete(_with_suffixed_references(one, ""))
        out[f"{name}Input"] = _with_suffixed_references(one, "Input")
    needed = set().union(*(_named_by(name, out) for name in USED))  # of foreign ones nothing
    return {name: one for name, one in out.items() if name in needed}


def _is_own_step(schema: JsonSchema) -> bool:
    kind = schema.get("properties", {}).get("treatment")
    return kind is not None and not is_foreign(kind["const"])


def _named_by(name: str, schemas: JsonSchema) -> set[str]:
    """The components that one consists of, itself among them."""
    found: set[str] = set()
    left = [name]
    while left:
        here = left.pop()
        if here not in found:
            found.add(here)
            left += [ref.rpartition("/")[2] for ref in _refs(schemas[here])]
    return found


def _refs(node: Any) -> Iterator[str]:
    if isinstance(node, dict):
        if "$ref" in node:
            yield node["$ref"]
        node = list(node.values())
    if isinstance(node, list):
        for one in node:
            yield from _refs(one)


def _fittings() -> dict[str, JsonSchema]:
    """What holds for one clip alone; keys and bursts are those of looks."""
    schema = fitting_schema()
    of_step = schema.pop("$defs")["StepFitting"]
    del schema["$schema"], schema["required"]
    of_step["properties"]["settings"]["additionalProperties"] = {COMPONENT: "SettingValue"}
    of_step["properties"]["mix"] = {COMPONENT: "OpenMixFields"}
    return {"Fitting": schema, "StepFitting": of_step}


def _open_step(like: JsonSchema) -> JsonSchema:
    """The step of any treatment of another package; every other step has its form too."""
    own = {
        "treatment": {
            "type": "string",
            "pattern": f"^{NAME.pattern}$",
            "title": "Treatment",
        },
        "settings": {"type": "object", "additionalProperties": {COMPONENT: "SettingValue"}},
        "mix": {COMPONENT: "OpenMix"},
        "name": {"type": "string", "title": "Name", "description": "Of a bundle alone."},
    }
    return {
        **_schema_with(like, own, ["id", "treatment", "settings", "mix", "on"]),
        "title": "OpenStep",
        "description": "A step of a treatment of another package, by its full name. Steps of every "
        "treatment have this form.",
    }


def _open_mix(like: JsonSchema) -> JsonSchema:
    mask = {"type": "array", "items": {COMPONENT: "OpenShape"}, "maxItems": 32, "title": "Mask"}
    opened = _schema_with(like, {"mask": mask}, ["blend", "amount"])
    return {**opened, "title": "OpenMix", "description": "A mix, in the form of every step's."}


def _mix_fields(like: JsonSchema) -> JsonSchema:
    about = "Fields of the mix; a mask stands in the place of the look's, with its keys."
    return {
        **_open_mix(like),
        "title": "OpenMixFields",
        "description": about,
        "required": [],
    }


def _open_shape(like: JsonSchema) -> JsonSchema:
    own = {
        "kind": {"type": "string", "description": "None of one that is the same as another."},
        "same_as": {"type": "string", "description": "A step's id, a full stop, a shape's id."},
    }
    return {
        **_schema_with(like, own, ["id", "join", "strength", "invert"]),
        "title": "OpenShape",
        "description": "A shape of a mask, in the form that every kind has.",
        "additionalProperties": {COMPONENT: "SettingValue"},
    }


def _schema_with(like: JsonSchema, own: JsonSchema, required: list[str]) -> JsonSchema:
    """A schema with some properties of its own in place of those it is made from."""
    properties = {
        name: {key: value for key, value in one.items() if key != "default"}
        for name, one in (like["properties"] | own).items()
    }
    return {**like, "properties": properties, "required": required}


def _with_suffixed_references(schema: Any, suffix: str) -> Any:
    """A schema that names components of the document, each with that suffix."""
    if isinstance(schema, list):
        return [_with_suffixed_references(one, suffix) for one in schema]
    if not isinstance(schema, dict):
        return schema
    if COMPONENT in schema:
        return _ref(schema[COMPONENT] + suffix)
    if "$ref" in schema:
        rest = {key: value for key, value in schema.items() if key != "$ref"}
        return {**_ref(schema["$ref"].rpartition("/")[2] + suffix), **rest}
    named = _of_one_type(
        {key: _with_suffixed_references(value, suffix) for key, value in schema.items()}
    )
    if suffix and "title" in named and "properties" in named:
        named["title"] += suffix
    return named


def _of_one_type(schema: JsonSchema) -> JsonSchema:
    """A choice among numbers and words as one of either: generators of clients know no others."""
    words = [choice for choice in schema.get("enum", ()) if isinstance(choice, str)]
    if not words or len(words) == len(schema["enum"]):
        return schema
    numbers = [choice for choice in schema["enum"] if choice not in words]
    either = [{"type": "integer", "enum": numbers}, {"type": "string", "enum": words}]
    return {key: value for key, value in schema.items() if key != "enum"} | {"anyOf": either}


def _complete(schema: JsonSchema) -> JsonSchema:
    """An object as it is answered: every field is in it, but for those of the open forms."""
    if "properties" not in schema or schema["title"].startswith("Open"):
        return schema
    return {**schema, "required": list(schema["properties"])}


def with_components(document: JsonSchema) -> JsonSchema:
    """The document with what stands for components replaced, and those components in it."""
    found: JsonSchema = _named_in_place(document)
    schemas, made = found["components"]["schemas"], components()
    twice = [n for n in schemas.keys() & made.keys() if n not in SHARED]
    assert not twice, f"two schemas have one name: {', '.join(sorted(twice))}"
    schemas |= made
    return found


def _named_in_place(node: Any) -> Any:
    if isinstance(node, list):
        return [_named_in_place(one) for one in node]
    if not isinstance(node, dict):
        return node
    if COMPONENT in node:
        return _ref(node[COMPONENT]) | {k: v for k, v in node.items() if k == "description"}
    return {key: _named_in_place(value) for key, value in node.items()}
