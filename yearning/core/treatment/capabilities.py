"""What only some treatments do: each a base class that a treatment takes on beside `Treatment`.

The engine asks for a capability by `isinstance`.
"""

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import Any, ClassVar, NamedTuple

import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_like
from yearning.core.image.marks import Mark
from yearning.core.picture import Box, Picture, Plane, Size
from yearning.core.treatment.assets import PlateSource
from yearning.core.treatment.base import Band
from yearning.core.treatment.clip_tones import ClipTones
from yearning.core.treatment.settings import Place, Points
from yearning.core.treatment.statistics import StatisticsSpec


class UsesFrameStatistics(ABC):
    """Needs values gathered from the whole picture before any pixel can be treated."""

    @abstractmethod
    def frame_statistics_spec(self, size: Size) -> StatisticsSpec:
        """What is gathered from a picture of `size`."""


class UsesClipStatistics(ABC):
    """Needs values reduced from frames spread over the whole clip."""

    @abstractmethod
    def clip_statistics_spec(self, size: Size) -> StatisticsSpec:
        """What is gathered from each of those frames, at a small `size`."""

    @abstractmethod
    def reduce_clip(self, frames: list[NDArray[np.float32]], size: Size) -> NDArray[np.float32]:
        """Return what holds for the whole clip, from the values gathered from each frame.

        Args:
            frames: values of each sampled frame.
            size: of the picture that they were gathered from.
        """


class StartsFromHighlights(ABC):
    """Lays on light that comes from the bright parts of what it reads."""

    @abstractmethod
    def highlights(self, picture: Picture) -> Picture:
        """Those parts of a picture as strongly as they are taken, on black, display-coded."""


class HoldsLight(UsesClipStatistics):
    """Holds back light of its own from the mid-tones, by a measure of the whole clip."""

    @abstractmethod
    def held_light(self, values: NDArray[np.float32]) -> float:
        """What it takes from mid-grey, in display-coded values, given `reduce_clip`'s values."""


class WantsTallBands:
    """Computes bands faster where they are a multiple of some rows, which share work."""

    band_multiple: ClassVar[int] = 1


class ReadsWholePictures:
    """Draws pixels from other places or frames: asks its context for whole pictures.

    Of a band it takes just which rows are wanted; `band.picture` means nothing to it.
    """


class WarpsFrame(ReadsWholePictures, ABC):
    """Moves what is in the frame; whatever later steps read is moved with it."""

    crops: ClassVar[bool] = False
    """Whether what it leaves out is cut off, so that later steps do not reach it."""

    @abstractmethod
    def map_points(self, points: Points, frame: int, full_size: Size) -> Points:
        """Where points of the picture below are seen after it, in pixels of the footage.

        Args:
            points: shape `(n, 2)`, x then y.
            frame: number of the frame.
            full_size: of the footage.
        """

    def visible_box(self, full_size: Size) -> Box | None:
        """The part of the footage's frame that it leaves visible; None where it leaves it all."""
        return None

    def source_box(self, box: Box, full_size: Size) -> Box:
        """Return the part of the picture below that is seen in a box of the result.

        Args:
            box: in footage pixels.
            full_size: of the footage.
        """
        return box


class Ride(NamedTuple):
    """How a track moves what lies in a box of the picture, at one frame."""

    motion: Callable[[Points], Points]
    """Maps points of the picture, in pixels of the footage, shape `(n, 2)`."""
    box: Box

    def place(self, place: Place) -> Place:
        """Where a place comes to lie; both in fractions of the box."""
        x, y = self.motion(self._point(place)[None])[0]
        return float((x - self.box.left) / self.box.width), float(
            (y - self.box.top) / self.box.height
        )

    def turn_and_size(self, place: Place) -> tuple[float, float]:
        """How far what is at a place is turned, in degrees clockwise, and by how much enlarged."""
        step = np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])
        o, x, y = self.motion(self._point(place) + step)
        (a, b), (c, d) = x - o, y - o
        # of the similarity that is nearest to it
        return float(np.degrees(np.arctan2(b - c, a + d))), float(abs(a * d - b * c) ** 0.5)

    def _point(self, place: Place) -> Points:
        corner = np.array([self.box.left, self.box.top])
        return np.asarray(corner + np.array(place) * (self.box.width, self.box.height))


class RidesOnTrack(ABC):
    """Lies at a place that may move as a part of the clip does: it has a setting for the track."""

    track: str

    @abstractmethod
    def settings_on_track(self, ride: Ride) -> dict[str, Any]:
        """Its settings that a track changes, as they are at a frame."""


class FillsFinalFrame:
    """Belongs to the frame that is left at the end of the path, wherever the crops stand."""


class Coverage(NamedTuple):
    """Where a layer lies over the picture below, and how far that is dimmed under it."""

    weight: Plane | None
    """0..1 for each pixel of a band; None where it is 1 all over."""
    backdrop_dimming: float
    """0..1: the picture below is multiplied by 1 minus this, where the layer covers it."""


