"""Layers: what a treatment adds of its own, which modes other than its own lay on the picture."""

import numpy as np
import pytest

from tests.conftest import ASSETS, RecordingClip, a_look, lamps, step, with_asset
from yearning.core.cache import Cache
from yearning.core.compositing.blend import BLENDS, blend_pictures
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.core.treatment.capabilities import (
    AddsLight,
    AddsTexture,
    AppliesLayer,
    HasLayer,
    PaintsOver,
)
from yearning.core.treatments import TREATMENTS

SIZE = Size(192, 108)
PICTURES = [np.clip(picture, 0, 1) for picture in lamps(SIZE, 3)]
STRONG = {
    "grain": {"gauge": "free", "strength": 0.05, "size": 20},
    "static": {"size": 10, "dropouts": 400},
    "lines": {"pitch": 60},
    "dust": {"specks": 1500, "size": 6},
    "flurry": {"amount": 300, "near_size": 40, "far_size": 20},
    "leak": {"reach": 1},
    "halation": {"spread": 60, "threshold": 0.3},
}
"""Settings under which there is something to see on a small picture."""


def kinds(capability):
    return [kind for kind, each in TREATMENTS.items() if issubclass(each, capability)]


def settings(kind):
    return {**with_asset(kind), **STRONG.get(kind, {})}


def run(kind, pictures=PICTURES, alone=False, **mix):
    look = a_look(step(kind, settings(kind), **mix))
    evaluator = Evaluator(look, RecordingClip(pictures), SIZE, Cache(1 << 28), assets=ASSETS)
    return evaluator.layer_picture(1, kind) if alone else evaluator.picture(1)


def flat(value):
    return [np.full((3, SIZE.height, SIZE.width), value, np.float32)] * 3


def test_the_treatments_that_add_something_of_their_own_are_those_that_say_so():
    assert sorted(kinds(HasLayer)) == [
        "dust", "flurry", "glow", "grain", "halation", "leak", "lines", "plate", "static",
    ]  # fmt: skip


@pytest.mark.parametrize("kind", [k for k in kinds(HasLayer) if k not in kinds(AppliesLayer)])
def test_as_made_it_is_the_treated_picture(kind):
    assert TREATMENTS[kind].default_blend == "normal"
    made = run(kind)
    np.testing.assert_array_equal(made, run(kind, layer="treated"))
    below = PICTURES[1]
    assert np.abs(made - below).max() > 0.02
    half = run(kind, amount=0.5)
    np.testing.assert_allclose(half, below + 0.5 * (made - below), atol=1e-6)


@pytest.mark.parametrize("kind", kinds(AddsLight))
def test_light_s_layer_is_what_it_adds_on_black(kind):
    layer = run(kind, alone=True)
    assert layer.min() >= 0
    assert layer.max() > 0.1
    if kind == "leak":  # it does not depend on the picture
        np.testing.assert_array_equal(layer, run(kind, pictures=flat(0.0)))


@pytest.mark.parametrize("kind", kinds(AddsTexture))
def test_a_texture_s_layer_is_about_mid_grey_and_as_strong_in_all_tones(kind):
    layer = run(kind, alone=True)
    np.testing.assert_array_equal(layer, run(kind, pictures=flat(0.9), alone=True))
    np.testing.assert_allclose(layer, run(kind, pictures=flat(0.5)), atol=1e-6)
    assert abs(float(np.median(layer)) - 0.5) < 0.11
    assert layer.std() > 0.01


def test_a_grain_s_layer_does_not_have_its_response_to_tones():
    response = {"response_shadow": 0.1, "response_mid": 0.2, "response_high": 0.0}
    weak = a_look(step("grain", {**STRONG["grain"], **response}))
    evaluator = Evaluator(weak, RecordingClip(PICTURES), SIZE, Cache(1 << 26))
    np.testing.assert_array_equal(evaluator.layer_picture(1, "grain"), run("grain", alone=True))


