"""Sizes that small footage can't show are made as large as it can."""

import numpy as np
import pytest

import yearning as yn
from tests.conftest import a_look, step
from yearning.core.look.visible_sizes import with_visible_sizes


@pytest.mark.parametrize(
    ("lines", "pitch"), [(1080, 8), (2160, 8), (540, 8), (272, 16), (270, 16), (144, 30)]
)
def test_a_print_on_small_footage_has_dots_of_four_pixels(lines, pitch):
    made = with_visible_sizes(a_look(step("halftone"), step("grain")), lines)
    assert made.steps[0].settings.pitch == pitch
    assert made.steps[1] == a_look(step("halftone"), step("grain")).steps[1]


def test_what_is_keyed_or_large_enough_stays_and_bundles_are_looked_into():
    steps = [
        {"id": "k", "treatment": "halftone", "keys": {"pitch": [{"frame": 0, "value": 5}]}},
        {"id": "l", "treatment": "halftone", "settings": {"pitch": 40}},
        {"id": "b", "treatment": "bundle", "settings": {"steps": [step("halftone")]}},
    ]
    look = a_look(*steps)
    small = with_visible_sizes(look, 272)
    assert small.steps[:2] == look.steps[:2]
    assert small.steps[2].settings.steps[0].settings.pitch == 16


def test_a_starter_takes_dots_that_the_clip_can_show():
    small = yn.ArrayClip(np.zeros((2, 3, 272, 480), np.float32))
    pitches = [
        step.treatment.pitch
        for step in yn.starter("news print", small).steps
        if isinstance(step.treatment, yn.Halftone)
    ]
    assert pitches == [16]
