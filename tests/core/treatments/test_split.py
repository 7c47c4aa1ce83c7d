"""Split: channels exactly where, and when, they are asked to be."""

import math

import numpy as np
import pytest
from scipy.ndimage import affine_transform, gaussian_filter

from tests.conftest import RecordingClip, a_look, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.errors import InvalidLookError
from yearning.core.picture import Size
from yearning.core.treatments.split import CHANNELS, Split

STILL = {"red_x": 0, "blue_x": 0}
SIZE = Size(320, 216)
PX = SIZE.scale


@pytest.fixture(scope="module")
def clip():
    """Smooth noise, another on each frame, brighter than white here and there."""
    rng = np.random.default_rng(7)
    frames = rng.standard_normal((8, 3, SIZE.height, SIZE.width))
    smooth = np.stack([[gaussian_filter(p, 2.5) for p in frame] for frame in frames])
    return list((0.5 + 1.2 * smooth).astype(np.float32))


def run(clip, settings, frame=0, size=SIZE):
    look = a_look(step("split", STILL | settings))
    return Evaluator(look, RecordingClip(clip), size, Cache(1 << 27)).picture(frame)


def test_with_nothing_moved_it_is_the_identity(clip):
    np.testing.assert_array_equal(run(clip, {}), clip[0])


@pytest.mark.parametrize("delay", [1, 3, 6])
def test_a_delayed_channel_is_that_of_the_earlier_frame_bit_for_bit(clip, delay):
    found = run(clip, {"red_delay": delay, "blue_delay": 1}, 7)
    for plane, earlier in enumerate((delay, 0, 1)):
        np.testing.assert_array_equal(found[plane], clip[7 - earlier][plane])


def test_before_the_clip_begins_its_first_frame_stands(clip):
    np.testing.assert_array_equal(run(clip, {"green_delay": 6}, 2)[1], clip[0][1])


def test_a_delay_reads_what_the_step_reads_of_earlier_frames(clip):
    """After another step, and in a render that keeps nothing."""
    look = a_look(step("exposure", {"stops": 1}), step("split", STILL | {"red_delay": 2}))
    path = Evaluator(look, RecordingClip(clip), SIZE, Cache(1 << 27), keep="nothing")
    assert path.reach(5) == (2, 0)
    np.testing.assert_array_equal(path.picture(5)[0], path.picture(3, 1)[0])


@pytest.mark.parametrize(("right", "down"), [(15, 0), (0, -20), (-35, 10), (250, 0)])
def test_whole_pixels_are_moved_exactly_and_edges_are_mirrored(clip, right, down):
    found = run(clip, {"red_x": right, "red_y": down})
    by_x, by_y = round(right * PX), round(down * PX)
    wide = np.pad(clip[0][0], 60, mode="symmetric")
    rows, columns = np.arange(SIZE.height) - by_y + 60, np.arange(SIZE.width) - by_x + 60
    np.testing.assert_array_equal(found[0], wide[np.ix_(rows, columns)])
    np.testing.assert_array_equal(found[1:], clip[0][1:])


@pytest.mark.parametrize(
    "moved",
    [{"x": 8.3, "y": -4.1}, {"magnify": 1.07}, {"magnify": 0.95, "x": 20}, {"turn": 6.5},
     {"turn": -3.0, "magnify": 1.04, "x": -9.5, "y": 3.3}],
)  # fmt: skip
@pytest.mark.parametrize("channel", range(3))
def test_a_channel_is_drawn_where_scipy_draws_it(clip, moved, channel):
    """Against scipy's cubic splines in float64, turned and magnified about the middle."""
    name = CHANNELS[channel]
    found = run(clip, {f"{name}_{what}": by for what, by in moved.items()})[channel]
    turn, part = math.radians(moved.get("turn", 0)), 1 / moved.get("magnify", 1)
    back = part * np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    middle = np.array([SIZE.height, SIZE.width]) / 2 - 0.5
    far = np.array([moved.get("y", 0), moved.get("x", 0)]) * PX
    plane, origin = clip[0][channel].astype(float), middle - back @ (middle + far)
    exact = affine_transform(plane, back, origin, order=3, mode="reflect")
    off = 0.01 if turn else 0.004  # OpenCV draws what is turned, from 32nds of pixels
    assert np.abs(found - exact)[20:-20, 20:-20].max() < off


def test_moving_channels_keeps_their_energy():
    picture = np.zeros((3, SIZE.height, SIZE.width), np.float32)
    picture[:, 60:150, 90:200] = np.linspace(0.2, 1.3, 110, dtype=np.float32)
    found = run([picture], {"red_x": 33.3, "red_y": -17.7, "blue_magnify": 1.05})
    before, after = picture.sum(axis=(1, 2)), found.sum(axis=(1, 2))
    assert after[0] == pytest.approx(before[0], rel=1e-5)
    assert after[2] == pytest.approx(before[2] * 1.05**2, rel=2e-3)


TINTS = ["#ff0055", "#00aa55", "#005555"]


def test_in_other_tints_grey_stays_grey_and_colours_are_the_tints(clip):
    grey = np.repeat(clip[0][:1], 3, axis=0)
    np.testing.assert_allclose(run([grey], {"tints": TINTS}), grey, atol=2e-6)
    green = np.zeros((3, 8, 8), np.float32)
    green[1] = 0.6
    found = run([green], {"tints": TINTS}, size=Size(8, 8))
    np.testing.assert_allclose(found[:, 4, 4], [0, 0.6 * 0xAA / 255, 0.6 * 0x55 / 255], atol=1e-6)


@pytest.mark.parametrize(
    ("tints", "total"),
    [(["#ff0000", "#00ff00", "#0000fe"], "255, 255, 254"), (["#ffffff"] * 3, "765, 765, 765")],
)
def test_tints_that_are_not_white_together_are_refused_with_what_they_add_up_to(tints, total):
    with pytest.raises(InvalidLookError, match=f"white.*{total}"):
        Split(tints=tints)
