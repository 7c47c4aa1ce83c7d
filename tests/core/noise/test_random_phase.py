"""Grain that is measured on a scan, and made like it: spectra and tones against the scan's own."""

import json

import cv2
import numpy as np
import pytest

from yearning.core.image.resampling import area_taps
from yearning.core.measure.grain_scan import measure_grain
from yearning.core.noise.random_phase import PreparedGrain
from yearning.core.noise.scanned_grain import GrainError, grain_json, parse_grain
from yearning.core.picture import Size

SIZE = Size(1024, 768)
PATCHES = (0.1, 0.3, 0.5, 0.7)
BLOCK = 64
SHARES = (0.8, 0.6, 0.9)
"""Of a channel's grain that is its own; the rest all share."""


def grain_of(seed, size=SIZE):
    """Grain of unit variance: longer than high, red shifted, blue wider, with a scanner's edges."""
    rng = np.random.default_rng(seed)
    shape = size.height + 64, size.width + 64
    shared = rng.standard_normal(shape)
    out = []
    for c, own in enumerate(SHARES):
        plane = own * rng.standard_normal(shape) + np.sqrt(1 - own**2) * shared
        plane = np.roll(plane, 1 if c == 0 else 0, axis=1)
        fine = cv2.GaussianBlur(plane, (0, 0), 1.6 + 0.4 * (c == 2), sigmaY=1.0)
        out.append((fine - 0.5 * cv2.GaussianBlur(fine, (0, 0), 3))[32:-32, 32:-32])
    return np.stack(out) / np.std(out, axis=(1, 2), keepdims=True)


def rms_at(luma):
    return 0.01 + 0.1 * luma * (1 - luma)


