"""The Bench, used as an editor uses it: by its words, in a real browser."""

import re

import av
import cv2
import numpy as np
from playwright.sync_api import expect

from tests.conftest import BARGE
from tests.ui.acting import (
    LONG,
    add_step,
    ask,
    bring_in,
    canvas_of,
    changed_picture,
    close_step,
    ends_of,
    idle,
    kept_steps,
    let_frames_pass,
    look_of,
    open_look,
    reload,
    send,
    settled_picture,
    show_beside,
    with_glow,
)
from tests.waiting import wait_for
from yearning.core.picture import Size
from yearning.media.decode.probe import probe_file


def test_the_job_from_a_clip_to_a_file(page, make_clip, tmp_path):
    size = Size(640, 360)
    source = make_clip("small boat.mp4", "libx264", frames=75, size=size, tone=True, tag=1)
    bring_in(page, source)
    open_look(page, clip="small boat")
    plain = settled_picture(page)
    for name in ("Grain", "Curve", "Glow"):  # each lands at its place in the order of light
        add_step(page, name)
    page.get_by_role("button", name="Close step").click()
    order = page.get_by_role("button", name=re.compile("After (glow|curve|grain) "))
    expect(order).to_have_count(3)
    assert [o.split("\n")[1] for o in order.all_inner_texts()] == ["Glow", "Curve", "Grain"]
    treated = changed_picture(page, plain)
    assert np.abs(treated - plain).mean() > 1

    page.get_by_role("button", name="Wipe").click()
    wiped = changed_picture(page, treated)
    middle = wiped.shape[1] // 2
    np.testing.assert_array_equal(wiped[:, : middle - 20], plain[:, : middle - 20])
    np.testing.assert_array_equal(wiped[:, middle + 20 :], treated[:, middle + 20 :])
    page.get_by_role("button", name="Plain").click()

    page.get_by_role("button", name="Play").click()
    page.wait_for_function("document.querySelector('[data-timecode]').innerText >= '00:00:00:12'")
    page.get_by_role("button", name="Pause").click()
    page.keyboard.press("Home")
    expect(page.get_by_text("0 of 75", exact=True)).to_be_visible()
    np.testing.assert_array_equal(settled_picture(page), treated)

    show_beside(page, "Renders")
    page.get_by_role("button", name="Render clip").click()
    expect(page.get_by_role("progressbar")).to_be_visible()
    expect(page.get_by_text("frames/s")).to_be_visible(timeout=LONG)
    expect(page.get_by_role("progressbar")).to_have_count(0, timeout=LONG)
    with page.expect_download(timeout=LONG) as download:  # the last one is the first
        page.get_by_role("link", name="Download").first.click(timeout=LONG)
    path = tmp_path / "result.mp4"
    download.value.save_as(path)
    before, after = probe_file(source), probe_file(path)
    assert (after.frames, after.duration) == (75, 3.0)
    assert (after.matrix, after.tagged, after.primaries, after.transfer) == ("bt709", True, 1, 1)
    assert after.sounds == before.sounds
    with av.open(str(path)) as made, av.open(str(source)) as given:
        heard = [[bytes(p) for p in c.demux(audio=0) if p.size] for c in (made, given)]
    assert heard[0] == heard[1]


def test_a_file_dropped_on_the_page_becomes_a_clip(page, make_clip):
    open_look(page)
    path = make_clip("holiday.mp4", "libx264", frames=12, tone=True)
    drag = {"x": 300, "y": 300, "data": {"items": [], "files": [str(path)]}}
    drag["data"]["dragOperationsMask"] = 1
    devtools = page.context.new_cdp_session(page)
    for kind in ("dragEnter", "dragOver"):
        devtools.send("Input.dispatchDragEvent", {"type": kind} | drag)
    expect(page.get_by_text("Let go to bring it in")).to_be_visible()
    devtools.send("Input.dispatchDragEvent", {"type": "drop"} | drag)
    expect(page.get_by_text("Let go to bring it in")).to_have_count(0)
    expect(page.get_by_text("of 12", exact=False)).to_be_visible()
    expect(page.get_by_label("Clip", exact=True).locator("option:checked")).to_have_text("holiday")
    assert settled_picture(page).std() > 10


UNUSABLE = [
    ("notes.mp4", b"no video at all", "notes.mp4: not a video file"),
    ("nothing.mov", b"", "nothing.mov: the file is empty"),
    ("torn.mp4", BARGE.read_bytes()[:4000], "torn.mp4: cut off"),
    ("bad.json", b'{"format": "yearning-look/3", "steps": [{"id": "a"}]}', "steps[0].treatment"),
]


def test_a_file_that_can_not_be_used_says_so_until_it_is_read(page):
    open_look(page)
    clips = page.get_by_label("Clip", exact=True).locator("option")
    before = clips.all_inner_texts()
    for name, data, says in UNUSABLE:
        files = [{"name": name, "mimeType": "video/mp4", "buffer": data}]
        page.get_by_label("Files to bring in").set_input_files(files)
        told = page.get_by_role("alert").get_by_text(says)
        expect(told).to_be_visible()
        assert clips.all_inner_texts() == before
        page.get_by_role("button", name="Close", exact=True).click()
        expect(told).not_to_be_visible()


