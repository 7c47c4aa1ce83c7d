"""Settings that are percentiles of the clip: one number, whatever is asked for, and when."""

import numpy as np
import pytest

from tests.conftest import ASSETS, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.baking import bake
from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.statistics import with_tone_numbers
from yearning.core.engine.step_light import held_light, step_highlights
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.picture import Size
from yearning.core.treatment.clip_tones import BINS, sample_frames
from yearning.core.treatment.tone_values import Percentile
from yearning.core.treatments import TREATMENTS

SIZE = Size(160, 90)
AT_94 = {"percentile": 94}
SETTINGS = [
    (kind, name)
    for kind, treatment in TREATMENTS.items()
    for name, field in treatment.model_fields.items()
    if (field.json_schema_extra or {}).get("by_clip")
]


@pytest.fixture(scope="module")
def clip():
    """A hundred frames of random grey, brighter from frame to frame."""
    rng = np.random.default_rng(41)
    frames = [np.float32(0.5 + n / 200) * rng.random((1, 90, 160), np.float32) for n in range(100)]
    return ArrayClip([np.repeat(frame, 3, axis=0) for frame in frames])


def path_of(clip, *steps, cache=None, size=SIZE):
    return Evaluator(
        a_look(*steps), clip, size, Cache(1 << 28) if cache is None else cache, assets=ASSETS
    )


def number_at(path, frame, name="threshold"):
    """What a percentile of the last step is at a frame."""
    node = path.graph_at(frame).node(path.graph.results[-1])
    return getattr(with_tone_numbers(path, frame, node).treatment, name)


def test_settings_that_are_a_place_in_the_tones_take_percentiles():
    assert sorted(SETTINGS) == [
        ("glow", "threshold"),
        ("halation", "threshold"),
        ("levels", "black"),
        ("levels", "white"),
        ("tone", "pivot"),
    ]


@pytest.mark.parametrize("percent", [0, 10, 50, 94, 99.9, 100])
def test_it_is_the_percentile_of_all_sampled_pixels(clip, percent):
    """Against numpy.percentile, whose neighbours are interpolated linearly too."""
    sampled = [clip.pictures[n][0] for n in sample_frames(clip.frames)]
    found = number_at(path_of(clip, step("glow", {"threshold": {"percentile": percent}})), 3)
    assert len(sampled) == 60
    assert found == pytest.approx(np.percentile(sampled, percent), abs=1 / BINS)


@pytest.mark.parametrize(("kind", "name"), SETTINGS)
def test_a_percentile_gives_the_picture_that_its_number_gives(kind, name, clip):
    at = {"percentile": 80 if name == "white" else 30}
    own = {"contrast": 0.5} if kind == "tone" else {}
    path = path_of(clip, step(kind, own | {name: at}))
    number = number_at(path, 7, name)
    made = path_of(clip, step(kind, own | {name: number})).picture(7)
    np.testing.assert_array_equal(path.picture(7), made)
    assert np.abs(made - path_of(clip, step(kind, own)).picture(7)).max() > 1e-4


def test_it_is_the_same_at_every_frame_and_size_and_alone():
    full = Size(960, 540)
    frames = lamps(full, 9)
    steps = step("exposure", {"stops": 0.5}), step("glow", {"threshold": AT_94})
    found = {
        number_at(path_of(ArrayClip(frames), *steps, size=size), frame)
        for size in (full, Size(480, 270), Size(160, 90))
        for frame in (0, 4, 8)
    }
    assert len(found) == 1


def test_it_is_of_what_the_step_reads(clip):
    """Levels lift what it reads; bars over half of the frame are no part of the clip's tones."""
    plain = number_at(path_of(clip, step("glow", {"threshold": AT_94})), 0)
    lifted = step("levels", {"out_black": 0.5}), step("glow", {"threshold": AT_94})
    assert number_at(path_of(clip, *lifted), 0) == pytest.approx(0.5 + plain / 2, abs=2 / BINS)
    barred = step("letterbox", {"ratio": 4.0}), step("glow", {"threshold": {"percentile": 10}})
    tenth = number_at(path_of(clip, step("glow", {"threshold": {"percentile": 10}})), 0)
    assert number_at(path_of(clip, *barred), 0) == pytest.approx(tenth, abs=0.01)


