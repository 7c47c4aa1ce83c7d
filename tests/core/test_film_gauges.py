"""What film gauges resolve: by formula, and measured at a slanted edge."""

import numpy as np
import pytest

from tests.conftest import RecordingClip, a_look, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.film_gauges import FILM, GAUGE_WIDTH, LENSES, film_blur, film_mtf
from yearning.core.picture import Size

SIZE = Size(1920, 1080)
FINER = 4
"""Samples of the edge to a pixel, as ISO 12233 has them."""


@pytest.mark.parametrize("gauge", GAUGE_WIDTH)
def test_the_gaussians_are_the_transfer_function(gauge):
    blur = film_blur(gauge, 1920)
    assert sum(weight for _, weight in blur) == pytest.approx(1)
    assert sorted(blur) == blur
    for cycles in np.linspace(0, 0.5, 40):
        sum_ = sum(w * np.exp(-2 * (np.pi * s * cycles) ** 2) for s, w in blur)
        exact = film_mtf(gauge, cycles * 1920 / GAUGE_WIDTH[gauge])
        assert sum_ == pytest.approx(exact, abs=0.01)
    assert film_mtf(gauge, 0) == 1
    half = min(FILM, LENSES[gauge])
    assert film_mtf(gauge, half) < 0.5  # of film and lens together


def edge():
    """A slanted edge of 5 degrees, each pixel as much as it is covered."""
    y, x = np.mgrid[0:1080, 0:1920]
    finer = (np.arange(8) + 0.5) / 8 - 0.5
    at = [np.clip((x + dx - 960 - np.tan(np.radians(5)) * (y - 540)) * 1e6, 0, 1) for dx in finer]
    return np.stack([0.2 + 0.6 * np.mean(at, axis=0)] * 3).astype(np.float32)


def spatial_frequency_response(picture):
    """Cycles a pixel and the response, by the slanted-edge method of ISO 12233 (edge-based SFR)."""
    part = picture[1, 240:840, 860:1060].astype(float)
    y, x = np.mgrid[0:600, 0:200]
    across = (x - 100 - np.tan(np.radians(5)) * (y - 300)) * np.cos(np.radians(5))
    bins = np.floor(across * FINER).astype(int)
    bins -= bins.min()
    counts = np.bincount(bins.ravel())
    seen = counts > 0
    places = np.bincount(bins.ravel(), across.ravel())[seen] / counts[seen]
    values = np.bincount(bins.ravel(), part.ravel())[seen] / counts[seen]
    spread = np.interp((np.arange(257) - 128) / FINER, places, values)
    line = np.diff(spread) * np.hamming(256)
    response = np.abs(np.fft.rfft(line))
    return np.fft.rfftfreq(256, 1 / FINER), response / response[0]


@pytest.mark.parametrize("gauge", GAUGE_WIDTH)
def test_a_slanted_edge_has_the_contrast_that_the_gauge_resolves(gauge):
    """Against the same edge unblurred, which takes out what pixels and the method cost."""
    sharp = edge()
    look = a_look(step("soften", {"shape": "film", "gauge": gauge}))
    soft = Evaluator(look, RecordingClip([sharp]), SIZE, Cache(1 << 28)).picture(0)
    cycles, before = spatial_frequency_response(sharp)
    _, after = spatial_frequency_response(soft)
    for n in range(2, 27, 3):  # to 0.4 cycles a pixel
        wanted = film_mtf(gauge, cycles[n] * 1920 / GAUGE_WIDTH[gauge])
        assert after[n] / before[n] == pytest.approx(wanted, abs=0.03)
