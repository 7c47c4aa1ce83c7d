"""Names of treatments, settings and fields before `yearning-look/3`, and steps under either.

Both ways keep the order of what they rename, so that a step under its former names is what the
former format wrote, to the letter: what was kept under a hash of that is found by it.
"""

from collections.abc import Iterable, Mapping
from typing import Any

StepData = dict[str, Any]

TREATMENTS = {"uncast": "neutralize"}
"""Treatments by their former names."""

SETTINGS: dict[str, dict[str, str]] = {
    "glow": {
        "from_light": "threshold",
        "roll_in": "knee",
        "hold_light": "keep_midtones",
        "settle": "temporal_smoothing",
    },
    "halation": {"from_light": "threshold"},
    "brush": {"settle": "temporal_smoothing"},
    "halftone": {
        "press": "softness",
        "rough": "roughness",
        "under_colour": "ucr",
        "keep_fine": "keep_fine_dots",
        "settle": "temporal_smoothing",
    },
    "border": {"rough": "roughness", "soft": "softness"},
    "grain": {
        "speed": "coarseness",
        "clump": "clumping",
        "soft": "softness",
        "cadence": "interval",
    },
    "plate": {
        "flush": "align",
        "thrown_every": "reposition_every",
        "from_frame": "first",
        "to_frame": "last",
        "skip": "exclude",
        "join": "seam",
        "make_room": "dim_below",
    },
    "crop": {"flush": "align"},
    "letterbox": {"flush": "align"},
    "flurry": {
        "near": "near_share",
        "size_near": "near_size",
        "size_far": "far_size",
        "fall": "fall_speed",
        "gust": "gusts",
        "flutter": "sway",
        "shine": "glint",
    },
}
"""By a treatment, its settings by their former names."""

MIX = {"beyond": "out_of_range", "reads": "input"}
"""Fields of a mix by their former names."""

OUT_OF_RANGE = {"cut": "limit", "keep": "keep"}
INPUTS = {"so far": "previous", "as shot": "footage"}
"""Values by their former names."""

SUFFIX = "-step"
"""What ids of steps get that an input is called by now."""


def rename_steps(steps: Iterable[Any]) -> list[Any]:
    """Return steps of `yearning-look/2` under the names of `yearning-look/3`.

    What is not as the former format had it is left as it is, for the checks that follow to find.

    Args:
        steps: as the file has them, those inside bundles too.
    """
    steps = list(steps)
    return _rename_all(steps, _free_ids(set(_ids(steps))))


def rename_fitting(fitting: dict[str, Any], steps: Iterable[Any]) -> dict[str, Any]:
    """Return a fitting of `yearning-fitting/1` under the names of `yearning-fitting/2`.

    Args:
        fitting: as its file has it.
        steps: of its look as that file has them, of any format.
    """
    treatments = _treatments(steps)
    own = fitting.get("steps")
    renamed: dict[str, Any] = {}
    for id, changes in own.items() if isinstance(own, dict) else ():
        here = id + SUFFIX if id not in treatments and id + SUFFIX in treatments else id
        kind = treatments.get(here, "")
        renamed[here] = _rename_step(changes, kind, {}) if isinstance(changes, dict) else changes
    return {**fitting, "steps": renamed} if isinstance(own, dict) else dict(fitting)


def rename_setting(treatment: str, name: str) -> str:
    """Return what a setting, or a field of the mix, is called now.

    Args:
        treatment: by either of its names.
        name: as keys have it: `from_light`, or `mix.reads`.
    """
    if name.startswith("mix."):
        field = name.removeprefix("mix.")
        return f"mix.{MIX.get(field, field)}"
    return SETTINGS.get(treatment, {}).get(name, name)


def name_hint(treatment: str, name: str) -> str:
    """Say what a setting is called now, as an error's end; nothing where it had no other name.

    Args:
        treatment: of the step.
        name: as keys have it, that is not known.

    >>> name_hint("glow", "from_light")
    "; it is called 'threshold' now"
    """
    now = rename_setting(treatment, name)
    return "" if now == name else f"; it is called '{now.removeprefix('mix.')}' now"


def present_treatment(treatment: str) -> str:
    """Return what a treatment is called now."""
    return TREATMENTS.get(treatment, treatment)


def former_treatment(treatment: str) -> str:
    """Return what a treatment was called in the former format."""
    return {now: then for then, now in TREATMENTS.items()}.get(treatment, treatment)


def rename_value(name: str, value: Any) -> Any:
    """Return what a value is called now.

    Args:
        name: what a setting, or a field of the mix, is called now.
        value: as a file has it.
    """
    known = {"mix.input": INPUTS, "mix.out_of_range": OUT_OF_RANGE}.get(name, {})
    return known.get(value, value) if isinstance(value, str) else value


def former_steps(steps: Iterable[StepData]) -> list[StepData]:
    """Return steps of `yearning-look/3` as `yearning-look/2` wrote them.

    Args:
        steps: with every field, as a look is written.
    """
    return [_former_step(step) for step in steps]