@pytest.mark.parametrize("kind", kinds(PaintsOver))
def test_paint_s_layer_is_its_colour_on_grey_as_far_as_it_covers(kind):
    """Laid over any picture by its coverage it is the treated picture: c·colour + (1 − c)·b."""
    layer = run(kind, alone=True)
    seen = run(kind, pictures=flat(0.5))
    np.testing.assert_allclose(layer, seen, atol=2e-6)
    assert (np.abs(layer - 0.5) < 1e-6).mean() > 0.2
    assert np.abs(layer - 0.5).max() > 0.2


def test_embers_layer_is_their_colour_and_not_their_shine():
    look = a_look(step("flurry", {**STRONG["flurry"], "colour": "#cc6611", "glint": 1}))
    layer = Evaluator(look, RecordingClip(PICTURES), SIZE, Cache(1 << 26)).layer_picture(
        1, "flurry"
    )
    dull = a_look(step("flurry", {**STRONG["flurry"], "colour": "#cc6611", "glint": 0}))
    grey = Evaluator(dull, RecordingClip(flat(0.5)), SIZE, Cache(1 << 26)).picture(1)
    np.testing.assert_allclose(layer, grey, atol=2e-6)


WHOLE = [kind for kind in kinds(HasLayer) if kind not in (*kinds(PaintsOver), "plate")]


@pytest.mark.parametrize("kind", WHOLE)
@pytest.mark.parametrize("mode", [mode for mode in BLENDS if mode != "normal"])
def test_in_another_mode_the_layer_is_blended_and_not_the_picture_with_itself(kind, mode):
    expected = blend_pictures(PICTURES[1], run(kind, alone=True), mode)
    np.testing.assert_allclose(run(kind, blend=mode, amount=1), expected, atol=2e-6)


@pytest.mark.parametrize("kind", kinds(PaintsOver))
@pytest.mark.parametrize("mode", ["screen", "overlay", "difference"])
def test_paint_is_blended_where_it_covers_and_nowhere_else(kind, mode):
    black, white = run(kind, pictures=flat(0.0)), run(kind, pictures=flat(1.0))
    if kind == "flurry":  # all of one colour
        colour = np.ones_like(black)
    else:
        colour = np.where(black > 0.3 * (1 - white + black), 200 / 255, 14 / 255)
    cover = 1 - (white - black)[1]
    below = PICTURES[1]
    found = run(kind, blend=mode)
    clear = cover < 1e-5
    np.testing.assert_allclose(found[:, clear], below[:, clear], atol=1e-4)
    full = cover > 0.999
    if full.any():
        expected = blend_pictures(below, colour.astype(np.float32), mode)
        np.testing.assert_allclose(found[:, full], expected[:, full], atol=5e-3)
    assert np.abs(found - below).max() > 0.05


@pytest.mark.parametrize("kind", ["soften", "halftone", "levels", "split"])
def test_the_layer_of_a_treatment_that_adds_nothing_is_the_treated_picture(kind):
    np.testing.assert_array_equal(run(kind, alone=True, blend="screen", amount=0.3), run(kind))


def test_a_step_that_is_off_and_one_in_a_bundle_show_their_layers():
    inner = step("grain", STRONG["grain"]) | {"on": False}
    bundle = {"id": "b", "treatment": "bundle", "settings": {"steps": [inner]}}
    evaluator = Evaluator(a_look(bundle), RecordingClip(PICTURES), SIZE, Cache(1 << 26))
    np.testing.assert_array_equal(evaluator.layer_picture(1, "grain"), run("grain", alone=True))
    with pytest.raises(KeyError, match="no step has the id 'x'"):
        evaluator.layer_picture(1, "x")


def test_asking_for_a_layer_leaves_the_picture_as_it_is():
    look = a_look(step("glow"), step("grain", STRONG["grain"], blend="overlay"))
    cache = Cache(1 << 28)
    evaluator = Evaluator(look, RecordingClip(PICTURES), SIZE, cache)
    before = evaluator.picture(1).copy()
    evaluator.layer_picture(1, "glow")
    again = Evaluator(look, RecordingClip(PICTURES), SIZE, cache).picture(1)
    np.testing.assert_array_equal(before, again)
