"""The evaluator: every picture is a pure function of look, footage, frame and size."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from tests.conftest import (
    ASSETS,
    THREE_STEPS,
    RecordingClip,
    a_look,
    changed_settings,
    lamps,
    lively,
    step,
    with_asset,
    with_hues,
)
from yearning.core import parallel
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Cancelled, Evaluator
from yearning.core.engine.statistics import NodeStatistics
from yearning.core.picture import Size
from yearning.core.treatments import TREATMENTS
from yearning.testing import CHECKS

SIZE = Size(320, 180)
ROOM = 1 << 28


def _path(look, pictures, size=SIZE, room=ROOM, **how):
    return Evaluator(look, RecordingClip(pictures), size, Cache(room), assets=ASSETS, **how)


@pytest.fixture(scope="module")
def pictures():
    return lamps(SIZE)


def test_a_frame_alone_is_the_frame_of_the_whole(pictures):
    look = a_look(*THREE_STEPS)
    path = _path(look, pictures)
    whole = [path.picture(n) for n in range(len(pictures))]
    for n in (4, 0, 5):
        np.testing.assert_array_equal(_path(look, pictures, room=0).picture(n), whole[n])


def test_keeping_every_step_changes_nothing(pictures):
    look = a_look(*THREE_STEPS)
    kept = _path(look, pictures, keep="every step")
    for n in range(4):
        np.testing.assert_array_equal(kept.picture(2, n), _path(look, pictures).picture(2, n))


LOOKS = {
    "glow first": THREE_STEPS,
    "glow last": [THREE_STEPS[1], THREE_STEPS[2], THREE_STEPS[0]],
    "two glows": [step("glow") | {"id": "a"}, THREE_STEPS[1], step("glow", {"spread": 9})],
    "off between": [THREE_STEPS[0] | {"on": False}, THREE_STEPS[1], THREE_STEPS[2]],
    "off at the end": [*THREE_STEPS[:2], THREE_STEPS[2] | {"on": False}],
    "mixed in part": [s | {"mix": {"blend": "overlay", "amount": 0.4}} for s in THREE_STEPS],
}


@pytest.mark.parametrize("name", LOOKS)
def test_bands_from_the_footage_give_what_whole_pictures_do(name, pictures):
    """At full size nothing is kept between steps; keeping all must not show."""
    look = a_look(*LOOKS[name])
    kept = _path(look, pictures, keep="every step")
    for keep in ("last", "nothing"):
        streamed = _path(look, pictures, keep=keep)
        for after in range(len(look.steps) + 1):
            np.testing.assert_array_equal(streamed.picture(2, after), kept.picture(2, after))


FREE = [step("glow", {"keep_midtones": 0}), *THREE_STEPS[1:]]
"""A glow that asks nothing of the whole clip."""


def test_a_stretch_reads_the_footage_once_for_what_drives_it_and_once_for_itself(pictures):
    footage = RecordingClip(pictures)
    Evaluator(a_look(*FREE), footage, SIZE, Cache(ROOM), keep="nothing").picture(3)
    assert sorted(footage.asked) == [2, 3, 3, 4]  # settled over a frame on each side


def test_what_drives_a_step_is_gathered_once_for_all_frames(pictures):
    footage, look = RecordingClip(pictures), a_look(*FREE)
    path = Evaluator(look, footage, SIZE, Cache(ROOM), keep="nothing")
    for frame in range(6):
        path.picture(frame)
    assert sorted(footage.asked) == sorted([*range(6), *range(6)])


def test_a_setting_that_does_not_drive_leaves_what_drives_as_it_was(pictures):
    footage, cache = RecordingClip(pictures), Cache(ROOM)
    glow = {"keep_midtones": 0}
    Evaluator(a_look(step("glow", glow)), footage, SIZE, cache, keep="nothing").picture(3)
    footage.asked.clear()
    glow |= {"warmth": 0.9}
    Evaluator(a_look(step("glow", glow)), footage, SIZE, cache, keep="nothing").picture(3)
    assert footage.asked == [3]


@pytest.mark.parametrize(
    ("kind", "kept"), [("sharpen", False), ("halation", False), ("glow", True)]
)
def test_statistics_are_kept_only_for_other_frames_that_ask_for_them(kind, kept, pictures):
    cache = Cache(ROOM)
    path = Evaluator(
        a_look(step(kind)),
        RecordingClip(pictures),
        SIZE,
        cache,
        keep="nothing",
        clip_cache=Cache(ROOM),
    )
    path.picture(3)
    assert (cache.used_bytes > 0) == kept
    assert (path.statistics_bytes(3) > 0) == kept


def test_what_holds_for_the_clip_is_told_once_and_the_same_at_any_size_and_frame():
    """Glow's hold on mid-tones: the same frames are seen at one small size, whatever is asked."""
    full, half = Size(960, 540), Size(480, 270)
    footage, cache = RecordingClip(lamps(full, 9)), Cache(1 << 28)
    asked = []
    for size in (full, half):
        for frame in (1, 4):
            path = Evaluator(
                a_look(step("glow", {"temporal_smoothing": 0})),
                footage,
                size,
                cache,
                keep="nothing",
            )
            path.picture(frame)
            node = path.graph.node(1)
            asked.append(NodeStatistics(path, frame, node).clip_statistics())
    assert all(told is asked[0] for told in asked[1:])
    assert asked[0][0] > 0


