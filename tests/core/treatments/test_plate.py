"""Plates: which frame stands where, how it lies, and what it does to the picture below."""

from collections import Counter
from itertools import pairwise

import av
import numpy as np
import pytest
from scipy.interpolate import PchipInterpolator

from tests.conftest import ASSETS, RecordingClip, Spots, a_look, lamps, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.noise.shuffle import shuffled_frame
from yearning.core.picture import Size
from yearning.core.treatments.plate import Plate

SIZE = Size(240, 160)
BELOW = np.clip(lamps(SIZE, 1)[0], 0, 1)


class Still:
    """A plate of one picture."""

    frames = 1

    def __init__(self, picture, matte=None):
        self._picture, self._matte = picture, matte
        self.size = Size(picture.shape[2], picture.shape[1])

    def picture(self, frame, size):
        assert size == self.size
        return self._picture

    def matte(self, frame, size):
        return self._matte


def lay_plate(plate=None, frame=0, below=BELOW, mix=None, **settings):
    """The result of a plate over a picture."""
    source = Spots() if plate is None else plate
    look = a_look(
        step("plate", {"file": "p"} | settings, **(mix or {"blend": "normal", "amount": 1}))
    )
    assets = ASSETS._replace(plate=lambda name: source)
    pictures = RecordingClip([below] * (frame + 1))
    size = Size(below.shape[2], below.shape[1])
    return Evaluator(look, pictures, size, Cache(1 << 26), assets=assets).picture(frame)


# Frames


@pytest.mark.parametrize("count", [2, 3, 4, 5, 8, 24, 25, 72])
@pytest.mark.parametrize("seed", [1, 12])
def test_a_shuffle_has_every_frame_once_a_round_and_none_after_itself(count, seed):
    found = [shuffled_frame(seed, count, n) for n in range(count * (count + 2))]
    for turn in range(count + 2):
        assert sorted(found[turn * count : (turn + 1) * count]) == list(range(count))
    assert all(a != b for a, b in pairwise(found))


@pytest.mark.parametrize("count", [4, 8, 24, 72])
def test_a_shuffle_repeats_no_pair_within_as_many_rounds_as_there_are_frames(count):
    """Williams 1949: a row-complete Latin square has each ordered pair of neighbours once."""
    rounds = [[shuffled_frame(5, count, n * count + k) for k in range(count)] for n in range(count)]
    pairs = Counter(pair for row in rounds for pair in pairwise(row))
    assert len(pairs) == count * (count - 1)
    assert max(pairs.values()) == 1


def frames_seen(plate, frames, count):
    return [[n for n, _ in plate.frames_at(frame, count)] for frame in range(frames)]


def test_a_plate_comes_again_as_it_was_or_back_and_forth():
    assert frames_seen(Plate(loop="repeat"), 7, 3) == [[0], [1], [2], [0], [1], [2], [0]]
    assert frames_seen(Plate(loop="back-and-forth"), 9, 4) == [
        [n] for n in (0, 1, 2, 3, 2, 1, 0, 1, 2)
    ]
    assert frames_seen(Plate(loop="repeat", speed=0.5), 6, 3) == [[0], [0], [1], [1], [2], [2]]
    assert frames_seen(Plate(loop="repeat", first=2, last=3), 4, 9) == [[2], [3], [2], [3]]
    assert frames_seen(Plate(loop="back-and-forth"), 3, 1) == [[0]] * 3


def test_an_end_is_dissolved_into_the_beginning():
    plate = Plate(loop="dissolve", seam=3)
    weights = np.zeros((30, 10))
    for frame in range(30):
        for n, part in plate.frames_at(frame, 10):
            weights[frame, n] += part
    np.testing.assert_allclose(weights.sum(axis=1), 1)
    np.testing.assert_array_equal(weights[:7], np.eye(10)[:7])
    for n, frame in enumerate((7, 8, 9)):  # frames 7 to 9 go, 0 to 2 come
        assert weights[frame, 7 + n] == pytest.approx(1 - (n + 1) / 4)
        assert weights[frame, n] == pytest.approx((n + 1) / 4)
    np.testing.assert_array_equal(weights[10:14], np.eye(10)[3:7])


@pytest.mark.parametrize("loop", ["repeat", "shuffle", "back-and-forth", "dissolve"])
def test_what_is_skipped_is_never_seen_however_long_the_clip(loop):
    """A plate of a second over eight: the frame with the scratch does not come."""
    plate = Plate(loop=loop, exclude=((9, 11), (20, 20)))
    frames = {n for frame in range(192) for n, _ in plate.frames_at(frame, 24)}
    assert frames == set(range(24)) - {9, 10, 11, 20}


