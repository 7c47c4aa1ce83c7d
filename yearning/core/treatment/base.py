"""What a treatment is: settings, a reach in time, and one function from picture to picture."""

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar, Literal, NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from yearning.core.compositing.blend import Blend
from yearning.core.motion.temporal_filter import settled
from yearning.core.picture import Box, Picture, Size
from yearning.core.treatment.assets import Materials, PlateSource
from yearning.core.treatment.clip_tones import ClipTones

if TYPE_CHECKING:
    from yearning.core.image.marks import Mark

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
    "plate",
    "frame",
    "speed",
    "spans",
]
"""`channels` are three numbers, for R, G and B; `tints` three colours for them, that add up to
white; `bands` are six numbers, for `HUE_BANDS`; a `place` is `[x, y]` in fractions of the width and
the height; a `pace` is how often something comes round in 24 frames, and `per second` how many come
in as many; `marks` are names of things in the picture, and `blocks` parts of it; a `frame` is a
plate's, `spans` are ranges of them, and a `speed` how many come to one of the clip's.
"""

Place = tuple[float, float]


Handle = Literal["point", "ellipse", "window", "line", "bow", "marks", "blocks"]
"""A `centre`; a `centre`, `size` and `turn`; the `place` of a window of a `ratio` and `size`; a
line from an edge by `position` and `reach`; straight lines bent by `barrel` and `edge_barrel`;
marks that are taken out one by one, as `removed`; blocks that are drawn, as `placed`."""


Points = NDArray[np.float64]
"""Places of a picture, shape `(n, 2)`: across and down."""


class Reach(NamedTuple):
    """Frames before and after its own that a treatment reads."""

    before: int = 0
    after: int = 0


@dataclass(frozen=True)
class Drive:
    """What drives a treatment: values of `shape` gathered from a frame's picture band by band.

    `gather(band, top, values)` fills its part of the values from the rows of a picture that begin
    at `top`. Bands begin at multiples of `rows`, and only in a picture of fewer rows are lower.
    Equal keys on equal pictures mean equal values. `luma` is the plane of them that motion can be
    told from, where the values of other frames are asked for.
    """

    key: Hashable
    shape: tuple[int, ...]
    rows: int
    gather: Callable[[Picture, int, NDArray[np.float32]], None]
    luma: int | None = None


class Driving(Protocol):
    """What a moment asks for of what drives the treatment."""

    def driven(self, offset: int) -> NDArray[np.float32]:
        """What drives it that many frames from this one."""

    def whole(self, offset: int = 0) -> Picture:
        """The whole picture the treatment reads that many frames from this one, not to be written
        to; beyond the clip's ends, at the last."""

    def linked(self, here: int, there: int) -> NDArray[np.float32] | None:
        """Flow and trust between two neighbouring frames, that many from this one."""

    def told(self) -> NDArray[np.float32]:
        """What it tells of frames all over the clip."""


@dataclass(frozen=True)
class Moment:
    """When a treatment runs, and at which size; `full` is the footage's size."""

    frame: int
    size: Size
    full: Size
    driving: Driving
    shown: Box
    """The part of the frame that steps before have left."""
    materials: Materials
    """Finds the tables and plates that the treatment names."""

    @property
    def scale(self) -> float:
        """Pixels per px@1080."""
        return self.size.scale

    def driven(self) -> NDArray[np.float32]:
        """What drives the treatment at this frame."""
        return self.driving.driven(0)

    def whole(self, offset: int = 0) -> Picture:
        """The whole picture the treatment reads that many frames from this one, at a clip's end
        the last there is; not to be written to."""
        return self.driving.whole(offset)

    def settled(self, frames: int) -> NDArray[np.float32]:
        """What drives the treatment, smoothed over `frames` frames before and after this one.

        Each is brought to where this frame is, along the motion of the drive's `luma`.
        """
        return settled(self.driving.driven, self.driving.linked, frames)

    def told(self) -> NDArray[np.float32]:
        """What the treatment tells of frames all over the clip: the same at every frame."""
        return self.driving.told()


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


