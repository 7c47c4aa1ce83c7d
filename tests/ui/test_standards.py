"""The pages against published standards: accessibility, and the browser's own blend modes."""

import base64
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.conftest import a_look, lamps
from tests.ui.acting import (
    LONG,
    ask,
    idle,
    look_of,
    open_look,
    settled_picture,
    show_beside,
    stop_renders,
)
from yearning.core.cache import Cache
from yearning.core.compositing.blend import BLENDS, blend_pictures
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.engine.evaluator import Evaluator
from yearning.core.look.keyframes import ease_progress
from yearning.core.picture import Size


@pytest.fixture(scope="module")
def blank(browser):
    """A page without anything on it."""
    return browser.new_page()


def faults(page):
    """What axe-core finds against WCAG 2.2 AA."""
    if not page.evaluate("'axe' in window"):
        page.add_script_tag(path="web/node_modules/axe-core/axe.min.js")
    tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
    found = page.evaluate("tags => axe.run({ runOnly: tags, resultTypes: ['violations'] })", tags)
    return [(v["id"], [node["html"][:120] for node in v["nodes"]]) for v in found["violations"]]


def faults_in_both_rooms(page):
    """What axe-core finds in the room as it is, and in the other: light or dim."""
    found = []
    for _ in range(2):
        idle(page)
        found += faults(page)
        page.get_by_role("button", name=re.compile("^(Dim|Light) room$")).click()
    return found


def test_the_bench_meets_wcag_aa(page):
    open_look(page, look_of("glow", "curve"))
    page.get_by_role("button", name="Wipe").click()
    settled_picture(page)
    assert faults_in_both_rooms(page) == []


def test_output_meets_wcag_aa(page):
    open_look(page)
    show_beside(page, "Renders")
    for frame in ("First", "Last"):
        page.get_by_label(f"{frame} frame").fill("3")
    page.get_by_role("button", name="Render clip").click()
    expect(page.get_by_role("link", name="Download").first).to_be_visible(timeout=LONG)
    page.get_by_label("Last frame").fill("")
    page.get_by_role("button", name="Render clip").click()
    page.get_by_role("link", name=re.compile("^Output")).click()
    expect(page.get_by_role("region", name="Rendering now")).to_be_visible()
    found = faults_in_both_rooms(page)
    stop_renders(page)
    assert found == []


def test_the_manual_what_arrives_and_handles_meet_wcag_aa(page):
    open_look(page, look_of("crop", "glow"))
    show_beside(page, "Manual")
    stills = [
        {"name": f"a{n}.png", "mimeType": "image/png", "buffer": b"no picture"} for n in (1, 2)
    ]
    page.get_by_label("Files to bring in").set_input_files(stills)
    page.get_by_role("group", name="What these stills are").wait_for()
    settled_picture(page)
    assert faults_in_both_rooms(page) == []
    page.get_by_role("button", name="2 plates").click()
    page.get_by_role("button", name="Close", exact=True).wait_for(timeout=LONG)
    ask(page, "Where")
    for kind in ("Ellipse", "Hue", "Wash"):
        page.get_by_role("button", name=kind, exact=True).click()
    settled_picture(page)
    assert faults_in_both_rooms(page) == []
    page.get_by_role("button", name="Close step").click()  # how-tos and all treatments
    settled_picture(page)
    assert faults_in_both_rooms(page) == []


W3C_MODES = BLENDS[:16]
"""§9.1 and §9.2; the rest are no modes of the recommendation."""

CANVAS_NAMES = {"normal": "source-over", "colour": "color"} | {
    mode: mode.replace("colour", "color").replace(" ", "-") for mode in W3C_MODES[1:]
}


def canvas_blended(blank, mode, backdrop, source):
    """What Chromium's 2D canvas makes of pictures of 8 bits, R first; the source may have alpha."""
    height, width = backdrop.shape[:2]
    pictures = []
    for picture in (backdrop, source):
        opaque = np.full((height, width, 1), 255, np.uint8)
        whole = np.concatenate([picture, opaque], axis=2)[..., :4]
        pictures.append(base64.b64encode(np.ascontiguousarray(whole).tobytes()).decode())
    found = blank.evaluate(
        """([mode, width, height, pictures]) => {
          const [backdrop, source] = pictures.map((text) => {
            const canvas = new OffscreenCanvas(width, height);
            const bytes = Uint8ClampedArray.from(atob(text), (c) => c.charCodeAt(0));
            canvas.getContext("2d").putImageData(new ImageData(bytes, width, height), 0, 0);
            return canvas;
          });
          const pen = backdrop.getContext("2d");
          pen.globalCompositeOperation = mode;
          pen.drawImage(source, 0, 0);
          const data = pen.getImageData(0, 0, width, height).data;
          let text = "";
          for (let i = 0; i < data.length; i += 8192)
            text += String.fromCharCode(...data.subarray(i, i + 8192));
          return btoa(text);
        }""",
        [CANVAS_NAMES[mode], width, height, pictures],
    )
    data = np.frombuffer(base64.b64decode(found), np.uint8)
    return data.reshape(height, width, 4)[..., :3].astype(int)


def tolerance(mode):
    """Of 255. Exclusion: Chromium rounds the product to 8 bits before it doubles it."""
    return 2.01 if mode == "exclusion" else 1.01


