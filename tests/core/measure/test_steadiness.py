"""Steadiness: known motion, still clips, and what each step adds."""

import cv2
import numpy as np
import pytest

from tests.conftest import ASSETS, RecordingClip, a_look, changed_settings, lamps, lively, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.measure.parts import is_lively_step, steady_part
from yearning.core.measure.steadiness import SteadinessAnalysis
from yearning.core.motion.flow import flow_between, flow_consistency, flow_targets, luma_codes, warp
from yearning.core.motion.tracks import Track
from yearning.core.motion.warping_error import warping_error
from yearning.core.picture import Size
from yearning.core.treatment.capabilities import FixedPattern, WarpsFrame
from yearning.core.treatments import TREATMENTS

SIZE = Size(256, 144)


def texture(height=220, width=360, seed=3):
    """A smooth texture with detail of several sizes, as R'G'B'."""
    rng = np.random.default_rng(seed)
    planes = []
    for sigma in (2.0, 5.0, 12.0):
        noise = cv2.GaussianBlur(rng.standard_normal((height, width)), (0, 0), sigma)
        planes.append(noise / noise.std())
    light = np.clip(0.45 + 0.09 * sum(planes), 0.02, 0.98)
    return np.stack([light, 0.9 * light, 0.6 * light + 0.1]).astype(np.float32)


MOVES = {
    "a pan": np.array([[1, 0, 3.5], [0, 1, -1.25]]),
    "a zoom": np.array([[1.02, 0, -2.0], [0, 1.02, -1.2]]),
    "a turn": np.array([[np.cos(0.02), -np.sin(0.02), 3.0], [np.sin(0.02), np.cos(0.02), -2.4]]),
}


def move_picture(picture, move, count):
    """The window of a larger picture under a move done `count` times, and the flow back of one."""
    total = np.eye(3)
    for _ in range(count):
        total = total @ np.vstack([move, [0, 0, 1]])
    about = np.array([[1, 0, 52], [0, 1, 38], [0, 0, 1]])
    flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
    size = (SIZE.width, SIZE.height)
    return np.stack([cv2.warpAffine(p, (about @ total)[:2], size, flags=flags) for p in picture])


def known_flow(move):
    """Where each pixel of the later frame is in the earlier: p_before = move · p_now."""
    y, x = np.mgrid[0 : SIZE.height, 0 : SIZE.width].astype(np.float64)
    at = np.stack([move[0, 0] * x + move[0, 1] * y + move[0, 2], 0 * x])
    at[1] = move[1, 0] * x + move[1, 1] * y + move[1, 2]
    return (at - np.stack([x, y])).transpose(1, 2, 0)


@pytest.mark.parametrize("way", MOVES)
def test_the_flow_of_a_known_motion_is_found(way):
    picture, move = texture(), MOVES[way]
    before, now = move_picture(picture, move, 0), move_picture(picture, move, 1)
    flow = flow_between(luma_codes(now), luma_codes(before), "fine")
    mask = flow_consistency(flow, flow_between(luma_codes(before), luma_codes(now), "fine"))
    apart = np.linalg.norm(flow - known_flow(move), axis=2)
    assert mask.mean() > 0.85
    assert np.median(apart[mask]) < 0.15
    assert np.percentile(apart[mask], 95) < 0.6


@pytest.mark.parametrize("way", MOVES)
def test_a_motion_that_is_known_leaves_no_change(way):
    picture, move = texture(), MOVES[way]
    before, now = move_picture(picture, move, 0), move_picture(picture, move, 1)
    flow = known_flow(move).astype(np.float32)
    inside = np.zeros(SIZE[::-1], bool)
    inside[8:-8, 8:-8] = True
    assert warping_error(now, before, flow_targets(flow), inside) < 0.004
    assert warping_error(now, before, flow_targets(np.zeros_like(flow)), inside) > 0.02


def test_warping_by_no_motion_is_the_picture():
    picture = move_picture(texture(), MOVES["a pan"], 0)
    assert np.array_equal(
        warp(picture, flow_targets(np.zeros((*SIZE[::-1], 2), np.float32))), picture
    )


