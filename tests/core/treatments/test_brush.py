"""Brush: a generalized Kuwahara filter, against a slow one of scipy's parts."""

import math

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter, map_coordinates

from tests.conftest import RecordingClip, a_look, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.core.treatments import brush


def run(settings, clip, frame=0):
    clip = clip if isinstance(clip, list) else [clip]
    size = Size(clip[0].shape[2], clip[0].shape[1])
    look = a_look(step("brush", {"temporal_smoothing": 0} | settings))
    return Evaluator(look, RecordingClip(clip), size, Cache(1 << 28)).picture(frame)


def slowly(picture, radius, along, detail):
    """The same filter in float64: windows by scipy's gaussians, drawn by its interpolation."""

    def blur_plane(plane, sigma):
        return gaussian_filter(plane, sigma, mode="reflect", truncate=5)

    planes = picture.astype(float)
    padded = np.pad(planes, ((0, 0), (1, 1), (1, 1)), mode="edge")
    gx = (padded[:, 1:-1, 2:] - padded[:, 1:-1, :-2]) / 2
    gy = (padded[:, 2:, 1:-1] - padded[:, :-2, 1:-1]) / 2
    sigma = max(brush.ORIENTED * radius, 1)
    e, f, g = (blur_plane((a * b).sum(axis=0), sigma) for a, b in ((gx, gx), (gx, gy), (gy, gy)))
    values, vectors = np.linalg.eigh(np.stack([[e, f], [f, g]]).transpose(2, 3, 0, 1))
    follows = (values[..., 1] - values[..., 0]) / (values.sum(axis=-1) + brush.MIN_EDGE)
    a = radius * (1 + along * follows)
    b = radius**2 / a
    t, n = vectors[..., 0], vectors[..., 1]
    sigma = brush.WINDOW * radius
    windows = [blur_plane(p, sigma) for p in (*planes, (planes**2).sum(axis=0))]
    spread = brush.COARSE * (brush.FINE / brush.COARSE) ** detail
    y, x = np.mgrid[: picture.shape[1], : picture.shape[2]].astype(float)
    total, weights = np.zeros_like(planes), np.zeros(planes.shape[1:])
    turns = [2 * math.pi * sector / brush.SECTORS for sector in range(brush.SECTORS)]
    around = [[(far * math.cos(t), far * math.sin(t)) for far in brush.RINGS] for t in turns]
    for sector in [*around, [(0, 0)] * len(brush.RINGS)]:
        sums = np.zeros((4, *y.shape))
        for unit in map(np.array, sector):
            along_t, along_n = a * (t @ unit), b * (n @ unit)
            px = x + along_t * t[..., 0] + along_n * n[..., 0]
            py = y + along_t * t[..., 1] + along_n * n[..., 1]
            for k, window in enumerate(windows):
                drawn = map_coordinates(window, [py, px], order=1, mode="nearest")
                sums[k] += drawn / len(brush.RINGS)
        variance = np.maximum(sums[3] - (sums[:3] ** 2).sum(axis=0), 0)
        weight = (3 * spread**2 / (variance + 3 * spread**2)) ** 4
        total += weight * sums[:3]
        weights += weight
    return total / weights


def scene(height=72, width=128):
    y, x = np.mgrid[:height, :width].astype(np.float32)
    light = 0.3 + 0.2 * np.sin(x / 17) + 0.4 * (np.hypot(x - 60, y - 30) < 18)
    light += 0.2 * ((x + y) % 40 < 6)
    return np.stack([light, 0.8 * light, 1 - light]).astype(np.float32)


@pytest.mark.parametrize("along", [0.0, 0.8, 2.0])
@pytest.mark.parametrize("detail", [0.2, 0.6])
def test_it_is_the_slow_filter(along, detail):
    picture = scene()
    radius = 4.0
    settings = {"size": radius / Size(128, 72).scale, "along": along, "detail": detail}
    found, exact = run(settings, picture), slowly(picture, radius, along, detail)
    assert np.abs(found - exact).max() < 2e-3


def test_strokes_do_not_end_where_a_band_does(monkeypatch):
    """However many rows are made together."""
    picture = np.random.default_rng(3).random((3, 700, 600)).astype(np.float32)
    found = []
    for rows in (1, 64, 200):
        monkeypatch.setattr(brush.Brush, "band_multiple", rows)
        found.append(run({}, picture))
    np.testing.assert_allclose(found[1], found[0], atol=1e-6)
    np.testing.assert_allclose(found[2], found[0], atol=1e-6)


def test_even_parts_stay_what_they_are():
    picture = np.full((3, 60, 90), 0.37, np.float32)
    np.testing.assert_allclose(run({}, picture), picture, atol=1e-6)


def test_an_edge_stays_firm_where_a_blur_as_wide_would_take_it():
    picture = np.full((3, 540, 960), 0.2, np.float32)
    picture[:, :, 480:] = 0.8
    row = run({"size": 24}, picture)[1, 270]
    inside = np.flatnonzero((row > 0.26) & (row < 0.74))
    assert len(inside) <= 4
    soft = gaussian_filter(picture[1, 270].astype(float), 24 * 0.5 * 0.5)
    assert np.sum((soft > 0.26) & (soft < 0.74)) > 12


def test_noise_is_painted_over():
    rng = np.random.default_rng(3)
    picture = (0.5 + rng.normal(0, 0.03, (3, 540, 960))).astype(np.float32)
    assert run({"size": 14}, picture).std() < 0.2 * picture.std()


def test_strokes_follow_edges_further_the_more_they_are_to():
    """Along an edge whose light varies, what varies is smoothed more."""
    y, x = np.mgrid[:270, :480].astype(np.float32)
    stripe = 0.3 + 0.4 * (np.abs(y - 135) < 9) + 0.04 * np.sin(x / 3.5) * (np.abs(y - 135) < 9)
    picture = np.stack([stripe] * 3)

    def spread_left(along):
        return run({"size": 32, "along": along, "detail": 0.3}, picture)[1, 135, 60:-60].std()

    assert spread_left(2.0) < 0.7 * spread_left(0.0)


def test_settled_strokes_boil_less_on_noisy_footage():
    rng = np.random.default_rng(4)
    picture = scene(270, 480)
    clip = [(picture + rng.normal(0, 0.03, picture.shape)).astype(np.float32) for _ in range(6)]

    def change(settle):
        a, b = (run({"temporal_smoothing": settle, "size": 20}, clip, n) for n in (2, 3))
        return np.abs(a - b).mean()

    raw = np.abs(clip[2] - clip[3]).mean()
    assert change(0) < 0.25 * raw
    assert change(2) < 0.6 * change(0)
