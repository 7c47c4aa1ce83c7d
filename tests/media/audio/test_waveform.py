"""A clip's sound, listened to."""

import av
import numpy as np
import pytest

from yearning.core.measure.onsets import RATE, onsets, spectral_flux
from yearning.media.audio.waveform import (
    LEVELS_A_SECOND,
    audio_levels,
    decode_mono,
    write_preview_audio,
)
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.errors import MediaError

TIMES = [0.5, 1.1, 1.62]


@pytest.fixture
def clicking(tmp_path):
    """A movie of two seconds whose sound clicks at known times."""
    path = tmp_path / "clicks.mkv"
    sound = np.zeros((2, 48000 * 2), np.float32)
    for time in TIMES:
        t = np.arange(4800) / 48000
        start = round(time * 48000)
        sound[:, start : start + 4800] += np.sin(2 * np.pi * 900 * t) * np.exp(-40 * t)
    with av.open(str(path), "w") as out:
        video = out.add_stream("ffv1", 25, width=32, height=32, pix_fmt="yuv420p")
        audio = out.add_stream("pcm_s16le", 48000, layout="stereo")
        for n in range(50):
            frame = av.VideoFrame.from_ndarray(np.full((48, 32), 128, np.uint8), "yuv420p")
            frame.pts = n
            out.mux(video.encode(frame))
        codes = np.round(sound * 16000).astype(np.int16)
        made = av.AudioFrame.from_ndarray(codes.T.reshape(1, -1).copy(), "s16", "stereo")
        made.sample_rate, made.pts = 48000, 0
        out.mux(audio.encode(made))
        out.mux(video.encode(None))
        out.mux(audio.encode(None))
    return path


@pytest.mark.parametrize("begins", [0.0, 0.2, -0.3])
def test_clicks_are_heard_when_they_are_in_the_picture(clicking, begins):
    found = onsets(spectral_flux(decode_mono(clicking, RATE, begins)))
    assert found == pytest.approx(np.array(TIMES) - begins, abs=0.015)


@pytest.mark.parametrize("speed", [0.3, 0.5, 0.8, 3])
def test_at_another_speed_clicks_come_when_their_picture_does_at_the_same_pitch(
    clicking, tmp_path, speed
):
    """FFmpeg's atempo moves sound within a window, 43 ms of what it reads (from memory)."""
    out = tmp_path / "stretched.webm"
    with open_clip(clicking, InputOverrides(speed=speed, sound="stretched")) as clip:
        write_preview_audio(clip, out)
        seconds = clip.probe.duration
    sound = np.concatenate(list(decode_mono(out, RATE)))
    assert len(sound) / RATE == pytest.approx(seconds, abs=0.03)
    found = onsets(spectral_flux([sound]))
    for time in TIMES:
        assert np.abs(found - time / speed).min() < 0.043 / min(speed, 1)
    first = sound[round(RATE * TIMES[0] / speed) :][: RATE // 20]
    spectrum = np.abs(np.fft.rfft(first * np.hanning(len(first)), 1 << 15))
    assert spectrum.argmax() * RATE / (1 << 15) == pytest.approx(900, abs=25)


def test_at_another_speed_there_is_no_sound_unless_it_is_asked_for(clicking):
    with open_clip(clicking, InputOverrides(speed=0.5)) as clip:
        assert clip.probe.sounds == ()


def test_a_file_without_sound_says_so(make_clip):
    with pytest.raises(MediaError, match="no sound"):
        list(decode_mono(make_clip("quiet.mp4", "libx264"), RATE))


@pytest.mark.parametrize("begins", [0.0, 0.2, -0.3])
def test_its_levels_are_the_largest_samples_of_each_part(clicking, begins):
    levels = audio_levels(clicking, begins)
    assert len(levels) == pytest.approx((2 - begins) * LEVELS_A_SECOND, abs=1)
    clicks = np.flatnonzero((levels > 90) & (np.r_[0, levels[:-1]] < 40))
    assert clicks == pytest.approx((np.array(TIMES) - begins) * LEVELS_A_SECOND, abs=1)
    # 900 Hz that decays by 40 a second is largest after its first quarter: exp(-40 / 3600)
    loudest = 255 * 16000 / 32768 * np.exp(-40 / 3600)
    assert levels[clicks] == pytest.approx([loudest] * 3, abs=3)
    assert levels[int((1.9 - begins) * LEVELS_A_SECOND)] == 0


def test_what_has_no_sound_has_no_levels(make_clip):
    with pytest.raises(MediaError, match="it has no sound"):
        audio_levels(make_clip("silent.mp4", "libx264", frames=2))
