"""The demo's sound: made-up places heard, 48 kHz stereo."""

from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.signal import butter, fftconvolve, sosfilt

from yearning.demo.reed_walker import PACE, STRIDE

SAMPLE_RATE = 48000
Sound = NDArray[np.float32]
"""Samples −1..1, shape `(2, n)`."""


def _noise(seed: int, n: int, low: float, high: float) -> NDArray[np.float64]:
    band = butter(2, [low, high], "bandpass", fs=SAMPLE_RATE, output="sos")
    return np.asarray(sosfilt(band, np.random.default_rng(seed).standard_normal(n)))


def _slow(seed: int, n: int, hertz: float) -> NDArray[np.float64]:
    """A slow random swell, about 0..1."""
    knots = np.random.default_rng(seed).random(int(n / SAMPLE_RATE * hertz) + 4)
    return np.interp(np.arange(n) * hertz / SAMPLE_RATE, np.arange(len(knots)), knots) ** 2


def _ring(n: int, at: float, partials: list[tuple[float, float, float]]) -> NDArray[np.float64]:
    """A struck tone from `at` seconds: partials of (hertz, strength, seconds to fade)."""
    t = np.arange(n) / SAMPLE_RATE - at
    gate = np.clip(t / 0.004, 0, 1)
    return gate * sum(
        a * np.sin(2 * np.pi * f * t) * np.exp(-np.maximum(t, 0) / fade) for f, a, fade in partials
    )


def _finish_mix(left: NDArray[np.float64], right: NDArray[np.float64], level: float) -> Sound:
    rng = np.random.default_rng(9)
    room = rng.standard_normal((2, SAMPLE_RATE)) * np.exp(-np.arange(SAMPLE_RATE) / 9000.0)
    dry = np.stack([left, right])
    wet = np.stack([fftconvolve(c, r)[: c.size] for c, r in zip(dry, room, strict=True)])
    mixed = dry / np.abs(dry).max() + 0.25 * wet / np.abs(wet).max()
    fade = np.minimum(1, np.minimum(np.arange(left.size), np.arange(left.size)[::-1]) / 9600)
    return np.asarray(level * mixed / np.abs(mixed).max() * fade, np.float32)


def water_and_bell(seconds: float) -> Sound:
    """Water lapping at a hull, a creak of wood, and a bell far off."""
    n = round(seconds * SAMPLE_RATE)
    sides = []
    for side in (0, 1):
        lap = sum(
            _noise(10 * side + k, n, 180 * 1.7**k, 420 * 1.7**k)
            * _slow(50 + 10 * side + k, n, 1.4 + 0.4 * k)
            for k in range(4)
        )
        sides.append(lap + 0.10 * _noise(80 + side, n, 60, 240))
    creak = _noise(5, n, 240, 330) * (_slow(6, n, 9.0) * (_slow(7, n, 0.6) > 0.45)) * 1.2
    bell = sum(
        _ring(n, at, [(392, 1.0, 2.2), (784.8, 0.5, 1.3), (1181, 0.28, 0.8), (466, 0.3, 1.6)])
        for at in (1.2, 5.2)
    )
    return _finish_mix(sides[0] + creak + 0.30 * bell, sides[1] + 0.6 * creak + 0.42 * bell, 0.5)


def birds_and_drips(seconds: float) -> Sound:
    """A warm room of glass: air, drips, and birds outside."""
    n = round(seconds * SAMPLE_RATE)
    rng = np.random.default_rng(4)
    t = np.arange(n) / SAMPLE_RATE
    left = 0.05 * _noise(1, n, 90, 900)
    right = 0.05 * _noise(2, n, 90, 900)
    for _ in range(9):
        at, tone, place = rng.uniform(0.2, seconds - 0.6), rng.uniform(2300, 4200), rng.random()
        for note in range(int(rng.integers(2, 6))):
            u = t - at - 0.11 * note
            inside = (u > 0) & (u < 0.085)
            sweep = tone * (1 + 0.25 * np.sin(u * rng.uniform(50, 90)))
            chirp = (
                inside
                * np.sin(np.pi * np.clip(u / 0.085, 0, 1)) ** 2
                * np.sin(2 * np.pi * sweep * u)
            )
            left += 0.35 * (1 - place) * chirp
            right += 0.35 * place * chirp
    for _ in range(8):
        at, tone, place = rng.uniform(0.1, seconds - 0.4), rng.uniform(700, 1500), rng.random()
        drip = _ring(n, at, [(tone, 0.5, 0.03), (tone * 2.7, 0.25, 0.015)])
        left += (1 - place) * drip
        right += place * drip
    return _finish_mix(left, right, 0.4)


