"""Results: what is written is what was made, with its sound, in every container and depth."""

import os
import subprocess

import av
import cv2
import numpy as np
import OpenEXR
import pytest
from skimage.metrics import peak_signal_noise_ratio

from tests.conftest import THREE_STEPS, a_look
from tests.rendering import render
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.picture import Size
from yearning.media.codecs import CODECS, QUALITIES
from yearning.media.decode.footage import Footage
from yearning.media.decode.probe import probe_file
from yearning.media.encode.results import Output, check_result, result_size
from yearning.media.errors import MediaError
from yearning.media.quantizing import quantize

LOOK = a_look(*THREE_STEPS)
SOFT = a_look(THREE_STEPS[1])
MOVIES = [
    ("a.mp4", Output()), ("a.webm", Output()), ("a.webm", Output(codec="VP9")), ("a.mkv", Output()),
]  # fmt: skip
NAMES = ["H.264", "AV1", "VP9", "FFV1"]


@pytest.fixture(scope="module")
def footage(clip):
    with Footage(clip) as opened:
        yield opened


def _picture(footage, look, frame, size=None):
    size = size or footage.size
    return Evaluator(look, footage, size, Cache(0), keep="nothing").picture(frame)


def _decode_frames(path):
    with av.open(str(path)) as container:
        return list(container.decode(video=0))


@pytest.mark.parametrize(("case", "codec"), list(zip(MOVIES, NAMES, strict=True)), ids=NAMES)
def test_every_movie_has_all_frames_at_the_rate_with_sound_and_tags(case, codec, footage, tmp_path):
    name, output = case
    render(footage, SOFT, tmp_path / name, output=output)
    found = probe_file(tmp_path / name)
    assert (found.frames, found.rate, found.size) == (40, 25, footage.size)
    assert not found.variable
    assert found.duration == pytest.approx(1.6, abs=0.001)
    assert len(found.sounds) == 1
    assert os.sched_getscheduler(0) == os.SCHED_OTHER  # SVT-AV1, begun by root, sets another
    frame = _decode_frames(tmp_path / name)[7]
    assert (int(frame.color_primaries), int(frame.color_trc)) == (1, 1)
    assert int(frame.colorspace) == (0 if codec == "FFV1" else 1)
    with Footage(tmp_path / name) as result:
        shown = result.picture(7)
    psnr = peak_signal_noise_ratio(np.clip(_picture(footage, SOFT, 7), 0, 1), shown, data_range=1)
    assert psnr > (45 if codec == "FFV1" else 33)
    assert not list(tmp_path.glob("*.part"))


@pytest.mark.parametrize("bits", [8, 10, 16])
def test_ffv1_gives_back_the_pictures_bit_for_bit(bits, footage, tmp_path):
    render(footage, LOOK, tmp_path / "a.mkv", output=Output(bits=bits), last=4)
    frames = _decode_frames(tmp_path / "a.mkv")
    assert len(frames) == 5
    for n, frame in enumerate(frames):
        codes = quantize(_picture(footage, LOOK, n), bits)[..., ::-1]
        if bits == 8:
            found = frame.to_ndarray(format="rgb24")
        else:
            planes = [
                np.frombuffer(p, np.uint16).reshape(p.height, -1)[:, : p.width]
                for p in frame.planes
            ]
            found = np.stack([planes[2], planes[0], planes[1]], axis=-1)
        np.testing.assert_array_equal(found, codes)


def test_ffv1_is_read_back_as_it_was_written(footage, tmp_path):
    render(footage, LOOK, tmp_path / "a.mkv", output=Output(bits=16), last=2)
    with Footage(tmp_path / "a.mkv") as result:
        expected = np.clip(_picture(footage, LOOK, 1), 0, 1)
        assert np.abs(result.picture(1) - expected).max() <= 0.51 / 65535


@pytest.mark.parametrize(("name", "output"), MOVIES[:3], ids=NAMES[:3])
def test_a_better_quality_is_nearer_and_larger(name, output, footage, tmp_path):
    sizes, errors = [], []
    for quality in ("draft", "finest"):
        path = tmp_path / f"{quality}-{name}"
        render(footage, LOOK, path, output=Output(quality, output.codec), last=11)
        sizes.append(path.stat().st_size)
        with Footage(path) as result:
            error = result.picture(5) - np.clip(_picture(footage, LOOK, 5), 0, 1)
        errors.append(float(np.mean(error**2)))
    assert sizes[1] > 1.3 * sizes[0]
    assert errors[1] < errors[0]


