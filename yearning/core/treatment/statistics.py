"""Statistics of frames and of clips: what a treatment may ask for before it treats a pixel."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from yearning.core.picture import Picture

Values = NDArray[np.float32]


@dataclass(frozen=True)
class StatisticsSpec:
    """Which statistics are gathered from a whole picture, and how, band by band.

    Args:
        cache_key: equal keys on equal pictures mean equal values.
        shape: of the values, float32.
        band_multiple: bands begin at multiples of this many rows; only a picture that has fewer
            rows comes in a lower band.
        gather: called as `gather(band, top, values)`; fills its part of `values` from the rows of a
            picture that begin at row `top`.
        luma_plane: index of the plane of the values on which motion is estimated; needed where
            values of neighbouring frames are filtered over time.
    """

    cache_key: Hashable
    shape: tuple[int, ...]
    band_multiple: int
    gather: Callable[[Picture, int, Values], None]
    luma_plane: int | None = None


class StatisticsSource(Protocol):
    """Gives a treatment the statistics and the whole pictures that it asks for.

    Offsets count frames from the one that is treated. Beyond the clip's ends stands its first or
    its last frame.
    """

    def frame_statistics(self, offset: int) -> Values:
        """Values gathered from one frame as the treatment's spec says; not to be written to."""

    def clip_statistics(self) -> Values:
        """Values reduced from frames spread over the whole clip: the same at every frame."""

    def whole_picture(self, offset: int = 0) -> Picture:
        """The whole picture that the treatment reads; not to be written to."""

    def flow_between(self, here: int, there: int) -> Values | None:
        """Return optical flow from a frame to a neighbouring one, and how far it is to be trusted.

        Shape `(3, lines, columns)`: x and y in pixels of that size, then trust 0..1. None over a
        cut, and beyond the clip's ends.

        Args:
            here: the one frame.
            there: the other.
        """
