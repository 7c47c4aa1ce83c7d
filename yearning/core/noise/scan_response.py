"""How strong a scan's grain is in each tone, and grain laid on a picture so."""

from dataclasses import dataclass

import numba
import numpy as np
from numpy.typing import NDArray

from yearning.core.colour.luma import bt709_luma
from yearning.core.kernel_arrays import new_line, new_lines
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.picture import Picture
from yearning.core.smoothstep import smoothstep_array

MAX_TONES = 7
"""Between which strength goes in straight lines; of more, as many spread over them are taken."""

FILM_RESPONSE = 0.4, 1.0, 0.3
"""Grain in black, in mid-grey and in white, where a scan has one tone alone. Common practice, no
source."""


@dataclass(frozen=True)
class ScanResponse:
    """A scan's grain, and its rms: `darkest` + Σ `bends` · max(luma − `tones`, 0).

    Args:
        grain: of the scan.
        darkest: of each channel below all tones, shape `(3,)`.
        tones: lumas where lines meet, shape `(n,)`.
        bends: by how much their slope changes there, by channel, shape `(3, n)`.
    """

    grain: PreparedGrain
    darkest: NDArray[np.float32]
    tones: NDArray[np.float32]
    bends: NDArray[np.float32]

    @staticmethod
    def of(grain: PreparedGrain, strength: float) -> "ScanResponse":
        """Return a scan's response.

        Args:
            grain: of the scan.
            strength: factor of its grain.
        """
        known = np.array([tone.luma for tone in grain.tones])
        rms = np.array([tone.rms for tone in grain.tones]).T
        tones = known
        if len(known) == 1:
            tones = np.linspace(0, 1, MAX_TONES)
            rms = rms * film_response(tones) / film_response(known)
        elif len(known) > MAX_TONES:
            tones = np.linspace(known[0], known[-1], MAX_TONES)
            rms = np.array([np.interp(tones, known, each) for each in rms])
        slopes = np.diff(rms) / np.diff(tones)
        level = np.zeros((3, 1))
        bends = np.diff(np.concatenate([level, slopes, level], axis=1))
        return ScanResponse(
            grain,
            (rms[:, 0] * strength).astype(np.float32),
            tones.astype(np.float32),
            (bends * strength).astype(np.float32),
        )

    def lay(self, picture: Picture, noise: Picture, out: Picture, out_top: int) -> None:
        """Write rows of a picture with noise.

        Args:
            picture: display-coded, shape `(3, rows, width)`.
            noise: of unit variance, of the same shape.
            out: takes the rows.
            out_top: from which row of it on.
        """
        _lay(picture, noise, self.darkest, self.tones, self.bends, out, out_top)


def film_response(luma: NDArray[np.float64]) -> NDArray[np.float64]:
    """How grain falls from mid-grey towards black and white.

    >>> film_response(np.array([0.0, 0.5, 1.0])).tolist()
    [0.4, 1.0, 0.3]
    """
    black, mid, white = FILM_RESPONSE
    side = 2 * luma - 1
    end = np.where(side < 0, black, white)
    return np.asarray(end + (mid - end) * smoothstep_array(1 - np.abs(side)))


@numba.njit(nogil=True, cache=True, fastmath=True)
def _lay(
    picture: Picture,
    noise: Picture,
    darkest: NDArray[np.float32],
    tones: NDArray[np.float32],
    bends: NDArray[np.float32],
    out: Picture,
    out_top: int,
) -> None:
    width = picture.shape[2]
    luma, rms = new_line(width), new_lines(3, width)
    red_rms, green_rms, blue_rms = rms[0], rms[1], rms[2]
    for y in range(picture.shape[1]):
        red, green, blue = picture[0, y], picture[1, y], picture[2, y]
        for x in range(width):
            luma[x] = bt709_luma(red[x], green[x], blue[x])
        for c in range(3):
            rms[c] = darkest[c]
        for n in range(tones.shape[0]):
            tone, by_red, by_green, by_blue = tones[n], bends[0, n], bends[1, n], bends[2, n]
            for x in range(width):
                above = max(luma[x] - tone, np.float32(0))
                red_rms[x] += by_red * above
                green_rms[x] += by_green * above
                blue_rms[x] += by_blue * above
        for c in range(3):
            line, grain, weights, to = picture[c, y], noise[c, y], rms[c], out[c, out_top + y]
            for x in range(width):
                to[x] = line[x] + weights[x] * grain[x]
