"""Pumping exposure, evened: on a clip made to pump, with a cut in it."""

import numpy as np
import pytest

from tests.conftest import lamps
from yearning.core.measure.deflicker import ExposureTrace, even_gains
from yearning.core.picture import Size
from yearning.media.decode.clip import open_clip
from yearning.media.decode.deflickered import Deflickered
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.errors import MediaError
from yearning.media.stills.stills import write_still

SIZE = Size(192, 108)
PUMP = 1 + 0.15 * np.sin(np.arange(48) * 2.1)


@pytest.fixture(autouse=True)
def own_cache(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))


def write_sequence(folder, pictures):
    folder.mkdir()
    for n, picture in enumerate(pictures):
        write_still(np.clip(picture, 0, 1), folder / f"s{n:03d}.png", 16)
    return folder / "s%03d.png"


@pytest.fixture
def pumping(tmp_path):
    """A drifting scene that pumps; from frame 24 on another, far brighter one."""
    scenes = [0.5 * p for p in lamps(SIZE, 24)], [1 - 0.4 * p[::-1] for p in lamps(SIZE, 24, 5)]
    pictures = [p * PUMP[n] for n, p in enumerate([*scenes[0], *scenes[1]])]
    return write_sequence(tmp_path / "pumping", [0.8 * p for p in pictures])


def lumas(clip):
    weights = np.array([0.2126, 0.7152, 0.0722])
    return np.array([np.tensordot(weights, clip.picture(n), 1).mean() for n in range(clip.frames)])


def test_pumping_is_evened_and_not_over_the_cut(pumping):
    with open_clip(pumping) as plain, open_clip(pumping, InputOverrides(deflicker=9)) as evened:
        assert isinstance(evened, Deflickered)
        before, after = lumas(plain), lumas(evened)
        for shot in (slice(0, 24), slice(24, 48)):
            jumps = np.abs(np.diff(np.log(before[shot]))).mean()
            assert np.abs(np.diff(np.log(after[shot]))).mean() < jumps / 6
            assert after[shot].mean() == pytest.approx(before[shot].mean(), rel=0.03)
        rows = evened.rows(7)(10, 20)
        np.testing.assert_array_equal(rows, evened.picture(7)[:, 10:20])


def test_a_steady_clip_stays_as_it_is(tmp_path):
    still = write_sequence(tmp_path / "still", [lamps(SIZE, 1)[0]] * 12)
    with open_clip(still) as plain, open_clip(still, InputOverrides(deflicker=24)) as evened:
        for n in (0, 5, 11):
            np.testing.assert_array_equal(evened.picture(n), plain.picture(n))


def test_light_is_measured_once_until_the_clip_changes(pumping, monkeypatch):
    asked, add = [], ExposureTrace.add

    def count_picture(self, picture):
        asked.append(picture.shape)
        add(self, picture)

    monkeypatch.setattr(ExposureTrace, "add", count_picture)
    for _ in range(2):
        open_clip(pumping, InputOverrides(deflicker=9)).close()
    assert len(asked) == 48
    write_still(np.full((3, *SIZE[::-1]), 0.5, np.float32), pumping.parent / "s003.png", 16)
    open_clip(pumping, InputOverrides(deflicker=5)).close()
    assert len(asked) == 96


def test_gains_are_bounded_and_black_frames_are_left():
    light = np.array([[0.5, 1], [0.0, 1], [0.5, 1], [0.02, 1], [0.5, 1]])
    gains = even_gains(light, 2)
    assert gains[1] == 1
    assert gains[3] == 2
    assert gains.min() >= 0.5


@pytest.mark.parametrize("frames", [0, 999, "soon"])
def test_what_is_no_window_is_refused(frames):
    with pytest.raises(MediaError, match="deflicker: "):
        InputOverrides.of({"deflicker": frames})
