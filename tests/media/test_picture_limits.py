"""Pictures that say that they are too large: told from their headers, in little memory and time."""

import struct
import tracemalloc
import zlib
from fractions import Fraction

import cv2
import numpy as np
import OpenEXR
import pytest

from tests.media.making import SMALL, write_clip, yuv_frame
from yearning.core.picture import Size
from yearning.media.decode.clip import open_clip
from yearning.media.errors import MediaError
from yearning.media.picture_limits import (
    MAX_PIXELS,
    MAX_SIDE,
    check_picture_size,
    check_still_size,
)
from yearning.media.plates.plates import OpenPlate

MOST_ROWS = 1 << 17
"""Bytes of its rows that such a file holds before it breaks off."""


def png_of(path, width, height):
    """A grey PNG of one bit whose pixels are all black, of few bytes."""

    def chunk(kind, data):
        crc = zlib.crc32(kind + data)
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", crc)

    header = struct.pack(">IIBBBBB", width, height, 1, 0, 0, 0, 0)
    rows = zlib.compress(bytes(min((1 + (width + 7) // 8) * height, MOST_ROWS)), 9)
    parts = chunk(b"IHDR", header), chunk(b"IDAT", rows), chunk(b"IEND", b"")
    path.write_bytes(b"\x89PNG\r\n\x1a\n" + b"".join(parts))
    return path


LARGE = [(11_000, 11_000), (MAX_SIDE + 1, 1), (1, MAX_SIDE + 1), (2**31 - 1, 2**31 - 1)]


@pytest.mark.parametrize(("width", "height"), LARGE)
def test_a_plate_that_is_too_large_is_refused_before_it_is_decoded(width, height, tmp_path):
    path = png_of(tmp_path / "large.png", width, height)
    tracemalloc.start()
    with pytest.raises(MediaError, match=rf"large.png: {width}x{height} pixels, where"):
        OpenPlate(path)
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert peak < 1 << 20


@pytest.mark.parametrize(("width", "height"), LARGE[:2])
def test_so_is_a_still_of_a_sequence(width, height, tmp_path):
    png_of(tmp_path / "a.0001.png", width, height)
    with pytest.raises(MediaError, match="pixels, where"):
        open_clip(tmp_path / "a.%04d.png")


def test_so_is_footage_whose_pixels_are_far_from_square(tmp_path):
    """Its pixel aspect box (ISO/IEC 14496-12, 12.1.4) is made to say 1 to 65535."""
    frame = yuv_frame([100, 128, 128], size=SMALL)
    path = write_clip(tmp_path / "tall.mp4", [frame] * 2, aspect=Fraction(4, 3))
    data = path.read_bytes()
    at = data.index(b"pasp") + 4
    path.write_bytes(data[:at] + struct.pack(">II", 1, 65535) + data[at + 8 :])
    with pytest.raises(MediaError, match="pixels, where"):
        open_clip(path)


@pytest.mark.parametrize("ending", ["png", "jpg", "tif"])
@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
def test_sizes_are_read_from_headers(ending, kind, tmp_path):
    path = tmp_path / f"a.{ending}"
    cv2.imwrite(str(path), np.zeros((40, 60, 3), np.uint8 if ending == "jpg" else kind))
    check_still_size(path)
    assert OpenPlate(path).size == Size(60, 40)


def test_of_openexr_the_data_window_counts(tmp_path):
    path = tmp_path / "a.exr"
    pixels = np.zeros((30, 50, 3), np.float16)
    with OpenEXR.File({"compression": OpenEXR.ZIP_COMPRESSION}, {"RGB": pixels}) as file:
        file.write(str(path))
    check_still_size(path)


@pytest.mark.parametrize("data", [b"", b"nothing", b"\x89PNG\r\n\x1a\n", b"II*\0\xff\xff\xff\x7f"])
def test_what_does_not_say_how_large_it_is_is_no_picture(data, tmp_path):
    for ending in ("png", "tif", "jpg"):
        (tmp_path / f"a.{ending}").write_bytes(data)
        with pytest.raises(MediaError, match="no picture that can be read"):
            OpenPlate(tmp_path / f"a.{ending}")


def test_the_largest_are_taken():
    check_picture_size("a", Size(MAX_SIDE, MAX_PIXELS // MAX_SIDE))
    with pytest.raises(MediaError, match="64 million"):
        check_picture_size("a", Size(MAX_SIDE, MAX_PIXELS // MAX_SIDE + 1))
