"""Look files of older formats, made into the newest on reading, so that the picture stays.

Each change of what a file means is one small function over a step as its file has it; a format's
number goes up where any of them is needed. What is not as the old format had it is left as it is,
for the checks that follow to find.
"""

from collections.abc import Callable, Sequence
from typing import Any, Literal

from yearning.core.look.former_names import StepData, rename_steps
from yearning.core.look.keyframes import Ease, Key, value_at

FORMAT: Literal["yearning-look/3"] = "yearning-look/3"
"""The format that is written."""

FIRST_FORMAT, SECOND_FORMAT = "yearning-look/1", "yearning-look/2"


def upgrade_look(data: Any) -> Any:
    """A parsed look file in the newest format; one of no older format is given back as it is."""
    while isinstance(data, dict) and str(data.get("format")) in CHANGES:
        newer, change = CHANGES[str(data["format"])]
        steps = data.get("steps", [])
        changed = change(steps) if isinstance(steps, list | tuple) else steps
        data = {**data, "format": newer, "steps": changed}
    return data


def changed_pictures(data: Any) -> list[str]:
    """What of a parsed look file will not have the picture it had, a sentence each.

    Version 1 fitted a vignette or a leak to the frame as it stood there; it belongs to the frame
    that is left at the path's end now.
    """
    if not isinstance(data, dict) or data.get("format") != FIRST_FORMAT:
        return []
    steps = data.get("steps", [])
    said, waiting = [], list[str]()
    for step in steps if isinstance(steps, list) else []:
        kind = step.get("treatment") if isinstance(step, dict) and step.get("on", True) else None
        if kind in ("vignette", "leak"):
            waiting.append(f"The {kind} before a {{frame}} now fits the frame that is left.")
        elif kind in ("crop", "letterbox"):
            said += [sentence.format(frame=kind) for sentence in waiting]
            waiting = []
    return said


def _change_pictures(steps: Sequence[Any]) -> list[Any]:
    """Steps of the first format with all changes made, those inside bundles too."""
    changed = []
    for step in steps:
        if isinstance(step, dict):
            for change in V1_CHANGES:
                step = change(step)
            settings = step.get("settings")
            if step.get("treatment") == "bundle" and isinstance(settings, dict):
                inside = settings.get("steps", [])
                if isinstance(inside, list | tuple):
                    inside = _change_pictures(inside)
                step = {**step, "settings": {**settings, "steps": inside}}
        changed.append(step)
    return changed


def _settings(step: StepData) -> dict[str, Any]:
    settings = step.get("settings")
    return dict(settings) if isinstance(settings, dict) else {}


def _keys(step: StepData) -> dict[str, Any]:
    keys = step.get("keys")
    return dict(keys) if isinstance(keys, dict) else {}


V1_SCREENED = ("glow", "plate")
"""Treatments that were screened where a file did not say how they are blended."""

V1_TREATED = ("halation", "leak", "grain", "static", "lines", "dust", "flurry")
"""Treatments whose treated picture was blended, and not what they add."""


def keep_mix(step: StepData) -> StepData:
    """Version 1 blended what lies beyond 0..1, and the whole treated picture."""
    mix, treatment = step.get("mix", {}), step.get("treatment")
    if not isinstance(mix, dict):
        return step
    if mix.get("blend", "screen" if treatment in V1_SCREENED else "normal") == "normal":
        return step
    treated = {"layer": "treated"} if treatment in V1_TREATED else {}
    return {**step, "mix": treated | {"beyond": "keep"} | mix}


def keep_levels(step: StepData) -> StepData:
    """Version 1's levels kept what they crushed."""
    if step.get("treatment") != "levels" or not isinstance(step.get("settings", {}), dict):
        return step
    return {**step, "settings": {"keep_beyond": True} | _settings(step)}


def rename_pale_colours(step: StepData) -> StepData:
    """Version 1 of `tone` called `pale_colours` by another name."""
    if step.get("treatment") != "tone":
        return step
    return _rename_settings(step, {"vibrance": "pale_colours"})


def keep_flush(step: StepData) -> StepData:
    """Version 1 counted a place from edge to edge."""
    if step.get("treatment") not in ("crop", "letterbox", "plate"):
        return step
    settings = _settings(step)
    if "place" not in settings and "place" not in _keys(step):
        return step  # the middle is the middle
    return {**step, "settings": {"flush": True} | settings}


V1_SETTINGS: dict[str, dict[str, Any]] = {
    "halation": {"wide_light": 1.0},
    "leak": {"on_pale": 0.0},
    "flurry": {"streaks": "solid"},
    "halftone": {"keep_fine": True},
}
"""What version 1's treatments did before they had a setting for it."""


