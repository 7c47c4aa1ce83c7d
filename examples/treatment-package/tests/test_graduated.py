"""The graduated filter: what every treatment promises, and its formula."""

import numpy as np
import pytest
from darkroom_glass.graduated import DISPLAY_GAMMA, Graduated

import yearning as yn
from yearning.testing import check_treatment

SETTINGS = (
    {},
    {"stops": 3, "turn": 40, "width": 900},
    {"edge": "straight", "swapped": True, "tint": "#2040ff", "strength": 1},
)


@pytest.mark.parametrize("settings", SETTINGS)
def test_it_keeps_what_every_treatment_promises(settings):
    check_treatment(Graduated, settings)


def test_two_stops_at_the_dark_side_leave_a_quarter_of_the_light():
    grey = yn.ArrayClip(np.full((1, 3, 108, 192), 0.5, np.float32))
    look = yn.Look([Graduated(stops=2, strength=0, width=200)])
    made = look.picture(grey, 0)
    assert (made[:, 0, 0] / 0.5) ** DISPLAY_GAMMA == pytest.approx(0.25, rel=1e-5)
    assert made[:, -1, 0] == pytest.approx(0.5)
    assert (made[:, 48, 0] < 0.5).all()
