"""Files that are unlike most, and are footage all the same."""

from fractions import Fraction

import av
import pytest

from tests.media.making import SMALL, write_clip, yuv_frame
from yearning.media.decode.clip import open_clip
from yearning.media.errors import MediaError


@pytest.mark.parametrize(("name", "codec"), [("a.h264", "libx264"), ("a.hevc", "libx265")])
def test_streams_without_a_container_are_footage(name, codec, tmp_path):
    """They hold no times, and can't be sought: every frame is read from the beginning."""
    written = [yuv_frame([20 + 16 * n, 128, 128]) for n in range(12)]
    with open_clip(write_clip(tmp_path / name, written, codec=codec)) as clip:
        assert (clip.frames, clip.probe.rate) == (12, 25)
        for n in (0, 7, 3, 11, 0):
            assert clip.picture(n).mean() == pytest.approx((4 + 16 * n) / 219, abs=0.02)


def test_a_matroska_file_that_begins_before_zero_is_footage(tmp_path):
    path = tmp_path / "early.mkv"
    with av.open(str(path), "w", options={"avoid_negative_ts": "disabled"}) as out:
        stream = out.add_stream("libx264", rate=25, options={"bf": "0"})
        stream.width, stream.height = SMALL
        stream.codec_context.time_base = Fraction(1, 1000)
        for n in range(12):
            frame = yuv_frame([20 + 16 * n, 128, 128])
            frame.pts, frame.time_base = 40 * n - 80, Fraction(1, 1000)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    with open_clip(path) as clip:
        assert clip.frames == 12
        for n in (0, 7, 2, 11):
            assert clip.picture(n).mean() == pytest.approx((4 + 16 * n) / 219, abs=0.02)


HOUR = 3600 * 1000
"""In milliseconds, which Matroska counts in."""


@pytest.mark.parametrize(
    ("times", "says"),
    [
        ([0, 40, 80, 1000 * HOUR], "times are absurd: 4 frames over 3600000 s"),
        ([0, 1000 * HOUR, 2000 * HOUR, 3000 * HOUR], "its frames lie 3600000 s apart"),
    ],
)
def test_frames_hours_apart_are_no_footage(times, says, tmp_path):
    frames = [yuv_frame([20 + 16 * n, 128, 128]) for n in range(len(times))]
    base = Fraction(1, 1000)
    path = write_clip(tmp_path / "gap.mkv", frames, time_base=base, times=times)
    with pytest.raises(MediaError, match=rf"gap\.mkv: .*{says}"):
        open_clip(path)


def test_a_frame_a_day_is_footage(tmp_path):
    frames = [yuv_frame([20 + 16 * n, 128, 128]) for n in range(4)]
    with open_clip(write_clip(tmp_path / "slow.mkv", frames, rate=Fraction(1, 100_000))) as clip:
        assert (clip.frames, float(clip.probe.rate)) == (4, pytest.approx(1e-5))
        assert clip.picture(3).mean() == pytest.approx((4 + 48) / 219, abs=0.02)