def scan_of(seed, tones=(0.5,), dirt=0):
    """A scan of patches under uneven light, with specks and hairs."""
    rng = np.random.default_rng(seed)
    base = np.repeat(tones, SIZE.width // len(tones))[None].repeat(SIZE.height, 0)
    light = base + np.linspace(-0.01, 0.01, SIZE.height)[:, None]
    scan = light * np.array([1.05, 0.98, 1.05])[:, None, None] + rms_at(base) * grain_of(seed)
    drawn = np.zeros(base.shape, np.uint8)
    for _ in range(dirt):
        x, y = rng.integers(SIZE.width), rng.integers(SIZE.height)
        cv2.circle(drawn, (int(x), int(y)), int(rng.integers(1, 6)), 255, -1, cv2.LINE_AA)
        to = int(x + rng.integers(-90, 90)), int(y + rng.integers(-90, 90))
        cv2.line(drawn, (int(x), int(y)), to, 255, 1, cv2.LINE_AA)
    return (scan * (1 - 0.8 * drawn / 255)).astype(np.float32)


def spectrum(planes):
    """Power of all channels with all by frequency, the mean of windowed blocks' (P. D. Welch, The
    Use of Fast Fourier Transform for the Estimation of Power Spectra, IEEE Transactions on Audio
    and Electroacoustics 15, 1967)."""
    window = np.outer(np.hanning(BLOCK + 1)[:-1], np.hanning(BLOCK + 1)[:-1])
    total, count = np.zeros((3, 3, BLOCK, BLOCK), np.complex128), 0
    for y in range(0, planes.shape[1] - BLOCK + 1, BLOCK // 2):
        for x in range(0, planes.shape[2] - BLOCK + 1, BLOCK // 2):
            waves = np.fft.fft2(planes[:, y : y + BLOCK, x : x + BLOCK] * window)
            total += waves[:, None] * waves[None].conj()
            count += 1
    return total / count / np.sum(window**2)


def bands(power):
    """Its mean along each axis, in bands of two frequencies, half of them: the rest is the same."""
    down, across = power.mean(-1)[..., : BLOCK // 2], power.mean(-2)[..., : BLOCK // 2]
    both = np.concatenate([down, across], -1)
    return both.reshape(*both.shape[:-1], -1, 2).mean(-1)


@pytest.fixture(scope="module")
def scan():
    return scan_of(0)


@pytest.fixture(scope="module")
def grain(scan):
    return measure_grain([scan])


@pytest.fixture(scope="module")
def prepared_grain(grain):
    return PreparedGrain(grain)


def frame_of(prepared, frame, seed=1, pitch=1.0, size=SIZE):
    return prepared.noise(pitch, size, size, seed, frame, (0, size.height))


def test_spectra_and_correlations_are_those_of_the_scan_within_3_percent(scan, prepared_grain):
    wanted = bands(spectrum((scan - light_of_one()) / rms_at(0.5)))
    made = np.mean([bands(spectrum(frame_of(prepared_grain, n))) for n in range(8)], axis=0)
    for c in range(3):
        strong = np.abs(wanted[c, c]) > 0.1 * np.abs(wanted[c, c]).max()
        off = np.abs(made[c, c] - wanted[c, c])[strong] / wanted[c, c].real[strong]
        assert np.mean(off) < 0.03
        assert np.abs(made[c, c] - wanted[c, c]).max() < 0.03 * np.abs(wanted[c, c]).max()
    for a, b in ((0, 1), (0, 2), (1, 2)):
        whole = np.sqrt(np.abs(wanted[a, a]).max() * np.abs(wanted[b, b]).max())
        assert np.abs(made[a, b] - wanted[a, b]).max() < 0.03 * whole
    joint = np.corrcoef(frame_of(prepared_grain, 0).reshape(3, -1))
    assert joint == pytest.approx(np.corrcoef(grain_of(0).reshape(3, -1)), abs=0.03)


def light_of_one():
    """The light of a scan of one patch, without its grain."""
    return np.array([1.05, 0.98, 1.05])[:, None, None] * (
        0.5 + np.linspace(-0.01, 0.01, SIZE.height)[:, None]
    )


def test_the_spread_of_each_tone_is_measured_within_5_percent_past_dirt_and_patches():
    grain = measure_grain([scan_of(3, PATCHES, dirt=30)])
    assert [tone.luma for tone in grain.tones] == pytest.approx(PATCHES, abs=0.01)
    for tone, luma in zip(grain.tones, PATCHES, strict=True):
        assert tone.rms == pytest.approx([rms_at(luma)] * 3, rel=0.05)


def test_dirt_is_left_out_of_the_spectrum(grain):
    dirty = measure_grain([scan_of(0, dirt=30)])
    reach = min(len(grain.lags[0, 0]), len(dirty.lags[0, 0])) // 2
    inner = [
        each.lags[:, :, n - reach : n + reach + 1, n - reach : n + reach + 1]
        for each in (grain, dirty)
        for n in [len(each.lags[0, 0]) // 2]
    ]
    assert np.abs(inner[0] - inner[1]).max() < 0.02


def test_each_frame_is_new_even_and_any_part_of_it_is_the_same(prepared_grain):
    frames = np.stack([frame_of(prepared_grain, n) for n in range(24)])
    joint = np.corrcoef(frames[:, 1].reshape(24, -1))
    assert np.abs(joint - np.eye(24)).max() < 0.02  # by chance alone up to 0.014
    assert frames.mean((0, 2, 3)) == pytest.approx([0, 0, 0], abs=0.005)
    by_block = frames.reshape(24, 3, 12, 64, 16, 64).std((0, 1, 3, 5))
    assert by_block == pytest.approx(np.ones((12, 16)), abs=0.04)  # nowhere weaker, at no seam
    part = prepared_grain.noise(1.0, SIZE, SIZE, 1, 5, (101, 407))
    assert np.array_equal(part, frames[5][:, 101:407])
    other = frame_of(prepared_grain, 5, seed=2)
    assert abs(np.corrcoef(other[1].ravel(), frames[5, 1].ravel())[0, 1]) < 0.01


def test_no_part_of_a_frame_comes_again(prepared_grain):
    first = frame_of(prepared_grain, 0)[1]
    patch = np.ascontiguousarray(first[300:348, 500:548])
    for n in range(1, 9):
        found = cv2.matchTemplate(frame_of(prepared_grain, n)[1], patch, cv2.TM_CCOEFF_NORMED)
        assert found.max() < 0.85  # chance gives up to 0.3, a half of it that is the same 0.7
    assert cv2.matchTemplate(first, patch, cv2.TM_CCOEFF_NORMED).max() > 0.999


@pytest.mark.parametrize("pitch", [2.0, 3.0])
def test_larger_pixels_average_over_the_scan_s(pitch, prepared_grain):
    small = Size(int(SIZE.width / pitch), int(SIZE.height / pitch))
    cut = np.stack([plane[: int(small.height * pitch), : int(small.width * pitch)] for plane in
                    grain_of(7)]).astype(np.float32)  # fmt: skip
    down = area_taps(cut.shape[1], small.height)
    across = area_taps(cut.shape[2], small.width)
    wanted = np.stack(
        [across.resample_horizontally(down.resample_vertically(plane)) for plane in cut]
    )
    made = np.stack([frame_of(prepared_grain, n, pitch=pitch, size=small) for n in range(4)])
    assert made.std((0, 2, 3)) == pytest.approx(wanted.std((1, 2)), rel=0.06)


def test_grain_twice_as_large_has_twice_the_reach(prepared_grain):
    def reach(pitch):
        plane = frame_of(prepared_grain, 0, pitch=pitch)[1]
        return [np.corrcoef(plane[:, n:].ravel(), plane[:, :-n].ravel())[0, 1] for n in (1, 2, 4)]

    assert reach(0.5)[1:] == pytest.approx(reach(1.0)[:2], abs=0.03)


def test_a_smaller_picture_is_the_mean_of_the_full_one(prepared_grain):
    half = Size(SIZE.width // 2, SIZE.height // 2)
    whole = frame_of(prepared_grain, 3)
    made = prepared_grain.noise(1.0, half, SIZE, 1, 3, (40, 90))
    mean = whole.reshape(3, half.height, 2, half.width, 2).mean((2, 4))[:, 40:90]
    assert np.allclose(made, mean, atol=1e-5)


def test_a_file_holds_all_of_it(grain):
    again = parse_grain(grain_json(grain))
    assert again == grain
    assert np.array_equal(again.lags[0, 1], again.lags[1, 0][::-1, ::-1])


def test_what_is_no_even_film_is_refused():
    rng = np.random.default_rng(1)
    steps = np.kron(rng.random((3, 96, 128)), np.ones((1, 8, 8)))
    ramp = np.linspace(0.2, 0.8, SIZE.width)[None, None] * np.ones((3, SIZE.height, 1))
    for picture, why in (
        (np.full((3, *SIZE[::-1]), 0.5), "no grain"),
        (ramp, "no grain"),
        (np.zeros((3, *SIZE[::-1])), "not a scan of even film"),
        (np.where(steps > 0.5, 1.0, 0.0), "not a scan of even film"),
        (0.5 + np.stack([cv2.GaussianBlur(plane, (0, 0), 12) for plane in steps - 0.5]), "alike"),
        (np.full((3, 100, 100), 0.5), "too small"),
    ):
        with pytest.raises(GrainError, match=why):
            measure_grain([picture.astype(np.float32)])


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"format": "yearning-grain/2"}, "must say"),
        ({"lines": 0}, "lines"),
        ({"tones": []}, "tones"),
        ({"tones": [{"luma": 0.5, "rms": [0.1, 0.1, 2]}]}, "tones.0.rms.2"),
        ({"tones": [{"luma": n, "rms": [0, 0, 0]} for n in (0.5, 0.5)]}, "they rise"),
        ({"correlation": {"red": [[1]]}}, "correlation.green"),
        ({"more": 1}, "more"),
    ],
)
def test_a_file_that_can_t_be_is_told_by_its_place(change, why, grain):
    with pytest.raises(GrainError, match=why):
        parse_grain(json.dumps(json.loads(grain_json(grain)) | change))


def test_rows_of_unlike_length_are_told(grain):
    data = json.loads(grain_json(grain))
    data["correlation"]["green_blue"][0].pop()
    with pytest.raises(GrainError, match="green_blue: all are squares"):
        parse_grain(json.dumps(data))
    with pytest.raises(GrainError, match="no JSON"):
        parse_grain("{")
