"""Containers and codecs of results: the records agree with each other, and with FFmpeg."""

import mimetypes

import av
import pytest

from yearning.media.codecs import CODECS, QUALITIES
from yearning.media.containers import CONTAINERS, container_for
from yearning.media.encode.encoder import share_fairly


@pytest.mark.parametrize("suffix", CONTAINERS)
def test_ffmpeg_takes_a_container_by_its_suffix_and_its_muxer(suffix, tmp_path):
    record = CONTAINERS[suffix]
    assert record.suffix == suffix
    assert suffix[1:] in av.ContainerFormat(record.muxer, "w").extensions
    with av.open(str(tmp_path / f"a{suffix}"), "w") as guessed:
        assert guessed.format.name == record.muxer


@pytest.mark.parametrize("suffix", [".mp4", ".webm"])
def test_a_media_type_is_the_registered_one(suffix):
    assert mimetypes.guess_type(f"a{suffix}")[0] == CONTAINERS[suffix].media_type


@pytest.mark.parametrize("suffix", CONTAINERS)
def test_a_container_s_pictures_and_sound_can_be_muxed_into_it(suffix, tmp_path):
    record = CONTAINERS[suffix]
    for number, codec in enumerate(record.codecs):
        path = tmp_path / f"{number}{suffix}"
        with av.open(str(path), "w", options=dict(record.options)) as container:
            video = container.add_stream(CODECS[codec].encoder, rate=24)
            video.width, video.height, video.pix_fmt = 64, 48, "yuv420p"
            container.add_stream(record.audio_encoder, rate=48000)
            for packet in video.encode(av.VideoFrame(64, 48, "yuv420p")):
                container.mux(packet)
            for packet in video.encode():
                container.mux(packet)
        share_fairly()  # SVT-AV1 has put this process on real-time priority
        with av.open(str(path)) as container:
            assert sum(1 for _ in container.decode(video=0)) == 1


@pytest.mark.parametrize("suffix", CONTAINERS)
def test_sound_that_is_made_anew_could_be_copied_next_time(suffix):
    record = CONTAINERS[suffix]
    assert record.holds_audio(av.Codec(record.audio_encoder, "w").canonical_name)
    assert record.holds_audio("pcm_s16le") is (suffix == ".mkv")


def test_every_codec_is_written_in_one_container_and_every_container_has_codecs():
    assert sorted(c for each in CONTAINERS.values() for c in each.codecs) == sorted(CODECS)
    for name in CODECS:
        assert name in container_for(name).codecs


@pytest.mark.parametrize("name", CODECS)
def test_a_better_quality_has_a_lower_rate_factor_and_says_it(name):
    codec = CODECS[name]
    if codec.lossless:
        assert codec.summary("fine") == "lossless"
        assert "crf" not in codec.encoder_options("fine")
        return
    factors = [int(codec.encoder_options(quality)["crf"]) for quality in QUALITIES]
    assert factors == sorted(factors, reverse=True)
    assert len(set(factors)) == len(QUALITIES)
    assert codec.summary("fine") == f"fine, CRF {codec.factors['fine']}"
