"""The Bench, used as an editor uses it: by its words, in a real browser."""

import base64
import json
import re
import urllib.request

import av
import cv2
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.conftest import BARGE
from yearning.core.blend import BLENDS, blended
from yearning.media.probe import probe_file


def _post(address, path, body):
    data = json.dumps(body).encode()
    headers = {"Content-Type": "application/json"}
    request = urllib.request.Request(address + path, data, headers, method="POST")
    return urllib.request.urlopen(request).read()


def _canvas(page):
    return page.locator("main canvas")


def _seen(page):
    """The canvas's pixels, R first, by way of a lossless PNG."""
    address = _canvas(page).evaluate("canvas => canvas.toDataURL('image/png')")
    data = np.frombuffer(base64.b64decode(address.partition(",")[2]), np.uint8)
    return cv2.imdecode(data, cv2.IMREAD_COLOR)[..., ::-1].astype(int)


def _settled(page):
    """The picture once it no longer changes."""
    page.wait_for_load_state("networkidle")
    before = _seen(page)
    for _ in range(40):
        page.wait_for_timeout(250)
        now = _seen(page)
        if now.std() > 0 and now.shape == before.shape and np.array_equal(now, before):
            return now
        before = now
    raise AssertionError("the picture did not come to rest")


def _new_look(page):
    page.get_by_role("button", name="Look ").click()
    page.get_by_role("button", name="New look", exact=True).click()
    expect(page.get_by_text("This look has no steps yet")).to_be_visible()


def _add(page, name):
    if page.get_by_role("button", name="Add a step").is_visible():
        page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name=re.compile(f" {name} ")).click()
    expect(page.get_by_role("region", name=f"{name}, open")).to_be_visible()


def _steps(page):
    names = page.locator("section[aria-label=Path] b, section[aria-label=Path] h2")
    return names.all_inner_texts()


def test_the_job_from_a_clip_to_a_file(page, tmp_path):
    page.get_by_label("Clip", exact=True).select_option("Lantern barge")
    _new_look(page)
    plain = _settled(page)
    for name in ("Grain", "Curve", "Glow"):  # each lands at its place in the order of light
        _add(page, name)
    page.get_by_role("button", name="Close step").click()
    order = page.get_by_role("button", name=re.compile("After (glow|curve|grain) "))
    expect(order).to_have_count(3)
    assert [o.split("\n")[1] for o in order.all_inner_texts()] == ["Glow", "Curve", "Grain"]
    treated = _settled(page)
    assert np.abs(treated - plain).mean() > 1

    page.get_by_role("button", name="Wipe").click()
    wiped = _settled(page)
    middle = wiped.shape[1] // 2
    np.testing.assert_array_equal(wiped[:, : middle - 20], plain[:, : middle - 20])
    np.testing.assert_array_equal(wiped[:, middle + 20 :], treated[:, middle + 20 :])
    page.get_by_role("button", name="Plain").click()

    page.get_by_role("button", name="Play").click()
    page.wait_for_function("document.querySelector('[data-timecode]').innerText >= '00:00:12'")
    page.get_by_role("button", name="Pause").click()
    page.keyboard.press("Home")
    expect(page.get_by_text("frame 0 of 192")).to_be_visible()
    np.testing.assert_array_equal(_settled(page), treated)

    page.get_by_role("button", name="Render clip").click()
    expect(page.get_by_role("progressbar")).to_be_visible()
    expect(page.get_by_text("frames/s")).to_be_visible(timeout=20000)
    with page.expect_download(timeout=240_000) as download:
        page.get_by_role("link", name="Download").first.click(timeout=240_000)
    path = tmp_path / "result.mp4"
    download.value.save_as(path)
    before, after = probe_file(BARGE), probe_file(path)
    assert (after.frames, after.duration) == (192, 8.0)
    assert (after.matrix, after.tagged, after.primaries, after.transfer) == ("bt709", True, 1, 1)
    assert after.sounds == before.sounds
    with av.open(str(path)) as made, av.open(str(BARGE)) as source:
        heard = [[bytes(p) for p in c.demux(audio=0) if p.size] for c in (made, source)]
    assert heard[0] == heard[1]


