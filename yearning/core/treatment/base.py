"""The base class of all treatments, and what one is given to work with.

A treatment has settings, may read neighbouring frames, prepares once a frame and is applied to
bands of rows. Everything else that only some treatments do is a class of its own in
`yearning.core.treatment.capabilities`.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar, Generic, Literal, NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, ValidationError, field_validator

from yearning.core.compositing.blend import Blend
from yearning.core.errors import InvalidLookError
from yearning.core.motion.temporal_filter import temporally_filtered
from yearning.core.picture import Box, Picture, Size
from yearning.core.treatment.assets import Assets
from yearning.core.treatment.settings import Handle, Stage
from yearning.core.treatment.statistics import StatisticsSource
from yearning.core.validation import refusal, refuse_beyond

if TYPE_CHECKING:
    from pydantic._internal._model_construction import ModelMetaclass
else:
    ModelMetaclass = type(BaseModel)  # which has no public name

Prepared = TypeVar("Prepared")
"""What a treatment's `prepare` gives to its `apply`."""


Effect = Literal["light", "mid-tones", "edges", "grain"]
"""What of a treatment is measured: light that it adds (root mean square); light that it adds to the
mid-tones; the part of the light that it takes; or grain by the footage's own noise."""


class Reach(NamedTuple):
    """How many frames before and after its own a treatment reads."""

    before: int = 0
    after: int = 0


@dataclass(frozen=True)
class FrameContext:
    """The frame that is treated: its number, its size, and where to ask for more about it.

    Args:
        frame: number in the clip, from 0.
        size: of the pictures that are treated.
        full_size: of the footage.
        statistics: gives statistics and whole pictures.
        visible_box: the part of the frame that earlier steps have left visible, in pixels.
        final_box: the part of the picture that the frame left at the end of the path shows, in
            pixels.
        assets: finds the look-up tables and plates that the treatment names.
    """

    frame: int
    size: Size
    full_size: Size
    statistics: StatisticsSource
    visible_box: Box
    final_box: Box
    assets: Assets

    @property
    def scale(self) -> float:
        """Pixels per px@1080."""
        return self.size.scale

    def whole_picture(self, offset: int = 0) -> Picture:
        """The whole picture that is read, `offset` frames from this one; not to be written to.

        Beyond the clip's ends it is that of the first or the last frame.
        """
        return self.statistics.whole_picture(offset)

    def frame_statistics(self) -> NDArray[np.float32]:
        """This frame's values, gathered as `frame_statistics_spec` says; not to be written to."""
        return self.statistics.frame_statistics(0)

    def temporally_filtered(self, frames: int) -> NDArray[np.float32]:
        """This frame's statistics, smoothed over `frames` frames before and after it.

        Neighbouring frames are first warped to this one along the motion of the spec's luma plane.
        """
        source = self.statistics
        return temporally_filtered(source.frame_statistics, source.flow_between, frames)

    def clip_statistics(self) -> NDArray[np.float32]:
        """The whole clip's values, as `reduce_clip` made them: the same at every frame."""
        return self.statistics.clip_statistics()


@dataclass(frozen=True)
class Band(Generic[Prepared]):
    """Some rows of the picture that a treatment reads, and where its result goes.

    Args:
        picture: the rows, shape `(3, rows, width)`; not to be written to.
        top: the number of the first of them.
        context: the frame they are of.
        prepared: what `prepare` gave for that frame.
        out: a picture of the same width for the result.
        out_top: the row of `out` at which the result begins.
    """

    picture: Picture
    top: int
    context: FrameContext
    prepared: Prepared
    out: Picture
    out_top: int

    @property
    def rows(self) -> tuple[int, int]:
        """The number of the first row, and one past that of the last."""
        return self.top, self.top + self.picture.shape[1]

    @property
    def result(self) -> Picture:
        """The part of `out` that is to be written, as a view."""
        return self.out[:, self.out_top : self.out_top + self.picture.shape[1]]

    @property
    def result_rows(self) -> tuple[Picture, int, int]:
        """`out`, the first row that is to be written, and the one past the last.

        As kernels take them: `out` is contiguous, as a part of it is not, and each is compiled.
        """
        return self.out, self.out_top, self.out_top + self.picture.shape[1]

    def copy_through(self) -> None:
        """Write the picture to the result as it is."""
        self.result[...] = self.picture


FARTHEST = (1 << 31) - 1
"""No number in a setting is farther from 0, so that pictures stay finite in single precision."""


class _Checked(ModelMetaclass):
    """The metaclass of treatments: one made with settings that it refuses says so as files do."""

    def __call__(cls, *arguments: Any, **settings: Any) -> Any:
        try:
            return super().__call__(*arguments, **settings)
        except ValidationError as error:
            kind = getattr(cls, "kind", cls.__name__)
            refused = [(one, (kind, *one["loc"])) for one in error.errors()]
            lines = [refusal(one, ".".join(map(str, place))) for one, place in refused]
            raise InvalidLookError("; ".join(lines)) from None


class Treatment(BaseModel, Generic[Prepared], metaclass=_Checked):
    """A kind of step: its settings are this Pydantic model's fields.

    A subclass says what `prepare` gives as its type argument: `class Glow(Treatment[Halo])`.
    """

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)

    kind: ClassVar[str]
    """Its name in files."""
    stage: ClassVar[Stage]
    """Where in the order of light a new step of it lands."""
    summary: ClassVar[str]
    """What it does, in a few words."""
    keywords: ClassVar[tuple[str, ...]] = ()
    """What people call it, or what it is used for: it is found by these words too."""
    shown: ClassVar[Mapping[str, Any]] = {}
    """Settings under which its effect is plain in a small picture, where the defaults do little."""
    handle: ClassVar[Handle | None] = None
    """Which of its settings are set on the picture itself, and how."""
    default_blend: ClassVar[Blend] = "normal"
    default_amount: ClassVar[float] = 1.0
    """How a new step of it is mixed back."""
    effect: ClassVar[Effect | None] = None
    """What is made alike on several clips, by its amount; None where nothing of it is measured."""
    max_added_change: ClassVar[float] = 0.001
    """The most change from frame to frame, in display-coded values, that it adds to noisy footage:
    at its defaults, or with any one setting at the end of its range. The tests hold it to that."""

    _numbers_are_near = field_validator("*")(refuse_beyond(FARTHEST))

    def neighbours(self) -> Reach:
        """Frames before and after its own that `prepare` asks for."""
        return Reach()

    def prepare(self, context: FrameContext) -> Prepared:
        """Whatever is the same for all bands of a frame, computed once a frame."""
        return None  # type: ignore[return-value]  # of a Treatment[None]

    def apply(self, band: Band[Prepared]) -> None:
        """Write the treated rows to `band.result`; the step mixes them back."""
        raise NotImplementedError


AnyTreatment = Treatment[Any]
"""A treatment of any kind."""