def test_what_comes_into_view_is_not_trusted():
    """A square before a ground that moves the other way: its rim is seen in one picture alone."""
    ground, front = texture(seed=5), texture(seed=8)
    frames = []
    for n in range(2):
        frame = move_picture(ground, MOVES["a pan"], n)
        left = 100 + 6 * n
        frame[:, 40:110, left : left + 60] = 1 - front[:, 40:110, 30:90]
        frames.append(frame)
    before, now = map(luma_codes, frames)
    mask = flow_consistency(flow_between(now, before, "fine"), flow_between(before, now, "fine"))
    assert mask[44:106, 112:160].mean() > 0.9
    assert mask[44:106, 96:105].mean() < 0.5


def examine_look(look, pictures, lines=144):
    found = SteadinessAnalysis(look, RecordingClip(pictures), 24.0, lines=lines)
    assert list(found.run()) == list(range(1, len(pictures) + 1))
    return found


PAN = [move_picture(texture(), MOVES["a pan"], n) for n in range(4)]


def test_an_empty_look_adds_nothing():
    for change in examine_look(a_look(), PAN).changes:
        assert change.added == change.added_steady == change.lift == change.jump == 0


def test_a_still_clip_stays_still_under_every_calm_look():
    """Through every treatment that is not lively by intent, exactly."""
    still = [lamps(SIZE, 1)[0]] * 3
    for kind in TREATMENTS:
        if lively(kind) or kind == "table":
            continue
        found = examine_look(a_look({"id": "a", "treatment": kind}), still)
        assert all(change.change_result == 0 for change in found.changes), kind


@pytest.fixture(scope="module")
def noisy_clips():
    """A still and a pan with small lamps, both noisy, and their motion."""
    ground = texture()
    y, x = np.mgrid[0:220, 0:360]
    for at in ((90, 60), (200, 120), (300, 90), (150, 180)):
        ground = ground + np.exp(-((x - at[0]) ** 2 + (y - at[1]) ** 2) / 40).astype(np.float32)
    rng = np.random.default_rng(4)
    clips = {}
    for name, counts in (("still", (0, 0)), ("pan", (0, 1))):
        clip = [move_picture(ground, MOVES["a pan"], n) for n in counts]
        clip = [(p + rng.normal(0, 0.012, p.shape)).astype(np.float32) for p in clip]
        before, now = map(luma_codes, clip)
        flow = flow_between(now, before, "fine")
        mask = flow_consistency(flow, flow_between(before, now, "fine"))
        clips[name] = clip, flow_targets(flow), mask
    return clips


@pytest.mark.parametrize("name", ["still", "pan"])
@pytest.mark.parametrize(
    "kind", [k for k, t in TREATMENTS.items() if not issubclass(t, WarpsFrame)]
)
def test_a_treatment_adds_no_more_to_noisy_footage_than_it_declares(kind, name, noisy_clips):
    clip, at, mask = noisy_clips[name]

    def error(settings):
        look = a_look(step(kind, settings))
        path = Evaluator(look, RecordingClip(clip), SIZE, Cache(1 << 26), assets=ASSETS)
        fixed = issubclass(TREATMENTS[kind], FixedPattern)
        return warping_error(path.picture(1), path.picture(0), at, mask, fixed=fixed)

    plain = {"file": "inverse.cube"} if kind == "table" else {}
    changed = [plain | {name: value} | beside for name, value, beside in changed_settings(kind)]
    footage = warping_error(
        clip[1], clip[0], at, mask, fixed=issubclass(TREATMENTS[kind], FixedPattern)
    )
    added = {str(settings): error(settings) - footage for settings in (plain, *changed)}
    assert max(added.values()) <= TREATMENTS[kind].max_added_change, max(added, key=added.get)


