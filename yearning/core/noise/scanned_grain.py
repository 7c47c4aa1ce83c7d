"""Grain that was measured on a scan, as the file format `yearning-grain/1` has it.

Its correlation holds what its power spectrum does: each is the other's Fourier transform (the
Wiener–Khinchin theorem).
"""

import json
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import ConfigDict, Field, ValidationError, model_validator

from yearning.core.errors import YearningError
from yearning.core.validation import PlainText, StrictModel, refusal

GRAIN_FORMAT: Literal["yearning-grain/1"] = "yearning-grain/1"

PAIRS = {"red": (0, 0), "green": (1, 1), "blue": (2, 2)} | {
    "red_green": (0, 1),
    "red_blue": (0, 2),
    "green_blue": (1, 2),
}
"""The channels of each correlation."""

MAX_REACH = 32
"""Pixels over which grain is correlated, at the most."""

Share = Annotated[float, Field(ge=-1, le=1)]
Rows = Annotated[
    tuple[Annotated[tuple[Share, ...], Field(max_length=2 * MAX_REACH + 1)], ...],
    Field(min_length=1, max_length=2 * MAX_REACH + 1),
]


class GrainError(YearningError, ValueError):
    """Grain that can't be used or measured; the message says why."""


class GrainTone(StrictModel):
    """How strong grain is in one tone."""

    luma: float = Field(ge=0, le=1, description="The tone, display-coded.")
    rms: tuple[
        Annotated[float, Field(ge=0, le=1)],
        Annotated[float, Field(ge=0, le=1)],
        Annotated[float, Field(ge=0, le=1)],
    ] = Field(description="Of R, G and B, display-coded.")


class Correlation(StrictModel):
    """What pixels of grain have in common with those around them.

    Each is a square of 2n + 1 rows; row n + y, column n + x is the mean of the first channel's
    grain at a pixel times the second's y rows above and x columns to the left of it, in parts of
    their rms.
    """

    red: Rows
    green: Rows
    blue: Rows
    red_green: Rows
    red_blue: Rows
    green_blue: Rows

    @model_validator(mode="after")
    def _all_alike(self) -> "Correlation":
        side = len(self.red)
        for name in PAIRS:
            rows = getattr(self, name)
            if side % 2 == 0 or len(rows) != side or any(len(row) != side for row in rows):
                raise ValueError(f"{name}: all are squares of the same odd number of rows")
        return self


class ScannedGrain(StrictModel):
    """Grain of a scan: how strong it is in each tone, and how it is correlated."""

    model_config = ConfigDict(ignored_types=(cached_property,))

    format: Literal["yearning-grain/1"] = GRAIN_FORMAT
    name: PlainText = Field("Grain", min_length=1, max_length=120)
    lines: int = Field(ge=1, le=65536, description="Of the scan of a whole frame, in pixels.")
    tones: tuple[GrainTone, ...] = Field(
        min_length=1,
        max_length=64,
        description="From dark to light. Between two it is between theirs; of one alone it falls "
        "towards black and white.",
    )
    correlation: Correlation

    @model_validator(mode="after")
    def _in_order(self) -> "ScannedGrain":
        for i, (below, tone) in enumerate(pairwise(self.tones), start=1):
            if tone.luma <= below.luma:
                raise ValueError(f"tones[{i}]: {tone.luma} comes after {below.luma}; they rise")
        return self

    @cached_property
    def lags(self) -> NDArray[np.float64]:
        """The correlation of all channels, shape `(3, 3, 2n + 1, 2n + 1)`.

        That of the second channel with the first is the same of the opposite places.
        """
        side = len(self.correlation.red)
        found = np.empty((3, 3, side, side))
        for name, (first, second) in PAIRS.items():
            rows = np.array(getattr(self.correlation, name))
            found[second, first] = rows[::-1, ::-1]
            found[first, second] = rows
        return found


def parse_grain(text: str | bytes) -> ScannedGrain:
    """The grain in a JSON text.

    Raises:
        GrainError: not JSON, or no grain; it names each place that is wrong, at most three.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise GrainError(f"not measured grain: it is no JSON ({error})") from None
    if not isinstance(data, dict) or data.get("format") != GRAIN_FORMAT:
        raise GrainError(f'not measured grain: it must say "format": "{GRAIN_FORMAT}"')
    try:
        return ScannedGrain.model_validate(data)
    except ValidationError as error:
        said = [refusal(one, ".".join(map(str, one["loc"]))) for one in error.errors()[:3]]
        raise GrainError("; ".join(said)) from None


def grain_json(grain: ScannedGrain) -> str:
    """Grain as its file has it, a row of correlation on a line."""
    data = grain.model_dump(mode="json")
    squares = data.pop("correlation")
    blocks = [
        f'  "{name}": [\n' + ",\n".join(f"   {json.dumps(row)}" for row in rows) + "\n  ]"
        for name, rows in squares.items()
    ]
    head = json.dumps(data, indent=1, ensure_ascii=False).rstrip("\n}")
    return head + ',\n "correlation": {\n' + ",\n".join(blocks) + "\n }\n}\n"


def grain_schema() -> dict[str, Any]:
    """The published JSON Schema of `yearning-grain/1`."""
    schema = ScannedGrain.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["required"] = ["format", "lines", "tones", "correlation"]
    return schema
