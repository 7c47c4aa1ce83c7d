"""W3C Compositing and Blending Level 1, §9.1, written out again in float64."""

import numpy as np
import pytest

from yearning.core.blend import BLENDS, blended, mix_into


def _hard_light(b, s):
    return np.where(s <= 0.5, b * 2 * s, b + (2 * s - 1) - b * (2 * s - 1))


def _soft_light(b, s):
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), b + (2 * s - 1) * (d - b))


def _dodge(b, s):
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(b == 0, 0, np.where(s == 1, 1, np.minimum(1, b / (1 - s))))


def _burn(b, s):
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(b == 1, 1, np.where(s == 0, 0, 1 - np.minimum(1, (1 - b) / s)))


W3C = {
    "normal": lambda b, s: s,
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "overlay": lambda b, s: _hard_light(s, b),
    "darken": np.minimum,
    "lighten": np.maximum,
    "colour dodge": _dodge,
    "colour burn": _burn,
    "hard light": _hard_light,
    "soft light": _soft_light,
    "difference": lambda b, s: np.abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
}
"""§9.1.1 to §9.1.12."""

STEPS = np.linspace(0, 1, 33)


@pytest.fixture
def pair():
    b, s = np.meshgrid(STEPS, STEPS)
    return [np.stack([p] * 3).astype(np.float32) for p in (b, s)]


@pytest.mark.parametrize("mode", BLENDS)
def test_every_mode_is_the_published_formula(mode, pair):
    b, s = pair
    expected = W3C[mode](b.astype(np.float64), s.astype(np.float64))
    np.testing.assert_allclose(blended(b, s, mode), expected, atol=2e-6)


@pytest.mark.parametrize("mode", BLENDS)
@pytest.mark.parametrize("amount", [0.0, 0.3, 1.0])
def test_amount_goes_from_the_backdrop_to_the_blend(mode, amount, pair):
    b, s = pair
    mixed = b.copy()
    mix_into(mixed, s, mode, amount)
    expected = b + amount * (W3C[mode](b.astype(np.float64), s.astype(np.float64)) - b)
    np.testing.assert_allclose(mixed, expected, atol=2e-6)


NEUTRAL = {
    "multiply": 1, "screen": 0, "darken": 1, "lighten": 0, "colour dodge": 0, "colour burn": 1,
    "hard light": 0.5, "soft light": 0.5, "difference": 0, "exclusion": 0,
}  # fmt: skip


@pytest.mark.parametrize("mode", NEUTRAL)
def test_a_neutral_source_leaves_values_beyond_white_and_black_alone(mode):
    beyond = np.linspace(-0.5, 1.8, 24, dtype=np.float32).reshape(3, 2, 4)
    source = np.full_like(beyond, NEUTRAL[mode])
    np.testing.assert_allclose(blended(beyond, source, mode), beyond, atol=1e-6)


@pytest.mark.parametrize("mode", BLENDS)
def test_no_mode_makes_nan_or_infinity_of_values_outside(mode):
    values = np.array([-3, -1e-7, 0, 1e-7, 0.5, 1 - 1e-7, 1, 1 + 1e-7, 4], np.float32)
    b, s = np.meshgrid(values, values)
    out = blended(np.stack([b] * 3), np.stack([s] * 3), mode)
    assert np.isfinite(out).all()
