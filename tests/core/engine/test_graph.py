"""What steps read, and bundles: every picture from the pictures it is made of."""

import numpy as np
import pytest

from tests.conftest import THREE_STEPS, RecordingClip, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.compositing.blend import mix
from yearning.core.compositing.weight import weight_plane
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.graph import RenderGraph
from yearning.core.picture import Size

SIZE = Size(192, 108)
GLOW, CURVE, GRAIN = THREE_STEPS
FADE = {"luma": [[0, 0.2], [1, 0.8]]}


@pytest.fixture(scope="module")
def pictures():
    return lamps(SIZE)


def _picture(pictures, *steps, keep="last", after=None, size=SIZE):
    path = Evaluator(a_look(*steps), RecordingClip(pictures), size, Cache(1 << 28), keep=keep)
    return path.picture(2, after)


def _mix_in_float64(below, treated, blend, amount, tones=None):
    out = np.empty_like(below)
    mix(below, treated, blend, weight_plane(below, amount, tones), out)
    return out


KEEPS = ("last", "every step", "nothing")


@pytest.mark.parametrize("keep", KEEPS)
def test_a_step_reads_the_footage_or_an_earlier_step(keep, pictures):
    """A blurred copy of the original screened over the graded picture is one step."""
    graded = _picture(pictures, step("curve", FADE))
    glowing = _picture(pictures, GLOW)
    reading = GLOW | {"mix": {"input": "footage", "blend": "overlay", "amount": 0.6}}
    alone = _picture(pictures, GLOW | {"mix": {"blend": "normal", "amount": 1}})
    found = _picture(pictures, step("curve", FADE), reading, keep=keep)
    np.testing.assert_allclose(found, _mix_in_float64(graded, alone, "overlay", 0.6), atol=1e-6)
    over = {"id": "o", "treatment": "curve", "mix": {"input": "g", "blend": "add", "amount": 0.5}}
    found = _picture(pictures, GLOW, step("curve", FADE), over, keep=keep)
    below = _picture(pictures, GLOW, step("curve", FADE))
    np.testing.assert_allclose(found, _mix_in_float64(below, glowing, "add", 0.5), atol=1e-6)


@pytest.mark.parametrize("keep", KEEPS)
@pytest.mark.parametrize("reads", ["previous", "footage", "n"])
def test_a_bundle_is_its_steps_mixed_back_as_one(reads, keep, pictures):
    window = ((0.2, 0.0), (0.6, 1.0))
    glow = GLOW | {"settings": {"temporal_smoothing": 0, "keep_midtones": 0}}
    bundle = {
        "id": "b", "treatment": "bundle", "settings": {"steps": [glow, CURVE]},
        "mix": {"blend": "soft light", "amount": 0.7, "tones": window, "input": reads},
    }  # fmt: skip
    below = _picture(pictures, GRAIN, step("curve", FADE) | {"id": "f"})
    read = {"previous": below, "footage": pictures[2], "n": _picture(pictures, GRAIN)}[reads]
    found = _picture(pictures, GRAIN, step("curve", FADE) | {"id": "f"}, bundle, keep=keep)
    inside = _picture([read] * 6, glow, CURVE)
    expected = _mix_in_float64(below, inside, "soft light", 0.7, window)
    np.testing.assert_allclose(found, expected, atol=2e-6)


def test_a_bundle_laid_back_plainly_is_its_steps(pictures):
    bundle = {"id": "b", "treatment": "bundle", "settings": {"steps": [GLOW, CURVE]}}
    np.testing.assert_array_equal(
        _picture(pictures, bundle, GRAIN), _picture(pictures, GLOW, CURVE, GRAIN)
    )
    inside = _picture(pictures, bundle, GRAIN, after="g")
    np.testing.assert_array_equal(inside, _picture(pictures, GLOW))


def test_a_bundle_without_steps_reads_another_picture_back(pictures):
    again = {
        "id": "b", "treatment": "bundle", "mix": {"input": "footage", "blend": "darken"},
    }  # fmt: skip
    found = _picture(pictures, step("curve", FADE), again)
    expected = np.minimum(np.clip(_picture(pictures, step("curve", FADE)), 0, 1), pictures[2])
    inside = (pictures[2] >= 0) & (pictures[2] <= 1)
    np.testing.assert_allclose(found[inside], expected[inside], atol=1e-6)


def test_equal_pictures_have_equal_keys_whatever_the_names():
    a = RenderGraph(a_look({"id": "a", "treatment": "glow"}))
    b = RenderGraph(a_look({"id": "b", "treatment": "glow", "settings": {"spread": 52}}))
    off = {"id": "c", "treatment": "curve", "on": False}
    c = RenderGraph(a_look(off, {"id": "b", "treatment": "glow", "mix": {"input": "c"}}))
    assert a.cache_keys[-1] == b.cache_keys[-1] == c.cache_keys[-1]
    other = RenderGraph(
        a_look(GRAIN, {"id": "b", "treatment": "glow", "mix": {"input": "footage"}})
    )
    so_far = RenderGraph(a_look(GRAIN, {"id": "b", "treatment": "glow"}))
    assert other.cache_keys[-1] != so_far.cache_keys[-1]


def test_the_reach_is_the_longest_way_back_to_the_footage():
    glow = {"settings": {"temporal_smoothing": 2}}
    along = a_look(GLOW | glow, GLOW | glow | {"id": "h"})
    beside = a_look(GLOW | glow, GLOW | glow | {"id": "h", "mix": {"input": "footage"}})
    assert RenderGraph(along).reaches[-1] == (4, 4)
    assert RenderGraph(beside).reaches[-1] == (2, 2)


def test_what_is_read_and_not_shown_is_not_asked_of_the_footage_twice(pictures):
    footage = RecordingClip(pictures)
    look = a_look(step("curve", FADE), CURVE | {"id": "o", "mix": {"input": "footage"}})
    path = Evaluator(look, footage, SIZE, Cache(1 << 28), keep="nothing")
    path.picture(2)
    assert footage.asked == [2]