@pytest.mark.parametrize("reads", [{}, {"input": "l"}])
def test_an_earlier_step_that_comes_and_goes_leaves_it_one_number(reads, clip):
    """So does what a glow takes from the mid-tones, which is found over the whole clip as well."""
    lift = step("levels", {"out_black": 0.3}) | {"id": "l"}
    lift["bursts"] = [{"from": 20, "to": 60}]
    steps = lift, step("glow", {"threshold": AT_94}, **reads)
    found = {number_at(path_of(clip, *steps), frame) for frame in (0, 30, 60, 99)}
    assert len(found) == 1
    path = path_of(clip, lift, step("glow", {"keep_midtones": 1}, **reads))
    held = {held_light(path, frame, path.look.steps[1].id) for frame in (0, 30, 60, 99)}
    assert len(held) == 1


@pytest.mark.parametrize("setting", [{"threshold": AT_94}, {"keep_midtones": 1}])
def test_a_key_moved_at_another_frame_is_seen_at_this_one(setting, clip):
    """A kept picture is not given out where what the whole clip says has changed."""
    cache = Cache(1 << 28)

    def picture(last_stops):
        exposure = step("exposure", {"stops": 0})
        exposure["keys"] = {"stops": [{"frame": 0, "value": 0}, {"frame": 99, "value": last_stops}]}
        return path_of(clip, exposure, step("glow", setting), cache=cache).picture(0)

    assert np.abs(picture(-4) - picture(0)).max() > 1e-4


def test_percentiles_are_keyed_as_numbers_are():
    glow = step("glow", {"threshold": AT_94})
    glow["keys"] = {
        "threshold": [
            {"frame": 0, "value": {"percentile": 90}},
            {"frame": 10, "value": {"percentile": 100}, "ease": [0.5, 0, 0.5, 9]},
            {"frame": 20, "value": {"percentile": 99}},
        ]
    }
    keyed = a_look(glow).steps[0]
    assert keyed.at(5).settings.threshold == Percentile(95)
    assert all(0 <= keyed.at(n).settings.threshold.percent <= 100 for n in range(20))
    glow["keys"]["threshold"][1]["value"] = 0.5
    with pytest.raises(InvalidLookError, match=r"keys.threshold\[1\].value: keys are all numbers"):
        a_look(glow)


def test_a_look_is_written_with_its_percentiles():
    look = a_look(step("glow", {"threshold": AT_94}))
    again = look.model_dump(mode="json")
    assert again["steps"][0]["settings"]["threshold"] == {"percentile": 94.0}
    assert parse_look(again) == look


@pytest.mark.parametrize(
    "wrong",
    [
        *({"percentile": value} for value in (101, -1, "x", True, float("nan"))),
        *({"percent": 5}, {}, {"percentile": 5, "of": "x"}, [94]),
    ],
)
def test_what_is_no_percentile_is_refused_by_its_place(wrong):
    with pytest.raises(InvalidLookError, match=r"steps\[0\].settings.threshold: .*number"):
        a_look(step("glow", {"threshold": wrong}))


def test_white_lies_above_black():
    both = {"black": {"percentile": 50}, "white": {"percentile": 50}}
    with pytest.raises(InvalidLookError, match="percentile lies above"):
        a_look(step("levels", both))


def test_a_flat_clip_has_black_and_white_together_and_a_picture_all_the_same():
    flat = ArrayClip([np.full((3, 90, 160), 0.3, np.float32)] * 3)
    wide = {"black": {"percentile": 1}, "white": {"percentile": 99}}
    assert np.isfinite(path_of(flat, step("levels", wide)).picture(1)).all()


def test_the_pivot_stays_within_its_bounds_on_a_black_clip():
    black = ArrayClip([np.zeros((3, 90, 160), np.float32)] * 3)
    path = path_of(black, step("tone", {"contrast": 1, "pivot": {"percentile": 50}}))
    assert number_at(path, 0, "pivot") == 0.01
    assert np.isfinite(path.picture(0)).all()


def test_highlights_are_shown_from_the_percentile(clip):
    path = path_of(clip, step("glow", {"threshold": AT_94, "knee": 0}))
    shown = step_highlights(path, 0, path.look.steps[0].id)
    assert (shown[0] > 0).mean() < 0.06


@pytest.mark.parametrize("on", [True, False])
def test_without_a_clip_it_is_refused_by_its_step(on):
    look = a_look(step("tone", {"pivot": {"percentile": 50}}) | {"on": on})
    if not on:
        assert bake(look, 17)[1] < 1e-6
        return
    with pytest.raises(InvalidLookError, match=r"steps\[0\].*settings.pivot.*give a number"):
        bake(look, 17)