@pytest.mark.parametrize("codec", CODECS.values(), ids=list(CODECS))
def test_quality_is_said_with_the_encoders_own_value(codec):
    factors = [codec.factors.get(quality) for quality in QUALITIES]
    if codec.lossless:
        assert codec.summary("fine") == "lossless"
    else:
        assert factors == sorted(factors, reverse=True)
        assert codec.summary("fine") == f"fine, CRF {codec.factors['fine']}"


@pytest.mark.parametrize(("name", "kind"), [("a.mp4", "yuv420p10le"), ("a.webm", "yuv420p10le")])
def test_ten_bit_footage_stays_ten_bit(name, kind, make_clip, tmp_path):
    path = make_clip("deep.mkv", "ffv1", pixel_format="yuv420p10le", frames=6)
    with Footage(path) as deep:
        render(deep, SOFT, tmp_path / name)
    assert probe_file(tmp_path / name).pixel_format == kind


def test_a_smaller_result_is_the_smaller_picture(footage, tmp_path):
    render(footage, LOOK, tmp_path / "small.mkv", output=Output(height=57), last=2)
    found = probe_file(tmp_path / "small.mkv")
    assert found.size == (96, 56)
    with Footage(tmp_path / "small.mkv") as result:
        expected = np.clip(_picture(footage, LOOK, 1, Size(96, 56)), 0, 1)
        assert np.abs(result.picture(1) - expected).max() < 1.01 / 255


@pytest.mark.parametrize(
    ("height", "size"), [(None, (193, 111)), (111, (193, 111)), (64, (112, 64))]
)
def test_a_smaller_size_is_even(height, size):
    assert result_size(Size(193, 111), Output(height=height)) == size


# Stills


@pytest.mark.parametrize(
    ("name", "bits", "kind"),
    [
        ("a%03d.png", None, np.uint16), ("a%03d.png", 8, np.uint8), ("a%03d.tif", None, np.uint16),
        ("a%03d.tiff", 16, np.uint16),
    ],
)  # fmt: skip
def test_numbered_stills_hold_the_codes(name, bits, kind, footage, tmp_path):
    render(footage, LOOK, tmp_path / name, output=Output(bits=bits), first=3, last=5)
    assert sorted(p.name for p in tmp_path.iterdir()) == [name % n for n in (3, 4, 5)]
    found = cv2.imread(str(tmp_path / (name % 4)), cv2.IMREAD_UNCHANGED)
    assert found.dtype == kind
    codes = quantize(_picture(footage, LOOK, 4), 8 * np.dtype(kind).itemsize)
    np.testing.assert_array_equal(found, codes)


@pytest.mark.parametrize(("bits", "kind"), [(None, np.float32), (16, np.float16)])
def test_openexr_holds_display_light_also_above_white(bits, kind, footage, tmp_path):
    bright = a_look({"id": "c", "treatment": "curve", "settings": {"luma": [[0, 0.2], [1, 1.3]]}})
    render(footage, bright, tmp_path / "a%02d.exr", output=Output(bits=bits), last=0)
    with OpenEXR.File(str(tmp_path / "a00.exr")) as file:
        found = file.channels()["RGB"].pixels
    assert found.dtype == kind
    expected = _picture(footage, bright, 0).transpose(1, 2, 0).astype(np.float64)
    expected = np.sign(expected) * np.abs(expected) ** 2.4
    assert expected.max() > 1.1
    np.testing.assert_allclose(found, expected, rtol=2e-3 if bits else 2e-5, atol=1e-6)


# Sound


