"""The weight plane: how strongly a step shows at each pixel, computed once for all it does.

weight = amount × tones × coverage. Keys and bursts have become part of the amount by then.
"""

import numba
import numpy as np

from yearning.core.buffers import new_array
from yearning.core.colour.luma import fill_luma_line
from yearning.core.compositing.tone_window import TonePoints, tone_segments, weigh_tones
from yearning.core.kernel_arrays import new_line
from yearning.core.picture import Picture, Plane

_UNIFORM_TONES = tone_segments(((0.0, 1.0),))
_FULL_COVERAGE = np.ones((1, 1), np.float32)


@numba.njit(nogil=True, cache=True, fastmath={"nsz", "contract"})
def _fill_weights(
    backdrop: Picture, amount: np.float32, segments: Plane, coverage: Plane, out: Plane
) -> None:
    height, width = out.shape
    luma = new_line(width)
    for y in range(height):
        weight = out[y]
        fill_luma_line(backdrop[0, y], backdrop[1, y], backdrop[2, y], luma)
        weigh_tones(luma, segments, weight)
        if coverage.size == 1:
            for x in range(width):
                weight[x] *= amount
        else:
            for x in range(width):
                weight[x] *= amount * coverage[y, x]


def weight_plane(
    backdrop: Picture,
    amount: float,
    tones: TonePoints | None = None,
    coverage: Plane | None = None,
) -> Plane:
    """How strongly a step shows at each pixel of a band.

    Args:
        backdrop: the picture below, shape `(3, height, width)`, whose luma the tone window weighs.
        amount: 0..1.
        tones: points of a tone window, or None for none.
        coverage: 0..1, shape `(height, width)`, or None for 1 everywhere.

    Returns:
        The weights, shape `(height, width)`, or `(1, 1)` where all are the same.

    >>> dark_and_light = np.array([[[0.0, 1.0]]] * 3, np.float32)
    >>> weight_plane(dark_and_light, 0.5, tones=((0.0, 0.0), (1.0, 1.0))).tolist()
    [[0.0, 0.5]]
    """
    if tones is None and coverage is None:
        return np.full((1, 1), amount, np.float32)
    out = new_array(backdrop.shape[1:])
    segments = _UNIFORM_TONES if tones is None else tone_segments(tones)
    covered = _FULL_COVERAGE if coverage is None else coverage
    _fill_weights(backdrop, np.float32(amount), segments, covered, out)
    return out
