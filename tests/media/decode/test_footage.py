"""Frame-exact access: any frame in any order is the frame of the sequential decode."""

import av
import numpy as np
import pytest

from yearning.core.picture import Size
from yearning.media.decode.footage import Footage

KINDS = {
    "b-frames.mp4": ("libx264", {"options": {"bf": "3", "g": "12"}}),
    "pyramid.mp4": (
        "libx264",
        {"options": {"x264-params": "bframes=5:b-pyramid=normal:keyint=20:ref=4"}},
    ),
    "open-group.mp4": (
        "libx264",
        {"options": {"x264-params": "open-gop=1:bframes=3:keyint=10:min-keyint=10:scenecut=0"}},
    ),
    "one-group.mp4": ("libx264", {"options": {"g": "500", "bf": "2"}}),
    "intra.mkv": ("ffv1", {"pixel_format": "yuv422p10le"}),
    "open-group.ts": (
        "libx264",
        {"options": {"x264-params": "open-gop=1:bframes=3:keyint=10:scenecut=0"}},
    ),
    "no-times.avi": ("mpeg4", {"options": {"bf": "2", "g": "12"}}),
    "plain.webm": ("libvpx-vp9", {"options": {"g": "15", "deadline": "realtime"}}),
    "ten-bit.mp4": ("libx264", {"pixel_format": "yuv420p10le"}),
    "full-chroma.mp4": ("libx264", {"pixel_format": "yuv444p", "size": Size(97, 113)}),
}


def _sequential(path):
    with av.open(str(path)) as container:
        return [frame.to_ndarray() for frame in container.decode(video=0)]


@pytest.fixture(params=KINDS)
def clip_of_kind(request, make_clip):
    codec, how = KINDS[request.param]
    return make_clip(request.param, codec, **how)


def test_any_order_is_the_sequential_decode(clip_of_kind):
    expected = _sequential(clip_of_kind)
    order = np.random.default_rng(1).permutation(len(expected)).tolist()
    order = [0, len(expected) - 1, 9, 10, 11, 9, *order]
    with Footage(clip_of_kind) as footage:
        assert footage.frames == len(expected) == 40
        for n in order:
            np.testing.assert_array_equal(footage.video_frame(n).to_ndarray(), expected[n], str(n))


def test_each_frame_alone_is_too(make_clip):
    made = make_clip("open-group.mp4", *KINDS["open-group.mp4"][:1], **KINDS["open-group.mp4"][1])
    expected = _sequential(made)
    for n in (8, 9, 10, 11, 19, 21, 39):
        with Footage(made) as footage:
            np.testing.assert_array_equal(footage.video_frame(n).to_ndarray(), expected[n])


@pytest.mark.parametrize("frame", [-1, 40, 10**12])
def test_a_frame_out_of_range_is_refused(frame, clip):
    with Footage(clip) as footage, pytest.raises(IndexError, match="0 to 39"):
        footage.video_frame(frame)


def test_a_preview_is_the_full_picture_averaged(clip):
    with Footage(clip) as footage:
        full, small = footage.picture(7), footage.picture(7, Size(96, 56))
    np.testing.assert_allclose(small, full.reshape(3, 56, 2, 96, 2).mean(axis=(2, 4)), atol=1e-5)


@pytest.mark.parametrize("name", ["gray", "rgb24", "yuva420p"])
def test_other_pixel_formats_come_through_libswscale(name, make_clip):
    path = make_clip(f"{name}.mkv", "ffv1", pixel_format="bgr0" if name == "rgb24" else name)
    with Footage(path) as footage:
        picture = footage.picture(3)
        exact = footage.video_frame(3).to_ndarray(format="rgb24").transpose(2, 0, 1) / 255
    assert picture.shape == (3, 112, 192)
    assert np.abs(picture - exact).mean() < 0.02


def test_two_threads_get_what_they_ask_for(clip):
    from concurrent.futures import ThreadPoolExecutor

    expected = _sequential(clip)
    with Footage(clip) as footage, ThreadPoolExecutor(4) as pool:
        order = np.random.default_rng(2).permutation(40).tolist() * 2
        got = pool.map(lambda n: footage.video_frame(n).to_ndarray(), order)
        for n, frame in zip(order, got, strict=True):
            np.testing.assert_array_equal(frame, expected[n])
