"""Numbered stills as a clip."""

import colour
import cv2
import numpy as np
import OpenEXR
import pytest

from tests.conftest import THREE_STEPS, a_look, lamps
from tests.rendering import render
from yearning.core.image.filters import area_resized
from yearning.core.picture import Size
from yearning.media.decode.clip import open_clip
from yearning.media.decode.footage import Footage
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.probe import probe_file
from yearning.media.decode.sequence import Sequence
from yearning.media.encode.results import Output
from yearning.media.errors import MediaError
from yearning.media.quantizing import quantize
from yearning.media.stills.stills import write_still

SIZE = Size(96, 54)
LOOK = a_look(*THREE_STEPS)


@pytest.fixture(scope="module")
def pictures():
    return [np.clip(picture, 0, 1) for picture in lamps(SIZE, 5)]


def _write_sequence(folder, pictures, name="shot.%04d.png", start=1001, bits=None):
    for n, picture in enumerate(pictures):
        write_still(picture, folder / (name % (start + n)), bits)
    return folder / name


@pytest.mark.parametrize(
    ("name", "bits"), [("a.%04d.png", 16), ("a%d.png", 8), ("%05d.tif", 16), ("x_%03d.tiff", 16)]
)
def test_stills_are_frames_by_their_numbers(name, bits, pictures, tmp_path):
    pattern = _write_sequence(tmp_path, pictures, name, bits=bits)
    with open_clip(pattern) as clip:
        assert isinstance(clip, Sequence)
        assert (clip.frames, clip.size, clip.probe.bits) == (5, SIZE, bits)
        assert (clip.probe.rate, clip.probe.sounds) == (24, ())
        for n in (3, 0, 4):
            codes = quantize(pictures[n], bits)[..., ::-1].transpose(2, 0, 1)
            np.testing.assert_allclose(clip.picture(n), codes / (2**bits - 1), atol=1e-6)


def test_numbers_are_counted_and_not_spelled(pictures, tmp_path):
    pattern = _write_sequence(tmp_path, pictures * 3, "a%d.png", start=8)  # a10 comes after a9
    with open_clip(pattern) as clip:
        assert clip.frames == 15
        np.testing.assert_array_equal(clip.picture(2), clip.picture(7))


def test_a_smaller_picture_is_the_average(pictures, tmp_path):
    with open_clip(_write_sequence(tmp_path, pictures)) as clip:
        small = Size(48, 27)
        np.testing.assert_array_equal(clip.picture(1, small), area_resized(clip.picture(1), small))
        np.testing.assert_array_equal(clip.rows(1)(5, 20), clip.picture(1)[:, 5:20])


def test_grey_and_transparent_stills_are_taken(tmp_path):
    cv2.imwrite(str(tmp_path / "0.png"), np.full((8, 8), 51, np.uint8))
    cv2.imwrite(str(tmp_path / "1.png"), np.full((8, 8, 4), (0, 51, 255, 9), np.uint8))
    with open_clip(tmp_path / "%d.png") as clip:
        np.testing.assert_allclose(clip.picture(0)[:, 0, 0], 0.2, atol=1e-6)
        np.testing.assert_allclose(clip.picture(1)[:, 0, 0], [1, 0.2, 0], atol=1e-6)


def _exr(path, **channels):
    kinds = {name: OpenEXR.Channel(name, pixels) for name, pixels in channels.items()}
    header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}
    with OpenEXR.File(header, kinds) as file:
        file.write(str(path))


def test_scene_light_is_coded_by_bt_709s_camera_curve(tmp_path):
    light = np.geomspace(1e-4, 8, 64, dtype=np.float32).reshape(8, 8)
    _exr(tmp_path / "0.exr", R=light, G=light / 2, B=light / 4)
    with open_clip(tmp_path / "%d.exr") as clip:
        found = clip.picture(0)
    for channel, by in zip(found, (1, 2, 4), strict=True):
        expected = colour.models.oetf_BT709(light.astype(np.float64) / by)
        np.testing.assert_allclose(channel, expected, atol=2e-4)
    assert found.max() > 2  # light above white stays


