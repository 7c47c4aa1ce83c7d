"""How strong a scan's grain is in each tone, and grain laid on a picture so."""

from dataclasses import dataclass

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import bt709_luma
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.picture import Picture
from yearning.core.smoothstep import smoothstep_array

STEPS = 64
"""Of luma, from black to white."""

FILM_RESPONSE = 0.4, 1.0, 0.3
"""Grain in black, in mid-grey and in white, where a scan has one tone alone. Common practice, no
source."""


@dataclass(frozen=True)
class ScanResponse:
    """A scan's grain, and its rms.

    Args:
        grain: of the scan.
        rms: by channel and luma, shape `(3, STEPS + 1)`.
    """

    grain: PreparedGrain
    rms: NDArray[np.float32]

    @staticmethod
    def of(grain: PreparedGrain, strength: float) -> "ScanResponse":
        """A scan's response, its grain `strength` times as strong."""
        luma = np.linspace(0, 1, STEPS + 1)
        tones = [tone.luma for tone in grain.tones]
        by_channel = zip(*(tone.rms for tone in grain.tones), strict=True)
        rms = np.array([np.interp(luma, tones, each) for each in by_channel])
        if len(tones) == 1:
            rms *= film_response(luma) / film_response(np.array(tones))
        return ScanResponse(grain, (rms * strength).astype(np.float32))

    def lay(self, picture: Picture, noise: Picture, out: Picture, out_top: int) -> None:
        """Write rows of a picture with noise of unit variance, into `out` from `out_top` on."""
        _lay(picture, noise, self.rms, out, out_top)


def film_response(luma: NDArray[np.float64]) -> NDArray[np.float64]:
    """How grain falls from mid-grey towards black and white.

    >>> film_response(np.array([0.0, 0.5, 1.0])).tolist()
    [0.4, 1.0, 0.3]
    """
    black, mid, white = FILM_RESPONSE
    side = 2 * luma - 1
    end = np.where(side < 0, black, white)
    return np.asarray(end + (mid - end) * smoothstep_array(1 - np.abs(side)))


@numba.njit(nogil=True, cache=True)  # without fastmath, by which a NaN may be of any tone
def _lay(
    picture: Picture, noise: Picture, rms: NDArray[np.float32], out: Picture, out_top: int
) -> None:
    steps = rms.shape[1] - 1
    width = picture.shape[2]
    for y in range(picture.shape[1]):
        red, green, blue = picture[0, y], picture[1, y], picture[2, y]
        for x in range(width):
            luma = bt709_luma(red[x], green[x], blue[x])
            at = luma * np.float32(steps) if luma > 0 else np.float32(0)
            at = at if at < steps else np.float32(steps)
            low = min(np.int32(at), steps - 1)
            part = at - np.float32(low)
            for c in range(3):
                weight = rms[c, low] + part * (rms[c, low + 1] - rms[c, low])
                out[c, out_top + y, x] = picture[c, y, x] + weight * noise[c, y, x]