def _rename_all(steps: list[Any], ids: Mapping[str, str]) -> list[Any]:
    renamed = []
    for step in steps:
        if isinstance(step, dict):
            step = _rename_step(step, str(step.get("treatment")), ids)
            inside = _inner_steps(step)
            if inside:
                settings = {**step["settings"], "steps": _rename_all(inside, ids)}
                step = {**step, "settings": settings}
        renamed.append(step)
    return renamed


def _rename_step(step: StepData, treatment: str, ids: Mapping[str, str]) -> StepData:
    """A step, or what a fitting says of one, under the names of now."""
    step = dict(step)
    if isinstance(step.get("treatment"), str):
        step["treatment"] = present_treatment(step["treatment"])
    if isinstance(step.get("id"), str):
        step["id"] = ids.get(step["id"], step["id"])
    for field in ("settings", "keys"):
        if isinstance(step.get(field), dict):
            step[field] = _rename_keys(step[field], SETTINGS.get(treatment, {}))
    if isinstance(step.get("mix"), dict):
        step["mix"] = _rename_mix(step["mix"], ids)
    return step


def _rename_mix(mix: dict[str, Any], ids: Mapping[str, str]) -> dict[str, Any]:
    mix = _rename_keys(mix, MIX)
    if "out_of_range" in mix:
        mix["out_of_range"] = rename_value("mix.out_of_range", mix["out_of_range"])
    if isinstance(mix.get("input"), str):
        mix["input"] = INPUTS.get(mix["input"], ids.get(mix["input"], mix["input"]))
    if isinstance(mix.get("mask"), list | tuple):
        mix["mask"] = [_rename_shape(shape, ids) for shape in mix["mask"]]
    return mix


def _rename_shape(shape: Any, ids: Mapping[str, str]) -> Any:
    if not isinstance(shape, dict):
        return shape
    shape = dict(shape)
    if isinstance(shape.get("of"), str):
        shape["of"] = INPUTS.get(shape["of"], ids.get(shape["of"], shape["of"]))
    if isinstance(shape.get("same_as"), str):
        step, dot, id = shape["same_as"].rpartition(".")
        shape["same_as"] = f"{ids.get(step, step)}{dot}{id}"
    return shape


def _rename_keys(data: dict[str, Any], names: Mapping[str, str]) -> dict[str, Any]:
    """A mapping under other keys; one whose new key is there already keeps its own."""
    return {
        names[key] if key in names and names[key] not in data else key: value
        for key, value in data.items()
    }


def _former_step(step: StepData) -> StepData:
    treatment = str(step.get("treatment"))
    former = {now: then for then, now in SETTINGS.get(treatment, {}).items()}
    step = dict(step)
    step["treatment"] = former_treatment(treatment)
    for field in ("settings", "keys"):
        if isinstance(step.get(field), dict):
            step[field] = {former.get(name, name): value for name, value in step[field].items()}
    if treatment == "bundle":
        step["settings"] = {**step["settings"], "steps": former_steps(step["settings"]["steps"])}
    fields = {now: then for then, now in MIX.items()}
    mix = {fields.get(name, name): value for name, value in step["mix"].items()}
    inputs = {now: then for then, now in INPUTS.items()}
    ranges = {now: then for then, now in OUT_OF_RANGE.items()}
    mix["beyond"] = ranges.get(mix["beyond"], mix["beyond"])
    mix["reads"] = inputs.get(mix["reads"], mix["reads"])
    mix["mask"] = [
        {**shape, "of": inputs.get(shape["of"], shape["of"])} if "of" in shape else shape
        for shape in mix["mask"]
    ]
    step["mix"] = mix
    return step


def _inner_steps(step: StepData) -> list[Any]:
    """The steps that a bundle holds; none of any other step."""
    settings = step.get("settings")
    inside = settings.get("steps") if isinstance(settings, dict) else None
    if step.get("treatment") != "bundle" or not isinstance(inside, list | tuple):
        return []
    return list(inside)


def _walk(steps: Iterable[Any]) -> Iterable[StepData]:
    for step in steps:
        if isinstance(step, dict):
            yield step
            yield from _walk(_inner_steps(step))


def _ids(steps: Iterable[Any]) -> list[str]:
    return [str(step.get("id")) for step in _walk(steps)]


def _free_ids(taken: set[str]) -> dict[str, str]:
    """New ids for steps whose id is what an input is called by now."""
    renamed = {}
    for id in taken & set(INPUTS.values()):
        free = id + SUFFIX
        while free in taken:
            free += SUFFIX
        renamed[id] = free
    return renamed


def _treatments(steps: Iterable[Any]) -> dict[str, str]:
    """The treatment of every step, by its id."""
    return {str(step.get("id")): str(step.get("treatment")) for step in _walk(steps)}
