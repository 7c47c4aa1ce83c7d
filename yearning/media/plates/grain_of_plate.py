"""Grain measured on a plate."""

import numpy as np

from yearning.core.measure.grain_scan import measure_grain
from yearning.core.noise.scanned_grain import GrainError, ScannedGrain
from yearning.media.errors import MediaError
from yearning.media.plates.plates import OpenPlate

FRAMES = 4
"""Of a clip, at the most, spread over it: more know the grain hardly better."""


def grain_of_plate(plate: OpenPlate, name: str) -> ScannedGrain:
    """Return the grain measured on a plate that is a scan of even film.

    Args:
        plate: opened.
        name: what messages begin with.

    Raises:
        MediaError: it can't be read, or no grain can be measured on it; the message says why.
    """
    count = min(FRAMES, plate.frames)
    numbers = np.linspace(0, plate.frames - 1, count).round().astype(int).tolist()
    try:
        return measure_grain((plate.picture(n, plate.size) for n in numbers), name)
    except GrainError as error:
        raise MediaError(f"{name}: {error}") from None
