"""A clip's sound, listened to."""

import av
import numpy as np
import pytest

from yearning.core.measure.onsets import RATE, onsets, spectral_flux
from yearning.media.errors import MediaError
from yearning.media.hearing import heard

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
    found = onsets(spectral_flux(heard(clicking, RATE, begins)))
    assert found == pytest.approx(np.array(TIMES) - begins, abs=0.015)


def test_a_file_without_sound_says_so(make_clip):
    with pytest.raises(MediaError, match="no sound"):
        list(heard(make_clip("quiet.mp4", "libx264"), RATE))