def keep_former(step: StepData) -> StepData:
    """Give a step of the first format the settings that draw what it drew.

    Version 1 reddened figures before a sky, drew streaks solid, printed any dots, and no leak was
    seen on a pale sky.
    """
    former = V1_SETTINGS.get(str(step.get("treatment")))
    if former is None or not isinstance(step.get("settings", {}), dict):
        return step
    return {**step, "settings": former | _settings(step)}


V1_VIGNETTE: dict[str, Any] = {"strength": -0.4, "reach": 0.6, "softness": 0.75, "protect": "hue"}
"""Defaults of the settings that version 1 had of its own."""

V1_STOPS = 3.0
"""Stops at a strength of 1."""

V1_SOFT, V1_MIN_SOFT = 1.2, 0.02
"""Width of the edge at a softness of 1, and the least, in halves of the frame."""

V1_PROTECT = {"hue": (1.0, 0.0), "highlights": (1.0, 1.0), "none": (0.0, 0.0)}
"""How far hue and lights were kept."""


def open_vignette(step: StepData) -> StepData:
    """Version 1's vignette began at a reach from the frame's sides, and had no opening."""
    if step.get("treatment") != "vignette":
        return step
    step = _rename_settings(step, {"shape": "roundness"})
    settings, keys = _settings(step), _keys(step)
    old = {name: settings.pop(name, default) for name, default in V1_VIGNETTE.items()}
    numbers = (old["strength"], old["reach"], old["softness"])
    if not all(isinstance(v, int | float) for v in numbers) or old["protect"] not in V1_PROTECT:
        return step
    hue, lights = V1_PROTECT[old["protect"]]
    settings |= {"stops": V1_STOPS * old["strength"], "keep_hue": hue, "keep_lights": lights}
    settings |= _v1_opening(old["reach"], old["softness"])
    try:
        old_keys = {name: _parse_keys(keys.pop(name)) for name in V1_VIGNETTE if name in keys}
    except (TypeError, ValueError):
        return step
    if "strength" in old_keys:
        stops = [(key.frame, V1_STOPS * key.value, key.ease) for key in old_keys["strength"]]
        keys["stops"] = _write_keys(stops)
    if "reach" in old_keys or "softness" in old_keys:
        keys |= _v1_opening_keys(old_keys, old)
    return {**step, "settings": settings, "keys": keys}


def _v1_opening(reach: float, softness: float) -> dict[str, Any]:
    """Size and softness of the opening whose edge begins at `1 − reach` of half the frame."""
    soft = max(V1_SOFT * softness, V1_MIN_SOFT)
    half = max(1 - reach + soft / 2, 0.0) / 2
    return {"size": [half, half], "softness": soft}


def _v1_opening_keys(keys: dict[str, list[Key]], old: dict[str, Any]) -> dict[str, Any]:
    """Keys of size and softness at every frame at which reach or softness has one."""
    eases: dict[int, Ease] = {}
    for name in ("reach", "softness"):
        for key in keys.get(name, ()):
            eases.setdefault(key.frame, key.ease)
    made: dict[str, list[tuple[int, Any, Ease]]] = {}
    for frame, ease in sorted(eases.items()):
        reach, softness = (
            value_at(keys[name], frame) if name in keys else old[name]
            for name in ("reach", "softness")
        )
        for name, value in _v1_opening(reach, softness).items():
            made.setdefault(name, []).append((frame, value, ease))
    return {name: _write_keys(values) for name, values in made.items()}


def _parse_keys(keys: Any) -> list[Key]:
    """Keys of a number, in the order of their frames."""
    parsed = sorted((Key.model_validate(key) for key in keys), key=lambda key: key.frame)
    if not all(isinstance(key.value, int | float) for key in parsed):
        raise ValueError("not numbers")
    return parsed


def _write_keys(keys: list[tuple[int, Any, Ease]]) -> list[dict[str, Any]]:
    return [{"frame": frame, "value": value, "ease": ease} for frame, value, ease in keys]


def _rename_settings(step: StepData, names: dict[str, str]) -> StepData:
    """A step with settings, and their keys, under other names."""
    step = dict(step)
    for part in ("settings", "keys"):
        if isinstance(step.get(part), dict):
            step[part] = {names.get(name, name): value for name, value in step[part].items()}
    return step


V1_CHANGES = (keep_mix, keep_levels, rename_pale_colours, keep_flush, keep_former, open_vignette)
"""What is to be changed in each step of the first format."""

CHANGES: dict[str, tuple[str, Callable[[Sequence[Any]], list[Any]]]] = {
    FIRST_FORMAT: (SECOND_FORMAT, _change_pictures),
    SECOND_FORMAT: (FORMAT, rename_steps),
}
"""By an older format, the one after it, and what makes its steps those of that."""
