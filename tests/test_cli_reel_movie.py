"""`yearning reel -o CUT.mkv`: all shots in one movie, each frame and sample as it is alone."""

import json
import wave
from fractions import Fraction

import av
import numpy as np
import opentimelineio as otio
import pytest

from tests.conftest import encode, moving_codes
from tests.media.timeline.making import cut_clip, save_timeline, time, timeline
from tests.test_cli import run
from tests.test_cli_reels import GRAIN, WARM, frames_of
from yearning.core.picture import Size

SIZE = Size(96, 56)
RATE, SAMPLES = 25, 48000 // 25


def noisy(path, frames, seed, channels=2):
    """A clip with noise as sound, in PCM; its samples, shape `(count, channels)`."""
    noise = np.random.default_rng(seed).integers(-9000, 9000, (frames * SAMPLES, channels))
    samples = noise.astype(np.int16)
    with av.open(str(path), "w") as out:
        video = out.add_stream("libx264", rate=RATE, options={"bf": "0"})
        video.width, video.height, video.pix_fmt = *SIZE, "yuv420p"
        layout = "stereo" if channels == 2 else "mono"
        audio = out.add_stream("pcm_s16le", rate=48000, layout=layout)
        for n in range(frames):
            codes = np.full((SIZE.height * 3 // 2, SIZE.width), 128, np.uint8)
            codes[: SIZE.height] = moving_codes(SIZE, n + 7 * seed, 255)
            frame = av.VideoFrame.from_ndarray(codes, format="yuv420p")
            frame.pts, frame.time_base = n, Fraction(1, RATE)
            out.mux(video.encode(frame))
            part = samples[n * SAMPLES : (n + 1) * SAMPLES].reshape(1, -1)
            heard = av.AudioFrame.from_ndarray(part, format="s16", layout=layout)
            heard.sample_rate, heard.pts = 48000, n * SAMPLES
            out.mux(audio.encode(heard))
        for stream in (video, audio):
            out.mux(stream.encode(None))
    return samples


def noise_file(path, seconds, seed, channels=2):
    """A WAV file of loud noise; its samples, shape `(count, channels)`."""
    noise = np.random.default_rng(seed).integers(-32000, 32000, (round(seconds * 48000), channels))
    samples = noise.astype(np.int16)
    with wave.open(str(path), "wb") as out:
        out.setnchannels(channels), out.setsampwidth(2), out.setframerate(48000)
        out.writeframes(samples.tobytes())
    return samples


def heard_in(path):
    with av.open(str(path)) as container:
        frames = [f.to_ndarray() for f in container.decode(audio=0)]
        layout = container.streams.audio[0].codec_context.layout
    channels = len(layout.channels)
    return np.concatenate([f.reshape(-1, channels) for f in frames])


@pytest.fixture
def cut(tmp_path):
    """Four shots of three files, one of which has no sound, and a gap; and what they sound like."""
    media = tmp_path / "media"
    media.mkdir()
    sounds = {n: noisy(media / f"{n}.mov", 60, k) for k, n in enumerate(("ash", "elm"), start=1)}
    encode(media / "mute.mp4", "libx264", frames=30, size=SIZE)
    items = [
        cut_clip("ash", 5, 7),
        cut_clip("elm", 20, 51 - 20),
        otio.schema.Gap(duration=time(6)),
        cut_clip("mute", 0, 4),
        cut_clip("ash", 30, 9),
    ]
    path = save_timeline(timeline(items), tmp_path / "cut.otio")
    (tmp_path / "warm.json").write_text(json.dumps(WARM))
    return path, media, sounds


def test_every_frame_and_sample_is_as_it_is_alone(cut, tmp_path):
    path, media, sounds = cut
    common = ("--media", media, "--look", tmp_path / "warm.json", "--codec", "FFV1")
    alone = run("reel", path, *common, "-o", tmp_path / "out", "--names", "{number}.mkv")
    assert alone.returncode == 0, alone.stderr
    done = run("reel", path, *common, "-o", tmp_path / "all.mkv")
    assert done.returncode == 0, done.stderr
    assert "4 shots, 57 frames" in done.stdout
    movie = frames_of(tmp_path / "all.mkv")
    parts = [frames_of(tmp_path / "out" / f"{n:03}.mkv") for n in (1, 2, 3, 4)]
    black = np.zeros_like(movie[:6])
    np.testing.assert_array_equal(movie, np.concatenate([*parts[:2], black, *parts[2:]]))
    quiet = np.zeros((10 * SAMPLES, 2), np.int16)
    expected = np.concatenate(
        [
            sounds["ash"][5 * SAMPLES : 12 * SAMPLES],
            sounds["elm"][20 * SAMPLES : 51 * SAMPLES],
            quiet,
            sounds["ash"][30 * SAMPLES : 39 * SAMPLES],
        ]
    )
    np.testing.assert_array_equal(heard_in(tmp_path / "all.mkv"), expected)
    assert not list(tmp_path.glob(".all.mkv*"))


def test_what_is_laid_under_the_shots_is_added_to_their_sound(cut, tmp_path):
    _, media, sounds = cut
    music = noise_file(media / "music.wav", 3.0, seed=5)
    items = [cut_clip("ash", 5, 20), cut_clip("elm", 20, 31), cut_clip("ash", 30, 9)]
    made = timeline(items, sound=[cut_clip("ash", 5, 20), cut_clip("elm", 20, 31)])
    score = otio.schema.Track("Music", kind="Audio")
    score.append(otio.schema.Gap(duration=time(10)))
    score.append(cut_clip("music", 25, 45))
    score[1].metadata["yearning"] = {"level": -1.0}
    made.tracks.append(score)
    path = save_timeline(made, tmp_path / "scored.otio")
    told = run("reel", path, "--media", media).stdout
    assert "ash: ash.mov, 30 to 38, not heard" in told
    assert "under  music: music.wav, frame 10 on, 45 frames, -1 dB" in told
    done = run("reel", path, "--media", media, "--codec", "FFV1", "-o", tmp_path / "all.mkv")
    assert done.returncode == 0, done.stderr
    quiet = np.zeros((9 * SAMPLES, 2))  # its sound is not in the timeline
    own = [sounds["ash"][5 * SAMPLES : 25 * SAMPLES], sounds["elm"][20 * SAMPLES : 51 * SAMPLES]]
    expected = np.concatenate([*own, quiet]).astype(np.float64)
    under = music[25 * SAMPLES : 70 * SAMPLES]
    expected[10 * SAMPLES : 55 * SAMPLES] += 10 ** (-1 / 20) * under
    limited = np.clip(np.rint(expected), -32768, 32767)
    assert np.abs(expected).max() > 32767  # what goes over is cut off there
    np.testing.assert_array_equal(heard_in(tmp_path / "all.mkv"), limited)


@pytest.mark.parametrize("name", ["all.mp4", "all.webm"])
def test_other_containers_have_all_frames_and_the_sound_as_long(name, cut, tmp_path):
    path, media, _ = cut
    done = run("reel", path, "--media", media, "-o", tmp_path / name, "--quality", "draft")
    assert done.returncode == 0, done.stderr
    assert len(frames_of(tmp_path / name)) == 57
    assert abs(len(heard_in(tmp_path / name)) - 57 * SAMPLES) < 2100  # a frame of the codec


def test_what_was_broken_off_goes_on(cut, tmp_path, monkeypatch):
    path, media, _ = cut
    words = ("reel", path, "--media", media, "-o", tmp_path / "all.mkv")
    from yearning.media.encode import joined_shots

    def fails(*_, **__):
        raise OSError(5, "the cable was pulled")

    with monkeypatch.context() as broken:
        broken.setattr("yearning.library.reel_movie.join_shots", fails)
        run(*words)
    kept = tmp_path / ".all.mkv.pieces"
    assert len(list(kept.glob("*/00000.nut"))) == 4
    made = []
    shown = joined_shots.Segment.write
    monkeypatch.setattr(
        "yearning.farm.chunk.Segment.write",
        lambda self, *what: (made.append(what[0]), shown(self, *what)),
    )
    assert run(*words).returncode == 0
    assert len(made) == 6  # of the gap alone
    assert len(frames_of(tmp_path / "all.mkv")) == 57


def test_shots_that_are_unlike_are_told(cut, tmp_path):
    path, media, _ = cut
    encode(media / "mute.mp4", "libx264", frames=30, size=Size(64, 36))
    done = run("reel", path, "--media", media, "-o", tmp_path / "all.mp4")
    assert done.returncode == 2
    assert "'mute': is 64x36, not 96x56" in done.stderr
    assert not (tmp_path / "all.mp4").exists()


def test_a_shot_that_can_t_be_rendered_and_handles_are_told(cut, tmp_path):
    path, media, _ = cut
    handles = run("reel", path, "--media", media, "-o", tmp_path / "a.mkv", "--handles", "4")
    assert "one movie has none" in handles.stderr
    listed = tmp_path / "cut.reel.json"
    assert run("reel", path, "--media", media, "--write", listed).returncode == 0
    document = json.loads(listed.read_text())
    document["items"][0]["look"] = "gone.json"
    listed.write_text(json.dumps(document))
    done = run("reel", listed, "-o", tmp_path / "a.mkv")
    assert done.returncode == 2
    assert "shot 1 'ash': " in done.stderr
    (tmp_path / "gone.json").write_text(json.dumps(GRAIN))
    assert run("reel", listed, "-o", tmp_path / "a.mkv").returncode == 0
