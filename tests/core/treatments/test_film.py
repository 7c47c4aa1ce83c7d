"""Dirt, weather and an old gate, against what is known of them."""

import itertools

import numpy as np
import pytest
from scipy import stats

from tests.conftest import ASSETS, RecordingClip, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.marks import Mark, draw_marks, mark_arrays
from yearning.core.measure.flashes import Flashes
from yearning.core.noise.fields import uniforms
from yearning.core.picture import Size
from yearning.core.treatment.capabilities import is_lively
from yearning.core.treatments.border import Border
from yearning.core.treatments.dust import BLACK, SECOND, Dust
from yearning.core.treatments.flicker import Flicker
from yearning.core.treatments.flurry import MARGIN, Flurry
from yearning.core.treatments.weave import Weave

FULL = Size(1920, 1080)
GREY = np.full((3, 270, 480), 0.4, np.float32)


def run(kind, settings=None, picture=GREY, frame=0, frames=1):
    size = Size(picture.shape[2], picture.shape[1])
    pictures = RecordingClip([picture] * max(frames, frame + 1))
    path = Evaluator(a_look(step(kind, settings)), pictures, size, Cache(1 << 26))
    return path.picture(frame)


def marks_by_name(frame, **settings):
    return {mark.name: mark for mark in Dust(**settings).marks(frame, FULL)}


def test_uniform_numbers_are_even_apart_and_the_same_for_a_counter():
    numbers = np.array([uniforms(7, 3, a, -a, 6) for a in range(-400, 400)])
    assert numbers.min() > 0
    assert numbers.max() < 1
    assert stats.kstest(numbers.ravel(), "uniform").pvalue > 1e-3
    assert np.abs(np.corrcoef(numbers.T) - np.eye(6)).max() < 0.15
    np.testing.assert_array_equal(uniforms(7, 3, 5, -5, 20)[:6], numbers[405])


# Dust


@pytest.mark.parametrize("kind", ["specks", "hairs", "blotches"])
def test_dust_comes_as_a_poisson_process_brings_it(kind):
    none = {"specks": 0, "hairs": 0, "blotches": 0, "scratches": 0}
    dust = Dust(**none | {kind: 3.0 * SECOND})
    counts = np.array([len(list(dust.marks(n, FULL))) for n in range(1500)])
    top = 8
    found = np.bincount(np.minimum(counts, top), minlength=top + 1)
    wanted = stats.poisson.pmf(np.arange(top), 3.0)
    wanted = np.append(wanted, 1 - wanted.sum()) * len(counts)
    assert stats.chisquare(found, wanted).pvalue > 1e-3
    assert abs(np.corrcoef(counts[1:], counts[:-1])[0, 1]) < 0.1


def test_more_dust_leaves_what_is_there_where_it_is():
    for frame in range(30):
        few, many = (
            marks_by_name(frame, specks=60, hairs=6),
            marks_by_name(frame, specks=200, hairs=20),
        )
        assert set(few) <= set(many)
        assert len(set(many)) == len(many)
        for name, mark in few.items():
            np.testing.assert_array_equal(mark.line, many[name].line)


def test_what_is_taken_out_stays_out_whatever_else_is_set():
    name = next(iter(marks_by_name(12, specks=120)))
    for other in ({"specks": 240}, {"size": 2}, {"polarity": "black"}, {"hairs": 24}):
        settings = {"specks": 120} | other
        assert name in marks_by_name(12, **settings)
        assert name not in marks_by_name(12, **settings, removed=(name,))
        rest = set(marks_by_name(12, **settings)) - {name}
        assert set(marks_by_name(12, **settings, removed=(name,))) == rest


def test_a_scratch_runs_along_many_frames_and_wanders_without_a_break():
    frames = [marks_by_name(n, specks=0, hairs=0, blotches=0, scratches=4) for n in range(120)]
    runs = {}
    for n, marks in enumerate(frames):
        for name, mark in marks.items():
            runs.setdefault(name, []).append((n, mark))
    assert np.mean([len(run) for run in runs.values()]) > 10
    for run_ in runs.values():
        numbers = [n for n, _ in run_]
        assert numbers == list(range(numbers[0], numbers[-1] + 1))
        for (_, before), (_, after) in itertools.pairwise(run_):
            foot, head = before.line[-1], after.line[0]
            assert abs(foot[0] - head[0]) < 2  # the film's next frame begins where this one ends


def test_a_gate_hair_stays_and_trembles():
    first, later = (marks_by_name(n, specks=0, gate_hair=1)["gate hair 0"].line for n in (0, 77))
    moved = np.hypot(*(first - later)[:, :2].T)
    assert moved[0] == 0
    assert 0.2 < moved.max() < 12


@pytest.mark.parametrize(("polarity", "sign"), [("white", 1), ("black", -1)])
def test_dirt_on_the_negative_is_white_and_on_the_print_black(polarity, sign):
    change = run("dust", {"specks": 2000, "hairs": 24, "polarity": polarity}) - GREY
    assert (sign * change).min() >= 0
    tone = Dust().brightness if polarity == "white" else BLACK
    assert np.abs(change).max() <= abs(tone - 0.4) + 1e-6
    assert np.abs(change).max() > 0.5 * abs(tone - 0.4)


