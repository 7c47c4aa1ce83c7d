"""The demo's footage: what the generator paints, and what is shipped of it."""

import av
import numpy as np
import pytest
from scipy.signal import resample_poly

from yearning.core.look.document import look_from_json
from yearning.core.measure.onsets import onsets, spectral_flux
from yearning.demo import (
    MEDIA,
    SOUNDS,
    glasshouse,
    lamplighter,
    lantern_barge,
    paint,
    reed_walker,
    signal_tower,
)
from yearning.demo.seed import LOOK_ORDER, LOOKS, seed
from yearning.demo.sound import (
    BAR,
    SAMPLE_RATE,
    WALTZ,
    birds_and_drips,
    drum_and_horn,
    evening_lane,
    evening_waltz,
    steps_and_reeds,
    water_and_bell,
)
from yearning.library.project_reels import is_as_it_came
from yearning.media.audio.waveform import decode_mono
from yearning.media.decode.footage import Footage
from yearning.media.decode.probe import probe_file
from yearning.store.project import Project

CLIPS = {
    "lantern-barge": lantern_barge,
    "glasshouse": glasshouse,
    "reed-walker": reed_walker,
    "signal-tower": signal_tower,
    "lamplighter": lamplighter,
}
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


def test_the_walker_is_dark_before_a_plain_pale_sky():
    with Footage(MEDIA / "reed-walker.mp4") as footage:
        luma = (LUMA * footage.picture(100)).sum(axis=0)
    sky = luma[:300]
    assert sky.mean() > 0.75
    assert sky.std() < 0.06
    columns = np.flatnonzero((luma[480:780] < 0.25).mean(axis=0) > 0.5)
    assert 20 < len(columns) < 140  # the coat
    assert np.ptp(columns) < 160


def test_the_lamplighter_is_near_and_dark_before_a_plain_pale_wall():
    cover = lamplighter.matte(60)
    with Footage(MEDIA / "lamplighter.mp4") as footage:
        luma = (LUMA * footage.picture(60)).sum(axis=0)
    wall = luma[cover == 0]
    assert wall.mean() > 0.75
    assert wall.std() < 0.04
    assert np.median(luma[cover > 0.99]) < 0.4
    assert 0.15 < cover.mean() < 0.4


def test_the_lamplighter_s_matte_is_what_of_the_wall_it_hides():
    """A white wall in place of the painted one shows through by what is not covered."""
    figure = lamplighter.paint_figure(60)
    assert figure.cover.min() >= 0
    assert figure.cover.max() <= 1 + 1e-6
    np.testing.assert_array_equal(figure.cover, lamplighter.matte(60))
    assert figure.light[figure.cover == 0].max() == 0  # premultiplied
    soft = (figure.cover > 0.02) & (figure.cover < 0.98)
    assert 2_000 < soft.sum() < 60_000  # edges and hairs, and no haze about them


def test_the_lamplighter_steps_aside_and_turns_his_head():
    poses = [lamplighter.pose(n / 24) for n in range(192)]
    assert np.ptp([at.x for at in poses]) > 150
    assert np.ptp([at.yaw for at in poses]) > 0.8
    assert np.abs(np.diff([at.x for at in poses])).max() < 12  # slowly


def test_a_foot_that_stands_keeps_its_place_on_the_boards():
    """From a heel's fall to its rise the ankle travels with the boardwalk, not over it."""
    hip = np.array([0.0, reed_walker.BOARDS - 217.0])
    places = []
    for phase in np.linspace(0.02, 0.3, 8):
        ankle = reed_walker.leg(hip, float(phase)).ankle
        places.append(ankle[0] + reed_walker.STRIDE * phase)
    assert np.ptp(places) < 1


