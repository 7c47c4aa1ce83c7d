"""Bursts made by rule, the frames worth checking, and onsets."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yearning.core.look.bursts import bursts_at_interval, bursts_from, random_bursts
from yearning.core.look.keyframes import next_frame_to_check
from yearning.core.measure.onsets import RATE, onsets, spectral_flux


def spans(bursts):
    return [(burst.first, burst.last) for burst in bursts]


def test_bursts_are_repeated_to_the_clips_end():
    assert spans(bursts_at_interval(30, 4, 3, 10)) == [(4, 6), (14, 16), (24, 26)]
    assert spans(bursts_at_interval(25, 4, 3, 10))[-1] == (24, 24)
    with pytest.raises(ValueError, match="none between"):
        bursts_at_interval(30, 0, 10, 10)


@given(st.integers(1, 400), st.integers(1, 40), st.integers(1, 9), st.integers(0, 9), st.integers())
def test_scattered_bursts_lie_in_the_clip_and_do_not_cross(frames, count, shortest, more, seed):
    lengths = (shortest, shortest + more)
    if count * (lengths[1] + 1) - 1 > frames:
        return
    found = spans(random_bursts(frames, count, lengths, seed=abs(seed)))
    assert len(found) == count
    assert all(lengths[0] <= last - first + 1 <= lengths[1] for first, last in found)
    assert found[0][0] >= 0
    assert found[-1][1] < frames
    assert all(a[1] + 1 < b[0] for a, b in pairwise(found))


def test_scattered_bursts_are_the_same_for_a_seed_and_others_for_another():
    first, again, other = (spans(random_bursts(500, 9, (3, 8), seed=s)) for s in (7, 7, 8))
    assert first == again != other


def test_scattered_bursts_fall_anywhere_alike():
    starts = [random_bursts(10, 1, (1, 1), seed=s)[0].first for s in range(3000)]
    counts = np.bincount(starts, minlength=10)
    assert ((counts - 300) ** 2 / 300).sum() < 27.9  # χ² of 9 degrees of freedom, p = 0.001


def test_too_many_bursts_are_refused():
    with pytest.raises(ValueError, match="do not fit"):
        random_bursts(10, 6, (1, 1))
    with pytest.raises(ValueError, match="no range"):
        random_bursts(10, 1, (3, 2))


def test_bursts_on_sound_end_before_the_next_begins():
    assert spans(bursts_from(100, [10, 14, 60, 60, 98], 8)) == [
        (10, 12),
        (14, 21),
        (60, 67),
        (98, 99),
    ]


def test_what_is_worth_checking_is_the_ends_then_the_middle_then_halves_of_halves():
    known: list[int] = []
    for wanted in (0, 100, 50, 25, 75, 12):
        assert next_frame_to_check(101, known) == wanted
        known.append(wanted)
    assert next_frame_to_check(3, range(3)) is None
    assert next_frame_to_check(1, [0]) is None


def clicks(times, seconds=4.0, noise=0.0):
    """Short bursts of a bell's tone at those times."""
    rng = np.random.default_rng(5)
    sound = noise * rng.standard_normal(round(seconds * RATE)).astype(np.float32)
    for i, time in enumerate(times):
        start = round(time * RATE)
        t = np.arange(min(RATE // 4, len(sound) - start)) / RATE
        sound[start : start + len(t)] += np.sin(2 * np.pi * (500 + 170 * i) * t) * np.exp(-18 * t)
    return sound


TIMES = [0.31, 0.8, 1.37, 2.05, 2.6, 3.4]


@pytest.mark.parametrize("noise", [0.0, 0.01, 0.03])
def test_onsets_are_found_to_a_hundredth_of_a_second(noise):
    """A made sound with a click at known times; within the 10 ms between two looks."""
    found = onsets(spectral_flux([clicks(TIMES, noise=noise)]))
    found = found[found > 0.1]  # the noise itself begins to sound at 0
    assert len(found) == len(TIMES)
    assert np.abs(found - TIMES).max() < 0.015


def test_sound_in_blocks_is_sound():
    sound = clicks(TIMES, noise=0.01)
    cuts = [0, 100, 5000, 5001, 80000, len(sound)]
    blocks = [sound[a:b] for a, b in pairwise(cuts)]
    np.testing.assert_allclose(spectral_flux(blocks), spectral_flux([sound]), rtol=1e-5)


@pytest.mark.parametrize("sound", [np.zeros(0), np.zeros(100), np.zeros(RATE), np.ones(RATE)])
def test_where_nothing_begins_no_onset_is_found(sound):
    assert len(onsets(spectral_flux([sound.astype(np.float32)]))) <= (1 if sound.any() else 0)


def test_a_steady_tone_begins_once():
    tone = np.sin(2 * np.pi * 440 * np.arange(3 * RATE) / RATE).astype(np.float32)
    quiet = np.zeros(RATE, np.float32)
    found = onsets(spectral_flux([np.concatenate([quiet, tone])]))
    assert found == pytest.approx([1.0], abs=0.015)


def test_where_nothing_begins_there_are_no_bursts():
    assert bursts_from(100, [], 4) == []
    assert bursts_from(100, [100, 130], 4) == []
