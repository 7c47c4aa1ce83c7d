"""What a treatment is: settings, a reach in time, and one function from picture to picture."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any, ClassVar, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from yearning.core.blend import Blend
from yearning.core.colour.tables import Prepared
from yearning.core.measure.clip import ClipTones
from yearning.core.memory import new_like
from yearning.core.picture import Picture, Size

Stage = Literal["time", "glass", "light", "colour", "ink & signal", "film", "gate"]
"""The order in which light meets things; a new step lands at its stage's place."""

Unit = Literal[
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
    "bands",
    "tones",
    "ramp",
    "file",
]
"""`channels` are three numbers, for R, G and B; `bands` six, for `HUE_BANDS`."""


class Reach(NamedTuple):
    """Frames before and after its own that a treatment reads."""

    before: int = 0
    after: int = 0


@dataclass(frozen=True)
class Drive:
    """What drives a treatment: values of `shape` gathered from a frame's picture band by band.

    `gather(band, top, values)` fills its part of the values from the rows of a picture that begin
    at `top`. Bands begin at multiples of `rows`, and only in a picture of fewer rows are lower.
    Equal keys on equal pictures mean equal values.
    """

    key: Hashable
    shape: tuple[int, ...]
    rows: int
    gather: Callable[[Picture, int, NDArray[np.float32]], None]


@dataclass(frozen=True)
class Moment:
    """When a treatment runs, and at which size; `full` is the footage's size."""

    frame: int
    size: Size
    full: Size
    driven: Callable[[int], NDArray[np.float32]]
    """What drives the treatment, that many frames from this one."""
    table: Callable[[str], Prepared]
    """The look-up table of that name."""

    @property
    def scale(self) -> float:
        """Pixels per px@1080."""
        return self.size.scale

    def settled(self, frames: int) -> NDArray[np.float32]:
        """What drives the treatment, smoothed over `frames` frames before and after this one.

        The frames are weighed binomially (1 2 1 for one frame on each side); before the first and
        after the last frame those are repeated.
        """
        if frames == 0:
            return self.driven(0)
        weights = binomial(2 * frames)
        first = self.driven(-frames)
        total, part = new_like(first), new_like(first)
        np.multiply(first, weights[0], out=total)
        for i in range(1, 2 * frames + 1):
            np.multiply(self.driven(i - frames), weights[i], out=part)
            total += part
        return total


@dataclass(frozen=True)
class Band:
    """Rows of the picture a treatment reads, from `top` on, and what `prepare` gave for it.

    The treated rows go to `out`, a picture of the same width, from its row `into` on.
    """

    picture: Picture
    top: int
    at: Moment
    prepared: Any
    out: Picture
    into: int

    @property
    def rows(self) -> tuple[int, int]:
        """The first row given, and one past the last."""
        return self.top, self.top + self.picture.shape[1]

    @property
    def result(self) -> Picture:
        """The rows of `out` that are to be written."""
        return self.out[:, self.into : self.into + self.picture.shape[1]]

    def keep(self) -> None:
        """Have the result be the picture as it is."""
        self.result[...] = self.picture


def binomial(n: int) -> NDArray[np.float32]:
    """The n + 1 weights of row n of Pascal's triangle, made to sum to 1."""
    row = np.array([1.0])
    for _ in range(n):
        row = np.convolve(row, [0.5, 0.5])
    return row.astype(np.float32)


def setting(
    default: Any,
    low: float | None = None,
    high: float | None = None,
    *,
    label: str,
    unit: Unit = "fraction",
    help: str = "",
    least: float | None = None,
    most: float | None = None,
    only_if: dict[str, list[Any]] | None = None,
    beside: str | None = None,
) -> Any:
    """One setting: its default, the range the interface offers, its unit and words.

    Files may exceed `low`..`high`; `least` and `most` bound what the formula can take.
    `only_if` names another setting and the values of it under which this one has an effect;
    `beside` one that must not be at its default for that.
    """
    extra: dict[str, Any] = {"label": label, "unit": unit, "help": help}
    if low is not None:
        extra |= {"low": low, "high": high}
    if only_if:
        extra["only_if"] = only_if
    if beside:
        extra["beside"] = beside
    return Field(default, ge=least, le=most, title=label, description=help, json_schema_extra=extra)


class Treatment(BaseModel):
    """Base of all treatments: a settings model with `reach`, `drive`, `prepare` and `apply`."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    kind: ClassVar[str]
    stage: ClassVar[Stage]
    says: ClassVar[str]
    """What it does, in a few words."""
    lively: ClassVar[bool] = False
    """It changes from frame to frame by intent."""
    colour_only: ClassVar[bool] = False
    """What it makes of a pixel is told by the pixel's colour alone, so a table can hold it."""
    blend: ClassVar[Blend] = "normal"
    amount: ClassVar[float] = 1.0
    """How a new step is mixed back."""

    def reach(self) -> Reach:
        """Frames before and after its own that `prepare` asks for."""
        return Reach()

    @classmethod
    def set_from(cls, tones: ClipTones) -> dict[str, float]:
        """Settings that suit a clip of such tones, read by the step."""
        raise NotImplementedError

    @classmethod
    def measures(cls) -> bool:
        """Whether it can be set from a clip."""
        return cls.set_from.__func__ is not Treatment.set_from.__func__  # type: ignore[attr-defined]

    @classmethod
    def pointwise(cls) -> bool:
        """Whether each result pixel depends on that pixel alone, and on its place."""
        return cls.drive is Treatment.drive

    def drive(self, size: Size) -> Drive:
        """What must be gathered from a whole picture of `size` before a pixel can be treated."""
        raise NotImplementedError

    def prepare(self, at: Moment) -> Any:
        """What is the same for all of a frame's bands."""
        return None

    def apply(self, band: Band) -> None:
        """Write the treated rows, to be mixed back by the step; `band.picture` stays as it is."""
        raise NotImplementedError