def _with_sound(path, codec, rate=48000, layout="stereo", count=1, seconds=1.6):
    """A clip whose sound is a ramp of clicks: one at every tenth of a second, louder each."""
    with av.open(str(path), "w") as out:
        video = out.add_stream("libx264", rate=25)
        context = video.codec_context
        context.width, context.height, context.pix_fmt = 64, 64, "yuv420p"
        streams = []
        for n in range(count):
            stream = out.add_stream(codec, rate=rate, layout=layout)
            stream.metadata["language"] = ("eng", "fra", "deu")[n]
            streams.append(stream)
        for n in range(round(25 * seconds)):
            frame = av.VideoFrame(64, 64, "yuv420p")
            for plane in frame.planes:
                np.frombuffer(plane, np.uint8)[:] = 60 + 2 * n
            frame.pts = n
            out.mux(video.encode(frame))
        channels = 2 if layout == "stereo" else 1
        wave = np.zeros(round(rate * seconds), np.float32)
        for k in range(round(10 * seconds)):
            at = round(k * rate / 10)
            wave[at : at + rate // 100] = 0.05 * (k + 1) * np.sin(np.arange(rate // 100) * 0.4)
        for n, stream in enumerate(streams):
            size = stream.codec_context.frame_size or 1024
            for at in range(0, len(wave), size):
                part = np.stack([wave[at : at + size] * (n + 1) / count] * channels)
                heard = av.AudioFrame.from_ndarray(part, "fltp", layout)
                heard.sample_rate, heard.pts = rate, at
                out.mux(stream.encode(heard))
        out.mux(video.encode(None))
        for stream in streams:
            out.mux(stream.encode(None))
    return path


def _decode_sound(path, stream=0):
    """The sound as players give it, and when it begins: counted from the first picture."""
    with av.open(str(path)) as container:
        shown = float(next(container.decode(video=0)).time)
    with av.open(str(path)) as container:
        frames = list(container.decode(audio=stream))
        resampler = av.AudioResampler(format="fltp", layout="mono", rate=48000)
        parts = [out.to_ndarray()[0] for f in frames for out in resampler.resample(f)]
        parts += [out.to_ndarray()[0] for out in resampler.resample(None)]
        return float(frames[0].time) - shown, np.concatenate(parts)


def _clicks(path, stream=0):
    """When each click is heard, in seconds, and how loud."""
    begins, wave = _decode_sound(path, stream)
    loud = np.abs(wave) > 0.02
    starts = np.flatnonzero(loud & ~np.roll(loud, 1))
    kept = [s for i, s in enumerate(starts) if i == 0 or s - starts[i - 1] > 2000]
    return [begins + s / 48000 for s in kept], [
        float(np.abs(wave[s : s + 400]).max()) for s in kept
    ]


SOUNDS = {"aac": "clip.mp4", "pcm_s16le": "clip.mov", "libopus": "clip.mkv", "flac": "clip.mkv"}


@pytest.mark.parametrize("codec", SOUNDS)
@pytest.mark.parametrize("name", ["a.mp4", "a.webm", "a.mkv"])
def test_sound_comes_along_whatever_it_was(codec, name, tmp_path):
    path = _with_sound(tmp_path / SOUNDS[codec], codec)
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / name, output=Output("draft"))
    before, after = _clicks(path), _clicks(tmp_path / name)
    assert len(after[0]) == len(before[0]) == 16
    np.testing.assert_allclose(after[0], before[0], atol=0.004)
    np.testing.assert_allclose(after[1], before[1], atol=0.08)


@pytest.mark.parametrize(
    ("codec", "name", "held"),
    [
        ("aac", "a.mp4", True), ("pcm_s16le", "a.mp4", False), ("libopus", "a.webm", True),
        ("aac", "a.webm", False), ("aac", "a.mkv", True), ("pcm_s16le", "a.mkv", True),
    ],
)  # fmt: skip
def test_sound_is_copied_where_the_container_holds_it(codec, name, held, tmp_path):
    path = _with_sound(tmp_path / SOUNDS[codec], codec)
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / name, output=Output("draft"))

    def packets(of):
        with av.open(str(of)) as container:
            return b"".join(bytes(p) for p in container.demux(audio=0) if p.size)

    assert (packets(path) == packets(tmp_path / name)) == held


@pytest.mark.parametrize("codec", ["aac", "pcm_s16le"])
@pytest.mark.parametrize("name", ["a.mp4", "a.webm", "a.mkv"])
def test_a_part_has_that_parts_sound_to_the_sample(codec, name, tmp_path):
    path = _with_sound(tmp_path / SOUNDS[codec], codec)
    with Footage(path) as footage:
        # frames 11 to 30: from 0.44 s to 1.24 s, so clicks at 0.5 … 1.2
        render(footage, a_look(), tmp_path / name, output=Output("draft"), first=11, last=30)
    whole, part = _clicks(path), _clicks(tmp_path / name)
    expected = [time - 0.44 for time in whole[0] if 0.45 < time < 1.235]
    assert len(expected) == 8
    found = [time for time in part[0] if time > -0.001]
    np.testing.assert_allclose(found, expected, atol=0.004)
    assert probe_file(tmp_path / name).duration == pytest.approx(0.8)


