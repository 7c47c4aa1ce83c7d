"""Y'CbCr to R'G'B' and back: published codes, libswscale, and the round trip."""

import av
import numpy as np
import pytest
from skimage.metrics import peak_signal_noise_ratio, structural_similarity

from tests.conftest import lamps
from yearning.core.colour.matrices import LUMA_WEIGHTS, Coding, guessed_matrix
from yearning.core.picture import Size
from yearning.media.decode.planes import Planes, planes_to_picture
from yearning.media.quantizing import picture_to_planes, quantize

# 75 % colour bars in 8-bit limited-range codes: ITU-R BT.709-6's equations evaluated. Those of the
# scopes' tests, which are compared with colour-science, are the same.
BARS_709 = {
    (0.75, 0.75, 0.75): (180, 128, 128),
    (0.75, 0.75, 0.0): (168, 44, 136),
    (0.0, 0.75, 0.75): (145, 147, 44),
    (0.0, 0.75, 0.0): (133, 63, 52),
    (0.75, 0.0, 0.75): (63, 193, 204),
    (0.75, 0.0, 0.0): (51, 109, 212),
    (0.0, 0.0, 0.75): (28, 212, 120),
    (0.0, 0.0, 0.0): (16, 128, 128),
}
LIMITED = Coding("bt709", "limited", 8)
SUBSAMPLINGS = {"420": (2, 2), "422": (2, 1), "444": (1, 1)}


def _flat(rgb):
    return np.broadcast_to(np.float32(rgb)[:, None, None], (3, 128, 128)).copy()


@pytest.mark.parametrize("rgb", BARS_709)
def test_75_per_cent_bars_have_their_published_codes(rgb):
    planes = picture_to_planes(_flat(rgb), LIMITED, (1, 1))
    found = [plane.mean() for plane in planes]  # dithered: the mean is the unrounded code
    np.testing.assert_allclose(found, BARS_709[rgb], atol=0.51)
    codes = Planes(*(np.full((2, 2), code, np.uint8) for code in BARS_709[rgb]))
    np.testing.assert_allclose(
        planes_to_picture(codes, LIMITED, (1, 1))[:, 0, 0], rgb, atol=0.0045
    )  # half a chroma code


@pytest.mark.parametrize("matrix", LUMA_WEIGHTS)
@pytest.mark.parametrize("bits", [8, 10])
@pytest.mark.parametrize("span", ["limited", "full"])
def test_colour_science_agrees(matrix, bits, span):
    import colour

    coding = Coding(matrix, span, bits)
    rgb = np.random.default_rng(3).random((3, 16, 16)).astype(np.float32)
    kr, kb = LUMA_WEIGHTS[matrix]
    expected = colour.RGB_to_YCbCr(
        rgb.transpose(1, 2, 0).astype(np.float64), K=np.array([kr, kb]), in_bits=bits,
        out_bits=bits, in_legal=False, out_legal=span == "limited", out_int=False,
    ) * (2**bits - 1)  # fmt: skip
    if span == "full":  # there chroma is given about 0
        expected[..., 1:] += coding.chroma_offset
    planes = picture_to_planes(rgb, coding, (1, 1))
    for plane, exact in zip(planes, expected.transpose(2, 0, 1), strict=True):
        assert np.abs(plane - exact).max() <= 1.001


def _swscale(planes, name, space):
    frame = av.VideoFrame(planes[0].shape[1], planes[0].shape[0], name)
    for plane, codes in zip(frame.planes, planes, strict=True):
        lines = np.frombuffer(plane, codes.dtype).reshape(plane.height, -1)
        lines[:, : codes.shape[1]] = codes
    out = frame.reformat(
        format="gbrp16le", src_colorspace=space, src_color_range="MPEG", dst_color_range="JPEG",
        interpolation="BILINEAR",
    )  # fmt: skip
    g, b, r = (
        np.frombuffer(p, np.uint16).reshape(p.height, -1)[:, : p.width] / 65535 for p in out.planes
    )
    return np.stack([r, g, b])