@pytest.mark.parametrize("kind", [k for k, t in TREATMENTS.items() if issubclass(t, WarpsFrame)])
def test_a_picture_that_is_moved_as_a_whole_is_as_steady(kind):
    """What moves with what is in the frame is no change: also where it is enlarged on a pan."""
    settings = {"size": 0.4} if kind in ("crop", "letterbox") else {}
    for change in examine_look(a_look(step(kind, settings)), PAN).changes[1:]:
        assert change.added_steady == change.jump == 0
        assert change.change_footage > 0
        assert (change.added == 0) != lively(kind)


def test_gain_adds_as_much_as_it_multiplies():
    """At twice the values, twice the change: added is what the footage itself changes by."""
    pictures = [0.4 * picture for picture in PAN]
    twice = step("levels", {"white": 0.5})
    for change in examine_look(a_look(twice), pictures).changes[1:]:
        assert change.change_result == pytest.approx(2 * change.change_footage, rel=1e-3)
        assert change.added == pytest.approx(change.change_footage, rel=2e-3)


def noisy(frames=5):
    rng = np.random.default_rng(2)
    ground = lamps(Size(256, 144), 1)[0]
    return [
        ground + 0.05 * rng.standard_normal((1, 144, 256)).astype(np.float32) for _ in range(frames)
    ]


def hard(settle):
    settings = {"threshold": 0.55, "knee": 0.0, "spread": 40, "keep_midtones": 0}
    return a_look(
        {"id": "g", "treatment": "glow", "settings": settings | {"temporal_smoothing": settle}}
    )


def test_a_settled_glow_adds_at_most_half_the_change_of_a_hard_one_on_noisy_footage():
    def added_change(settle):
        # the glow alone on black, whose change is what is added to footage that stands still
        changes = examine_look(hard(settle), noisy(12)).changes[4:-4]
        return np.mean([abs(change.jump) for change in changes])

    assert added_change(3) <= 0.5 * added_change(0)


def test_steps_that_add_change_are_told_from_those_that_take_it():
    soft = {"id": "soft", "treatment": "soften", "settings": {"radius": 8}}
    sharp = {"id": "sharp", "treatment": "sharpen", "settings": {"strength": 2, "floor": 0}}
    steps = examine_look(a_look(soft, sharp), noisy()).steps()
    assert steps["soft"] < 0 < steps["sharp"]


GRAIN = {"id": "grain", "treatment": "grain"}
BURST = {"id": "burst", "treatment": "exposure", "settings": {"stops": 1}} | {
    "bursts": [{"from": 1, "to": 1}]
}
KEYED = {"id": "keyed", "treatment": "exposure"} | {
    "keys": {"stops": [{"frame": 0, "value": 0, "ease": "hold"}, {"frame": 2, "value": 0.5}]}
}


def test_what_is_lively_by_intent_is_left_out_of_the_steady_part():
    still = [lamps(SIZE, 1)[0]] * 4
    look = a_look(GRAIN, BURST)
    assert [is_lively_step(step) for step in look.steps] == [True, True]
    found = examine_look(look, still)
    assert all(change.added_steady == change.jump == 0 for change in found.changes)
    assert all(change.added > 0.005 for change in found.changes[1:])
    assert found.flags() == []
    assert found.report()["lively"] == ["grain", "burst"]


def test_a_lively_step_in_a_bundle_is_left_out_alone():
    tone = {"id": "t", "treatment": "levels", "settings": {"gamma": 1.3}}
    look = a_look({"id": "b", "treatment": "bundle", "settings": {"steps": [tone, GRAIN]}})
    (bundle,) = steady_part(look).steps
    assert bundle.on
    assert [inner.on for inner in bundle.settings.steps] == [True, False]


def test_a_jump_of_the_light_is_flagged_with_the_step_that_makes_it():
    still = [lamps(SIZE, 1)[0]] * 5
    calm = {"id": "calm", "treatment": "levels", "settings": {"gamma": 1.2}}
    (flag,) = examine_look(a_look(calm, KEYED), still).flags()
    assert (flag.frame, flag.why, flag.step) == (2, "jump", "keyed")
    assert flag.value > 0.004


