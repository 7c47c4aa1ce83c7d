"""A clip at another speed: pans, zooms and turns rebuilt, cuts left, any frame as in order."""

import numpy as np
import pytest

from tests.conftest import lamps
from tests.core.measure.test_steadiness import MOVES, move_picture, texture
from tests.media.decode.test_deflickered import write_sequence
from yearning.core.motion.flow import luma_codes
from yearning.core.motion.frame_interpolation import estimate_motion, interpolate_frame
from yearning.core.picture import Size
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.retimed import Retimed
from yearning.media.errors import MediaError

SIZE = Size(192, 108)


def error(a, b, edge=16):
    """Rms of two pictures but for their edges, where what is new comes in."""
    inside = np.s_[:, edge:-edge, edge:-edge]
    return float(np.sqrt(np.mean((a[inside] - b[inside]) ** 2)))


@pytest.mark.parametrize("way", MOVES)
@pytest.mark.parametrize("part", [0.25, 0.5, 0.8])
def test_a_known_motion_is_rebuilt_between_two_frames(way, part):
    """Against the exact picture there: nearer than a dissolve, far nearer where much moves."""
    picture, move = texture(), MOVES[way]
    partly = np.array([[1, 0, 0], [0, 1, 0]]) + part * (move - np.array([[1, 0, 0], [0, 1, 0]]))
    before, after = move_picture(picture, move, 0), move_picture(picture, move, 1)
    exact = move_picture(picture, partly, 1)
    between = estimate_motion(luma_codes(before), luma_codes(after))
    made = interpolate_frame(before, after, between, part)
    dissolved = (1 - part) * before + part * after
    assert error(made, exact) < (0.35 if way == "a pan" else 0.8) * error(dissolved, exact)
    assert error(made, exact) < 0.008


def passing(n, wide=26):
    """A dark bar, 8 pixels further on each frame, before a still texture."""
    scene = 0.5 + 0.5 * texture()
    left = 60 + 8 * n
    whole, part = int(left), left - int(left)
    bar = np.zeros(scene.shape[2])
    bar[whole + 1 : whole + wide] = 1
    bar[whole], bar[whole + wide] = 1 - part, part
    return (scene * (1 - bar) + 0.1 * bar).astype(np.float32)


@pytest.mark.parametrize("part", [0.25, 0.5, 0.75])
def test_what_a_passing_figure_hides_is_drawn_from_where_it_is_seen(part):
    before, after, exact = (passing(n) for n in (0, 1, part))
    between = estimate_motion(luma_codes(before), luma_codes(after))
    made = interpolate_frame(before, after, between, part)
    dissolved = (1 - part) * before + part * after
    beside = np.s_[:, :, 50:110]  # the bar, and what it uncovers and covers
    assert error(made[beside], exact[beside], 4) < 0.45 * error(dissolved[beside], exact[beside], 4)


def test_light_that_changes_in_place_is_dissolved():
    before = 0.5 * texture()
    y, x = np.mgrid[: before.shape[1], : before.shape[2]]
    lamp = 0.5 * np.exp(-((x - 180) ** 2 + (y - 110) ** 2) / 300).astype(np.float32)
    after = before + lamp
    between = estimate_motion(luma_codes(before), luma_codes(after))
    made = interpolate_frame(before, after, between, 0.5)
    assert error(made, before + lamp / 2) < 0.35 * error(before, before + lamp / 2)


def test_motion_found_at_half_size_serves_the_whole():
    picture, move = texture(), MOVES["a pan"]
    before, after, exact = (
        move_picture(picture, move * [[1, 1, n], [1, 1, n]], 1) for n in (0, 1, 0.5)
    )
    small = [np.ascontiguousarray(p[:, ::2, ::2]) for p in (before, after)]
    made = interpolate_frame(before, after, estimate_motion(*map(luma_codes, small)), 0.5)
    assert error(made, exact) < 0.4 * error((before + after) / 2, exact)


def test_where_the_flow_fails_frames_are_dissolved():
    rng = np.random.default_rng(1)
    noise = [rng.random((3, 108, 192)).astype(np.float32) for _ in range(2)]
    assert estimate_motion(*map(luma_codes, noise)) is None


def test_two_equal_frames_have_themselves_between():
    picture = lamps(SIZE, 1)[0]
    between = estimate_motion(luma_codes(picture), luma_codes(picture))
    np.testing.assert_allclose(
        interpolate_frame(picture, picture, between, 0.3), picture, atol=1e-5
    )


