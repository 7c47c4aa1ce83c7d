"""Settling along motion: noise goes, what moves stays sharp, nothing comes from beyond a cut."""

import numpy as np
import pytest

from tests.core.measure.test_steadiness import MOVES, SIZE, move_picture, texture
from yearning.core.motion.temporal_filter import (
    binomial_weights,
    flow_both_ways,
    reduced_luma,
    temporally_filtered,
)


def values_of(pictures):
    """StatisticsSource values as glow has them: three planes and luma."""
    return [np.concatenate([p, p[1:2]]).astype(np.float32) for p in pictures]


def settle(values, here, frames):
    links = {
        n: flow_both_ways(reduced_luma(values[n][3]), reduced_luma(values[n + 1][3]))
        for n in range(len(values) - 1)
    }

    def flow_of(a, b):
        if not 0 <= here + b < len(values):
            return None
        both = links[here + min(a, b)]
        return both[0 if a < b else 1] if both.size else None

    return temporally_filtered(lambda n: values[here + n], flow_of, frames)


def rms(a, b, edge=12):
    inside = np.s_[:, edge:-edge, edge:-edge]
    return float(np.sqrt(np.mean((a[inside] - b[inside]) ** 2)))


@pytest.mark.parametrize("way", MOVES)
def test_what_moves_is_not_smeared(way):
    """Against a mean of the same weights that knows nothing of motion."""
    values = values_of([move_picture(texture(), MOVES[way], n) for n in range(5)])
    plain = sum(w * v for w, v in zip(binomial_weights(4), values, strict=True))
    assert rms(settle(values, 2, 2), values[2]) < 0.2 * rms(plain, values[2])


def test_noise_goes_from_what_moves():
    """With weights 1 4 6 4 1 the noise of five frames is at best √(70/256) = 0.52 of one's."""
    clean = values_of([move_picture(texture(), MOVES["a pan"], n) for n in range(5)])
    rng = np.random.default_rng(4)
    noisy = [c + rng.normal(0, 0.02, c.shape).astype(np.float32) for c in clean]
    left = rms(settle(noisy, 2, 2), clean[2]) / rms(noisy[2], clean[2])
    assert 0.4 < left < 0.68


def test_nothing_comes_from_beyond_a_cut_or_the_ends():
    first = values_of([texture()[:, :144, :256]])[0]
    second = values_of([1 - texture(seed=8)[:, 60:204, 80:336]])[0]
    values = [first, first, second, second]
    for here in range(4):
        np.testing.assert_array_equal(settle(values, here, 3), values[here])


def test_a_light_that_comes_for_one_frame_is_spread_over_its_neighbours():
    ground = texture()[:, : SIZE.height, : SIZE.width]
    values = values_of([ground, ground, ground + 0.2, ground, ground])
    lift = [float((settle(values, n, 1) - values[n]).mean()) for n in range(5)]
    np.testing.assert_allclose(lift, [0, 0.05, -0.1, 0.05, 0], atol=0.012)