def test_a_cut_is_no_jump():
    other = [np.ascontiguousarray(picture[:, ::-1, ::-1]) ** 2 for picture in PAN]
    gain = step("levels", {"white": 0.5})
    found = examine_look(a_look(gain), [*PAN, *other])
    assert [change.frame for change in found.changes if change.cut] == [4]
    assert all(flag.frame != 4 for flag in found.flags())


@pytest.mark.parametrize("size", [Size(256, 144), Size(16, 9), Size(1, 1)])
def test_a_clip_of_one_frame_has_nothing_to_say(size):
    picture = np.full((3, size.height, size.width), 0.5, np.float32)
    found = examine_look(a_look(GRAIN), [picture])
    assert found.flags() == []
    assert found.steps() == {"grain": 0.0}
    assert found.report()["summary"]["frames"] == 1


def test_a_strobe_is_found_with_the_step_that_makes_it():
    still = [np.full((3, 90, 160), 0.3, np.float32)] * 60
    bursts = [{"from": n, "to": n + 1} for n in range(2, 58, 4)]
    strobe = BURST | {"settings": {"stops": 2.5}, "bursts": bursts}
    found = examine_look(a_look({"id": "t", "treatment": "levels"}, strobe), still, 90)
    assert {(said.fault.kind, said.step) for said in found.flashes()} == {("general", "burst")}
    assert found.flashes(after=1) == []


@pytest.mark.parametrize("kind", ["halftone", "lines"])
def test_footage_that_moves_behind_a_pattern_is_no_flicker_of_it(kind):
    slow = np.array([[1, 0, 0.35], [0, 1, 0.2]])
    pan = [move_picture(texture(), slow, n) for n in range(4)]
    settings = {"pitch": 40}
    found = examine_look(a_look(step(kind, settings)), pan)
    assert found.flags() == []
    look = a_look(step(kind, settings))
    path = Evaluator(look, RecordingClip(pan), SIZE, Cache(1 << 26))
    now, before = (path.picture(n) for n in (2, 1))
    flow = known_flow(slow).astype(np.float32)
    inside = np.zeros(SIZE[::-1], bool)
    inside[8:-8, 8:-8] = True
    along, least = (
        warping_error(now, before, flow_targets(flow), inside, fixed=fixed)
        for fixed in (False, True)
    )
    assert along > 0.005 > least
    in_place = np.abs(now - before)[:, inside].mean()
    assert least <= min(along, in_place)


def test_a_print_that_flickers_is_flagged_all_the_same():
    """Dots of a screen that is another on every other frame."""
    still = [texture()[:, : SIZE.height, : SIZE.width].copy()] * 5
    turned = {"frame": 2, "value": 20, "ease": "hold"}
    keys = {"turn": [{"frame": 0, "value": 0, "ease": "hold"}, turned]}
    look = a_look(step("halftone", {"pitch": 60}) | {"keys": keys})
    flags = examine_look(look, still).flags()
    assert [(flag.frame, flag.why) for flag in flags] == [(2, "added")]


def test_a_track_that_trembles_is_found():
    """What rides on it moves to and fro before a still picture: that is change which is added."""
    shape = {"id": "a", "kind": "ellipse", "size": [0.2, 0.3], "feather": 20, "track": "t.json"}
    look = a_look(step("exposure", {"stops": 2}, mask=[shape]))
    still = [texture(SIZE.height, SIZE.width)] * 6

    def added_change(by):
        frames = [
            {"frame": n, "matrix": ((1, 0, by * (-1) ** n), (0, 1, 0), (0, 0, 1))} for n in range(6)
        ]
        track = Track.model_validate({"size": tuple(SIZE), "from": 0, "frames": frames})
        assets = ASSETS._replace(track=lambda name: track)
        found = SteadinessAnalysis(look, RecordingClip(still), 24.0, assets=assets)
        list(found.run())
        return found.report()["summary"]["added"]

    assert added_change(0.0) == 0
    assert added_change(0.25) > 0
    assert added_change(1.5) > 4 * added_change(0.25)
