"""Steadiness of long clips by samples: what exact measurement flags is flagged, in less work."""

import numpy as np
import pytest

from tests.conftest import RecordingClip, a_look, lamps, step
from tests.core.measure.test_steadiness import GRAIN, SIZE, move_picture, texture
from yearning.core.measure import sampled_steadiness
from yearning.core.measure.sampled_steadiness import EVERY, SampledSteadiness
from yearning.core.measure.steadiness import SteadinessAnalysis

SLOW = np.array([[1, 0, 0.6], [0, 1, -0.25]])
PAN = [move_picture(texture(), SLOW, n) for n in range(42)]
STILL = [lamps(SIZE, 1)[0]] * 42


def both(look, pictures):
    """The exact analysis of a clip, and the sampled one."""
    found = []
    for kind in (SteadinessAnalysis, SampledSteadiness):
        analysis = kind(look, RecordingClip(pictures), 24.0)
        assert list(analysis.run()) == list(range(1, len(pictures) + 1))
        found.append(analysis)
    return found


def flags_of(analysis):
    return [(flag.frame, flag.why, flag.step) for flag in analysis.flags()]


def pops(treatment, setting, value, at, calm=0.0, **more):
    """A step whose setting is another on single frames."""
    keys = [{"frame": 0, "value": calm, "ease": "hold"}]
    for frame in at:
        keys += [
            {"frame": frame, "value": value, "ease": "hold"},
            {"frame": frame + 1, "value": calm, "ease": "hold"},
        ]
    return step(treatment, more) | {"id": treatment, "keys": {setting: keys}}


CALM = {"id": "calm", "treatment": "levels", "settings": {"gamma": 1.2}}
POPS = {
    "light": pops("exposure", "stops", 0.4, [5, 19, 23, 38]),
    "sharpness": pops("soften", "radius", 16, [11, 16, 30], 0.5),
    "contrast": pops("tone", "contrast", 0.9, [3, 26, 31]),
    "colour": pops("tone", "saturation", 2.5, [13, 35], 1.0),
}


@pytest.mark.parametrize(
    ("name", "pictures"),
    [("light", PAN), ("sharpness", STILL), ("contrast", PAN), ("colour", STILL)],
    ids=["light in a pan", "sharpness of a still", "contrast in a pan", "colour of a still"],
)
def test_pops_of_one_frame_are_flagged_as_by_the_exact_analysis(name, pictures):
    exact, sampled = both(a_look(CALM, POPS[name], GRAIN), pictures)
    assert len(flags_of(exact)) >= 2
    assert flags_of(sampled) == flags_of(exact)
    for flag, other in zip(sampled.flags(), exact.flags(), strict=True):
        assert flag.value == other.value  # both are measured in the same way


def test_a_still_clip_stays_still():
    sampled = both(a_look(CALM), STILL)[1]
    for change in sampled.changes:
        assert change.change_result == change.added == change.jump == 0


def test_what_is_steady_is_measured_now_and_then_and_the_rest_interpolated():
    exact, sampled = both(a_look(CALM, GRAIN), PAN)
    assert flags_of(exact) == flags_of(sampled) == []
    assert len(sampled.measured_frames) <= len(PAN) / EVERY + 1
    assert sampled.report()["measured"] == sampled.measured_frames
    assert [change.frame for change in sampled.changes] == list(range(len(PAN)))
    assert sampled.steps() == pytest.approx(exact.steps(), abs=1e-3)
    for name in ("change_footage", "added", "added_steady", "lift_steady"):
        here, there = ([getattr(c, name) for c in found.changes] for found in (sampled, exact))
        np.testing.assert_allclose(here[1:], there[1:], atol=1.5e-3)


def test_a_look_that_is_never_steady_is_flagged_and_still_sampled():
    turns = [{"frame": n, "value": 15 * (n % 2), "ease": "hold"} for n in range(42)]
    look = a_look(step("halftone", {"pitch": 60}) | {"keys": {"turn": turns}})
    exact, sampled = both(look, STILL)
    assert [why for _, why, _ in flags_of(sampled)] == [why for _, why, _ in flags_of(exact)]
    assert len(sampled.measured_frames) < 2 * len(STILL) / EVERY + 2


def test_a_cut_is_found_and_nothing_is_interpolated_across_it():
    other = [np.ascontiguousarray(picture[:, ::-1, ::-1]) ** 2 for picture in PAN[:21]]
    exact, sampled = both(a_look(step("levels", {"white": 0.6})), [*PAN[:21], *other])
    for found in (exact, sampled):
        assert [change.frame for change in found.changes if change.cut] == [21]
    for shot in (range(1, 21), range(22, 42)):
        here, there = (
            [found.changes[n].change_footage for n in shot] for found in (sampled, exact)
        )
        assert min(there) <= min(here) <= max(here) <= max(there)


def test_flashes_are_those_of_every_frame_with_the_step_that_causes_them():
    bursts = [{"from": n, "to": n + 1} for n in range(30, 88, 4)]
    strobe = step("exposure", {"stops": 2.5}) | {"id": "strobe", "bursts": bursts}
    grey = [np.full((3, 144, 256), 0.3, np.float32)] * 96
    exact, sampled = both(a_look(CALM, strobe), grey)
    assert [tuple(said) for said in sampled.flashes()] == [tuple(s) for s in exact.flashes()]
    assert {said.step for said in sampled.flashes()} == {"strobe"}


@pytest.mark.parametrize("frames", [1, 2, EVERY, EVERY + 1])
def test_short_clips_are_gone_through_too(frames):
    exact, sampled = both(a_look(GRAIN), PAN[:frames])
    assert len(sampled.changes) == frames
    assert flags_of(sampled) == flags_of(exact)


def test_motion_is_estimated_of_no_more_frames_than_are_said(monkeypatch):
    asked = []
    at = SampledSteadiness.at

    def count_picture(self, frame):
        asked.append(frame)
        return at(self, frame)

    monkeypatch.setattr(sampled_steadiness.SampledSteadiness, "at", count_picture)
    sampled = both(a_look(CALM, POPS["light"]), PAN)[1]
    assert sorted(asked) == sampled.measured_frames
    assert {5, 6, 19, 20, 23, 24, 38, 39} <= set(asked)