def test_a_file_dropped_on_the_page_becomes_a_clip(page, make_clip, address):
    path = make_clip("holiday.mp4", "libx264", frames=12, tone=True)
    data = base64.b64encode(path.read_bytes()).decode()
    page.evaluate(
        """data => {
          const bytes = Uint8Array.from(atob(data), c => c.charCodeAt(0));
          const carried = new DataTransfer();
          carried.items.add(new File([bytes], "holiday.mp4", { type: "video/mp4" }));
          for (const name of ["dragenter", "dragover", "drop"])
            window.dispatchEvent(new DragEvent(name, { dataTransfer: carried, cancelable: true }));
        }""",
        data,
    )
    expect(page.get_by_text("of 12", exact=False)).to_be_visible()
    expect(page.get_by_label("Clip", exact=True).locator("option:checked")).to_have_text("holiday")
    assert _settled(page).std() > 10


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("notes.mp4", b"no video at all", "notes.mp4: not a video file"),
        ("nothing.mov", b"", "nothing.mov: the file is empty"),
        ("torn.mp4", None, "torn.mp4: cut off"),
        (
            "bad.json",
            b'{"format": "yearning-look/1", "steps": [{"id": "a"}]}',
            "steps[0].treatment",
        ),
    ],
)
def test_a_file_that_can_not_be_used_says_so_until_it_is_read(name, data, says, page):
    if data is None:
        data = BARGE.read_bytes()[:4000]
    before = page.get_by_label("Clip", exact=True).locator("option").all_inner_texts()
    files = [{"name": name, "mimeType": "video/mp4", "buffer": data}]
    page.get_by_label("Files to bring in").set_input_files(files)
    told = page.get_by_role("alert").get_by_text(says)
    expect(told).to_be_visible()
    assert page.get_by_label("Clip", exact=True).locator("option").all_inner_texts() == before
    page.get_by_role("button", name="I have read this").click()
    expect(told).not_to_be_visible()


def _glow(page):
    _new_look(page)
    _add(page, "Glow")
    return page.get_by_role("slider", name="Spread")


def test_numbers_are_stepped_typed_dragged_and_put_back(page):
    spread = _glow(page)

    def shows(value):
        expect(spread).to_have_attribute("aria-valuenow", re.compile(value))

    shows("^52$")
    spread.focus()
    for key, expected in (("ArrowUp", 53), ("Shift+ArrowUp", 63), ("ArrowDown", 62)):
        page.keyboard.press(key)
        shows(f"^{expected}$")
    typed = page.get_by_role("textbox", name="Spread, in px")
    typed.fill("240")  # beyond the slider, as a file may
    typed.press("Enter")
    shows("^240$")
    typed.fill("wide")
    typed.press("Enter")
    expect(typed).to_have_attribute("aria-invalid", "true")
    typed.press("Escape")
    shows("^240$")
    spread.dblclick()
    shows("^52$")
    box = spread.bounding_box()
    page.mouse.move(box["x"] + 20, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 1, box["y"] + 10, steps=8)
    page.mouse.up()
    shows("^19[0-9]$")


def test_alt_steps_a_tenth(page):
    _glow(page)
    warmth = page.get_by_role("slider", name="Warmth")
    warmth.focus()
    page.keyboard.press("Alt+ArrowUp")
    page.get_by_role("button", name="Undo").wait_for()
    page.wait_for_load_state("networkidle")
    look = page.evaluate("fetch('/api/looks').then(r => r.json())")[0]["look"]
    assert look["steps"][0]["settings"]["warmth"] == pytest.approx(0.151)


