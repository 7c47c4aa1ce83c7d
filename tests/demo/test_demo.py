"""The demo's footage: what the generator paints, and what is shipped of it."""

import av
import numpy as np
import pytest

from yearning.core.look import look_from_json
from yearning.demo import MEDIA, glasshouse, lantern_barge, paint
from yearning.demo.seed import LOOKS, seed
from yearning.demo.sound import birds_and_drips, water_and_bell
from yearning.media.footage import Footage
from yearning.media.probe import probe_file
from yearning.store.project import Project

CLIPS = {"lantern-barge": lantern_barge, "glasshouse": glasshouse}
LUMA = np.array([0.2126, 0.7152, 0.0722])[:, None, None]


@pytest.mark.parametrize("name", CLIPS)
def test_a_clip_is_1080p_with_sound_tagged_and_small(name):
    path = MEDIA / f"{name}.mp4"
    probe = probe_file(path)
    assert probe.size == (1920, 1080)
    assert float(probe.rate) == 24
    assert 6 <= probe.duration <= 8
    assert (probe.matrix, probe.range, probe.tagged) == ("bt709", "limited", True)
    assert len(probe.sounds) == 1
    assert path.stat().st_size < 4_000_000


@pytest.mark.parametrize("name", CLIPS)
def test_a_clips_sound_is_as_long_as_its_picture_and_can_be_heard(name):
    with av.open(str(MEDIA / f"{name}.mp4")) as container:
        heard = np.concatenate([frame.to_ndarray() for frame in container.decode(audio=0)], axis=1)
        rate = container.streams.audio[0].rate
    assert heard.shape[1] / rate == pytest.approx(
        probe_file(MEDIA / f"{name}.mp4").duration, abs=0.05
    )
    assert 0.01 < np.sqrt(np.mean(heard**2)) < 0.5
    assert np.abs(heard).max() < 1


@pytest.mark.parametrize("name", CLIPS)
def test_the_shipped_clip_is_what_the_painter_paints(name):
    painted = CLIPS[name].picture(60)
    with Footage(MEDIA / f"{name}.mp4") as footage:
        shipped = footage.picture(60)
    error = np.clip(painted, 0, 1) - shipped
    assert np.sqrt(np.mean(error**2)) < 0.02


def test_the_barge_has_small_bright_lamps_on_dark_water():
    with Footage(MEDIA / "lantern-barge.mp4") as footage:
        luma = (LUMA * footage.picture(60)).sum(axis=0)
    assert np.median(luma) < 0.4
    assert luma.max() > 0.95
    assert 0.0002 < (luma > 0.9).mean() < 0.02


def test_the_glasshouse_is_daylight():
    with Footage(MEDIA / "glasshouse.mp4") as footage:
        picture = footage.picture(60)
    luma = (LUMA * picture).sum(axis=0)
    assert np.median(luma) > 0.35
    green = picture[1] - np.maximum(picture[0], picture[2])
    assert (green > 0.05).mean() > 0.1  # leaves


@pytest.mark.parametrize("name", CLIPS)
def test_neighbouring_frames_move_but_a_little(name):
    with Footage(MEDIA / f"{name}.mp4") as footage:
        moved = [
            float(np.abs(footage.picture(n + 1) - footage.picture(n)).mean()) for n in (20, 100)
        ]
    assert all(0.0005 < change < 0.05 for change in moved)


@pytest.mark.parametrize("make", [water_and_bell, birds_and_drips])
def test_sound_is_stereo_finite_and_fades_at_its_ends(make):
    sound = np.asarray(make(2.0))
    channels = sound if sound.shape[0] == 2 else sound.T
    assert channels.shape[0] == 2
    assert np.isfinite(channels).all()
    assert np.abs(channels).max() <= 1
    loud = np.abs(channels).mean()
    assert np.abs(channels[:, :8]).mean() < 0.5 * loud
    assert np.abs(channels[:, -8:]).mean() < 0.5 * loud


def test_noise_is_smooth_bounded_and_its_own_for_each_seed():
    x = np.linspace(0, 20, 4001)
    line = np.array([paint.noise(v, 0.3, 5) for v in x])
    other = np.array([paint.noise(v, 0.3, 6) for v in x])
    assert np.abs(np.diff(line)).max() < 0.05
    assert 0.3 < np.ptp(line) <= 2
    assert abs(np.corrcoef(line, other)[0, 1]) < 0.4


def test_seeding_twice_leaves_one_of_each(tmp_path):
    project = Project(tmp_path / "Tidewater Lamps")
    seed(project)
    seed(project)
    assert sorted(clip.name for clip in project.clips()) == ["Glasshouse", "Lantern barge"]
    assert len(project.looks()) == len(list(LOOKS.glob("*.json")))


@pytest.mark.parametrize("path", sorted(LOOKS.glob("*.json")), ids=lambda path: path.stem)
def test_the_demos_looks_can_be_read(path):
    assert look_from_json(path.read_bytes()).steps
