"""Pictures from Python: those of the command line and of renders, bit for bit."""

import json
import threading

import cv2
import numpy as np
import pytest

import yearning as yn
from tests.conftest import lamps
from yearning.cli import main
from yearning.core.picture import Size

LOOK = yn.Look([yn.Glow(), yn.Curve(luma=[(0, 0.06), (1, 1)]), yn.Grain()], name="Lamps")
REACHING = yn.Look([yn.Split(red_delay=2), yn.Glow(temporal_smoothing=2)])


@pytest.fixture
def opened_clip(clip):
    with yn.open_clip(clip) as opened:
        yield opened


def test_a_picture_saved_is_the_command_line_s_file(opened_clip, clip, tmp_path):
    yn.write_look(LOOK, tmp_path / "a.look.json")
    look = ["--look", str(tmp_path / "a.look.json"), "-o", str(tmp_path / "cli.png")]
    main(["frame", str(clip), "7", "--height", "56", *look])
    picture = LOOK.picture(opened_clip, 7, height=56)
    assert (picture.dtype, picture.shape) == (np.float32, (3, 56, 96))
    yn.save(picture, tmp_path / "library.png")
    assert (tmp_path / "library.png").read_bytes() == (tmp_path / "cli.png").read_bytes()


@pytest.mark.parametrize("look", [LOOK, REACHING], ids=["pointwise", "reaching in time"])
def test_pictures_in_order_are_those_asked_for_one_by_one(look, opened_clip):
    frames = range(3, 30, 4)
    for frame, picture in zip(frames, look.pictures(opened_clip, frames, height=56), strict=True):
        assert np.array_equal(picture, look.picture(opened_clip, frame, height=56))


def test_a_frame_in_memory_is_the_clip_s_own(opened_clip):
    plain = yn.Look()
    held = yn.ArrayClip(list(plain.pictures(opened_clip)))
    for frame in (0, 5):
        assert np.array_equal(LOOK.picture(held, frame), LOOK.picture(opened_clip, frame))
        assert np.array_equal(plain.picture(held, frame), plain.picture(opened_clip, frame))


@pytest.mark.parametrize(("white", "dtype"), [(255, np.uint8), (65535, np.uint16), (1, float)])
def test_arrays_as_other_libraries_have_them_are_clips(white, dtype):
    pictures = np.stack(lamps(Size(64, 36), 2)).clip(0, 1)
    given = (pictures.transpose(0, 2, 3, 1) * white).astype(dtype)
    clip = yn.ArrayClip(given, channel_axis=-1)
    expected = given.transpose(0, 3, 1, 2) / np.float32(white)
    found = np.stack([yn.Look().picture(clip, frame) for frame in range(2)])
    np.testing.assert_allclose(found, expected, atol=1e-7)
    planar = yn.ArrayClip(found)
    assert np.array_equal(LOOK.picture(clip, 1), LOOK.picture(planar, 1))


def test_a_crop_leaves_what_it_leaves_in_a_render(opened_clip):
    square = yn.Look([yn.Crop(ratio=1)])
    (made,) = square.pictures(opened_clip, range(1))
    assert made.shape == (3, 112, 112)
    assert square.picture(opened_clip, 0).shape == (3, 112, 112)
    assert square.picture(opened_clip, 0, after="footage").shape == (3, 112, 192)


def test_pictures_are_shown_by_notebooks(opened_clip):
    picture = LOOK.picture(opened_clip, 0)
    shown = cv2.imdecode(np.frombuffer(picture._repr_png_(), np.uint8), cv2.IMREAD_COLOR_RGB)
    assert np.abs(shown.transpose(2, 0, 1) / 255 - picture.clip(0, 1)).max() < 1.5 / 255
    assert picture[0]._repr_png_() is None
    assert "<td>glow-1</td>" in LOOK._repr_html_()
    assert "&lt;b&gt;" in yn.Look(name="<b>")._repr_html_()


def frames_of(shape, dtype=np.float32):
    return np.zeros(shape, dtype)


def with_nan():
    pictures = frames_of((3, 3, 36, 64))
    pictures[1, 2, 5, 7] = np.nan
    return yn.ArrayClip(pictures)