FULL_COVERAGE = Coverage(None, 0.0)
"""Of a layer that covers all of the picture, and dims nothing."""


class CoversPart(ABC):
    """Lies over a part of the frame alone, or dims what is below it."""

    @abstractmethod
    def coverage(self, band: Band[Any]) -> Coverage:
        """Where the treated rows lie over the picture below."""


MID_GREY = 0.5
"""What textures are a deviation from, and what layers that do not cover all are seen on."""


class HasLayer(ABC):
    """Adds something of its own: that alone is laid on the picture by other modes than its own."""

    @abstractmethod
    def apply(self, band: Band[Any]) -> None:
        """As of every treatment."""

    @abstractmethod
    def layer(self, band: Band[Any]) -> Coverage:
        """Write what it adds, alone, to `band.result`; returns where that lies."""

    def _apply_on(self, ground: float, band: Band[Any], out: Picture, out_top: int = 0) -> None:
        """Apply it to a picture that is `ground` all over."""
        picture = new_like(band.picture)
        picture[:] = ground
        self.apply(replace(band, picture=picture, out=out, out_top=out_top))


class AppliesLayer(HasLayer):
    """Its `apply` writes the layer itself; it is blended in every mode, its own among them."""

    def layer(self, band: Band[Any]) -> Coverage:
        """What is blended anyway."""
        self.apply(band)
        return coverage_of(self, band)


class AddsLight(HasLayer):
    """Adds light: its layer is that light on black."""

    def layer(self, band: Band[Any]) -> Coverage:
        """The light on black."""
        self._apply_on(0.0, band, band.out, band.out_top)
        return FULL_COVERAGE


class AddsTexture(HasLayer):
    """Adds a texture: its layer is mid-grey with the texture, as strong in all tones."""

    def layer(self, band: Band[Any]) -> Coverage:
        """The texture on mid-grey."""
        self._apply_on(MID_GREY, band, band.out, band.out_top)
        return FULL_COVERAGE


MIN_COVERAGE = np.float32(1e-6)
"""Coverage below which a mark has no colour of its own."""


class PaintsOver(HasLayer):
    """Paints over the picture: its layer is the colour of the paint, with its coverage.

    Over black there is coverage × colour, over white 1 − coverage more (Porter & Duff 1984, over).
    """

    def layer(self, band: Band[Any]) -> Coverage:
        """The paint's colour."""
        on_white = new_like(band.picture)
        self._apply_on(0.0, band, band.out, band.out_top)
        self._apply_on(1.0, band, on_white)
        colour = band.result
        coverage: Plane = 1 - (on_white[1] - colour[1])
        colour /= np.maximum(coverage, MIN_COVERAGE)
        return Coverage(coverage, 0.0)


class DrawsMarks(ABC):
    """Draws marks that can be taken out one by one, by their names."""

    @abstractmethod
    def marks(self, frame: int, full_size: Size) -> Iterable[Mark]:
        """Return the marks on a frame, in px@1080.

        Args:
            frame: of the footage.
            full_size: of the footage.
        """


class FitsClip(ABC):
    """Can be set to suit a clip, by its tones."""

    @classmethod
    @abstractmethod
    def fit_to_clip(cls, tones: ClipTones) -> dict[str, float]:
        """Values of its settings that suit a clip of such tones."""


class NamesPlate(ABC):
    """Names a plate, and may find that nothing of it would be seen."""

    @abstractmethod
    def validate_plate(self, source: PlateSource) -> str | None:
        """Why nothing of the plate is seen, and what to do; None where something is."""


class Lively:
    """Changes from frame to frame by intent, as grain does."""

    def is_lively(self) -> bool:
        """Whether it does so with the settings it has."""
        return True


class ColourOnly:
    """Makes of a pixel what its colour alone says, so that a look-up table can hold it."""


class FixedPattern:
    """Lays a pattern over the picture that stays where it is in the frame, as a screen does."""


def is_pointwise(treatment: object) -> bool:
    """Whether each pixel of the result depends on the same pixel alone, and on its place."""
    return not isinstance(treatment, UsesFrameStatistics | ReadsWholePictures)


def band_multiple(treatment: object) -> int:
    """The number of rows of which a treatment's bands are best a multiple."""
    return treatment.band_multiple if isinstance(treatment, WantsTallBands) else 1


def coverage_of(treatment: object, band: Band[Any]) -> Coverage:
    """Return where a treatment's rows lie over the picture below.

    Args:
        treatment: any.
        band: the rows.
    """
    return treatment.coverage(band) if isinstance(treatment, CoversPart) else FULL_COVERAGE


def is_lively(treatment: object) -> bool:
    """Whether a treatment changes from frame to frame by intent, as it is set."""
    return isinstance(treatment, Lively) and treatment.is_lively()