def _thud(n: int, at: float, low: float, high: float, fade: float, seed: int) -> Any:
    """A dull knock from `at` seconds: noise of a band that dies away."""
    t = np.arange(n) / SAMPLE_RATE - at
    return (t >= 0) * _noise(seed, n, low, high) * np.exp(-np.maximum(t, 0) / fade)


def steps_and_reeds(seconds: float) -> Sound:
    """Boots on planks in step with the walker, wind in the reeds, and a bird's two notes."""
    n = round(seconds * SAMPLE_RATE)
    t = np.arange(n) / SAMPLE_RATE
    left, right = (
        0.16 * _noise(3 + side, n, 900, 5200) * (0.25 + _slow(13 + side, n, 0.8))
        + 0.10 * _noise(23 + side, n, 120, 500) * (0.3 + _slow(33 + side, n, 0.6))
        for side in (0, 1)
    )
    every = STRIDE / 2 / PACE
    for k, at in enumerate(np.arange(0, seconds, every)):
        place = 0.35 + 0.3 * at / seconds
        boot = _thud(n, at, 70, 240, 0.045, 200 + k) * 1.3 + _thud(n, at, 800, 2600, 0.012, 300 + k)
        creak = _thud(n, at + 0.09, 420, 700, 0.05, 400 + k) * (0.30 if k % 3 == 1 else 0.1)
        left += (1 - place) * (boot + creak)
        right += place * (boot + creak)
    for at in (2.15, 5.7):  # two notes, the second lower
        for begins, hertz in ((0.0, 1320.0), (0.34, 1040.0)):
            u = t - at - begins
            note = np.sin(np.pi * np.clip(u / 0.28, 0, 1)) ** 1.5 * np.sin(2 * np.pi * hertz * u)
            left += 0.10 * note
            right += 0.22 * note
    return _finish_mix(left, right, 0.45)


def drum_and_horn(seconds: float) -> Sound:
    """A slow drum, two beats a second, a clack between, a harbour's horn, and the sea."""
    n = round(seconds * SAMPLE_RATE)
    t = np.arange(n) / SAMPLE_RATE
    left, right = (
        0.10 * _noise(5 + side, n, 90, 1400) * (0.3 + _slow(15 + side, n, 0.5)) for side in (0, 1)
    )
    for k, at in enumerate(np.arange(0, seconds, 0.5)):
        u = np.maximum(t - at, 0)
        sweep = 48 * u + 62 * 0.035 * (1 - np.exp(-u / 0.035))  # falls to its tone
        drum = (t >= at) * np.sin(2 * np.pi * sweep) * np.exp(-u / (0.20 if k % 4 == 0 else 0.12))
        drum = (1.4 if k % 4 == 0 else 0.8) * drum + 0.5 * _thud(n, at, 900, 3800, 0.009, 500 + k)
        clack = _thud(n, at + 0.25, 2400, 6800, 0.014, 600 + k) * (0.5 if k % 2 else 0.28)
        left += drum + 0.8 * clack
        right += drum + 1.2 * clack
    for at in (0.5, 4.5):
        u = np.clip((t - at) / 1.7, 0, 1)
        swell = np.minimum(1, 9 * u) * np.minimum(1, 5 * (1 - u))
        for k, level in enumerate((0.30, 0.20, 0.14, 0.09, 0.05)):
            tone = np.sin(2 * np.pi * 87.3 * (k + 1) * t + 0.004 * k * np.sin(31 * t))
            left += 0.55 * level * swell * tone
            right += 0.80 * level * swell * tone
    return _finish_mix(left, right, 0.55)


