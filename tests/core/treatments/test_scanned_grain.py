"""Grain of a scan as a step: as strong in each tone as there, and as a layer."""

import numpy as np
import pytest

from tests.conftest import ASSETS, GRAIN, SCANNED, a_look, step
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.noise.scan_response import ScanResponse
from yearning.core.noise.scanned_grain import GrainTone

SIZE = (3, 540, 960)
ONE = PreparedGrain(
    SCANNED.model_copy(update={"tones": (GrainTone(luma=0.5, rms=(0.04, 0.04, 0.04)),)})
)


def added_grain(luma, assets=ASSETS, blend=None, **settings):
    """What a step adds to a flat picture."""
    flat = np.full(SIZE, luma, np.float32)
    settings = {"gauge": "scan", "scan": "a.grain"} | settings
    mix = {} if blend is None else {"blend": blend}
    clip = ArrayClip([flat])
    path = Evaluator(
        a_look(step("grain", settings, **mix)), clip, clip.size, Cache(0), assets=assets
    )
    return path.picture(0) - flat


@pytest.mark.parametrize("luma", [-0.5, 0.0, 0.1, 0.35, 0.6, 0.9, 1.5])
def test_each_tone_has_the_rms_that_was_measured(luma):
    low, high = (np.array(tone.rms) for tone in SCANNED.tones)
    part = np.clip((luma - 0.1) / 0.5, 0, 1)
    # a pixel of 540 lines averages over four of the scan's: the file's correlation says how far
    lags = SCANNED.lags[0, 0]
    near = (1 * lags[1, 1] + 0.5 * 2 * (lags[1, 2] + lags[2, 1]) + lags[2, 2]) / 4
    wanted = (low + part * (high - low)) * np.sqrt(near)
    once = added_grain(luma)
    assert once.std((1, 2)) == pytest.approx(wanted, rel=0.15)
    np.testing.assert_allclose(added_grain(luma, scan_strength=2), 2 * once, atol=1e-5)


def test_grain_of_one_tone_falls_towards_black_and_white():
    assets = ASSETS._replace(grain=lambda name: ONE)
    black, mid, white = (added_grain(luma, assets).std() for luma in (0.0, 0.5, 1.0))
    assert black / mid == pytest.approx(0.4, rel=0.01)
    assert white / mid == pytest.approx(0.3, rel=0.01)


def test_it_is_blended_as_a_texture_on_mid_grey():
    grey = added_grain(0.5)
    overlaid = added_grain(0.25, blend="overlay")
    assert np.corrcoef(grey[1].ravel(), overlaid[1].ravel())[0, 1] > 0.999


def test_without_a_scan_nothing_is_added():
    assert not added_grain(0.5, scan="").any()


def test_a_pixel_that_is_no_number_spoils_no_other():
    picture = np.full((3, 4, 9), 0.5, np.float32)
    picture[0, 2, 7] = np.nan
    out = np.empty_like(picture)
    ScanResponse.of(GRAIN, 1.0).lay(picture, np.ones_like(picture), out, 0)
    assert {tuple(place) for place in np.argwhere(~np.isfinite(out))[:, 1:]} == {(2, 7)}
