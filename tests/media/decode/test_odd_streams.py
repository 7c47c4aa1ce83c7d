"""Files that are unlike most, and are footage all the same."""

from fractions import Fraction

import av
import pytest

from tests.media.making import SMALL, write_clip, yuv_frame
from yearning.media.decode.clip import open_clip


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