def test_marks_are_as_light_as_soft_and_as_dense_as_is_asked():
    few = {"specks": 600, "hairs": 60, "polarity": "white"}
    plain, light = run("dust", few) - GREY, run("dust", few | {"brightness": 1.0}) - GREY
    assert light.max() == pytest.approx(0.6, abs=0.03)
    np.testing.assert_allclose(light, plain * 0.6 / 0.384, atol=1e-4)
    faint = run("dust", few | {"strength": 0.25}) - GREY
    assert 0.2 * plain.max() < faint.max() < 0.5 * plain.max()
    soft = run("dust", few | {"softness": 3}) - GREY
    edge = [np.abs(np.diff(change[1])).mean() / change.mean() for change in (plain, soft)]
    assert edge[1] < 0.9 * edge[0]


class Anything:
    """A moment of which only the size is asked."""

    size = FULL


@pytest.mark.parametrize("radius", [1.2, 4.0, 17.3])
@pytest.mark.parametrize("lines", [1080, 540, 270])
def test_a_disc_covers_its_area_at_any_size(radius, lines):
    size = FULL.with_height(lines)
    line = np.array([[701.3, 333.7, radius, 1.0]], np.float32)
    marks = mark_arrays([Mark("m", line, 0.6, (1.0, 1.0, 1.0))], size, FULL)
    picture = np.zeros((3, size.height, size.width), np.float32)
    draw_marks(marks, out := picture.copy(), 0, picture.shape[1], 0)
    area = out[0].sum(dtype=np.float64) / size.scale**2
    # an edge that runs as 3s² − 2s³ over ±soft adds π soft²/5
    assert area == pytest.approx(np.pi * (radius**2 + 0.6**2 / 5), rel=0.03)


# Flurry


def test_a_flake_goes_on_from_frame_to_frame_and_comes_in_from_outside():
    wide = 16 / 9
    flurry = Flurry(amount=800, wind=0.6, gusts=1, sway=1)
    frames = [flurry.flakes(n, wide) for n in range(0, 60)]
    anew = 0
    for before, after in itertools.pairwise(frames):
        np.testing.assert_array_equal(before[:, 4], after[:, 4])  # far ones first, as they were
        step_ = np.hypot(*(after - before)[:, :2].T)
        jumped = step_ > 0.15
        anew += int(jumped.sum())
        for flakes in (before[jumped], after[jumped]):
            reach = flakes[:, 4] + flakes[:, 5] + np.abs(flakes[:, 2:4]).max(axis=1)
            outside = (
                (flakes[:, 0] < -reach)
                | (flakes[:, 0] > wide + reach)
                | (flakes[:, 1] < -reach)
                | (flakes[:, 1] > 1 + reach)
            )
            assert outside.all()
    assert anew > 20


def test_flakes_fill_the_frame_evenly_and_near_ones_are_large_and_fast():
    flurry = Flurry(amount=6000, sway=0, gusts=0, blur=0)
    now, later = flurry.flakes(40, 1.5), flurry.flakes(41, 1.5)
    inside = (now[:, :2] > -MARGIN) & (now[:, :2] < np.array([1.5, 1]) + MARGIN)
    assert inside.all()
    counts = np.histogram2d(now[:, 0], now[:, 1], 6)[0]
    assert stats.chisquare(counts.ravel()).pvalue > 1e-3
    step_ = (later - now)[:, 1]
    falls = (step_ > 0) & (step_ < 0.1)
    assert falls.mean() > 0.9
    assert stats.spearmanr(now[falls, 4], step_[falls]).statistic > 0.6
    radius = now[:, 4] * 2160
    assert radius[:600].mean() < 0.5 * radius[-600:].mean()


def test_more_of_them_are_near_when_asked():
    radius = [
        np.sort(Flurry(amount=3000, near_share=near, blur=0).flakes(9, 1.5)[:, 4])
        for near in (0, 0.5, 1)
    ]
    few, more, most = ((one > 3 / 1080).mean() for one in radius)
    assert few < 0.02
    assert few < more < most
    assert most > 0.3


def test_a_streak_is_as_long_as_half_a_frame_s_way():
    flurry = Flurry(amount=500, gusts=0, sway=0)
    before, now, after = (flurry.flakes(n, 1.5) for n in (9, 10, 11))
    way = (after - before)[:, :2] / 2
    steady = np.hypot(*way.T) < 0.1
    np.testing.assert_allclose(2 * now[steady, 2:4], 0.5 * way[steady], atol=2e-4)


# Weave and flicker


def test_the_sway_stays_within_what_is_set_and_about_the_middle():
    weave = Weave(across=2.0, down=3.0)
    places = np.array([weave.place(n) for n in range(2000)])
    assert (np.abs(places).max(axis=0) <= (2.0, 3.0)).all()
    assert (np.abs(places.mean(axis=0)) < (0.15, 0.2)).all()
    assert (places.std(axis=0) > (0.3, 0.45)).all()