@pytest.fixture(scope="module")
def panning(tmp_path_factory):
    """Ten frames of a pan; from frame 6 on another shot."""
    shots = [move_picture(texture(), MOVES["a pan"], n) for n in range(6)]
    shots += [1 - move_picture(texture(seed=9), MOVES["a pan"], n) ** 2 for n in range(4)]
    return write_sequence(tmp_path_factory.mktemp("clip") / "panning", shots)


def test_at_half_speed_every_other_frame_is_the_clips(panning):
    with open_clip(panning) as plain, open_clip(panning, InputOverrides(speed=0.5)) as slow:
        assert isinstance(slow, Retimed)
        assert slow.frames == 20
        for n in range(10):
            np.testing.assert_array_equal(slow.picture(2 * n), plain.picture(n))
        assert error(slow.picture(3), plain.picture(1)) > 0.01


def test_nothing_is_shown_between_two_shots(panning):
    for between in ("dissolve", "motion"):
        reading = InputOverrides(speed=0.25, between=between)
        with open_clip(panning) as plain, open_clip(panning, reading) as slow:
            for n in (21, 22, 23):
                np.testing.assert_array_equal(slow.picture(n), plain.picture(5))
            np.testing.assert_array_equal(slow.picture(24), plain.picture(6))


def test_dissolve_is_the_mean_and_hold_the_first(panning):
    with open_clip(panning) as plain:
        first, second = plain.picture(1), plain.picture(2)
    with open_clip(panning, InputOverrides(speed=0.5, between="dissolve")) as slow:
        np.testing.assert_allclose(slow.picture(3), (first + second) / 2, atol=1e-6)
    with open_clip(panning, InputOverrides(speed=0.5, between="hold")) as slow:
        np.testing.assert_array_equal(slow.picture(3), first)


@pytest.mark.parametrize("speed", [0.1, 0.3, 0.75, 1.5, 2, 8])
def test_any_frame_is_as_in_order_at_any_speed(speed, panning):
    with (
        open_clip(panning, InputOverrides(speed=speed)) as ahead,
        open_clip(panning, InputOverrides(speed=speed)) as by_chance,
    ):
        frames = ahead.frames
        assert frames == max(1, int(np.ceil(10 / speed - 1e-9)))
        order = np.random.default_rng(4).permutation(frames)[:12]
        seen = {n: by_chance.picture(int(n)) for n in order}
        for n in sorted(seen):
            np.testing.assert_array_equal(ahead.picture(int(n)), seen[n])
            np.testing.assert_array_equal(ahead.rows(int(n))(5, 9), seen[n][:, 5:9])
        with pytest.raises(IndexError):
            ahead.picture(frames)


@pytest.mark.parametrize("speed", [0.1, 8])
def test_a_clip_of_one_frame_has_one_at_any_speed(speed, tmp_path):
    one = write_sequence(tmp_path / "one", lamps(SIZE, 1))
    with open_clip(one, InputOverrides(speed=speed)) as retimed:
        count = 10 if speed < 1 else 1
        assert retimed.frames == count
        np.testing.assert_array_equal(retimed.picture(count - 1), retimed.picture(0))


def test_at_its_own_speed_a_clip_is_itself(panning):
    with open_clip(panning, InputOverrides(speed=1.0)) as same:
        assert not isinstance(same, Retimed)


def test_exposure_is_evened_before_the_clip_is_slowed(panning, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    both = InputOverrides(speed=0.5, deflicker=3)
    with open_clip(panning, both) as slow, open_clip(panning, InputOverrides(deflicker=3)) as even:
        np.testing.assert_array_equal(slow.picture(4), even.picture(2))


@pytest.mark.parametrize("said", [{"speed": 0}, {"speed": "0"}, {"speed": -1}, {"speed": 8.5}])
def test_a_speed_that_can_not_be_is_refused(said):
    with pytest.raises(MediaError, match=r"speed: .* is not 0\.1 to 8 times"):
        InputOverrides.of(said)


def test_a_speed_that_is_no_number_is_refused():
    with pytest.raises(MediaError, match="speed: 'fast' is no number"):
        InputOverrides.of({"speed": "fast"})
    with pytest.raises(MediaError, match="between: 'blur' is not one of hold"):
        InputOverrides.of({"between": "blur"})