@pytest.mark.parametrize("layout", SUBSAMPLINGS)
@pytest.mark.parametrize("bits", [8, 10])
@pytest.mark.parametrize(("matrix", "space"), [("bt709", "ITU709"), ("bt601", "ITU601")])
def test_libswscale_agrees(layout, bits, matrix, space):
    picture = np.clip(lamps(Size(320, 180), 1)[0], 0.05, 0.95)
    coding = Coding(matrix, "limited", bits)
    planes = picture_to_planes(picture, coding, SUBSAMPLINGS[layout])
    ours = planes_to_picture(planes, coding, SUBSAMPLINGS[layout])
    theirs = _swscale(planes, f"yuv{layout}p" + ("10le" if bits == 10 else ""), space)
    # libswscale computes in 15 bits and sites chroma its own way; on average it must agree
    assert np.abs(ours - theirs).mean() < 0.004
    if layout == "444":
        assert np.abs(ours - theirs).max() < 0.012


@pytest.mark.parametrize("layout", SUBSAMPLINGS)
@pytest.mark.parametrize("bits", [8, 10])
@pytest.mark.parametrize("span", ["limited", "full"])
def test_the_round_trip_keeps_the_picture(layout, bits, span):
    picture = np.clip(lamps(Size(322, 182), 1)[0], 0, 1)
    coding = Coding("bt709", span, bits)
    back = planes_to_picture(
        picture_to_planes(picture, coding, SUBSAMPLINGS[layout]), coding, SUBSAMPLINGS[layout]
    )
    psnr = peak_signal_noise_ratio(picture, back, data_range=1)
    ssim = structural_similarity(picture, back, data_range=1, channel_axis=0)
    floor = 46 if bits == 8 else (58 if layout == "444" else 49)
    assert psnr > floor
    assert ssim > 0.985


@pytest.mark.parametrize("layout", SUBSAMPLINGS)
@pytest.mark.parametrize("size", [Size(1, 1), Size(3, 5), Size(33, 17)])
def test_odd_sizes_are_whole(layout, size):
    flat = np.full((3, size.height, size.width), 0.5, np.float32)
    back = planes_to_picture(
        picture_to_planes(flat, LIMITED, SUBSAMPLINGS[layout]), LIMITED, SUBSAMPLINGS[layout]
    )
    np.testing.assert_allclose(back, flat, atol=0.01)


def test_codes_that_are_whole_stay_as_they_are():
    codes = np.tile(np.arange(16, 236, dtype=np.uint8), (8, 1))
    grey = np.full_like(codes, 128)
    back = picture_to_planes(
        planes_to_picture(Planes(codes, grey, grey), LIMITED, (1, 1)), LIMITED, (1, 1)
    )
    np.testing.assert_array_equal(back.luma, codes)
    np.testing.assert_array_equal(back.cb, grey)


def test_dither_keeps_the_mean_between_codes_and_stands_still():
    level = (100.3 - 16) / 219
    luma = picture_to_planes(_flat([level] * 3), LIMITED, (2, 2)).luma
    assert luma.mean() == pytest.approx(100.3, abs=0.01)
    np.testing.assert_array_equal(luma, picture_to_planes(_flat([level] * 3), LIMITED, (2, 2)).luma)


def test_a_gradient_does_not_band():
    ramp = np.linspace(0.40, 0.44, 1024, dtype=np.float32)
    picture = np.broadcast_to(ramp, (3, 128, 1024)).copy()
    luma = picture_to_planes(picture, LIMITED, (1, 1)).luma.astype(np.float64)
    columns = luma.mean(axis=0).reshape(64, 16).mean(axis=1)
    exact = (ramp * 219 + 16).reshape(64, 16).mean(axis=1)
    assert np.abs(columns - exact).max() < 0.06


def test_guessed_matrices():
    # common practice, no source
    assert guessed_matrix(576) == "bt601"
    assert guessed_matrix(720) == guessed_matrix(2160) == "bt709"


def test_sixteen_bit_stills_are_rounded_and_clamped():
    picture = np.array([[-1, 0, 0.5, 1, 2]] * 3, np.float32).reshape(3, 1, 5)
    assert quantize(picture, 16)[0, :, 2].tolist() == [0, 0, 32768, 65535, 65535]
