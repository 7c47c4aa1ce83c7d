"""Footage as cameras and telephones make it: turned, uneven, interlaced, wide, bright, grey."""

from fractions import Fraction

import av
import numpy as np
import pytest

from tests.conftest import a_look
from tests.media.making import SMALL, counted_frame, write_clip, yuv_frame
from tests.rendering import render
from yearning.core.colour import hdr
from yearning.core.colour.primaries import BT709, BT2020, primaries_matrix
from yearning.core.picture import Size
from yearning.media.decode.footage import Footage
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.probe import probe_file
from yearning.media.errors import MediaError

SIZE = SMALL
RED = np.float32([0.8, 0.1, 0.1])


def _codes(rgb, bits=10, weights=(0.2627, 0.0593)):
    """Limited-range codes of display-coded R'G'B' (BT.2100-2, tables 6 and 9)."""
    kr, kb = weights
    r, g, b = rgb
    y = kr * r + (1 - kr - kb) * g + kb * b
    scale = 2 ** (bits - 8)
    cb, cr = (b - y) / (2 * (1 - kb)), (r - y) / (2 * (1 - kr))
    return [round((219 * y + 16) * scale)] + [round((224 * c + 128) * scale) for c in (cb, cr)]


def _middle(path, reading=None, frame=1):
    with Footage(path, reading=reading or InputOverrides()) as footage:
        picture = footage.picture(frame)
        return picture[:, picture.shape[1] // 2, picture.shape[2] // 2]


LOSSLESS = {"qp": "0", "preset": "ultrafast"}
WIDE, PQ, HLG = (9, 14, 9), (9, 16, 9), (9, 18, 9)


def _flat_clip(path, rgb, tags, **how):
    frames = [yuv_frame(_codes(rgb), "yuv420p10le") for _ in range(4)]
    return write_clip(path, frames, pixel_format="yuv420p10le", options=LOSSLESS, tags=tags, **how)


def test_bt_2020_footage_shows_its_colours_in_bt_709(tmp_path):
    inside = np.tensordot(primaries_matrix(BT709, BT2020), RED.astype(np.float64) ** 2.4, 1) ** (
        1 / 2.4
    )
    path = _flat_clip(tmp_path / "wide.mp4", inside, WIDE)
    np.testing.assert_allclose(_middle(path), RED, atol=0.012)  # within 10-bit chroma steps


@pytest.mark.parametrize(("tags", "light"), [(PQ, "PQ"), (HLG, "HLG")])
def test_bright_footage_is_brought_down_as_bt_2446_has_it(tags, light, tmp_path):
    code = np.array([0.55, 0.5, 0.42])
    shown = hdr.pq_light(code) if light == "PQ" else hdr.hlg_light(hdr.hlg_scene(code))
    lit = np.tensordot(primaries_matrix(BT2020, BT709), hdr.method_c(shown), 1)
    expected = lit ** (1 / 2.4)
    path = _flat_clip(tmp_path / "bright.mp4", code, tags)
    assert probe_file(path).light == light
    np.testing.assert_allclose(_middle(path), expected, atol=0.015)
    plain = _middle(path, InputOverrides(light="SDR"))
    assert np.abs(plain - expected).max() > 0.05


def test_what_is_said_of_a_clip_stands_before_its_tags(tmp_path):
    path = _flat_clip(tmp_path / "said.mp4", (0.8, 0.5, 0.2), (1, 1, 1))
    assert np.abs(_middle(path) - _middle(path, InputOverrides(matrix="bt601"))).max() > 0.02
    full = _middle(path, InputOverrides(range="full"))
    limited = _middle(path)
    # limited codes read as full: (16 + 219 v) / 255, the chroma by 224 / 255
    assert full.mean() == pytest.approx((16 + 219 * limited.mean()) / 255, abs=0.01)


@pytest.mark.parametrize(
    ("said", "names"),
    [
        ({"matrix": "bt1886"}, "bt1886"), ({"range": "wide"}, "limited, full"),
        ({"rate": "fast"}, "30000/1001"), ({"rate": "0"}, "frame rate"), ({"rate": "1/0"}, "rate"),
        ({"rate": "5000"}, "frame rate"), ({"fields": "both"}, "both"), ({"haste": 2}, "haste"),
    ],
)  # fmt: skip
def test_what_can_not_be_said_of_a_clip_is_refused(said, names):
    with pytest.raises(MediaError, match=names):
        InputOverrides.of(said)


def test_what_is_said_is_kept_and_tells_footage_apart(clip):
    said = {"matrix": "bt601", "rate": "30000/1001"}
    assert InputOverrides.of(said).as_json() == said
    with Footage(clip) as plain, Footage(clip, reading=InputOverrides.of(said)) as other:
        assert plain.id != other.id


# Shape


@pytest.mark.parametrize("turn", [90, 180, 270])
def test_a_turned_clip_is_upright(turn, tmp_path):
    luma = np.zeros((112, 192), np.uint8) + 40
    luma[:20, :40] = 220  # a mark in the stored picture's upper left
    frames = [yuv_frame([luma, 128, 128]) for _ in range(3)]
    path = write_clip(tmp_path / "turned.mp4", frames, options=LOSSLESS, turn=turn)
    probe = probe_file(path)
    assert probe.size == (SIZE if turn == 180 else (112, 192))
    with Footage(path) as footage:
        seen = footage.picture(1)
    stored = np.zeros((112, 192), np.float32)
    stored[:20, :40] = 1
    expected = np.rot90(stored, probe.rotation // 90)
    assert np.corrcoef(seen[1].ravel(), expected.ravel())[0, 1] > 0.99


@pytest.mark.parametrize(
    ("aspect", "size"),
    [(Fraction(64, 45), (273, 112)), (Fraction(8, 9), (192, 126)), (Fraction(1), SIZE)],
)
def test_pixels_that_are_not_square_are_made_so(aspect, size, tmp_path):
    path = tmp_path / "dv.mp4"
    write_clip(path, [counted_frame(9) for _ in range(3)], options=LOSSLESS, aspect=aspect)
    with Footage(path) as footage:
        assert footage.size == size
        full = footage.picture(1)
        assert full.shape == (3, size[1], size[0])
        np.testing.assert_allclose(full, full[0, 0, 0], atol=0.01)
        half = Size(size[0] // 2, size[1] // 2)
        np.testing.assert_allclose(footage.picture(1, half), full[0, 0, 0], atol=0.01)


def test_a_circle_shot_with_wide_pixels_is_round(tmp_path):
    y, x = np.mgrid[0:112, 0:192]
    luma = np.where(np.hypot((x - 96) * 4 / 3, y - 56) < 40, 210, 40).astype(np.uint8)
    path = tmp_path / "anamorphic.mp4"
    frames = [yuv_frame([luma, 128, 128]) for _ in range(3)]
    write_clip(path, frames, options=LOSSLESS, aspect=Fraction(4, 3))
    with Footage(path) as footage:
        seen = footage.picture(1)[1] > 0.5
    across, down = seen.any(axis=0).sum(), seen.any(axis=1).sum()
    assert across == pytest.approx(down, abs=2)


@pytest.mark.parametrize("turn", [0, 90])
def test_rows_are_the_pictures_rows(turn, tmp_path):
    frames = [counted_frame(n) for n in range(3)]
    path = write_clip(tmp_path / "rows.mp4", frames, options=LOSSLESS, turn=turn or None)
    with Footage(path) as footage:
        whole, rows = footage.picture(2), footage.rows(2)
        np.testing.assert_array_equal(rows(7, 31), whole[:, 7:31])


# Fields


def _write_interlaced(path, first="tff"):
    """A bar that moves between fields: weaving them shows combs."""
    frames = []
    for n in range(6):
        luma = np.full((112, 192), 40, np.uint8)
        for field in (0, 1):
            late = field if first == "tff" else 1 - field
            left = 20 + 12 * (2 * n + late)
            luma[field::2, left : left + 24] = 210
        frames.append(yuv_frame([luma, 128, 128]))
    options = {"qp": "0", "preset": "ultrafast", "x264-params": f"{first}=1"}
    return write_clip(path, frames, options=options)


def _combs(picture):
    """How much neighbouring lines differ more than lines two apart."""
    luma = picture[1]
    return float(np.abs(luma[1:-1] - (luma[:-2] + luma[2:]) / 2).mean())


@pytest.mark.parametrize("first", ["tff", "bff"])
def test_interlaced_footage_is_made_whole(first, tmp_path):
    path = _write_interlaced(tmp_path / "fields.mp4", first)
    assert probe_file(path).fields == "interlaced"
    with (
        Footage(path) as footage,
        Footage(path, reading=InputOverrides(fields="progressive")) as woven,
    ):
        assert footage.frames == 6
        for n in range(6):
            assert _combs(footage.picture(n)) < 0.25 * _combs(woven.picture(n))


def test_a_whole_frame_is_the_same_in_any_order(tmp_path):
    path = _write_interlaced(tmp_path / "order.mp4")
    with Footage(path) as footage:
        onward = [footage.picture(n) for n in range(6)]
    with Footage(path) as footage:
        for n in (5, 0, 3, 2, 4, 1):
            np.testing.assert_array_equal(footage.picture(n), onward[n])


def test_progressive_footage_is_left_alone(clip):
    assert probe_file(clip).fields == "progressive"


# Formats


GREYS = {"gray": 8, "gray10le": 10, "gray16le": 16}


@pytest.mark.parametrize("kind", GREYS)
def test_grey_footage_has_no_colour(kind, tmp_path):
    top = (1 << GREYS[kind]) - 1
    frames = [yuv_frame([top // 2], kind) for _ in range(3)]
    path = write_clip(tmp_path / "grey.mkv", frames, codec="ffv1", pixel_format=kind)
    seen = _middle(path)
    np.testing.assert_allclose(seen, 0.5, atol=0.003)
    assert np.ptp(seen) < 1e-6


@pytest.mark.parametrize(("kind", "bits"), [("gbrp10le", 10), ("gbrp12le", 12), ("gbrp16le", 16)])
def test_rgb_footage_is_taken_as_it_is(kind, bits, tmp_path):
    top = (1 << bits) - 1
    g, b, r = round(0.25 * top), round(0.5 * top), round(0.75 * top)
    frames = [yuv_frame([g, b, r], kind) for _ in range(3)]
    path = write_clip(tmp_path / "rgb.mkv", frames, codec="ffv1", pixel_format=kind)
    assert probe_file(path).bits == bits
    np.testing.assert_allclose(_middle(path), [r / top, g / top, b / top], atol=1e-6)


def test_packed_rgb_is_taken_to_the_code(tmp_path):
    codes = np.random.default_rng(8).integers(0, 256, (112, 192, 3), np.uint8)
    frames = [av.VideoFrame.from_ndarray(codes, "rgb24") for _ in range(3)]
    path = write_clip(tmp_path / "packed.mov", frames, codec="png", pixel_format="rgb24")
    with Footage(path) as footage:
        np.testing.assert_allclose(
            footage.picture(1), codes.transpose(2, 0, 1) / np.float32(255), atol=1e-6
        )


def test_alpha_is_left_in_the_file_and_the_picture_is_the_same(tmp_path):
    plain = write_clip(
        tmp_path / "plain.mkv", [yuv_frame([90, 100, 150]) for _ in range(3)], codec="ffv1"
    )
    alpha = write_clip(
        tmp_path / "alpha.mkv",
        [yuv_frame([90, 100, 150, 30], "yuva420p") for _ in range(3)],
        codec="ffv1",
        pixel_format="yuva420p",
    )
    np.testing.assert_array_equal(_middle(alpha), _middle(plain))


# Timecode


@pytest.mark.parametrize(
    ("rate", "said"), [(Fraction(25), "01:02:03:04"), (Fraction(30000, 1001), "10:00:59;28")]
)
def test_timecode_is_read_and_carried_through(rate, said, tmp_path):
    path = tmp_path / "slate.mp4"
    write_clip(
        path, [counted_frame(n) for n in range(9)], rate=rate, options=LOSSLESS, timecode=said
    )
    with Footage(path) as footage:
        assert footage.probe.timecode == said
        render(footage, a_look(), tmp_path / "whole.mp4")
        render(footage, a_look(), tmp_path / "part.mp4", first=4)
    assert probe_file(tmp_path / "whole.mp4").timecode == said
    later = {"01:02:03:04": "01:02:03:08", "10:00:59;28": "10:01:00;04"}[said]
    assert probe_file(tmp_path / "part.mp4").timecode == later


# All at once


def test_a_telephones_clip_comes_out_upright_in_step_and_in_the_right_colours(tmp_path):
    """Turned, uneven, 10-bit, BT.2020: rendered, it is an even upright BT.709 clip."""
    rgb = np.tensordot(primaries_matrix(BT709, BT2020), RED.astype(np.float64) ** 2.4, 1) ** (
        1 / 2.4
    )
    times = [0, 33, 66, 110, 133, 200, 233]
    frames = [yuv_frame(_codes(rgb), "yuv420p10le") for _ in times]
    path = write_clip(
        tmp_path / "telephone.mp4", frames, pixel_format="yuv420p10le", rate=Fraction(30),
        times=times, time_base=Fraction(1, 1000), options=LOSSLESS | {"bf": "0"}, tags=WIDE,
        turn=90,
    )  # fmt: skip
    with Footage(path) as footage:
        assert (footage.size, footage.probe.rate, footage.probe.variable) == ((112, 192), 30, True)
        render(footage, a_look(), tmp_path / "out.mp4")
    after = probe_file(tmp_path / "out.mp4")
    assert (after.size, after.rotation, after.rate, after.variable) == ((112, 192), 0, 30, False)
    assert (after.matrix, after.primaries, after.transfer) == ("bt709", 1, 1)
    assert after.pixel_format == "yuv420p10le"
    assert after.duration == pytest.approx(0.2667, abs=0.034)
    np.testing.assert_allclose(_middle(tmp_path / "out.mp4"), RED, atol=0.02)