def test_the_tower_is_left_in_fast_pans_on_the_beat():
    moved = [signal_tower.camera((n + 1) / 24) - signal_tower.camera(n / 24) for n in range(191)]
    fast = np.abs(moved) > 100
    begins = np.flatnonzero(fast[1:] & ~fast[:-1]) / 24
    np.testing.assert_allclose(begins, [b for b, *_ in signal_tower.PANS], atol=0.12)
    assert fast.mean() < 0.2


def test_the_drum_is_heard_as_the_beat():
    heard = resample_poly(drum_and_horn(8.0).mean(axis=0), 147, 160)  # 48000 to 44100
    found = onsets(spectral_flux([heard]))
    beats = np.arange(0.5, 7.6, 0.5)
    near = [np.abs(found - beat).min() for beat in beats]
    assert np.median(near) < 0.03


@pytest.mark.parametrize("name", CLIPS)
def test_neighbouring_frames_move_but_a_little(name):
    with Footage(MEDIA / f"{name}.mp4") as footage:
        moved = [
            float(np.abs(footage.picture(n + 1) - footage.picture(n)).mean()) for n in (20, 100)
        ]
    assert all(0.0005 < change < 0.05 for change in moved)


@pytest.mark.parametrize(
    "make",
    [
        water_and_bell,
        birds_and_drips,
        steps_and_reeds,
        drum_and_horn,
        evening_lane,
        evening_waltz,
    ],
)
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
    assert sorted(clip.name for clip in project.clips.all()) == [
        "Glasshouse",
        "Lamplighter",
        "Lantern barge",
        "Reed walker",
        "Signal tower",
    ]
    assert len(project.looks.all()) == len(list(LOOKS.glob("*.json"))) == len(LOOK_ORDER)


def test_the_demo_has_a_reel_of_nine_shots_with_three_looks(tmp_path):
    project = Project(tmp_path / "Tidewater Lamps")
    seed(project)
    (reel,) = project.reels.all()
    shots = reel.body.items
    names = {each.id: each.look.name for each in project.looks.all()}
    assert [shot.kind for shot in shots] == ["shot"] * 9
    assert {names[shot.look] for shot in shots} == {"Lamps at dusk", "Cold quay", "Marsh mist"}
    assert len({shot.clip for shot in shots}) == 5
    ends = {clip.id: clip.probe["frames"] for clip in project.clips.all()}
    assert all(shot.last < ends[shot.clip] for shot in shots)
    assert is_as_it_came(reel.body)
    assert all(shot.heard for shot in shots)
    (music,) = reel.body.sounds
    assert (music.at, music.frames) == (0, reel.body.frames)
    assert (project.assets / music.file).is_file()


def test_the_music_is_what_the_generator_makes_and_in_its_key():
    """Each bar's bass and chord stand out of its spectrum, by equal temperament (A4 at 440 Hz)."""
    path = SOUNDS / "evening-waltz.ogg"
    assert path.stat().st_size < 1_000_000
    heard = np.concatenate(list(decode_mono(path, SAMPLE_RATE)))
    made = evening_waltz(len(WALTZ) * BAR).mean(axis=0)
    count = min(heard.size, made.size)
    assert np.corrcoef(heard[:count], made[:count])[0, 1] > 0.97
    for bar, (bass, chord, _) in enumerate(WALTZ):
        part = heard[round(bar * BAR * SAMPLE_RATE) : round((bar + 1) * BAR * SAMPLE_RATE)]
        found = np.abs(np.fft.rfft(part * np.hanning(part.size), 1 << 18))
        hertz = np.fft.rfftfreq(1 << 18, 1 / SAMPLE_RATE)
        usual = np.median(found[(hertz > 80) & (hertz < 500)])
        for note in (bass, *chord):
            tone = 440 * 2 ** ((note - 69) / 12)
            assert found[np.abs(hertz - tone) < 2].max() > 8 * usual, (bar, note)


@pytest.mark.parametrize("path", sorted(LOOKS.glob("*.json")), ids=lambda path: path.stem)
def test_the_demos_looks_can_be_read(path):
    assert look_from_json(path.read_bytes()).steps