@pytest.mark.parametrize(
    ("settings", "says"),
    [
        ({"exclude": ((0, 30),)}, "exclude: all of its frames are left out, of 0 to 23"),
        ({"first": 24}, "first: the plate has frames 0 to 23"),
        ({"first": 9, "last": 4}, "last: it lies before first"),
        ({"exclude": ((0, 22),)}, None),
    ],
)
def test_why_nothing_of_a_plate_is_seen_is_said(settings, says):
    complaint = Plate(file="p", **settings).validate_plate(Spots())
    assert (complaint or "").startswith(says or "")
    assert (complaint is None) == (says is None)
    if says:
        np.testing.assert_array_equal(lay_plate(**settings), BELOW)


# How it lies


def ramp(width, height):
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    return np.stack([x / width, y / height, 0.5 + 0 * x]).astype(np.float32)


def test_a_plate_of_the_picture_s_shape_replaces_it_exactly():
    np.testing.assert_allclose(lay_plate(Still(ramp(240, 160))), ramp(240, 160), atol=1e-7)


def test_a_taller_plate_fills_the_frame_and_lies_in_its_middle():
    found = lay_plate(Still(ramp(240, 320)))
    np.testing.assert_allclose(found, ramp(240, 320)[:, 80:240], atol=1e-6)
    low = lay_plate(Still(ramp(240, 320)), place=(0.5, 1.0), align=True)
    np.testing.assert_allclose(low, ramp(240, 320)[:, 160:], atol=1e-6)


def test_a_plate_that_fits_leaves_the_rest_of_the_picture_as_it_is():
    found = lay_plate(Still(np.full((3, 160, 80), 0.9, np.float32)), fit="fit")
    np.testing.assert_array_equal(found[:, :, :79], BELOW[:, :, :79])
    np.testing.assert_array_equal(found[:, :, 161:], BELOW[:, :, 161:])
    np.testing.assert_allclose(found[:, :, 82:158], 0.9, atol=1e-6)


@pytest.mark.parametrize("settings", [{"turn": 90}, {"turn": 31}, {"fit": "stretch"}, {"scale": 2}])
def test_a_plate_that_fills_leaves_no_corner_however_it_is_turned(settings):
    found = lay_plate(Still(np.full((3, 100, 220), 0.7, np.float32)), **settings)
    np.testing.assert_allclose(found, 0.7, atol=1e-5)


def test_a_plate_is_turned_to_the_right_and_flipped():
    half = np.zeros((3, 160, 240), np.float32)
    half[:, :, :120] = 1  # light at the left
    assert lay_plate(Still(half), turn=180)[0, 80, 200] == pytest.approx(1, abs=1e-5)
    top = lay_plate(Still(half), turn=90)  # its left is the top then
    assert top[0, 20, 120] > 0.99
    assert top[0, 140, 120] < 0.01
    np.testing.assert_allclose(lay_plate(Still(half), flip="across"), half[:, :, ::-1], atol=1e-6)
    np.testing.assert_allclose(lay_plate(Still(half), flip="down"), half, atol=1e-6)


def test_where_a_plate_is_clear_the_picture_is_as_it_was():
    matte = np.zeros((160, 240), np.float32)
    matte[:, 60:] = 1
    matte[80:, 60:] = 0.25
    found = lay_plate(Still(ramp(240, 160), matte))
    np.testing.assert_array_equal(found[:, :, :60], BELOW[:, :, :60])
    np.testing.assert_allclose(found[:, :80, 60:], ramp(240, 160)[:, :80, 60:], atol=1e-7)
    wanted = 0.75 * BELOW + 0.25 * ramp(240, 160)
    np.testing.assert_allclose(found[:, 80:, 60:], wanted[:, 80:, 60:], atol=1e-6)


# What it does


@pytest.mark.parametrize("mode", ["screen", "multiply", "darken", "lighten"])
def test_a_plain_plate_is_what_libavfilter_s_blend_makes(mode):
    """On planar R'G'B' of 32 bits, the plate on top."""
    plate = ramp(240, 160)
    graph = av.filter.Graph()
    sides = [
        graph.add_buffer(width=240, height=160, format="gbrpf32le", time_base="1/24")
        for _ in range(2)
    ]
    blend, sink = graph.add("blend", f"all_mode={mode}"), graph.add("buffersink")
    for n, side in enumerate(sides):
        side.link_to(blend, 0, n)
    blend.link_to(sink)
    graph.configure()
    for side, picture in zip(sides, (plate, BELOW), strict=True):
        frame = av.VideoFrame.from_ndarray(
            np.ascontiguousarray(picture.transpose(1, 2, 0)), format="gbrpf32le"
        )
        frame.pts = 0
        side.push(frame)
    theirs = sink.pull().to_ndarray().transpose(2, 0, 1)
    ours = lay_plate(Still(plate), mix={"blend": mode, "amount": 1})
    np.testing.assert_allclose(ours, theirs, atol=2e-6)


