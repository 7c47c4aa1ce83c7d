"""What a whole clip measures, against numpy's quantiles; and what settings are made of it."""

import numpy as np
import pytest

from yearning.core.treatment.capabilities import FitsClip
from yearning.core.treatment.clip_tones import (
    BINS,
    SAMPLED,
    ClipCounts,
    ClipTones,
    quantile,
    sample_frames,
)
from yearning.core.treatments import TREATMENTS
from yearning.core.treatments.levels import Levels
from yearning.core.treatments.tone import Tone

MEASURING = [kind for kind, treatment in TREATMENTS.items() if issubclass(treatment, FitsClip)]


def test_frames_are_spread_evenly_and_a_short_clip_is_measured_whole():
    assert sample_frames(7) == list(range(7))
    assert sample_frames(1) == [0]
    found = sample_frames(10_000)
    assert len(found) == SAMPLED
    assert set(np.diff(found)) <= {166, 167}
    assert abs(found[0] - (9_999 - found[-1])) <= 1


def test_tones_are_the_quantiles_of_all_frames():
    rng = np.random.default_rng(6)
    frames = [rng.beta(2 + n, 3, (3, 90, 160)).astype(np.float32) for n in range(4)]
    counts = ClipCounts()
    for frame in frames:
        counts.add(frame)
    whole = np.concatenate([f.reshape(3, -1) for f in frames], axis=1)
    luma = np.array([0.2126, 0.7152, 0.0722]) @ whole
    expected = ClipTones(
        np.quantile(whole, 0.001, axis=1).min(),
        *np.quantile(luma, [0.1, 0.5, 0.9]),
        np.quantile(whole, 0.999, axis=1).max(),
    )
    assert counts.tones() == pytest.approx(expected, abs=0.0015)


def test_levels_and_tone_can_be_set_from_a_clip():
    assert MEASURING == ["levels", "tone"]


CLIPS = {
    "usual": ClipTones(0.05, 0.2, 0.4, 0.7, 0.95),
    "black": ClipTones(0.0, 0.0, 0.0, 0.0, 0.0),
    "white": ClipTones(1.0, 1.0, 1.0, 1.0, 1.0),
    "flat": ClipTones(0.4, 0.45, 0.5, 0.55, 0.6),
}


@pytest.mark.parametrize("kind", MEASURING)
@pytest.mark.parametrize("what", CLIPS)
def test_what_is_set_can_always_stand(kind, what):
    settings = TREATMENTS[kind].fit_to_clip(CLIPS[what])
    assert settings
    TREATMENTS[kind](**settings)


def test_levels_stretch_what_the_clip_has_and_tone_spreads_its_middle():
    assert Levels.fit_to_clip(CLIPS["usual"]) == {"black": 0.05, "white": 0.95}
    assert Tone.fit_to_clip(CLIPS["usual"]) == {"contrast": 0.0, "pivot": 0.4}
    assert Tone.fit_to_clip(CLIPS["flat"])["contrast"] == 1


def test_where_bars_leave_nothing_a_quantile_is_black():
    assert quantile(np.zeros(BINS, np.int64), 0.94) == 0
