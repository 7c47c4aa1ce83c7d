"""Alpha of plates: of movies and numbered stills, straight and premultiplied."""

from fractions import Fraction

import av
import cv2
import numpy as np
import OpenEXR
import pytest

from tests.conftest import RecordingClip, a_look, step
from yearning.core.cache import Cache
from yearning.core.engine.evaluator import Evaluator
from yearning.core.image.filters import area_resized
from yearning.core.picture import Size
from yearning.media.decode.footage import Footage
from yearning.media.errors import MediaError
from yearning.media.plates.alpha import (
    average_layer,
    averaged_alpha,
    straighten,
    tells_premultiplied,
    whole_layer,
)
from yearning.media.plates.assets import assets_in
from yearning.media.plates.plates import OpenPlate
from yearning.media.plates.stills_plate import write_plate_of_stills

SIZE = Size(160, 96)
FRAMES = 6
COLOUR = np.array([0.9, 0.5, 0.2], np.float32)[:, None, None]


def disc(frame):
    """Straight colour and the alpha of a soft disc that moves to the right."""
    y, x = np.mgrid[0 : SIZE.height, 0 : SIZE.width]
    far = np.hypot(x - 50 - 8 * frame, y - 48)
    alpha = np.clip((36 - far) / 16, 0, 1).astype(np.float32)
    light = 0.7 + 0.3 * np.cos(x / 9)
    return (COLOUR * light).astype(np.float32), alpha


def codes_of(frame, premultiplied, top):
    colour, alpha = disc(frame)
    if premultiplied:
        colour = colour * alpha
    return np.rint(np.concatenate([colour, alpha[None]]) * top)


def encode_disc(path, codec, pixel_format, premultiplied=False, options=None):
    """A movie of the disc; colour goes through libswscale where the format has Y'CbCr."""
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=24, options=options or {})
        stream.width, stream.height, stream.pix_fmt = *SIZE, pixel_format
        if codec.startswith("libvpx"):
            stream.metadata["alpha_mode"] = "1"
        for n in range(FRAMES):
            codes = codes_of(n, premultiplied, 65535).astype(np.uint16).transpose(1, 2, 0)
            frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(codes), format="rgba64le")
            if pixel_format != "rgba64le":
                frame = frame.reformat(format=pixel_format, dst_colorspace="ITU709")
            frame.pts, frame.time_base = n, Fraction(1, 24)
            out.mux(stream.encode(frame))
        out.mux(stream.encode(None))
    return path


MOVIES = {
    "ffv1 rgb": ("p.mkv", "ffv1", "bgra", 0.012, {}),
    "ffv1 deep": ("p.mkv", "ffv1", "yuva444p10le", 0.01, {}),
    "ffv1 4:2:0": ("p.mkv", "ffv1", "yuva420p", 0.03, {}),
    "animation": ("p.mov", "qtrle", "argb", 0.012, {}),
    "4444": ("p.mov", "prores_ks", "yuva444p10le", 0.05, {"profile": "4444", "alpha_bits": "16"}),
    "webm": ("p.webm", "libvpx-vp9", "yuva420p", 0.08, {"crf": "4", "b": "0"}),
}


@pytest.mark.parametrize("premultiplied", [False, True])
@pytest.mark.parametrize("kind", MOVIES)
def test_a_movie_s_alpha_covers_as_libavfilter_s_overlay_does(kind, premultiplied, tmp_path):
    name, codec, pixel_format, within, options = MOVIES[kind]
    path = encode_disc(tmp_path / name, codec, pixel_format, premultiplied, options)
    plate = OpenPlate(path)
    assert (plate.frames, plate.has_matte, plate.was_premultiplied) == (FRAMES, True, premultiplied)
    below = np.full((3, SIZE.height, SIZE.width), 0.25, np.float32)
    below[1] = np.linspace(0.1, 0.9, SIZE.width)
    look = a_look(step("plate", {"file": name, "loop": "repeat"}, blend="normal", amount=1))
    clip = RecordingClip([below] * FRAMES)
    for frame in (0, 4, 2):
        made = Evaluator(look, clip, SIZE, Cache(1 << 26), assets=assets_in(tmp_path)).picture(
            frame
        )
        theirs = overlaid(path, frame, below, premultiplied)
        assert np.abs(made - theirs).max() < within + 0.012  # theirs has 8 bits
        colour, alpha = disc(frame)
        assert np.abs(made - (alpha * colour + (1 - alpha) * below)).mean() < within / 3


