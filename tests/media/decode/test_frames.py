"""Frames in time: uneven rates taken to even ones, with the sound in step."""

from fractions import Fraction

import av
import numpy as np
import pytest

from tests.conftest import a_look
from tests.media.making import SMALL, counted_frame, write_clip, yuv_frame
from tests.rendering import render
from yearning.media.decode.footage import Footage
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.probe import probe_file

LOSSLESS = {"qp": "0", "preset": "ultrafast"}
SIZE = SMALL


def _numbers(footage):
    return [
        round((float(footage.picture(n)[1].mean()) * 219 + 16 - 20) / 4)
        for n in range(footage.frames)
    ]


UNEVEN = [0, 30, 60, 95, 120, 180, 190, 210, 300, 330]  # milliseconds about 30 a second


@pytest.fixture(scope="module")
def uneven(tmp_path_factory):
    path = tmp_path_factory.mktemp("uneven") / "telephone.mkv"
    frames = [counted_frame(n) for n in range(len(UNEVEN))]
    return write_clip(
        path, frames, rate=Fraction(30), times=UNEVEN, time_base=Fraction(1, 1000),
        options=LOSSLESS | {"bf": "0"},
    )  # fmt: skip


def test_an_uneven_clip_is_shown_at_a_constant_rate_by_its_times(uneven):
    with Footage(uneven) as footage:
        assert footage.probe.variable
        rate = footage.probe.rate
        assert float(rate) == pytest.approx(33.3, abs=3.5)
        times = np.array(UNEVEN) / 1000
        middles = (np.arange(footage.frames) + 0.5) / float(rate)
        expected = [int(np.flatnonzero(times <= t)[-1]) for t in middles]
        assert _numbers(footage) == expected
        assert footage.probe.duration == pytest.approx(0.36, abs=0.03)


@pytest.mark.parametrize("rate", ["10", "24", "25", "60000/1001", "100"])
def test_the_rate_may_be_chosen_and_the_length_stays(rate, uneven):
    with Footage(uneven, reading=InputOverrides(rate=rate)) as footage:
        assert footage.probe.rate == Fraction(rate)
        assert footage.probe.duration == pytest.approx(0.36, abs=0.6 / float(Fraction(rate)))
        seen = _numbers(footage)
        assert seen == sorted(seen)


def test_an_uneven_clip_renders_evenly_and_as_long(uneven, tmp_path):
    with Footage(uneven) as footage:
        expected = _numbers(footage)
        render(footage, a_look(), tmp_path / "even.mp4")
        rate = footage.probe.rate
    with Footage(tmp_path / "even.mp4") as result:
        assert not result.probe.variable
        assert result.probe.rate == rate
        assert _numbers(result) == expected


def test_times_rounded_to_a_coarse_clock_are_not_taken_as_uneven(make_clip):
    probe = probe_file(make_clip("coarse.mkv", "libx264", frames=30))
    assert not probe.variable
    assert probe.rate == 25


def test_sound_stays_in_step_with_an_uneven_picture(tmp_path):
    """A clap with a flash, a second in: within a frame of each other in the result."""
    path, rate = tmp_path / "clap.mp4", Fraction(30)
    times = [0]
    while times[-1] < 1980:
        times.append(times[-1] + (20 if len(times) % 3 else 60))
    with av.open(str(path), "w") as out:
        video = out.add_stream("libx264", rate=rate)
        context = video.codec_context
        context.width, context.height, context.pix_fmt = *SIZE, "yuv420p"
        context.time_base, context.options = Fraction(1, 1000), LOSSLESS | {"bf": "0"}
        audio = out.add_stream("aac", rate=48000, layout="mono")
        for time in times:
            frame = yuv_frame([np.uint8(220 if 1000 <= time < 1100 else 30), 128, 128])
            frame.pts, frame.time_base = time, Fraction(1, 1000)
            out.mux(video.encode(frame))
        wave = np.zeros(96000, np.float32)
        wave[48000:50400] = 0.8 * np.sin(np.arange(2400) * 0.2)
        for at in range(0, 96000, 1024):
            heard = av.AudioFrame.from_ndarray(wave[None, at : at + 1024], "fltp", "mono")
            heard.sample_rate, heard.pts = 48000, at
            out.mux(audio.encode(heard))
        out.mux(video.encode(None))
        out.mux(audio.encode(None))
    with Footage(path) as footage:
        assert footage.probe.variable
        render(footage, a_look(), tmp_path / "out.mp4")
    with Footage(tmp_path / "out.mp4") as result:
        bright = [float(result.picture(n).mean()) for n in range(result.frames)]
        flash = int(np.argmax(np.array(bright) > 0.5)) / float(result.probe.rate)
        frame = 1 / float(result.probe.rate)
    with av.open(str(tmp_path / "out.mp4")) as made:
        sound = [(f.time, f.to_ndarray()[0]) for f in made.decode(audio=0)]
    heard = np.concatenate([np.abs(data) for _, data in sound])
    clap = sound[0][0] + int(np.argmax(heard > 0.2)) / 48000
    assert abs(clap - flash) <= frame