def test_frames_made_at_once_by_several_threads_are_the_frames(pictures):
    look = a_look(*THREE_STEPS)
    alone = [_path(look, pictures).picture(n) for n in range(6)]
    path = _path(look, pictures, keep="nothing")
    with ThreadPoolExecutor(4, initializer=parallel.use_one_thread) as threads:
        for picture, expected in zip(threads.map(path.picture, range(6)), alone, strict=True):
            np.testing.assert_array_equal(picture, expected)


@pytest.mark.parametrize("kind", TREATMENTS)
def test_pictures_given_out_are_not_to_be_written(kind, pictures):
    path = _path(a_look(step(kind)), pictures)
    with pytest.raises(ValueError, match="read-only"):
        path.picture(1)[0, 0, 0] = 1


def test_steps_run_one_after_the_other(pictures):
    look = a_look(*THREE_STEPS)
    halfway = _path(look, pictures).picture(3, 2)
    last = _path(a_look(THREE_STEPS[2]), [halfway] * 6).picture(3)
    np.testing.assert_allclose(_path(look, pictures).picture(3), last, atol=1e-6)


def test_an_empty_look_and_steps_that_are_off_are_the_footage(pictures):
    off = [s | {"on": False} for s in THREE_STEPS]
    for steps in ([], off):
        np.testing.assert_array_equal(_path(a_look(*steps), pictures).picture(1), pictures[1])


def test_changing_the_last_step_runs_that_step_alone(pictures):
    footage, cache = RecordingClip(pictures), Cache(ROOM)
    look = a_look(*THREE_STEPS)
    Evaluator(look, footage, SIZE, cache, keep="every step").picture(2)
    footage.asked.clear()
    other = a_look(*THREE_STEPS[:2], step("grain", {"seed": 9}))
    Evaluator(other, footage, SIZE, cache, keep="every step").picture(2)
    assert footage.asked == []


def test_a_stale_request_is_given_up(pictures):
    with pytest.raises(Cancelled):
        _path(a_look(*THREE_STEPS), pictures, is_cancelled=lambda: True).picture(0)


@pytest.mark.parametrize("frame", [-1, 6, 10**9])
def test_a_frame_out_of_range_is_refused(frame, pictures):
    with pytest.raises(IndexError, match="0 to 5"):
        _path(a_look(), pictures).picture(frame)


def test_the_cache_keeps_to_its_bound():
    cache = Cache(1000)
    for n in range(9):
        cache.put(n, np.zeros(100, np.float32))
    assert [n for n in range(9) if cache.get(n) is not None] == [7, 8]


LIVELY = [kind for kind in TREATMENTS if lively(kind)]


@pytest.mark.parametrize("kind", LIVELY)
def test_a_lively_treatment_is_new_on_every_frame(kind, pictures):
    held = {"hold": 1} if kind == "slices" else {}
    path = _path(a_look(step(kind, with_asset(kind) | held)), [pictures[0]] * 5)
    assert np.abs(path.picture(1) - path.picture(2)).max() > 0.002


CASES = [(kind, *case) for kind in TREATMENTS for case in changed_settings(kind)]


@pytest.mark.parametrize(("kind", "name", "value", "beside"), CASES)
def test_every_setting_does_something(kind, name, value, beside, pictures):
    pumping = (0.8, 1.0)
    pictures = [pumping[n % 2] * with_hues(picture) for n, picture in enumerate(pictures)]
    plain = _path(a_look(step(kind, beside)), pictures).picture(3)
    other = _path(a_look(step(kind, beside | {name: value})), pictures).picture(3)
    assert np.abs(plain - other).max() > 1e-3


@pytest.mark.parametrize("check", CHECKS, ids=lambda check: check.__name__)
@pytest.mark.parametrize("kind", TREATMENTS)
def test_a_treatment_keeps_what_every_treatment_promises(kind, check):
    check(TREATMENTS[kind], with_asset(kind), ASSETS)


def test_what_was_told_of_the_clip_is_kept_where_it_is_wanted(pictures):
    footage, told = RecordingClip(pictures), Cache(1 << 16)
    look = a_look(step("glow", {"temporal_smoothing": 0}))
    for asked in (5, 0):
        footage.asked.clear()
        Evaluator(look, footage, SIZE, Cache(0), keep="nothing", clip_cache=told).picture(3)
        assert len(footage.asked) == asked + 2  # and the frame, to be gathered and treated