def test_a_picture_is_moved_by_the_fraction_it_is_said_to_be():
    """Keys' cubic convolution gives parabolas back exactly, but at mirrored edges."""
    y, x = np.mgrid[0:1080, 0:1920].astype(np.float64)
    shape = lambda x, y: 0.1 + (x / 1920) ** 2 / 3 + (y / 1080) ** 2 / 4 + x * y / 1920 / 5400  # noqa: E731
    picture = np.stack([shape(x, y)] * 3).astype(np.float32)
    settings = {"across": 5.0, "down": 7.0, "seed": 3}
    right, down = Weave(**settings).place(17)
    found = run("weave", settings, picture, 17)
    wanted = shape(x - right, y - down)
    assert abs(right - round(right)) > 0.05
    np.testing.assert_allclose(found[0, 12:-12, 12:-12], wanted[12:-12, 12:-12], atol=3e-6)


def test_at_no_sway_the_picture_is_as_it_was():
    picture = lamps(Size(480, 270), 1)[0]
    np.testing.assert_array_equal(run("weave", {"across": 0, "down": 0}, picture), picture)


def test_flicker_keeps_the_light_it_has_on_the_whole():
    light = [float(run("flicker", {"uneven": 0}, frame=n).mean() ** 2.4) for n in range(0, 720, 3)]
    light = np.array(light) / 0.4**2.4
    assert light.mean() == pytest.approx(1, abs=0.01)
    assert np.abs(light - 1).max() <= 0.08 + 1e-3
    assert light.std() > 0.02


def test_a_lamp_that_flutters_as_it_is_made_is_no_flash():
    """WCAG 2.2 SC 2.3.1, on a bright frame: where a change of light is seen most."""
    flashes = Flashes(24.0)
    bright = np.full((3, 90, 160), 0.88, np.float32)
    lamp = Flicker()
    path = Evaluator(a_look(step("flicker")), RecordingClip([bright] * 96), Size(160, 90), Cache(0))
    for n in range(96):
        flashes.add(path.picture(n))
    assert is_lively(lamp)
    assert flashes.faults() == []


# Border


@pytest.mark.parametrize("shape", ["rounded", "oval", "torn"])
def test_the_whole_height_of_the_picture_is_seen_in_the_opening(shape):
    y = np.linspace(0, 1, 1080, dtype=np.float32)
    picture = np.broadcast_to(0.2 + 0.6 * y[:, None], (3, 1080, 1920)).copy()
    settings = {"shape": shape, "ratio": 1.5, "opening": 0.8, "roughness": 0, "colour": "#000000"}
    seen = run("border", settings, picture)[0]
    assert seen[:, :300].max() == seen[:, -300:].max() == 0  # beside the opening
    middle = seen[:, 960]
    rows = np.flatnonzero(middle > 0.1)
    assert (rows[0], rows[-1]) == pytest.approx((108, 971), abs=2)
    wanted = 0.2 + 0.6 * (np.arange(120, 960) - 107.5) / 864
    np.testing.assert_allclose(middle[120:960], wanted, atol=2e-3)
    across = np.flatnonzero(seen[540] > 0.1)
    assert np.ptp(across) == pytest.approx(864 * 1.5, abs=4)


class Framed:
    """A plate with an opening, and a hole beside it."""

    frames = 1
    size = Size(480, 270)

    def picture(self, frame, size):
        return np.full((3, size.height, size.width), 0.7, np.float32)

    def matte(self, frame, size):
        matte = np.ones((270, 480), np.float32)
        matte[35:235, 90:390] = 0
        matte[100:130, 20:50] = 0
        assert size == self.size
        return matte


def test_the_picture_is_scaled_into_a_plate_s_opening():
    y, x = np.mgrid[0:270, 0:480].astype(np.float32)
    picture = np.stack([x / 480, y / 270, 0.5 + 0 * x])
    assets = ASSETS._replace(plate=lambda name: Framed())
    pictures = RecordingClip([picture])
    path = Evaluator(
        a_look(step("border", {"file": "frame.png"})),
        pictures,
        Size(480, 270),
        Cache(0),
        assets=assets,
    )
    found = path.picture(0)
    clear = Framed().matte(0, Framed.size) == 0
    np.testing.assert_allclose(found[:, ~clear], 0.7, atol=1e-6)
    # 300 of 480 columns would be 168.75 rows: so the height fills the 200 rows, 1.35 to one
    down, across = np.arange(45, 225), np.arange(100, 380)
    np.testing.assert_allclose(found[1, 45:225, 240], (down - 34.5) * 1.35 / 270, atol=0.01)
    wanted = 0.5 + (across - 239.5) * 1.35 / 480
    np.testing.assert_allclose(found[0, 135, 100:380], wanted, atol=0.01)


def test_a_plate_without_an_opening_is_said():
    border = Border(file="spots.mp4")
    assert "not clear in its middle" in border.validate_plate(ASSETS.plate(""))
    assert border.validate_plate(Framed()) is None