def test_black_and_white_points_contrast_and_invert():
    plate = Still(ramp(240, 160))
    stretched = lay_plate(plate, black=0.2, white=0.7)
    np.testing.assert_allclose(stretched, np.clip((ramp(240, 160) - 0.2) / 0.5, 0, 1), atol=1e-6)
    np.testing.assert_allclose(lay_plate(plate, invert=True), 1 - ramp(240, 160), atol=1e-6)
    steep = lay_plate(plate, contrast=0.5)  # twice as steep about the middle
    np.testing.assert_allclose(steep, np.clip(2 * ramp(240, 160) - 0.5, 0, 1), atol=1e-6)


def test_without_colour_only_the_plate_s_luma_is_left():
    grey = lay_plate(Still(ramp(240, 160)), colour=0)
    luma = np.tensordot([0.2126, 0.7152, 0.0722], ramp(240, 160), 1)
    np.testing.assert_allclose(grey, np.stack([luma] * 3), atol=1e-6)


def test_room_is_made_by_dimming_the_picture_below():
    black = Still(np.zeros((3, 160, 240), np.float32))
    found = lay_plate(black, dim_below=0.3, mix={"blend": "screen", "amount": 1})
    np.testing.assert_allclose(found, 0.7 * BELOW, atol=1e-6)
    half = lay_plate(black, dim_below=0.3, mix={"blend": "screen", "amount": 0.5})
    np.testing.assert_allclose(half, 0.85 * BELOW, atol=1e-6)


def test_a_small_plate_is_enlarged_smoothly_wherever_it_comes_to_lie():
    """Three times as large, its pixels' middles lie on pixels; none of them becomes a square."""
    small = np.zeros((3, 40, 60), np.float32)
    small[:, :, 30:] = 1
    found = lay_plate(Still(small), below=np.zeros((3, 120, 180), np.float32))[1, 60]
    assert len(np.unique(found.round(4))) > 2  # values between the two
    assert np.abs(np.diff(found)).max() < 0.6


# Thrown anew


def scan(width=240, height=160):
    """A still with fine texture that grows lighter to the right, and one dark speck."""
    rng = np.random.default_rng(5)
    grey = 0.3 + 0.3 * np.linspace(0, 1, width) + 0.1 * rng.random((height, width))
    grey[20:23, 70:73] = 0
    return Still(np.stack([grey] * 3).astype(np.float32))


def test_a_still_that_is_thrown_lives_and_keeps_every_pixel_as_sharp():
    """Every throw is the still's own pixels: turned by quarters, flipped, mirrored at its edges."""
    plate = scan()
    own = np.unique(plate.picture(0, plate.size)[0])
    thrown = [lay_plate(plate, frame, reposition_every=2, seed=4) for frame in range(12)]
    for picture in thrown:
        after = np.searchsorted(own, picture[0]).clip(1, len(own) - 1)
        off = np.minimum(np.abs(own[after] - picture[0]), np.abs(own[after - 1] - picture[0]))
        assert off.max() < 1e-6
    for frame in range(0, 12, 2):
        np.testing.assert_array_equal(thrown[frame], thrown[frame + 1])
    found = [np.corrcoef(a[0].ravel(), b[0].ravel())[0, 1] for a, b in pairwise(thrown[::2])]
    assert max(np.abs(found)) < 0.9


def test_thrown_stills_dwell_nowhere():
    """Over many throws each place is as light as the still: no speck comes to one more often."""
    plate, below = scan(96, 64), np.zeros((3, 48, 72), np.float32)
    one = lay_plate(plate, 0, below, reposition_every=1, scale=1.4)[0]
    mean = np.zeros_like(one)
    for frame in range(600):
        mean += lay_plate(plate, 0, below, reposition_every=1, scale=1.4, seed=frame)[0] / 600
    whole = plate.picture(0, plate.size)[0]
    assert mean.mean() == pytest.approx(whole.mean(), abs=0.006)
    assert mean.std() < 2.5 * whole.std() / np.sqrt(600) < 0.2 * one.std()


def test_the_matte_of_a_still_that_is_thrown_goes_with_it():
    picture = ramp(120, 80)
    matte = (np.sin(40 * picture[0]) > 0).astype(np.float32)
    for frame in range(6):
        found = lay_plate(Still(picture, matte), frame, np.zeros_like(BELOW), reposition_every=1)[0]
        light = np.sin(40 * found) > -0.2  # softer edges, since the plate is enlarged
        assert (light | (found < 0.02)).mean() > 0.9
        assert 0.3 < (found < 0.02).mean() < 0.7


def test_its_tones_are_redrawn_by_a_curve():
    ramp = np.tile(np.linspace(-0.2, 1.2, 240, dtype=np.float32), (3, 160, 1))
    points = [[0, 0.1], [0.4, 0.3], [1, 0.8]]
    made = lay_plate(Still(ramp), curve=points, black=0.1, white=0.9)
    toned = np.clip((ramp.astype(np.float64) - 0.1) / 0.8, 0, 1)
    np.testing.assert_allclose(
        made, PchipInterpolator(*zip(*points, strict=True))(toned), atol=2e-6
    )