def test_a_torn_packet_of_sound_is_silent_and_the_rest_goes_on(tmp_path):
    path = _with_sound(tmp_path / "clip.mkv", "flac")
    with av.open(str(path)) as container:
        packets = [bytes(p) for p in container.demux(audio=0) if p.size]
    torn = max(packets[len(packets) // 3 : len(packets) // 2], key=len)
    data = path.read_bytes()
    assert data.count(torn) == 1
    path.write_bytes(data.replace(torn, b"\xff" * len(torn)))
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / "a.webm", output=Output("draft"))
    times, _ = _clicks(tmp_path / "a.webm")
    whole = np.arange(16) / 10
    kept = [n for n, time in enumerate(whole) if np.abs(np.array(times) - time).min() < 0.01]
    assert len(kept) >= 14
    assert {0, 1, 13, 14, 15} <= set(kept)


def test_lossless_sound_of_a_part_is_that_part_exactly(tmp_path):
    path = _with_sound(tmp_path / "clip.mov", "pcm_s16le")
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / "a.mkv", first=11, last=30)
    begins, part = _decode_sound(tmp_path / "a.mkv")
    _, whole = _decode_sound(path)
    assert begins == 0
    np.testing.assert_array_equal(part, whole[round(0.44 * 48000) : round(1.24 * 48000)])


@pytest.mark.parametrize("name", ["a.mp4", "a.webm", "a.mkv"])
def test_several_streams_of_sound_are_kept_with_their_languages(name, tmp_path):
    path = _with_sound(tmp_path / "clip.mkv", "pcm_s16le", count=3)
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / name, output=Output("draft"))
    after = probe_file(tmp_path / name)
    assert [s.language for s in after.sounds] == ["eng", "fra", "deu"]
    loud = [max(_clicks(tmp_path / name, n)[1]) for n in range(3)]
    assert loud == sorted(loud)
    assert loud[2] > 2 * loud[0]


@pytest.mark.parametrize(("rate", "layout"), [(44100, "mono"), (22050, "stereo")])
def test_other_sample_rates_stay_in_step(rate, layout, tmp_path):
    path = _with_sound(tmp_path / "clip.mkv", "pcm_s16le", rate, layout)
    with Footage(path) as footage:
        render(footage, a_look(), tmp_path / "a.webm", output=Output("draft"))
    np.testing.assert_allclose(_clicks(tmp_path / "a.webm")[0], _clicks(path)[0], atol=0.004)


# What can't be had


@pytest.mark.parametrize(
    ("name", "output", "says"),
    [
        ("a.avi", Output(), ".mp4"), ("a", Output(), ".mp4"),
        ("a.mp4", Output(codec="FFV1"), "H.264"),
        ("a.webm", Output(codec="VP9", bits=10), "8"), ("a.mp4", Output(bits=12), "8 or 10"),
        ("a.mp4", Output(quality="best"), "draft"), ("a.mp4", Output(height=4000), "112 lines"),
        ("a.mp4", Output(height=2), "16 lines"), ("a%d.jpg", Output(), ".png"),
        ("a%d%d.png", Output(), "one number"), ("a%d.tif", Output(bits=8), "16"),
        ("a%d.png", Output(codec="AV1"), "no codec"), ("none/a.mp4", Output(), "no such folder"),
    ],
)  # fmt: skip
def test_what_can_not_be_written_is_refused_before_any_work(name, output, says, footage, tmp_path):
    with pytest.raises(MediaError, match=says):
        render(footage, LOOK, tmp_path / name, output=output)
    assert list(tmp_path.iterdir()) == []


def test_an_odd_size_that_a_codec_has_not_is_refused_with_advice(make_clip, tmp_path):
    path = make_clip("odd.mkv", "ffv1", frames=3, size=Size(151, 131))
    with Footage(path) as odd, pytest.raises(MediaError, match="even"):
        render(odd, LOOK, tmp_path / "a.webm")
    assert list(tmp_path.iterdir()) == []


def test_check_takes_every_ending_it_names(tmp_path):
    for name in ("a.mp4", "a.webm", "a.mkv", "%d.png", "%03d.tif", "%05d.tiff", "x%d.exr"):
        check_result(tmp_path / name)


@pytest.mark.parametrize(("name", "output"), MOVIES, ids=NAMES)
def test_ffprobe_reads_the_same(name, output, footage, tmp_path):
    render(footage, SOFT, tmp_path / name, output=output)
    asked = "stream=nb_read_frames,r_frame_rate,color_primaries,color_range"
    words = ["ffprobe", "-v", "error", "-select_streams", "v:0", "-count_frames"]
    words += ["-show_entries", asked, "-of", "default=nw=1", str(tmp_path / name)]
    said = subprocess.run(words, capture_output=True, text=True, check=True).stdout
    found = dict(line.split("=") for line in said.split())
    assert found["nb_read_frames"] == "40"
    assert found["r_frame_rate"] == "25/1"
    assert found["color_primaries"] == "bt709"
    assert found["color_range"] == ("pc" if name.endswith("mkv") else "tv")
