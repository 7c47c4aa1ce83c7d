"""Whole renders: every frame, the sound as it was, and nothing half done."""

import av
import cv2
import numpy as np
import pytest

from tests.conftest import THREE_STEPS, a_look, step
from tests.rendering import render
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.window import ratio_box
from yearning.media.decode.footage import Footage
from yearning.media.decode.probe import probe_file
from yearning.media.errors import MediaError
from yearning.media.stills.stills import write_still

LOOK = a_look(*THREE_STEPS)


@pytest.fixture
def footage(clip):
    with Footage(clip) as opened:
        yield opened


def _packets(path):
    with av.open(str(path)) as container:
        stream = container.streams.audio[0]
        return [(p.pts * p.time_base, bytes(p)) for p in container.demux(stream) if p.size]


def test_a_render_has_every_frame_the_rate_and_the_sound_untouched(footage, tmp_path):
    out = tmp_path / "out.mp4"
    render(footage, LOOK, out)
    before, after = probe_file(footage.path), probe_file(out)
    assert (after.frames, after.rate, after.size) == (before.frames, before.rate, before.size)
    assert _packets(out) == _packets(footage.path)


def test_the_result_is_tagged(footage, tmp_path):
    render(footage, LOOK, tmp_path / "out.mp4")
    with av.open(str(tmp_path / "out.mp4")) as container:
        frame = next(container.decode(video=0))
        assert int(frame.colorspace) == int(frame.color_primaries) == int(frame.color_trc) == 1
        assert int(frame.color_range) == 1


def test_an_empty_look_renders_the_footage(footage, tmp_path):
    out = tmp_path / "same.mp4"
    render(footage, a_look(), out)
    with Footage(out) as result:
        for n in (0, 17, 39):
            error = result.picture(n) - footage.picture(n)
            assert 10 * np.log10(1 / np.mean(error**2)) > 40


def test_one_frame_is_the_frame_of_the_whole_render_bit_for_bit(footage, tmp_path):
    render(footage, LOOK, tmp_path / "%05d.png")
    path = Evaluator(LOOK, footage, footage.size, Cache(0))
    write_still(path.picture(23), tmp_path / "alone.png")
    assert (tmp_path / "alone.png").read_bytes() == (tmp_path / "00023.png").read_bytes()
    assert len(list(tmp_path.glob("0*.png"))) == 40
    assert cv2.imread(str(tmp_path / "alone.png"), cv2.IMREAD_UNCHANGED).dtype == np.uint16


def test_what_reads_other_frames_is_the_same_in_every_chunk(footage, tmp_path):
    """Delayed channels, settled dots and strokes, where a chunk begins and further on."""
    look = a_look(
        step("brush", {"temporal_smoothing": 1}),
        step("split", {"red_delay": 5, "blue_delay": 2}),
        step("slices", {"hold": 4}),
        step("halftone", {"inks": "four", "temporal_smoothing": 2}),
    )
    render(footage, look, tmp_path / "%05d.png", chunk=10)
    path = Evaluator(look, footage, footage.size, Cache(0))
    for n in (0, 10, 11, 39):
        write_still(path.picture(n), tmp_path / "alone.png")
        assert (tmp_path / "alone.png").read_bytes() == (tmp_path / f"{n:05d}.png").read_bytes()


def test_a_range_is_those_frames_with_their_sound(footage, tmp_path):
    out = tmp_path / "part.mp4"
    render(footage, a_look(), out, first=10, last=29)
    found = probe_file(out)
    assert found.frames == 20
    whole, part = _packets(footage.path), _packets(out)
    assert {data for _, data in part} <= {data for _, data in whole}
    assert sum(time >= 0 for time, _ in part) * 1024 / 48000 == pytest.approx(0.8, abs=0.05)
    with Footage(out) as result:
        assert np.abs(result.picture(0) - footage.picture(10)).mean() < 0.01


@pytest.mark.parametrize("kind", ["yuv420p10le", "yuv422p", "yuv444p", "yuv422p10le"])
def test_depth_and_chroma_stay_as_they_were(kind, make_clip, tmp_path):
    path = make_clip(f"{kind}.mkv", "ffv1", pixel_format=kind, frames=4)
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / "out.mp4")
    assert probe_file(tmp_path / "out.mp4").pixel_format == kind


def test_an_odd_size_keeps_every_pixel(make_clip, tmp_path):
    from yearning.core.picture import Size

    path = make_clip("odd.mkv", "ffv1", frames=3, size=Size(151, 131))
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / "out.mp4")
    assert probe_file(tmp_path / "out.mp4").size == (151, 131)


@pytest.mark.parametrize(
    ("name", "says"),
    [("a.avi", ".mp4"), ("nowhere/a.mp4", "no such folder"), ("%d%d.png", "one number")],
)
def test_names_that_can_not_be_written_are_refused(name, says, footage, tmp_path):
    with pytest.raises(MediaError, match=says):
        render(footage, LOOK, tmp_path / name)


def test_the_footage_itself_is_never_written_over(footage):
    with pytest.raises(MediaError, match="the footage itself"):
        render(footage, LOOK, footage.path)


@pytest.mark.parametrize("span", [(0, 40), (-1, 5), (9, 8)])
def test_frames_out_of_range_are_refused(span, footage, tmp_path):
    with pytest.raises(IndexError, match="0 to 39"):
        render(footage, LOOK, tmp_path / "a.mp4", first=span[0], last=span[1])


@pytest.mark.parametrize("name", ["out.mkv", "%05d.png"])
def test_what_a_crop_leaves_is_what_is_rendered(footage, tmp_path, name):
    look = a_look({"id": "c", "treatment": "crop", "settings": {"ratio": 1.0}})
    render(footage, look, tmp_path / name, first=3, last=5)
    box = ratio_box(1.0, footage.size)
    path = Evaluator(look, footage, footage.size, Cache(0))
    if name.endswith("mkv"):
        with Footage(tmp_path / name) as result:
            assert result.size == (box.width, box.height)
            found = result.picture(1)
        np.testing.assert_allclose(found, box.of(path.picture(4)).clip(0, 1), atol=1 / 255)
    else:
        found = cv2.imread(str(tmp_path / "00004.png"), cv2.IMREAD_UNCHANGED)
        assert found.shape[:2] == (box.height, box.width)