@pytest.mark.parametrize("mode", W3C_MODES)
def test_chromiums_canvas_blends_the_same(mode, blank):
    """W3C Compositing and Blending Level 1, as Chromium's 2D canvas does it, to 1/255."""
    levels = np.arange(0, 256, 51)
    colours = np.stack(np.meshgrid(levels, levels, levels), -1).reshape(-1, 3).astype(np.uint8)
    backdrop = np.ascontiguousarray(np.broadcast_to(colours[None], (216, 216, 3)))
    source = np.ascontiguousarray(np.broadcast_to(colours[:, None], (216, 216, 3)))
    theirs = canvas_blended(blank, mode, backdrop, source)
    ours = 255 * blend_pictures(planes(backdrop), planes(source), mode).transpose(1, 2, 0)
    assert np.abs(theirs - ours).max() <= tolerance(mode)


def planes(picture):
    """A picture of 8 bits as the core has it."""
    return np.ascontiguousarray(picture.transpose(2, 0, 1) / np.float32(255), np.float32)


def round_to_8_bits(picture):
    """A picture of the core, rounded to 8 bits."""
    return np.rint(255 * np.clip(picture, 0, 1)).astype(np.uint8).transpose(1, 2, 0)


LAYERS = {
    "leak": {"reach": 1, "second": 0.8},
    "grain": {"gauge": "free", "strength": 0.12, "size": 16},
    "dust": {"specks": 1800, "hairs": 100, "size": 8},
}
"""One that adds light, one that adds a texture, one that paints marks."""


SMALL = Size(192, 108)
FOOTAGE = round_to_8_bits(lamps(SMALL, 1)[0])


def with_layer(kind, mode, picture, **mix):
    """The evaluator of one step on a still."""
    made = {"id": "a", "treatment": kind, "settings": LAYERS[kind], "mix": {"blend": mode} | mix}
    return Evaluator(a_look(made), ArrayClip([picture]), SMALL, Cache(1 << 26))


@pytest.mark.parametrize("mode", W3C_MODES[1:])
@pytest.mark.parametrize("kind", ["leak", "grain"])
def test_chromiums_canvas_lays_a_treatment_s_layer_the_same(kind, mode, blank):
    """The result in every mode, against the canvas's own blend of the layer on the footage.

    The canvas has the layer in 8 bits, and nothing beyond black and white; how far that rounding
    moves the result is allowed for.
    """
    below = planes(FOOTAGE)
    evaluator = with_layer(kind, mode, below)
    layer, result = evaluator.layer_picture(0, "a"), evaluator.picture(0)
    theirs = canvas_blended(blank, mode, FOOTAGE, round_to_8_bits(layer)).transpose(2, 0, 1)
    rounding = blend_pictures(below, planes(round_to_8_bits(layer)), mode) - blend_pictures(
        below, layer, mode
    )
    off = np.abs(theirs - 255 * np.clip(result, 0, 1)) - 255 * np.abs(rounding)
    within = (layer.min(axis=0) >= 0) & (layer.max(axis=0) <= 1)
    assert within.mean() > 0.9
    assert off[:, within].max() <= tolerance(mode)


@pytest.mark.parametrize("mode", W3C_MODES)
def test_chromiums_canvas_lays_marks_by_their_coverage_the_same(mode, blank):
    """As above; a canvas has colours multiplied by alpha in 8 bits, so thin marks are coarse."""
    below = planes(FOOTAGE)
    black, white = (
        with_layer("dust", "normal", np.full_like(below, v)).picture(0) for v in (0.0, 1.0)
    )
    alpha = 1 - (white - black)
    colour = np.clip(black / np.maximum(alpha, 1e-6), 0, 1)
    source = np.dstack([round_to_8_bits(colour), np.rint(255 * alpha[0]).astype(np.uint8)])
    theirs = canvas_blended(blank, mode, FOOTAGE, source).transpose(2, 0, 1)
    ours = 255 * with_layer("dust", mode, below).picture(0)
    step = (1 / 255) / np.maximum(alpha, 1 / 255)
    whole = blend_pictures(below, colour, mode)
    moved = [
        np.abs(blend_pictures(below, np.clip(colour + way, 0, 1), mode) - whole)
        for way in (-step, step)
    ]
    allowed = 255 * alpha * np.maximum(*moved) + tolerance(mode) + 1
    seen = alpha > 0.05
    assert seen.mean() > 0.02
    assert (np.abs(theirs - ours) <= allowed)[seen].all()
    assert np.median((np.abs(theirs - ours))[seen]) <= 1.5


EASES = {"ease": "ease", "straight": "linear"} | {
    handles: f"cubic-bezier{handles}"
    for handles in ((0.42, 0, 1, 1), (0.1, -0.6, 0.2, 1.6), (1, 0, 0, 1), (0, 0.9, 1, 0.1))
}


@pytest.mark.parametrize("ease", EASES)
def test_eases_are_the_browsers(ease, blank):
    """W3C Web Animations: the progress of an effect with that CSS easing function."""
    times = np.linspace(0, 1, 41)
    seen = blank.evaluate(
        """([easing, times]) => times.map(time => {
          const moving = document.body.animate(
            [{ opacity: 0 }, { opacity: 1 }], { duration: 1000, easing, fill: "both" });
          moving.pause();
          moving.currentTime = time * 1000;
          const { progress } = moving.effect.getComputedTiming();
          moving.cancel();
          return progress;
        })""",
        [EASES[ease], times.tolist()],
    )
    assert seen == pytest.approx([ease_progress(ease, time) for time in times], abs=1e-5)