def test_a_changed_setting_changes_the_picture(page):
    with_glow(page)
    before = settled_picture(page)
    page.get_by_role("slider", name="Threshold").focus()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    assert np.abs(changed_picture(page, before) - before).mean() > 0.5


def test_undo_and_redo_also_after_the_page_is_opened_again(page):
    spread = with_glow(page)
    spread.focus()
    page.keyboard.press("ArrowUp")
    expect(spread).to_have_attribute("aria-valuenow", "53")
    page.keyboard.press("Control+z")
    expect(spread).to_have_attribute("aria-valuenow", "52")
    page.keyboard.press("Control+Shift+z")
    expect(spread).to_have_attribute("aria-valuenow", "53")
    idle(page)
    reload(page)
    expect(spread).to_have_attribute("aria-valuenow", "53")
    page.get_by_role("button", name="Undo").click()
    expect(spread).to_have_attribute("aria-valuenow", "52")


def test_the_curve_is_drawn_by_dragging_its_points(page):
    open_look(page, look_of("curve"))
    plain = settled_picture(page)
    curve = page.get_by_role("group", name="Curve of luma")
    box = curve.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 4, steps=6)
    page.mouse.up()
    points = page.get_by_role("slider", name=re.compile(r"Point \d of 3"))
    expect(points).to_have_count(3)
    lifted = changed_picture(page, plain)
    assert (lifted - plain).mean() > 10
    points.nth(1).focus()
    page.keyboard.press("Delete")
    expect(page.get_by_role("slider", name=re.compile(r"Point \d of 2"))).to_have_count(2)
    np.testing.assert_array_equal(changed_picture(page, lifted), plain)


def test_steps_are_moved_switched_off_and_removed(page):
    open_look(page)
    plain = settled_picture(page)
    add_step(page, "Glow")
    add_step(page, "Curve")
    page.get_by_role("button", name="Move earlier").click()
    assert [step["treatment"] for step in kept_steps(page)] == ["curve", "glow"]
    page.get_by_role("button", name="Remove step").click()
    page.get_by_role("button", name=re.compile("After glow ")).click()
    page.get_by_role("switch", name="Step").click()
    expect(page.get_by_role("switch", name="Step")).to_have_attribute("aria-checked", "false")
    np.testing.assert_array_equal(close_step(page), plain)


def test_a_step_is_added_from_where_one_is_whichever_is_open(page):
    """At 1280 pixels nothing of the row's last key is cut off, nor of what it opens."""
    open_look(page, look_of("glow", "curve", "grain"))
    page.get_by_role("button", name="Close step").click()
    width = page.viewport_size["width"]
    add = page.get_by_role("button", name="Add a step")
    for name in ("Glow", "Curve", "Grain"):
        page.get_by_role("button", name=f"After {name.lower()} ").click()
        expect(page.get_by_role("region", name=f"{name}, open")).to_be_visible()
        box = add.bounding_box()
        assert box["x"] + box["width"] <= width
        add.click()
        tiles = page.get_by_role("listbox", name="Treatments").get_by_role("option")
        ends = ends_of(tiles)
        assert max(right for _, right, _, _ in ends) <= width
        below = page.get_by_role("region", name="Time").bounding_box()["y"]
        assert max(bottom for _, _, bottom, _ in ends) <= below
        page.keyboard.press("Escape")
        expect(add).to_be_visible()


def test_a_picture_that_came_late_is_not_shown_over_a_newer_one(page):
    spread = with_glow(page)
    narrow = settled_picture(page)
    held, late = [], []

    def hold_the_first(route):
        """The first answer is there, but is not given out until it is too late."""
        if held:
            route.continue_()
        else:
            held.append(route)  # before the answer is here: another may be asked for meanwhile
            late.append(route.fetch())

    page.route("**/api/v1/pictures", hold_the_first)
    spread.focus()
    page.keyboard.press("Shift+ArrowUp")
    wait_for(lambda: let_frames_pass(page, 1) or late)

    def go_on():
        """A picture that the page takes for nearly there is not given up at once."""
        for key in ("ArrowDown", "ArrowUp"):
            page.keyboard.press(f"Shift+{key}")
        return held[0].request.failure

    wait_for(go_on)
    page.keyboard.press("Shift+ArrowUp")
    newest = changed_picture(page, narrow)
    held[0].fulfill(response=late[0])
    let_frames_pass(page, 10)
    np.testing.assert_array_equal(settled_picture(page), newest)


def test_play_keeps_what_it_has_shown(page):
    open_look(page, look_of("curve"))
    page.get_by_role("button", name="Play").click()
    page.wait_for_function("document.querySelector('[data-timecode]').innerText >= '00:00:00:08'")
    page.get_by_role("button", name="Pause").click()
    shown = page.locator("[data-timecode]").inner_text()
    let_frames_pass(page, 24)
    assert page.locator("[data-timecode]").inner_text() == shown