def test_a_changed_setting_changes_the_picture(page):
    _glow(page)
    before = _settled(page)
    page.get_by_role("slider", name="From light").focus()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    assert np.abs(_settled(page) - before).mean() > 0.5


def test_undo_and_redo_also_after_the_page_is_opened_again(page):
    spread = _glow(page)
    spread.focus()
    page.keyboard.press("ArrowUp")
    expect(spread).to_have_attribute("aria-valuenow", "53")
    page.keyboard.press("Control+z")
    expect(spread).to_have_attribute("aria-valuenow", "52")
    page.keyboard.press("Control+Shift+z")
    expect(spread).to_have_attribute("aria-valuenow", "53")
    page.wait_for_load_state("networkidle")
    page.reload()
    expect(spread).to_have_attribute("aria-valuenow", "53")
    page.get_by_role("button", name="Undo").click()
    expect(spread).to_have_attribute("aria-valuenow", "52")


def test_the_curve_is_drawn_by_dragging_its_points(page):
    _new_look(page)
    _add(page, "Curve")
    plain = _settled(page)
    curve = page.get_by_role("group", name="Curve of luma")
    box = curve.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 4, steps=6)
    page.mouse.up()
    points = page.get_by_role("slider", name=re.compile(r"Point \d of 3"))
    expect(points).to_have_count(3)
    lifted = _settled(page)
    assert (lifted - plain).mean() > 10
    points.nth(1).focus()
    page.keyboard.press("Delete")
    expect(page.get_by_role("slider", name=re.compile(r"Point \d of 2"))).to_have_count(2)
    np.testing.assert_array_equal(_settled(page), plain)


def test_steps_are_moved_switched_off_and_removed(page):
    _new_look(page)
    plain = _settled(page)
    _add(page, "Glow")
    _add(page, "Curve")
    page.get_by_role("button", name="Move earlier").click()
    page.wait_for_load_state("networkidle")
    steps = page.evaluate("fetch('/api/looks').then(r => r.json())")[0]["look"]["steps"]
    assert [s["treatment"] for s in steps] == ["curve", "glow"]
    page.get_by_role("button", name="Remove step").click()
    page.get_by_role("button", name=re.compile("After glow ")).click()
    page.keyboard.press("Escape")
    page.get_by_role("switch", name="Step").click()
    np.testing.assert_array_equal(_settled(page), plain)
    expect(page.get_by_role("switch", name="Step")).to_have_attribute("aria-checked", "false")


def test_blend_and_amount_mix_the_step_back(page):
    _glow(page)
    before = _settled(page)
    page.get_by_label("Blend").select_option("difference")
    other = _settled(page)
    assert np.abs(other - before).mean() > 0.5
    page.get_by_role("slider", name="Amount").focus()
    for _ in range(10):
        page.keyboard.press("Shift+ArrowDown")
    _new = _settled(page)
    assert np.abs(_new - other).mean() > 0.5


def test_one_to_one_shows_the_true_pixels_of_the_full_result(page, address):
    _new_look(page)
    _add(page, "Grain")
    page.get_by_role("button", name="1 : 1").click()
    seen = _settled(page)
    look = page.evaluate("fetch('/api/looks').then(r => r.json())")[0]["look"]
    crop = {"x": 0.5, "y": 0.5, "width": seen.shape[1], "height": seen.shape[0]}
    clip = page.get_by_label("Clip", exact=True).input_value()
    ask = {"clip": int(clip), "frame": 0, "look": look, "crop": crop}
    exact = cv2.imdecode(np.frombuffer(_post(address, "/api/pictures", ask), np.uint8), 1)
    np.testing.assert_array_equal(seen, exact[..., ::-1])


def test_holding_the_compare_key_shows_the_footage(page):
    _new_look(page)
    plain = _settled(page)
    _add(page, "Glow")
    _settled(page)
    _canvas(page).click()
    page.keyboard.down("b")
    page.get_by_role("img", name=re.compile("as shot")).wait_for()
    np.testing.assert_array_equal(_settled(page), plain)
    page.keyboard.up("b")