def test_display_light_gives_back_what_was_written(pictures, tmp_path):
    pattern = _write_sequence(tmp_path, pictures, "a%d.exr")
    with open_clip(pattern, InputOverrides(light="display")) as clip:
        np.testing.assert_allclose(clip.picture(2), pictures[2], atol=2e-6)


@pytest.mark.parametrize("kind", [np.float16, np.float32])
def test_half_and_single_precision_and_grey_are_read(kind, tmp_path):
    _exr(tmp_path / "0.exr", Y=np.full((6, 6), 0.25, kind))
    with open_clip(tmp_path / "%d.exr") as clip:
        expected = colour.models.oetf_BT709(0.25)
        np.testing.assert_allclose(clip.picture(0), expected, atol=1e-4)


def test_what_is_no_number_in_a_still_is_removed_once(tmp_path):
    light = np.array([[np.nan, np.inf], [-np.inf, 0.5]], np.float32)
    _exr(tmp_path / "0.exr", R=light, G=light, B=light)
    with open_clip(tmp_path / "%d.exr") as clip:
        assert np.isfinite(clip.picture(0)).all()


def test_stills_are_rendered_to_a_movie_at_the_rate_said(pictures, tmp_path):
    pattern = _write_sequence(tmp_path, pictures)
    with open_clip(pattern, InputOverrides(rate="30000/1001")) as clip:
        render(clip, LOOK, tmp_path / "a.mp4")
    found = probe_file(tmp_path / "a.mp4")
    assert (found.frames, found.size, str(found.rate)) == (5, SIZE, "30000/1001")


def test_stills_to_lossless_and_back_are_the_same(pictures, tmp_path):
    pattern = _write_sequence(tmp_path, pictures)
    with open_clip(pattern) as clip:
        render(clip, a_look(), tmp_path / "a.mkv", output=Output(bits=16))
    with Footage(tmp_path / "a.mkv") as result, open_clip(pattern) as clip:
        for n in range(5):
            np.testing.assert_allclose(result.picture(n), clip.picture(n), atol=1e-6)


BAD = {
    "none": (lambda d: None, "a%d.png", "no still"),
    "a gap": (lambda d: (d / "a3.png").unlink(), "a%d.png", "a3.png: missing"),
    "no folder": (lambda d: None, "none/a%d.png", "no such folder"),
    "two numbers": (lambda d: None, "a%d%d.png", "one number"),
    "no kind": (lambda d: None, "a%d.jpg", "end in"),
    "another size": (lambda d: write_still(np.zeros((3, 9, 9), np.float32), d / "a4.png"),
                     "a%d.png", "9x9"),
    "no picture": (lambda d: (d / "a4.png").write_bytes(b"words"), "a%d.png", "a4.png"),
    "a torn one": (lambda d: (d / "a4.png").write_bytes((d / "a4.png").read_bytes()[:90]),
                   "a%d.png", "a4.png"),
}  # fmt: skip


@pytest.mark.parametrize("what", BAD)
def test_stills_that_can_not_be_used_say_which_and_why(what, pictures, tmp_path):
    damage, name, says = BAD[what]
    if what != "none":
        _write_sequence(tmp_path, pictures, "a%d.png", 1)
    damage(tmp_path)

    def read_all():
        with open_clip(tmp_path / name) as clip:
            return [clip.picture(n) for n in range(clip.frames)]

    with pytest.raises(MediaError, match=says):
        read_all()


@pytest.mark.parametrize("said", [{"light": "scene"}, {"matrix": "bt601"}, {"range": "full"}])
def test_what_stills_have_not_can_not_be_said(said, pictures, tmp_path):
    with pytest.raises(MediaError, match=next(iter(said))):
        open_clip(_write_sequence(tmp_path, pictures), InputOverrides.of(said))


def test_a_movie_has_no_scene_light(clip):
    with pytest.raises(MediaError, match="OpenEXR"):
        open_clip(clip, InputOverrides(light="scene"))


@pytest.mark.parametrize("frame", [-1, 5])
def test_a_frame_out_of_range_is_refused(frame, pictures, tmp_path):
    with (
        open_clip(_write_sequence(tmp_path, pictures)) as clip,
        pytest.raises(IndexError, match="0 to 4"),
    ):
        clip.picture(frame)
