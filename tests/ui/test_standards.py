"""The pages against published standards: accessibility, and the browser's own blend modes."""

import base64
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.ui.acting import LONG, add_step, beside, idle, settled, stop_renders, with_glow
from yearning.core.compositing.blend import BLENDS, blended
from yearning.core.look.keyframes import ease_progress


@pytest.fixture(scope="module")
def blank(browser):
    """A page without anything on it."""
    return browser.new_page()


def faults(page):
    """What axe-core finds against WCAG 2.2 AA."""
    page.add_script_tag(path="web/node_modules/axe-core/axe.min.js")
    tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
    found = page.evaluate("tags => axe.run({ runOnly: tags })", tags)
    return [(v["id"], [node["html"][:120] for node in v["nodes"]]) for v in found["violations"]]


@pytest.mark.parametrize("dim", [False, True])
def test_the_bench_meets_wcag_aa(dim, page):
    with_glow(page)
    add_step(page, "Curve")
    page.get_by_role("button", name="Wipe").click()
    if dim:
        page.get_by_role("button", name="Dim room").click()
    settled(page)
    assert faults(page) == []


@pytest.mark.parametrize("dim", [False, True])
def test_output_meets_wcag_aa(dim, page):
    settled(page)
    if dim:
        page.get_by_role("button", name="Dim room").click()
    beside(page, "Renders")
    for frame in ("First", "Last"):
        page.get_by_label(f"{frame} frame").fill("3")
    page.get_by_role("button", name="Render clip").click()
    expect(page.get_by_role("link", name="Download").first).to_be_visible(timeout=LONG)
    page.get_by_label("Last frame").fill("")
    page.get_by_role("button", name="Render clip").click()
    page.get_by_role("link", name=re.compile("^Output")).click()
    expect(page.get_by_role("region", name="Rendering now")).to_be_visible()
    idle(page)
    found = faults(page)
    stop_renders(page)
    assert found == []


W3C_MODES = BLENDS[:16]
"""§9.1 and §9.2; the rest are no modes of the recommendation."""

CANVAS_NAMES = {"normal": "source-over", "colour": "color"} | {
    mode: mode.replace("colour", "color").replace(" ", "-") for mode in W3C_MODES[1:]
}


@pytest.mark.parametrize("mode", W3C_MODES)
def test_chromiums_canvas_blends_the_same(mode, blank):
    """W3C Compositing and Blending Level 1, as Chromium's 2D canvas does it, to 1/255."""
    levels = np.arange(0, 256, 51)
    colours = np.stack(np.meshgrid(levels, levels, levels), -1).reshape(-1, 3)  # 216 of them
    found = blank.evaluate(
        """([mode, colours]) => {
          const n = colours.length;
          const make = (pick) => {
            const canvas = new OffscreenCanvas(n, n);
            const pen = canvas.getContext("2d");
            const image = pen.createImageData(n, n);
            for (let y = 0; y < n; y++) for (let x = 0; x < n; x++)
              image.data.set([...colours[pick(x, y)], 255], 4 * (y * n + x));
            pen.putImageData(image, 0, 0);
            return [canvas, pen];
          };
          const [, pen] = make((x) => x);
          const [source] = make((x, y) => y);
          pen.globalCompositeOperation = mode;
          pen.drawImage(source, 0, 0);
          const data = pen.getImageData(0, 0, n, n).data;
          let text = "";
          for (let i = 0; i < data.length; i += 8192)
            text += String.fromCharCode(...data.subarray(i, i + 8192));
          return btoa(text);
        }""",
        [CANVAS_NAMES[mode], colours.tolist()],
    )
    theirs = np.frombuffer(base64.b64decode(found), np.uint8).reshape(216, 216, 4)[..., :3]
    planes = (colours.T / 255).astype(np.float32)
    backdrop = np.ascontiguousarray(np.broadcast_to(planes[:, None], (3, 216, 216)))
    source = np.ascontiguousarray(np.broadcast_to(planes[:, :, None], (3, 216, 216)))
    ours = 255 * blended(backdrop, source, mode).transpose(1, 2, 0)
    # exclusion: Chromium rounds the product to 8 bits before it doubles it
    tolerance = 2.01 if mode == "exclusion" else 1.01
    assert np.abs(theirs - ours).max() <= tolerance


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
