"""Tone windows: straight between their points, level beyond, and refused when they are none."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from yearning.core.compositing.tone_window import (
    FLAT,
    MAX_POINTS,
    Tones,
    tone_segments,
    weigh_tones,
)

WINDOW = TypeAdapter(Tones)


def weights(points, line):
    out = np.empty_like(line)
    weigh_tones(line, tone_segments(tuple(map(tuple, points))), out)
    return out


@st.composite
def windows(draw):
    count = draw(st.integers(1, MAX_POINTS))
    tones = draw(
        st.lists(st.integers(0, 1000), min_size=count, max_size=count, unique=True).map(sorted)
    )
    return [(tone / 1000, draw(st.integers(0, 100)) / 100) for tone in tones]


@given(windows())
def test_a_window_is_straight_between_its_points_and_level_beyond(points):
    WINDOW.validate_python(points)
    line = np.linspace(-0.3, 1.3, 801, dtype=np.float32)
    expected = np.interp(line, *np.transpose(points))
    np.testing.assert_allclose(weights(points, line), expected, atol=5e-4)


def test_the_flat_window_leaves_nothing_out():
    line = np.linspace(-1, 2, 50, dtype=np.float32)
    np.testing.assert_array_equal(weights(FLAT, line), 1)
    assert len(tone_segments(FLAT)) == 1


REFUSED = {
    "none": [],
    "too many": [[n / 20, 1] for n in range(MAX_POINTS + 1)],
    "back": [[0.5, 0], [0.4, 1]],
    "one place twice": [[0.5, 0], [0.5, 1]],
    "beyond white": [[0, 0], [1.1, 1]],
    "more than all": [[0, 0], [1, 1.1]],
    "less than nothing": [[0, -0.1]],
    "one number": [[0.5]],
    "words": [["dark", 1]],
}


@pytest.mark.parametrize("what", REFUSED)
def test_what_is_no_window_is_refused(what):
    with pytest.raises(ValidationError):
        WINDOW.validate_python(REFUSED[what])