def test_the_keys_step_through_time(page):
    for key, frame in (
        ("ArrowRight", 1), ("Shift+ArrowRight", 11), ("ArrowLeft", 10), ("End", 191), ("Home", 0),
    ):  # fmt: skip
        page.keyboard.press(key)
        expect(page.get_by_text(f"frame {frame} of 192")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()


def test_a_render_can_be_stopped(page):
    page.get_by_role("button", name="Render clip").click()
    page.get_by_role("button", name="Stop").first.click()
    expect(page.get_by_text("nothing of it was kept").first).to_be_visible(timeout=30000)


def test_looks_are_renamed_copied_and_opened(page):
    _new_look(page)
    page.get_by_role("button", name="Look ").click()
    name = page.get_by_label("Name of the look")
    name.fill("Evening one")
    name.press("Enter")
    expect(page.get_by_role("button", name="Look Evening one")).to_be_visible()
    name.fill("Evening two")
    page.get_by_role("button", name="Save a copy").click()
    expect(page.get_by_role("button", name="Look Evening two")).to_be_visible()
    page.get_by_role("button", name="Look ").click()
    page.get_by_role("button", name=re.compile("^Evening one")).click()
    expect(page.get_by_role("button", name="Look Evening one")).to_be_visible()


@pytest.mark.parametrize("dim", [False, True])
def test_the_bench_meets_wcag_aa(dim, page):
    _glow(page)
    _add(page, "Curve")
    page.get_by_role("button", name="Wipe").click()
    if dim:
        page.get_by_role("button", name="Dim room").click()
    _settled(page)
    page.add_script_tag(path="web/node_modules/axe-core/axe.min.js")
    tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
    found = page.evaluate("tags => axe.run({ runOnly: tags })", tags)
    faults = [(v["id"], [node["html"][:120] for node in v["nodes"]]) for v in found["violations"]]
    assert faults == []


CANVAS_NAMES = {"normal": "source-over"} | {
    mode: mode.replace("colour", "color").replace(" ", "-") for mode in BLENDS if mode != "normal"
}


@pytest.mark.parametrize("mode", BLENDS)
def test_chromiums_canvas_blends_the_same(mode, page):
    """W3C Compositing and Blending Level 1, as Chromium's 2D canvas does it, to 1/255."""
    levels = np.arange(0, 256, 15, dtype=np.uint8)
    found = page.evaluate(
        """([mode, levels]) => {
          const n = levels.length;
          const make = (pick) => {
            const canvas = new OffscreenCanvas(n, n);
            const pen = canvas.getContext("2d");
            const image = pen.createImageData(n, n);
            for (let y = 0; y < n; y++) for (let x = 0; x < n; x++) {
              const v = levels[pick(x, y)];
              image.data.set([v, v, v, 255], 4 * (y * n + x));
            }
            pen.putImageData(image, 0, 0);
            return [canvas, pen];
          };
          const [, pen] = make((x) => x);
          const [source] = make((x, y) => y);
          pen.globalCompositeOperation = mode;
          pen.drawImage(source, 0, 0);
          return Array.from(pen.getImageData(0, 0, n, n).data).filter((_, i) => i % 4 === 0);
        }""",
        [CANVAS_NAMES[mode], levels.tolist()],
    )
    b, s = np.meshgrid(levels / 255, levels / 255)
    ours = blended(
        np.stack([b] * 3).astype(np.float32), np.stack([s] * 3).astype(np.float32), mode
    )[0]
    # exclusion: Chromium rounds the product to 8 bits before it doubles it
    tolerance = 2.01 if mode == "exclusion" else 1.01
    assert np.abs(np.array(found).reshape(ours.shape) - 255 * ours).max() <= tolerance
