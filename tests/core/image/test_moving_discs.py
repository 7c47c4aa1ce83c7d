"""Discs that move while a shutter is open, against what a sum over its time makes of them."""

import numba
import numpy as np
import pytest

from yearning.core.image.moving_discs import moving_disc
from yearning.core.smoothstep import smoothstep_array


@numba.njit
def _draw_disc(along, across, half, radius, soft):
    out = np.empty(along.shape, np.float32)
    for y in range(along.shape[0]):
        for x in range(along.shape[1]):
            out[y, x] = moving_disc(
                np.float32(along[y, x]),
                np.float32(across[y, x]),
                np.float32(half),
                np.float32(radius),
                np.float32(soft),
            )
    return out


@pytest.mark.parametrize("soft", [0.4, 2.0, 5.0])
@pytest.mark.parametrize("half", [0.0, 1.0, 4.0, 20.0])
def test_a_moving_disc_is_what_its_shutter_s_time_sums_up(soft, half):
    radius = 6.0
    across, along = np.mgrid[-14:14:0.25, -36:36:0.25]
    found = _draw_disc(along, across, half, radius, soft)
    exact = np.zeros_like(found)
    for at in (np.arange(200) + 0.5) / 100 - 1:
        far = np.hypot(along - at * half, across)
        exact += smoothstep_array((radius + soft - far) / (2 * soft)) / 200
    assert np.abs(found - exact).max() < 0.12  # on the rim of a sharp one, a quarter pixel wide
    assert np.abs(found - exact).mean() < 0.003
    area = np.pi * (radius**2 + soft**2 / 5)
    assert found.sum() / 16 == pytest.approx(area, rel=0.01)


def test_a_fast_one_is_long_and_faint_and_has_no_ends():
    """A capsule would be as dense all along; this one is densest in its middle line, and fades."""
    across, along = np.mgrid[-8:8:0.5, -30:30:0.5]
    found = _draw_disc(along, across, 16.0, 3.0, 1.0)
    middle = found[16]
    assert middle.max() < 3.2 / 16
    assert np.abs(np.diff(middle)).max() < 0.1 * middle.max()
    assert found[16 + 4, 60] < 0.85 * middle[60]
