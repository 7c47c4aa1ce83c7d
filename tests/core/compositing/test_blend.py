"""W3C Compositing and Blending Level 1, §9.1 and §9.2, written out again in float64."""

import numpy as np
import pytest

from yearning.core.compositing.blend import BLENDS, BlendMode, blend_pictures, mix
from yearning.core.compositing.weight import weight_plane


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


def _lum(c):
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]


def _sat(c):
    return c.max(axis=0) - c.min(axis=0)


def _clip_color(c):
    light, low, high = _lum(c), c.min(axis=0), c.max(axis=0)
    with np.errstate(divide="ignore", invalid="ignore"):
        c = np.where(low < 0, light + (c - light) * light / (light - low), c)
        return np.where(high > 1, light + (c - light) * (1 - light) / (high - light), c)


def _set_lum(c, light):
    return _clip_color(c + (light - _lum(c)))


def _set_sat(c, s):
    with np.errstate(divide="ignore", invalid="ignore"):
        scaled = (c - c.min(axis=0)) * s / _sat(c)
    return np.where(_sat(c) > 0, scaled, 0)


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
    "hue": lambda b, s: _set_lum(_set_sat(s, _sat(b)), _lum(b)),
    "saturation": lambda b, s: _set_lum(_set_sat(b, _sat(s)), _lum(b)),
    "colour": lambda b, s: _set_lum(s, _lum(b)),
    "luminosity": lambda b, s: _set_lum(b, _lum(s)),
    "add": lambda b, s: b + s,
    "subtract": lambda b, s: b - s,
    "linear burn": lambda b, s: b + s - 1,
    "linear light": lambda b, s: b + 2 * s - 1,
    "divide": lambda b, s: _dodge(b, 1 - s),
}
"""§9.1.1 to §9.2.4; the last five are common practice, no source."""

STEPS = np.linspace(0, 1, 33)


@pytest.fixture
def pair():
    b, s = np.meshgrid(STEPS, STEPS)
    colours = np.random.default_rng(3).random((2, 3, 60, 60))
    colours[:, 1, :9], colours[:, :, 9:12] = colours[:, 0, :9], colours[:, :1, 9:12]  # ties, greys
    grey = [np.stack([p] * 3)[:, :, :33] for p in (b, s)]
    return [
        np.concatenate([g.reshape(3, -1), c.reshape(3, -1)], axis=1)[:, None].astype(np.float32)
        for g, c in zip(grey, colours, strict=True)
    ]


@pytest.mark.parametrize("mode", BLENDS)
def test_every_mode_is_the_published_formula(mode, pair):
    b, s = pair
    expected = W3C[mode](b.astype(np.float64), s.astype(np.float64))
    np.testing.assert_allclose(blend_pictures(b, s, mode), expected, atol=2e-6)


@pytest.mark.parametrize("mode", BLENDS)
@pytest.mark.parametrize("amount", [0.0, 0.3, 1.0])
def test_amount_goes_from_the_backdrop_to_the_blend(mode, amount, pair):
    b, s = pair
    mixed = np.empty_like(b)
    mix(b, s, mode, weight_plane(b, amount), mixed)
    expected = b + amount * (W3C[mode](b.astype(np.float64), s.astype(np.float64)) - b)
    np.testing.assert_allclose(mixed, expected, atol=2e-6)


NEUTRAL = {
    "multiply": 1, "screen": 0, "darken": 1, "lighten": 0, "colour dodge": 0, "colour burn": 1,
    "hard light": 0.5, "soft light": 0.5, "difference": 0, "exclusion": 0, "add": 0, "subtract": 0,
    "linear burn": 1, "linear light": 0.5, "divide": 1,
}  # fmt: skip


@pytest.mark.parametrize("mode", NEUTRAL)
def test_a_neutral_source_leaves_values_beyond_white_and_black_alone(mode):
    beyond = np.linspace(-0.5, 1.8, 24, dtype=np.float32).reshape(3, 2, 4)
    source = np.full_like(beyond, NEUTRAL[mode])
    np.testing.assert_allclose(blend_pictures(beyond, source, mode), beyond, atol=1e-6)


BEYOND = np.array([-0.6, -0.3, 0, 0.2, 0.5, 0.8, 1, 1.4, 2.5], np.float32)


def beyond_pair():
    b, s = np.meshgrid(BEYOND, BEYOND, indexing="ij")
    return np.stack([b] * 3), np.stack([s] * 3)


def mix_keeping(backdrop, source, mode):
    out = np.empty_like(backdrop)
    mix(backdrop, source, mode, weight_plane(backdrop, 1), out, keep_beyond=True)
    return out


@pytest.mark.parametrize(
    ("mode", "source", "result"),
    [("screen", 1, 1), ("multiply", 0, 0), ("lighten", 1, 1), ("darken", 0, 0),
     ("hard light", 0, 0), ("hard light", 1, 1), ("luminosity", 1, 1), ("luminosity", 0, 0)],
)  # fmt: skip
def test_a_source_that_hides_the_picture_hides_what_lies_beyond_too(mode, source, result):
    """White screened on what was crushed is white, to a display."""
    b = beyond_pair()[0]
    shown = np.clip(blend_pictures(b, np.full_like(b, source), mode), 0, 1)
    np.testing.assert_allclose(shown, result, atol=1e-6)


