"""What a treatment is: settings, a reach in time, and one function from picture to picture."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from yearning.core.blend import Blend
from yearning.core.memory import new_like
from yearning.core.picture import Picture, Size

Stage = Literal["time", "glass", "light", "colour", "ink & signal", "film", "gate"]
"""The order in which light meets things; a new step lands at its stage's place."""

Unit = Literal["fraction", "px@1080", "frames", "seed", "choice", "switch", "points"]


class Reach(NamedTuple):
    """Frames before and after its own that a treatment reads."""

    before: int = 0
    after: int = 0


@dataclass(frozen=True)
class Moment:
    """What a treatment is given: the picture it reads, when, and at which size.

    `prepare` gets the whole picture; `apply` gets a band of it, the rows from `top` on of a
    picture of `size`, and what `prepare` returned as `prepared`. `full` is the footage's size.
    """

    picture: Picture
    frame: int
    size: Size
    full: Size
    top: int = 0
    prepared: Any = None
    driver: (
        Callable[[int, Callable[[Picture], NDArray[np.float32]]], NDArray[np.float32]] | None
    ) = None

    @property
    def scale(self) -> float:
        """Pixels per px@1080."""
        return self.size.scale

    @property
    def scales(self) -> tuple[float, float]:
        """Pixels per px@1080 across and down: a preview's width is rounded to whole pixels."""
        return self.size.width / self.full.width * self.full.scale, self.size.scale

    @property
    def rows(self) -> tuple[int, int]:
        """The first row given, and one past the last."""
        return self.top, self.top + self.picture.shape[1]

    def settled(
        self, frames: int, drive: Callable[[Picture], NDArray[np.float32]]
    ) -> NDArray[np.float32]:
        """What drives a treatment, smoothed over `frames` frames before and after this one.

        `drive` computes it from one frame's picture. The frames are weighed binomially (1 2 1 for
        one frame on each side); before the first and after the last frame those are repeated.
        """
        if self.driver is None or frames == 0:
            return drive(self.picture)
        weights = binomial(2 * frames)
        first = self.driver(-frames, drive)
        total, part = new_like(first), new_like(first)
        np.multiply(first, weights[0], out=total)
        for i in range(1, 2 * frames + 1):
            np.multiply(self.driver(i - frames, drive), weights[i], out=part)
            total += part
        return total

    def band(self, picture: Picture, top: int, prepared: Any) -> "Moment":
        """The same moment for `apply`: `picture` is the rows from `top`."""
        return replace(self, picture=picture, top=top, prepared=prepared, driver=None)


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
) -> Any:
    """One setting: its default, the range the interface offers, its unit and words.

    Files may exceed `low`..`high`; `least` and `most` bound what the formula can take.
    `only_if` names another setting and the values of it under which this one has an effect.
    """
    extra: dict[str, Any] = {"label": label, "unit": unit, "help": help}
    if low is not None:
        extra |= {"low": low, "high": high}
    if only_if:
        extra["only_if"] = only_if
    return Field(default, ge=least, le=most, title=label, description=help, json_schema_extra=extra)


class Treatment(BaseModel):
    """Base of all treatments: a settings model with `reach`, `prepare` and `apply`."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    kind: ClassVar[str]
    stage: ClassVar[Stage]
    says: ClassVar[str]
    """What it does, in a few words."""
    lively: ClassVar[bool] = False
    """It changes from frame to frame by intent."""
    blend: ClassVar[Blend] = "normal"
    amount: ClassVar[float] = 1.0
    """How a new step is mixed back."""

    def reach(self) -> Reach:
        """Frames before and after its own that `apply` reads."""
        return Reach()

    @classmethod
    def pointwise(cls) -> bool:
        """Whether each result pixel depends on that pixel alone, and on its place."""
        return cls.prepare is Treatment.prepare

    def prepare(self, at: Moment) -> Any:
        """What `apply` must know of the whole picture, and of its neighbours in time."""
        return None

    def apply(self, at: Moment) -> Picture:
        """The treated rows, to be mixed back by the step; never changes `at.picture`."""
        raise NotImplementedError