def overlaid(path, frame, below, premultiplied):
    """A frame of the movie over a picture, in R'G'B' of 8 bits: straight by libavfilter's overlay.

    Premultiplied by Porter and Duff's "over", A + (1 − a) B, since that overlay goes by the frames'
    own mark, which PyAV can't set.
    """
    with Footage(path) as footage:
        picture, alpha = footage.picture(frame), footage.alpha_rows(frame)(0, footage.size.height)
    if premultiplied:
        return picture + (1 - alpha) * below
    graph = av.filter.Graph()
    sides = [
        graph.add_buffer(width=below.shape[2], height=below.shape[1], format=name, time_base="1/24")
        for name in ("gbrp", "gbrap")
    ]
    over, sink = graph.add("overlay", "format=gbrp"), graph.add("buffersink")
    for n, side in enumerate(sides):
        side.link_to(over, 0, n)
    over.link_to(sink)
    graph.configure()
    layers = (below, np.concatenate([picture, alpha[None]]))
    for side, planes, name in zip(sides, layers, ("rgb24", "rgba"), strict=True):
        codes = np.rint(planes.clip(0, 1) * 255).astype(np.uint8).transpose(1, 2, 0)
        made = av.VideoFrame.from_ndarray(np.ascontiguousarray(codes), format=name)
        made = made.reformat(format="gbrp" if name == "rgb24" else "gbrap")
        made.pts = 0
        side.push(made)
    return sink.pull().to_ndarray(format="rgb24").transpose(2, 0, 1) / np.float32(255)


def stills(folder, ending):
    for n in range(FRAMES):
        colour, alpha = disc(n)
        if ending == ".exr":
            light = np.where(colour < 0.081, colour / 4.5, ((colour + 0.099) / 1.099) ** (1 / 0.45))
            channels = dict(zip("RGB", (light * alpha).astype(np.float32), strict=True))
            channels["A"] = alpha
            OpenEXR.File({}, channels).write(str(folder / f"p.{n:03d}.exr"))
        else:
            codes = np.concatenate([colour[::-1], alpha[None]]).transpose(1, 2, 0)
            cv2.imwrite(
                str(folder / f"p.{n:03d}{ending}"), np.rint(codes * 65535).astype(np.uint16)
            )
    return folder / f"p.%03d{ending}"


@pytest.mark.parametrize("ending", [".png", ".exr"])
def test_numbered_stills_are_a_plate_with_their_alpha(ending, tmp_path):
    """PNG is straight and OpenEXR premultiplied, in light, as their specifications have it."""
    plate = OpenPlate(stills(tmp_path, ending))
    assert (plate.frames, plate.has_matte, plate.rate) == (FRAMES, True, 24)
    assert assets_in(tmp_path).plate(f"p.%03d{ending}").frames == FRAMES
    for frame in (3, 0):
        colour, alpha = disc(frame)
        np.testing.assert_allclose(plate.matte(frame, SIZE), alpha, atol=2e-5)
        seen = alpha > 0.01
        np.testing.assert_allclose(plate.picture(frame, SIZE)[:, seen], colour[:, seen], atol=2e-3)


@pytest.mark.parametrize("premultiplied", [False, True])
def test_what_is_clear_does_not_colour_what_is_not_in_a_smaller_picture(premultiplied):
    """A straight plate whose clear parts are green has no green rim, nor a premultiplied a dark."""
    colour, alpha = disc(0)
    colour = np.broadcast_to(COLOUR, colour.shape).copy()
    given = colour * alpha if premultiplied else np.where(alpha > 0, colour, 0)
    given[1][alpha == 0] = 0 if premultiplied else 1
    for size in (Size(80, 48), Size(40, 24), Size(67, 41), SIZE):
        found, cover = reduce_layer(given, alpha, size, premultiplied)
        seen = cover > 0.02
        assert np.abs(found - COLOUR)[:, seen].max() < 1e-3
        assert cover.mean() == pytest.approx(alpha.mean(), rel=1e-3)


def reduce_layer(colour, alpha, size, premultiplied):
    """As a plate has it: straight colour is averaged by its alpha, premultiplied as it is."""
    rows = lambda top, bottom: np.ascontiguousarray(colour[:, top:bottom])  # noqa: E731
    alpha_rows = lambda top, bottom: alpha[top:bottom]  # noqa: E731
    if size == SIZE:
        return whole_layer(rows, alpha_rows, size, premultiplied)
    if not premultiplied:
        return average_layer(rows, alpha_rows, SIZE, size)
    small = averaged_alpha(alpha_rows, SIZE, size)
    picture = area_resized(colour, size).copy()
    straighten(picture, small)
    return picture, small