def evening_lane(seconds: float) -> Sound:
    """A lane at evening: soft wind, crickets in a wall, a step to the side, a coat, a far clock."""
    n = round(seconds * SAMPLE_RATE)
    t = np.arange(n) / SAMPLE_RATE
    left, right = (
        0.12 * _noise(7 + side, n, 100, 700) * (0.3 + _slow(17 + side, n, 0.5)) for side in (0, 1)
    )
    for hertz, rate, place in ((4150.0, 2.1, 0.3), (4480.0, 1.7, 0.8)):
        beat = np.maximum(np.sin(2 * np.pi * rate * t), 0) ** 3
        trill = 0.5 + 0.5 * np.sin(2 * np.pi * 31 * t)
        chirp = 0.05 * beat * trill * np.sin(2 * np.pi * hertz * t)
        left += (1 - place) * chirp
        right += place * chirp
    for k, at in enumerate((2.35, 3.7, 6.2, 7.2)):
        boot = _thud(n, at, 60, 220, 0.06, 700 + k) + 0.5 * _thud(
            n, at + 0.03, 1500, 5200, 0.07, 720 + k
        )
        coat = _thud(n, at - 0.15, 500, 3000, 0.25, 740 + k) * 0.25
        left += 0.9 * (boot + coat)
        right += 0.7 * (boot + coat)
    for at in (0.8, 2.6, 4.4):
        bell = _ring(n, at, [(523.0, 1.0, 1.6), (1057.0, 0.4, 0.9), (1571.0, 0.2, 0.6)])
        left += 0.10 * bell
        right += 0.16 * bell
    return _finish_mix(left, right, 0.4)


BAR = 2.05
"""Seconds of a bar of the waltz."""

WALTZ = (
    (57, (60, 64), (76, 74, 72)),
    (53, (57, 60), (72, 0, 69)),
    (48, (55, 64), (71, 72, 76)),
    (52, (56, 62), (74, 0, 71)),
    (57, (60, 64), (76, 77, 79)),
    (53, (57, 60), (81, 0, 77)),
    (50, (57, 65), (76, 74, 72)),
    (52, (56, 62), (71, 0, 68)),
    (57, (60, 64), (69, 0, 64)),
    (45, (57, 64), (69, 0, 0)),
)
"""Bars: the bass, the two notes of the chord, and a note for each beat, 0 a rest; MIDI numbers."""


def _hertz(note: int) -> float:
    """The tone of a MIDI note, A4 (69) at 440 Hz, in equal temperament."""
    return float(440 * 2 ** ((note - 69) / 12))


def _reed_tone(n: int, at: float, hertz: float, lasts: float) -> NDArray[np.float64]:
    """A reed's tone that swells and dies away, its pitch wavering a little as it goes on."""
    t = np.arange(n) / SAMPLE_RATE - at
    swell = np.clip(t / 0.12, 0, 1) * np.clip((lasts - t) / 0.35, 0, 1)
    waver = 0.0035 * np.clip(t, 0, 1) * np.sin(2 * np.pi * 5.1 * t) * hertz / 5.1
    return swell * sum(
        level * np.sin(2 * np.pi * k * hertz * t + k * waver)
        for k, level in enumerate((1.0, 0.42, 0.30, 0.10, 0.06), start=1)
    )


def evening_waltz(seconds: float) -> Sound:
    """Music: a slow waltz in A minor of plucked strings and a reed, ten bars."""
    n = round(seconds * SAMPLE_RATE)
    left, right = np.zeros(n), np.zeros(n)
    for bar, (bass, chord, melody) in enumerate(WALTZ):
        at = bar * BAR
        tone = _hertz(bass)
        low = _ring(n, at, [(tone, 1.0, 0.9), (2 * tone, 0.5, 0.5), (3 * tone, 0.2, 0.3)])
        left += 0.55 * low
        right += 0.45 * low
        for beat in (1, 2):
            for k, note in enumerate(chord):
                tone = _hertz(note)
                pluck = _ring(
                    n,
                    at + beat * BAR / 3 + 0.012 * k,
                    [(tone, 0.5, 0.5), (2 * tone, 0.22, 0.28), (3.002 * tone, 0.1, 0.16)],
                )
                left += (0.36 - 0.1 * k) * pluck
                right += (0.26 + 0.1 * k) * pluck
        for beat, note in enumerate(melody):
            if note:
                beats = 2 if beat + 1 < len(melody) and not melody[beat + 1] else 1
                reed = _reed_tone(n, at + beat * BAR / 3, _hertz(note), beats * BAR / 3 + 0.25)
                left += 0.20 * reed
                right += 0.28 * reed
    return _finish_mix(left, right, 0.5)