REFUSED = {
    "channels last": (lambda: yn.ArrayClip(frames_of((2, 36, 64, 3))), "give channel_axis=-1"),
    "grey": (lambda: yn.ArrayClip(frames_of((2, 36, 64))), r"\(3, height, width\), not"),
    "signed": (lambda: yn.ArrayClip(frames_of((2, 3, 36, 64), np.int32)), "type int32"),
    "none": (lambda: yn.ArrayClip([]), "there are none"),
    "another axis": (lambda: yn.ArrayClip(frames_of((2, 3, 36, 64)), channel_axis=1), "0 or -1"),
    "another shape": (
        lambda: LOOK.picture(yn.ArrayClip([frames_of((3, 36, 64)), frames_of((3, 9, 9))]), 1),
        r"pictures\[1\]: float32 of shape \(3, 9, 9\)",
    ),
    "not a number": (lambda: LOOK.picture(with_nan(), 1), r"pictures\[1\]: nan at \[2, 5, 7\]"),
    "too many lines": (lambda: LOOK.picture(with_nan(), 0, height=99), "the clip has 36 lines"),
    "no such step": (lambda: LOOK.picture(with_nan(), 0, after="mist"), "after: .*'mist'"),
    "a render of arrays": (
        lambda: yn.render(with_nan(), LOOK, "a.mp4"),
        "in memory has no file that workers could open",
    ),
    "baked grain": (lambda: yn.bake(LOOK, "a.cube"), "glow works on more than a pixel's colour"),
    "baked as a picture": (lambda: yn.bake(yn.Look(), "a.png"), "ends in .cube"),
}


@pytest.mark.parametrize("what", REFUSED)
def test_what_can_not_be_met_is_told(what):
    ask, words = REFUSED[what]
    with pytest.raises(yn.YearningError, match=words):
        ask()


@pytest.mark.parametrize("what", [{"after": "mist"}, {"height": 99}])
def test_what_many_frames_can_not_be_had_as_is_told_at_once(what):
    with pytest.raises(yn.YearningError):
        LOOK.pictures(with_nan(), **what)


@pytest.mark.parametrize("frames", [range(2, 9), range(-1, 2), range(2, -1, -1)])
def test_frames_that_are_not_there_are_told_at_once(frames):
    with pytest.raises(IndexError, match="frames 0 to 2"):
        LOOK.pictures(with_nan(), frames)


def test_frames_before_and_after_the_one_that_can_not_be_used_are_made():
    lighter, clip = yn.Look([yn.Exposure(stops=1)]), with_nan()
    assert np.isfinite(lighter.picture(clip, 0)).all()
    assert np.isfinite(lighter.picture(clip, 2)).all()


def test_what_is_measured_is_the_command_line_s(opened_clip, clip, tmp_path, capsys):
    yn.write_look(LOOK, tmp_path / "a.look.json")
    for command, measure in (("steady", yn.steadiness), ("flashes", yn.flashes)):
        main([command, str(clip), "--look", str(tmp_path / "a.look.json"), "--json"])
        done = []
        report = json.dumps(measure(opened_clip, LOOK, on_frame=done.append))
        assert json.loads(report) == json.loads(capsys.readouterr().out)
        assert done[-1] == opened_clip.frames


def test_pictures_in_memory_are_measured_at_their_rate():
    flashing = np.zeros((24, 3, 36, 64), np.float32)
    flashing[::4] = flashing[1::4] = 1
    assert not yn.flashes(yn.ArrayClip(flashing, rate=24))["passes"]
    assert yn.flashes(yn.ArrayClip(flashing, rate=6))["passes"]
    assert yn.steadiness(yn.ArrayClip(flashing), yn.Look())["summary"]["added"] == 0


def test_a_baked_look_reads_back(tmp_path):
    look = yn.Look([yn.Curve(luma=[(0, 0.1), (1, 0.9)])])
    assert yn.bake(look, tmp_path / "a.cube", 17) < 0.01
    grey = yn.ArrayClip(np.full((1, 3, 36, 64), 0.5, np.float32))
    table = yn.Look([yn.Table(file="a.cube")], folder=tmp_path)
    np.testing.assert_allclose(table.picture(grey, 0), look.picture(grey, 0), atol=0.01)


def test_a_starter_s_bursts_are_made_for_the_clip(opened_clip):
    begun = yn.starter("three-way split hits", opened_clip)
    assert yn.starter("three-way split hits")["hits"].bursts == ()
    assert all(burst.last < opened_clip.frames for burst in begun["hits"].bursts)
    assert begun["hits"].bursts
    assert LOOK.picture(opened_clip, 0).shape == begun.picture(opened_clip, 0).shape


def test_a_render_from_python_is_its_pictures_and_goes_on_when_stopped(opened_clip, tmp_path):
    out = tmp_path / "stills" / "%05d.png"
    stop, seen = threading.Event(), []

    def on_progress(progress):
        seen.append(progress)
        if progress.done:
            stop.set()

    asked = {"frames": (2, 11), "workers": 1}
    with pytest.raises(yn.Halted):
        yn.render(opened_clip, LOOK, out, **asked, on_progress=on_progress, stop=stop)
    assert "of 10 frames" in str(seen[-1])
    done = yn.render(opened_clip, LOOK, out, **asked)
    assert (done.total, done.done) == (10, 10)
    names = [f"{frame:05d}.png" for frame in range(2, 12)]
    assert sorted(path.name for path in out.parent.iterdir()) == names
    for frame in (2, 11):
        yn.save(LOOK.picture(opened_clip, frame), tmp_path / "one.png")
        written = (out.parent / f"{frame:05d}.png").read_bytes()
        assert written == (tmp_path / "one.png").read_bytes()