@pytest.mark.parametrize("mode", BLENDS)
def test_what_a_display_shows_of_a_backdrop_beyond_is_no_less_than_of_a_darker_one(mode):
    """Where a mode grows with the backdrop within 0..1, it does not turn round beyond."""
    b, s = beyond_pair()
    shown = blend_pictures(b, s, mode)[0]
    within = W3C[mode](*(np.clip(v, 0, 1).astype(np.float64) for v in (b, s)))[0]
    grows = np.diff(within[2:7], axis=0).min(axis=0) >= 0
    below, above = np.diff(shown[:3], axis=0), np.diff(shown[6:], axis=0)
    assert below[:, grows].min(initial=0) >= -1e-6
    assert above[:, grows].min(initial=0) >= -1e-6


@pytest.mark.parametrize("mode", BLENDS)
def test_within_black_and_white_it_is_the_same_whether_beyond_is_cut_or_kept(mode):
    b, s = beyond_pair()
    inside = (b >= 0) & (b <= 1) & (s >= 0) & (s <= 1)
    np.testing.assert_array_equal(
        blend_pictures(b, s, mode)[inside], mix_keeping(b, s, mode)[inside]
    )


def test_a_screened_light_beyond_white_and_a_pull_below_black_are_not_held():
    """As a glow has them: over a picture within 0..1 it is b + s (1 − b) for every s."""
    b, s = beyond_pair()
    inside = (b >= 0) & (b <= 1)
    np.testing.assert_allclose(
        blend_pictures(b, s, "screen")[inside], (b + s * (1 - b))[inside], atol=1e-6
    )
    np.testing.assert_array_equal(
        blend_pictures(b, s, "screen")[b >= 0], mix_keeping(b, s, "screen")[b >= 0]
    )


@pytest.mark.parametrize("mode", BLENDS)
def test_keeping_what_lies_beyond_is_the_formula_of_the_first_format(mode):
    """b − inside + B(inside, s), both sides held by the four modes that look for a hue."""
    b, s = beyond_pair()
    inside = np.clip(b, 0, 1)
    if mode in ("hue", "saturation", "colour", "luminosity"):
        expected = b - inside + W3C[mode](inside.astype(np.float64), np.clip(s, 0, 1))
    elif mode == "normal":
        expected = s
    else:
        expected = b - inside + blend_pictures(inside, s, mode)
        outside = (s < 0) | (s > 1)
        expected[outside] = mix_keeping(inside, s, mode)[outside] + (b - inside)[outside]
    np.testing.assert_allclose(mix_keeping(b, s, mode), expected, atol=2e-6)


def test_only_rows_with_something_beyond_take_the_slower_way_and_join_the_others():
    rng = np.random.default_rng(5)
    b, s = rng.random((2, 3, 6, 50), np.float32)
    b[:, 3, 7] = -0.4
    for mode in BLENDS:
        out = blend_pictures(b, s, mode)
        plain = blend_pictures(np.clip(b, 0, 1), s, mode)
        rest = np.ones((6, 50), bool)
        rest[3, 7] = False
        np.testing.assert_allclose(out[:, rest], plain[:, rest], atol=1e-6)


@pytest.mark.parametrize("mode", BLENDS)
def test_no_mode_makes_nan_or_infinity_of_values_outside(mode):
    values = np.array([-3, -1e-7, 0, 1e-7, 0.5, 1 - 1e-7, 1, 1 + 1e-7, 4], np.float32)
    b, s = np.meshgrid(values, values)
    out = blend_pictures(np.stack([b] * 3), np.stack([s] * 3), mode)
    assert np.isfinite(out).all()


@pytest.mark.parametrize("mode", ["normal", "screen", "multiply", "luminosity"])
def test_a_tone_window_weighs_by_the_luma_of_the_picture_below(mode, pair):
    b, s = pair
    window = ((0.1, 0.0), (0.4, 1.0), (0.7, 0.25))
    mixed, whole = np.empty_like(b), blend_pictures(b, s, mode)
    mix(b, s, mode, weight_plane(b, 0.8, window), mixed)
    luma = np.tensordot([0.2126, 0.7152, 0.0722], b, 1)  # BT.709-6, item 3.2
    weight = 0.8 * np.interp(luma, *np.transpose(window))
    np.testing.assert_allclose(mixed, b + weight * (whole - b), atol=3e-6)


def test_a_window_of_one_weight_is_an_amount(pair):
    b, s = pair
    windowed, plain = np.empty_like(b), np.empty_like(b)
    mix(b, s, "screen", weight_plane(b, 1, ((0.2, 0.3), (0.9, 0.3))), windowed)
    mix(b, s, "screen", weight_plane(b, 0.3), plain)
    np.testing.assert_allclose(windowed, plain, atol=1e-6)


def test_every_blend_has_a_mode_of_its_own_and_every_mode_a_blend():
    assert [BlendMode.of(blend) for blend in BLENDS] == list(BlendMode)
