"""What is asked of a render, in words and as encoders take it; how far it is."""

import pytest
from pydantic import ValidationError

from yearning.farm.progress import Progress
from yearning.farm.settings import FarmSettings, ResultSpec
from yearning.media.codecs import CODECS

SPECS = [
    ({}, ".mp4", "H.264 fine, CRF 17"),
    ({"codec": "AV1", "quality": "draft"}, ".webm", "AV1 draft, CRF 46"),
    ({"codec": "FFV1", "bits": 16}, ".mkv", "FFV1 lossless, 16 bit"),
    ({"codec": "FFV1", "overlay": True}, ".mkv", "FFV1 lossless, overlay with alpha"),
    ({"codec": "PNG", "bits": 8}, ".png", "PNG stills, 8 bit"),
    ({"codec": "OpenEXR", "height": 540}, ".exr", "OpenEXR stills, 540 lines"),
    ({"first": 24, "last": 47}, ".mp4", "H.264 fine, CRF 17, frames 24 to 47"),
    ({"first": 24}, ".mp4", "H.264 fine, CRF 17, frames 24 to the last"),
    ({"last": 9}, ".mp4", "H.264 fine, CRF 17, frames 0 to 9"),
]


@pytest.mark.parametrize(("asked", "ending", "words"), SPECS)
def test_a_result_says_what_it_is(asked, ending, words):
    spec = ResultSpec(**asked)
    assert (spec.ending, spec.summary()) == (ending, words)
    assert spec.is_stills is (spec.codec not in CODECS)
    assert spec.output.codec == (None if spec.is_stills else spec.codec)
    assert (spec.output.bits, spec.output.height) == (spec.bits, spec.height)
    assert ResultSpec.model_validate_json(spec.model_dump_json()) == spec


@pytest.mark.parametrize(
    "asked",
    [{"codec": "DV"}, {"quality": "best"}, {"first": -1}, {"last": -1}, {"speed": 2}],
)
def test_what_no_result_has_is_refused(asked):
    with pytest.raises(ValidationError, match=next(iter(asked))):
        ResultSpec(**asked)


@pytest.mark.parametrize("asked", [{"workers": 0}, {"workers": 257}, {"address": "x" * 201}])
def test_what_no_farm_has_is_refused(asked):
    with pytest.raises(ValidationError, match=next(iter(asked))):
        FarmSettings(**asked)


def progress(done, made, seconds):
    return Progress(done=done, kept=0, total=100, made=made, seconds=seconds, chunks=3)


def test_time_left_counts_what_this_run_has_made():
    on_the_way = progress(done=60, made=10, seconds=5.0)  # 50 were there already
    assert on_the_way.rate == 2
    assert on_the_way.seconds_left == 20
    assert progress(done=50, made=0, seconds=5.0).seconds_left is None
    assert progress(done=50, made=0, seconds=0.0).rate == 0
    assert progress(done=100, made=50, seconds=5.0).seconds_left == 0