def test_blend_and_amount_mix_the_step_back(page):
    with_glow(page)
    before = settled_picture(page)
    ask(page, "Mixed")
    page.get_by_label("Blend").select_option("difference")
    other = changed_picture(page, before)
    assert np.abs(other - before).mean() > 0.5
    page.get_by_role("slider", name="Amount").focus()
    for _ in range(10):
        page.keyboard.press("Shift+ArrowDown")
    _new = changed_picture(page, other)
    assert np.abs(_new - other).mean() > 0.5


def test_one_to_one_shows_the_true_pixels_of_the_full_result(page):
    open_look(page, look_of("grain"))
    page.get_by_role("button", name="1 : 1").click()
    seen = settled_picture(page)
    look = page.evaluate("fetch('/api/v1/looks').then(r => r.json())")[0]["look"]
    crop = {"x": 0.5, "y": 0.5, "width": seen.shape[1], "height": seen.shape[0]}
    clip = page.get_by_label("Clip", exact=True).input_value()
    ask = {"clip": int(clip), "frame": 0, "look": look, "height": 1080, "crop": crop}
    exact = cv2.imdecode(np.frombuffer(send(page, "/api/v1/pictures", ask).body(), np.uint8), 1)
    np.testing.assert_array_equal(seen, exact[..., ::-1])


def test_holding_the_compare_key_shows_the_footage(page):
    open_look(page)
    plain = settled_picture(page)
    add_step(page, "Glow")
    close_step(page)
    canvas_of(page).click()
    page.keyboard.down("b")
    page.get_by_role("img", name=re.compile("as shot")).wait_for()
    np.testing.assert_array_equal(settled_picture(page), plain)
    page.keyboard.up("b")


def test_space_plays_also_after_a_click_on_a_button(page):
    open_look(page)
    page.get_by_role("button", name="Wipe").click()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Pause")).to_be_visible()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Play")).to_be_visible()
    page.get_by_role("button", name="Plain").focus()  # by keyboard, Space is the button's own
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Plain")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("button", name="Play")).to_be_visible()


def test_the_keys_step_through_time(page):
    open_look(page)
    for key, frame in (
        ("ArrowRight", 1), ("Shift+ArrowRight", 11), ("ArrowLeft", 10), ("End", 191), ("Home", 0),
    ):  # fmt: skip
        page.keyboard.press(key)
        expect(page.get_by_text(f"{frame} of 192", exact=True)).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()


def test_a_render_is_made_as_it_is_wanted(page, tmp_path):
    open_look(page)
    show_beside(page, "Renders")
    page.get_by_label("Render as").select_option("AV1")
    page.get_by_label("Quality", exact=True).select_option("draft")
    page.get_by_label("Size of the result").select_option("360")
    page.get_by_label("First frame").fill("24")
    page.get_by_label("Last frame").fill("9999")
    expect(page.get_by_label("Last frame")).to_have_attribute("aria-invalid", "true")
    page.get_by_label("Last frame").fill("47")
    page.get_by_role("button", name="Render clip").click()
    render = page.get_by_role("listitem").filter(
        has_text="AV1 draft, CRF 46, 360 lines, frames 24 to 47"
    )
    with page.expect_download(timeout=LONG) as download:
        render.get_by_role("link", name="Download").click(timeout=LONG)
    assert download.value.suggested_filename.endswith(".webm")
    path = tmp_path / "result.webm"
    download.value.save_as(path)
    found = probe_file(path)
    assert (found.codec, found.size, found.frames, found.duration) == ("av1", (640, 360), 24, 1.0)
    assert [sound.codec for sound in found.sounds] == ["opus"]
    page.get_by_label("Clip", exact=True).select_option("Glasshouse")
    expect(page.get_by_label("First frame")).to_have_value("")


def test_a_render_can_be_stopped(page):
    open_look(page)
    for name in ("Glow", "Grain", "Grain"):  # it takes a while
        add_step(page, name)
    idle(page)
    page.get_by_role("button", name="Render clip").click()
    page.get_by_role("button", name="Stop").first.click()
    expect(page.get_by_role("button", name="Go on").first).to_be_visible()


def test_looks_are_renamed_copied_and_opened(page):
    open_look(page)
    page.get_by_role("button", name=re.compile("^Look ")).click()
    name = page.get_by_label("Name of the look")
    name.fill("Evening one")
    name.press("Enter")
    expect(page.get_by_role("button", name="Look Evening one")).to_be_visible()
    name.fill("Evening two")
    page.get_by_role("button", name="Save a copy").click()
    expect(page.get_by_role("button", name="Look Evening two")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Look ")).click()
    page.get_by_role("button", name=re.compile("^Evening one")).click()
    expect(page.get_by_role("button", name="Look Evening one")).to_be_visible()
