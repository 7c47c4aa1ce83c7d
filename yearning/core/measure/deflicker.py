"""Deflickering: the gain of each frame of a clip that evens out pumping exposure."""

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import luma_plane
from yearning.core.motion.cuts import MIN_CORRELATION, layout_correlation, luma_layout
from yearning.core.picture import Picture

Array = NDArray[np.float64]

MAX_GAIN = 2.0
"""The most a frame is brightened, or darkened, in display-coded values."""

DARK = 1 / 255
"""Mean luma below which a frame is taken as black, and left."""


class ExposureTrace:
    """A clip's light, frame after frame: mean luma, and how like the frame before each one is."""

    def __init__(self) -> None:
        self._found: list[tuple[float, float]] = []
        self._before: Array | None = None

    def add(self, picture: Picture) -> None:
        """Measure the next frame, of shape `(3, height, width)`, at least 16 by 9 pixels."""
        luma = luma_plane(picture)
        centred = luma_layout(luma)
        like = 1.0 if self._before is None else layout_correlation(self._before, centred)
        self._before = centred
        self._found.append((float(luma.mean(dtype=np.float64)), like))

    def measurements(self) -> Array:
        """What was found, shape `(frames, 2)`."""
        return np.array(self._found).reshape(-1, 2)


def even_gains(light: Array, frames: int) -> Array:
    """Return the gain of each frame's display-coded values that evens its brightness.

    Within a shot the logarithm of mean luma is smoothed by a gaussian window of `frames` on each
    side (σ a third of that), mirrored at the shot's ends; each frame is brought to what comes out,
    by a factor of at most `MAX_GAIN`. Nothing is smoothed over a cut.

    Args:
        light: as `ExposureTrace` measured it.
        frames: half of the window.
    """
    luma, like = light.T
    gains = np.ones(len(luma))
    window = np.exp(-0.5 * (np.arange(-frames, frames + 1) / (frames / 3)) ** 2)
    window /= window.sum()
    cuts = [0, *(np.nonzero(like[1:] < MIN_CORRELATION)[0] + 1), len(luma)]
    for first, end in pairwise(cuts):
        own = np.log(np.maximum(luma[first:end], DARK))
        even = np.convolve(np.pad(own, frames, mode="symmetric"), window, mode="valid")
        gains[first:end] = np.exp(even - own)
    gains = np.clip(gains, 1 / MAX_GAIN, MAX_GAIN)
    gains[(luma < DARK) | (np.abs(gains - 1) < 1e-6)] = 1.0
    return gains
