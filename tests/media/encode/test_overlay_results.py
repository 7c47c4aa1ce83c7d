"""Overlays as results: their alpha is read back, here and by others, as it was written."""

import cv2
import numpy as np
import OpenEXR
import pytest

from tests.conftest import a_look, step
from tests.media.plates.test_alpha import overlaid
from tests.rendering import render
from yearning.core.cache import Cache
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.media.decode.footage import Footage
from yearning.media.decode.probe import probe_file
from yearning.media.encode.results import Output
from yearning.media.errors import MediaError
from yearning.media.plates.assets import assets_in
from yearning.media.plates.plates import OpenPlate

LOOK = a_look(step("vignette", {"stops": -2}), step("dust", {"specks": 200, "size": 3}))
KINDS = [("a.mkv", 8), ("a.mkv", 10), ("a.mkv", 16), ("a.%02d.png", 8), ("a.%02d.png", 16)]


@pytest.fixture(scope="module")
def footage(clip):
    with Footage(clip) as opened:
        yield opened


def _make_picture(look, footage, frame, folder=None):
    assets = {} if folder is None else {"assets": assets_in(folder)}
    evaluator = Evaluator(look, footage, footage.size, Cache(0), keep="nothing", **assets)
    return evaluator.picture(frame)


@pytest.mark.parametrize(("name", "bits"), KINDS)
def test_laid_over_the_footage_as_a_plate_it_gives_the_look(name, bits, footage, tmp_path):
    render(footage, LOOK, tmp_path / name, output=Output(bits=bits, overlay=True), last=3)
    assert OpenPlate(tmp_path / name).has_matte
    plate = step("plate", {"file": name, "loop": "repeat"}, blend="normal", amount=1)
    laid = _make_picture(a_look(plate), footage, 2, tmp_path)
    shown, below = _make_picture(LOOK, footage, 2), footage.picture(2)
    legal = (below >= 0) & (below <= 1)
    assert np.abs(laid - shown)[legal].max() < 2.01 / (2**bits - 1)


def test_libavfilter_lays_it_over_as_the_look_does(footage, tmp_path):
    render(footage, LOOK, tmp_path / "a.mkv", output=Output(bits=8, overlay=True), last=3)
    below = footage.picture(2).clip(0, 1)
    theirs = overlaid(tmp_path / "a.mkv", 2, below, premultiplied=False)
    shown = _make_picture(LOOK, ArrayClip([below] * 4), 2)
    assert np.abs(theirs - shown).max() < 3.5 / 255


def test_png_is_straight_and_openexr_premultiplied(footage, tmp_path):
    """PNG, W3C, 6.2; OpenEXR, Technical Introduction, "Alpha"."""
    dark = a_look(step("flurry", {"amount": 2000, "near_share": 1, "colour": "#ff8000"}))
    for name in ("a%d.png", "a%d.exr"):
        render(footage, dark, tmp_path / name, output=Output(overlay=True), last=0)
    codes = cv2.imread(str(tmp_path / "a0.png"), cv2.IMREAD_UNCHANGED)
    assert codes.dtype == np.uint16
    alpha, red = codes[..., 3] / 65535, codes[..., 2] / 65535
    seen = alpha > 0.05
    assert seen.any()
    assert red[seen].min() > 0.97
    with OpenEXR.File(str(tmp_path / "a0.exr")) as file:
        pixels = file.channels()["RGBA"].pixels
    np.testing.assert_allclose(pixels[..., 3], alpha, atol=1e-3)
    np.testing.assert_allclose(pixels[..., 0][seen], alpha[seen], atol=0.03)


def test_it_has_not_the_clip_s_sound_and_the_size_that_was_asked(footage, tmp_path):
    output = Output(overlay=True, height=56)
    render(footage, LOOK, tmp_path / "a.mkv", output=output, first=4, last=9)
    found = probe_file(tmp_path / "a.mkv")
    assert (found.sounds, found.frames, found.size.height) == ((), 6, 56)


@pytest.mark.parametrize("name", ["a.mp4", "a.webm", "a%d.tif"])
def test_what_has_no_alpha_is_refused(name, footage, tmp_path):
    with pytest.raises(MediaError, match=r"no alpha here; .* FFV1 or DIR/%05d.png"):
        render(footage, LOOK, tmp_path / name, output=Output(overlay=True))