@pytest.mark.parametrize("size", [Size(80, 48), Size(53, 31), Size(159, 96), SIZE])
@pytest.mark.parametrize("premultiplied", [False, True])
def test_a_smaller_layer_is_opencv_s_mean_of_what_is_seen(size, premultiplied):
    """OpenCV's INTER_AREA of colour times alpha and of alpha, divided; no two bands differ."""
    colour, alpha = disc(1)
    given = (colour * alpha if premultiplied else colour).astype(np.float32)
    found, cover = reduce_layer(given, alpha, size, premultiplied)
    theirs = cv2.resize(alpha, tuple(size), interpolation=cv2.INTER_AREA)
    np.testing.assert_allclose(cover, theirs, atol=1e-6)
    seen = theirs > 0.004
    for ours, plane in zip(found, (colour * alpha).astype(np.float32), strict=True):
        total = cv2.resize(plane, tuple(size), interpolation=cv2.INTER_AREA)
        np.testing.assert_allclose(ours[seen], total[seen] / theirs[seen], atol=2e-4)


def test_clear_pixels_beside_what_is_seen_have_its_colour():
    """Within two pixels: the mean of those seen, as they cover; farther away nothing is read."""
    colour, alpha = disc(2)
    found, _ = reduce_layer((colour * alpha).astype(np.float32), alpha, SIZE, premultiplied=True)
    seen = alpha > 1 / 1024
    about = cv2.blur(seen.astype(np.float32), (5, 5)) > 1e-3
    weights = cv2.blur(np.where(seen, alpha, 0), (5, 5))
    for ours, plane in zip(found, colour, strict=True):
        mean = cv2.blur(np.where(seen, alpha * plane, 0), (5, 5)) / np.maximum(weights, 1e-9)
        rim = about & ~seen
        np.testing.assert_allclose(ours[rim], mean[rim], atol=2e-4)
        assert not ours[~about].any()


def test_dark_soft_parts_do_not_tell_how_alpha_was_written():
    colour, alpha = disc(0)
    assert tells_premultiplied(colour, alpha) is False
    assert tells_premultiplied(colour * alpha, alpha) is True
    assert tells_premultiplied(0.1 * colour * alpha, alpha) is True
    assert tells_premultiplied(0.1 * colour, np.maximum(alpha, 0.15)) is False  # thin dark smoke
    assert tells_premultiplied(0.01 * colour, np.maximum(alpha, 0.15)) is None
    assert tells_premultiplied(colour, np.ones_like(alpha)) is None


def test_a_tiff_says_how_its_alpha_was_written(tmp_path):
    """TIFF 6.0, section 18: ExtraSamples 1 is associated alpha; OpenCV writes none of it."""
    colour, alpha = disc(0)
    codes = np.concatenate([colour[::-1], alpha[None]]).transpose(1, 2, 0)
    path = tmp_path / "p.tif"
    cv2.imwrite(str(path), np.rint(codes * 65535).astype(np.uint16))
    assert not OpenPlate(path).was_premultiplied
    np.testing.assert_allclose(OpenPlate(path).matte(0, SIZE), alpha, atol=2e-5)


def test_the_step_may_say_how_alpha_was_written(tmp_path):
    encode_disc(tmp_path / "p.mkv", "ffv1", "bgra", premultiplied=True)
    below = np.zeros((3, SIZE.height, SIZE.width), np.float32)

    def lay_plate(alpha):
        look = a_look(step("plate", {"file": "p.mkv", "alpha": alpha}, blend="normal", amount=1))
        clip = RecordingClip([below])
        return Evaluator(look, clip, SIZE, Cache(1 << 26), assets=assets_in(tmp_path)).picture(0)

    colour, alpha = disc(0)
    np.testing.assert_allclose(lay_plate("as found"), colour * alpha, atol=0.012)
    np.testing.assert_array_equal(lay_plate("premultiplied"), lay_plate("as found"))
    np.testing.assert_allclose(lay_plate("straight"), colour * alpha * alpha, atol=0.012)


@pytest.mark.parametrize("ending", [".png", ".exr"])
def test_numbered_stills_are_written_as_one_movie_with_their_alpha(ending, tmp_path):
    pattern = stills(tmp_path, ending)
    write_plate_of_stills(pattern, tmp_path / "p.mkv")
    plate, same = OpenPlate(tmp_path / "p.mkv"), OpenPlate(pattern)
    assert (plate.frames, plate.size, plate.rate) == (FRAMES, SIZE, 24)
    assert not plate.was_premultiplied
    for frame in (0, 5):
        seen = plate.matte(frame, SIZE) > 0
        np.testing.assert_allclose(plate.matte(frame, SIZE), same.matte(frame, SIZE), atol=2e-5)
        ours, theirs = (each.picture(frame, SIZE)[:, seen] for each in (plate, same))
        np.testing.assert_allclose(ours, np.clip(theirs, 0, 1), atol=2e-5)


def test_numbered_stills_with_a_gap_are_refused(tmp_path):
    pattern = stills(tmp_path, ".png")
    (tmp_path / "p.002.png").unlink()
    with pytest.raises(MediaError, match=r"p\.002\.png: missing"):
        assets_in(tmp_path).plate(pattern.name)