class Cover(NamedTuple):
    """Where a treatment's picture lies over the one below, and what that gives way by."""

    weight: NDArray[np.float32] | None
    """0..1, of the band's rows; None where it is 1 all over."""
    room: float
    """By how much the picture below is dimmed, 0..1 of its display-coded values."""


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
    """Base of all treatments: settings with `neighbours`, `drive`, `prepare` and `apply`."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    kind: ClassVar[str]
    stage: ClassVar[Stage]
    says: ClassVar[str]
    """What it does, in a few words."""
    lively: ClassVar[bool] = False
    """It changes from frame to frame by intent."""
    colour_only: ClassVar[bool] = False
    """What it makes of a pixel is told by the pixel's colour alone, so a table can hold it."""
    handle: ClassVar[Handle | None] = None
    """What of it is set on the picture itself."""
    cuts: ClassVar[bool] = False
    """What it does not leave of the frame is cut off: later steps do not reach it."""
    adds: ClassVar[float] = 0.001
    """Change from frame to frame, in display-coded values, that it adds to noisy footage at most:
    at its defaults, or with any one setting at the end of its range; a lively one by intent."""
    covers: ClassVar[bool] = False
    """It may lie over a part of the frame alone, or dim what is below: `covering` says so."""
    geometry: ClassVar[bool] = False
    """It moves what is in the frame; whatever later steps read is moved with it.

    It takes whole pictures.
    """
    fixed: ClassVar[bool] = False
    """It lays a pattern over the picture that stays where it is in the frame."""
    scatters: ClassVar[bool] = False
    """It draws pixels from other places, or other frames, and takes whole pictures for it."""
    together: ClassVar[int] = 1
    """Rows that are made sooner together, because they share work."""
    new_blend: ClassVar[Blend] = "normal"
    new_amount: ClassVar[float] = 1.0
    """How a new step is mixed back."""

    def is_lively(self) -> bool:
        """Whether it changes from frame to frame by intent, as it is set."""
        return self.lively

    def neighbours(self) -> Reach:
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
        return cls.drive is Treatment.drive and not cls.takes_whole()

    @classmethod
    def takes_whole(cls) -> bool:
        """Whether it takes whole pictures from its moment, and of its bands only what rows they
        are."""
        return cls.geometry or cls.scatters

    def shown(self, full: Size) -> Box | None:
        """The part of a frame of footage of `full` that it leaves, if it leaves a part."""
        return None

    def carried(self, points: Points, frame: int, full: Size) -> Points:
        """Where places of the picture below are seen after it, where it moves what is in the frame.

        `points` has a row for each, across and down, in pixels of footage of `full`.
        """
        return points

    def marks(self, frame: int, full: Size) -> Iterable["Mark"]:
        """What it draws on a frame of footage of `full` that can be taken out one by one."""
        return ()

    def complaint(self, source: PlateSource) -> str | None:
        """Why nothing is seen of the plate it names, and what to do; None where something is."""
        return None

    def drive(self, size: Size) -> Drive:
        """What must be gathered from a whole picture of `size` before a pixel can be treated."""
        raise NotImplementedError

    def over_clip(self, size: Size) -> Drive:
        """What must be gathered from frames all over the clip, of a small `size`."""
        raise NotImplementedError

    def tell(self, seen: list[NDArray[np.float32]], size: Size) -> NDArray[np.float32]:
        """What holds for the whole clip, from what `over_clip` gathered from some frames."""
        raise NotImplementedError

    def prepare(self, at: Moment) -> Any:
        """What is the same for all of a frame's bands."""
        return None

    def covering(self, band: Band) -> Cover:
        """Where the treated rows lie over the picture below."""
        raise NotImplementedError

    def apply(self, band: Band) -> None:
        """Write the treated rows, to be mixed back by the step; `band.picture` stays as it is."""
        raise NotImplementedError
