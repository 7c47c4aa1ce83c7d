"""How a treatment's settings are declared: default, range, unit and words, in one place.

The interface's controls, the file format's JSON Schema and the table in the docs are all made from
these declarations.
"""

from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

Stage = Literal["time", "glass", "light", "colour", "ink & signal", "film", "gate"]
"""The order in which light meets things; a new step lands at its stage's place."""

SettingKind = Literal[
    "fraction",
    "px@1080",
    "frames",
    "seed",
    "choice",
    "switch",
    "points",
    "degrees",
    "stops",
    "factor",
    "colour",
    "channels",
    "tints",
    "bands",
    "tones",
    "ramp",
    "file",
    "place",
    "ratio",
    "pace",
    "per second",
    "count",
    "marks",
    "blocks",
    "lobes",
    "plate",
    "frame",
    "speed",
    "spans",
    "path",
    "track",
    "grain",
]
"""What a setting's value is measured in, or which kind of value it is.

`channels` are three numbers, for R, G and B. `tints` are three colours for them that add up to
white. `bands` are six numbers, one for each of `HUE_BANDS`. A `place` is `[x, y]` in fractions of
width and height. A `pace` counts cycles in 24 frames, and `per second` counts events in as many.
`marks` are names of things drawn on the picture, and `blocks` are parts of it. `lobes`
are of light that comes in. A `frame` is a frame
of a plate, `spans` are ranges of such frames, and a `speed` is how many of them pass for one frame
of the clip. A `path` is a closed line of cubic Bezier curves. `track` and `grain` are names of
files.
"""

Handle = Literal["opening", "ellipse", "window", "plate", "line", "bow", "marks", "blocks"]
"""Which settings are set on the picture itself, and how.

`opening`: a `centre` and a `size`, of a shape by `roundness` and `corners`. `ellipse`: a `centre`,
a `size` and a `turn`. `window`: the `place` of a window of a `ratio` and a `size`. `plate`: the
`place`, `scale` and `turn` of what is laid over the picture. `line`: from an edge, by `position`
and `reach`. `bow`: straight lines, bent by `barrel` and `edge_barrel`. `marks`: taken out one by
one, into `removed`. `blocks`: drawn by hand, into `placed`.
"""

Place = tuple[float, float]
"""A point in fractions of a picture's width and height."""

Points = NDArray[np.float64]
"""Points in pixels, shape `(n, 2)`: x, then y."""


MAX_SEED = (1 << 31) - 1
"""Of every setting whose unit is `seed`; the least is 0."""


def setting(
    default: Any,
    soft_minimum: float | None = None,
    soft_maximum: float | None = None,
    *,
    label: str,
    unit: SettingKind = "fraction",
    help: str = "",
    minimum: float | None = None,
    maximum: float | None = None,
    visible_if: dict[str, list[Any]] | None = None,
    enabled_by: str | None = None,
    visible_from: float | None = None,
) -> Any:
    """Declare one setting of a treatment, as a Pydantic field.

    Args:
        default: its value in a new step.
        soft_minimum: lower end of the range that the interface offers; files may go below it.
        soft_maximum: upper end of that range; files may go above it.
        label: what the interface calls it.
        unit: what it is measured in.
        help: a sentence about it.
        minimum: the least value that the formula takes; anything below it is refused.
        maximum: the greatest value that the formula takes.
        visible_if: the name of another setting, and the values of it at which this one has an
            effect.
        enabled_by: the name of another setting that must differ from its default for this one to
            have an effect.
        visible_from: of a size, the pixels of the footage from which on it is seen.
    """
    if unit == "seed":
        minimum, maximum = 0, MAX_SEED
    extra: dict[str, Any] = {"label": label, "unit": unit, "help": help}
    if soft_minimum is not None:
        extra |= {"soft_minimum": soft_minimum, "soft_maximum": soft_maximum}
    if visible_if:
        extra["visible_if"] = visible_if
    if enabled_by:
        extra["enabled_by"] = enabled_by
    if visible_from is not None:
        extra["visible_from"] = visible_from
    return Field(
        default, ge=minimum, le=maximum, title=label, description=help, json_schema_extra=extra
    )


def track_setting() -> Any:
    """Declare the setting that names the track a treatment's place rides on."""
    return setting(
        "", unit="track", label="Follows", help="A track; its place moves as what that follows."
    )
