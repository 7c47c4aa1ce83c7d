"""Light of a clip, and how much brighter or darker each frame is to be."""

import numpy as np
import pytest

from tests.conftest import lamps
from yearning.core.measure.deflicker import MAX_GAIN, ExposureTrace, even_gains
from yearning.core.motion.cuts import MIN_CORRELATION
from yearning.core.picture import Size


def light_of(pictures):
    light = ExposureTrace()
    for picture in pictures:
        light.add(picture)
    return light.measurements()


def test_exposure_does_not_change_how_like_frames_are_and_a_cut_does():
    first, second = lamps(Size(160, 90), 6), [1 - p[::-1, ::-1] for p in lamps(Size(160, 90), 6, 9)]
    pumped = [p * (1 + 0.4 * (-1) ** n) for n, p in enumerate(first)]
    found = light_of(pumped + second)[:, 1]
    assert found[1:6].min() > 0.95
    assert found[6] < MIN_CORRELATION
    assert found[7:].min() > 0.95


def test_mean_luma_is_measured():
    picture = np.stack([np.full((30, 40), v, np.float32) for v in (0.2, 0.6, 0.4)])
    found = light_of([picture] * 2)
    np.testing.assert_allclose(found[:, 0], 0.2126 * 0.2 + 0.7152 * 0.6 + 0.0722 * 0.4, atol=1e-6)
    np.testing.assert_array_equal(found[:, 1], 1)  # flat frames are of one shot


def test_a_slow_fade_is_left_and_fast_pumping_is_not():
    frames = np.arange(240)
    fade = 0.2 + 0.4 * frames / 240
    light = np.stack([fade * (1 + 0.1 * np.sin(2.5 * frames)), np.ones(240)], 1)
    even = light[:, 0] * even_gains(light, 12)
    np.testing.assert_allclose(even[20:-20], fade[20:-20], rtol=0.02)


@pytest.mark.parametrize("frames", [1, 6, 48])
def test_gains_are_bounded_and_a_steady_clip_gets_none(frames):
    rng = np.random.default_rng(frames)
    wild = np.stack([rng.uniform(0, 1, 90), np.ones(90)], 1)
    gains = even_gains(wild, frames)
    assert 1 / MAX_GAIN <= gains.min() <= gains.max() <= MAX_GAIN
    steady = np.stack([np.full(90, 0.37), np.ones(90)], 1)
    np.testing.assert_array_equal(even_gains(steady, frames), 1)


def test_shots_are_evened_apart():
    luma = np.array([0.2] * 20 + [0.8] * 20)
    like = np.ones(40)
    like[20] = 0.1
    np.testing.assert_array_equal(even_gains(np.stack([luma, like], 1), 8), 1)
    uncut = even_gains(np.stack([luma, np.ones(40)], 1), 8)
    assert uncut[19] > 1.2
