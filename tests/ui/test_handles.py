"""What is set on the picture itself: crops, lines, ellipses, specks."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    LONG,
    add_step,
    ask,
    canvas_of,
    changed_picture,
    close_step,
    idle,
    kept_steps,
    look_of,
    open_look,
    settled_picture,
)
from tests.ui.test_standards import faults


def drag(page, name, dx, dy):
    """Drag what is set on the picture."""
    box = page.get_by_role("button", name=re.compile(f"^{name}: ")).bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=4)
    page.mouse.up()


def test_a_crop_is_a_rectangle_on_the_whole_picture(page):
    open_look(page)
    whole = settled_picture(page)
    add_step(page, "Crop")
    uncut = settled_picture(page)
    assert uncut[:, :10].max() > 0  # what is cut off is seen, dimmed
    expect(page.locator("[data-cut-off]")).to_be_visible()
    page.get_by_label("Shape").select_option("2.39:1")
    page.get_by_role("slider", name="Place down").press("Shift+ArrowRight")
    idle(page)
    canvas, window = canvas_of(page).bounding_box(), window_of(page)
    assert window["width"] / window["height"] == pytest.approx(2.39, abs=0.02)
    middle = window["y"] + window["height"] / 2 - canvas["y"]
    assert middle / canvas["height"] == pytest.approx(0.6, abs=0.01)
    cut = close_step(page)
    assert cut[:10].max() == 0
    assert cut[cut.shape[0] // 2, :10].max() > 0
    assert cut.shape != whole.shape or not np.array_equal(cut, whole)
    (crop,) = kept_steps(page)
    assert crop["settings"]["ratio"] == 2.39
    assert crop["settings"]["place"] == pytest.approx([0.5, 0.6])


def window_of(page):
    """The rectangle of an open crop or letterbox."""
    return page.locator("[data-window]").bounding_box()


def test_a_crop_s_rectangle_goes_the_way_the_hand_goes(page):
    open_look(page)
    settled_picture(page)
    add_step(page, "Crop")
    page.get_by_role("textbox", name="Size, in %").fill("50")
    page.keyboard.press("Enter")
    idle(page)
    before, canvas = window_of(page), canvas_of(page).bounding_box()
    x, y = before["x"] + 0.3 * before["width"], before["y"] + 0.3 * before["height"]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 60, y + 40, steps=4)
    page.mouse.up()
    idle(page)
    after = window_of(page)
    assert (after["x"] - before["x"], after["y"] - before["y"]) == pytest.approx((-60, 40), abs=1)
    (crop,) = kept_steps(page)
    wanted = [0.5 - 60 / canvas["width"], 0.5 + 40 / canvas["height"]]
    assert crop["settings"]["place"] == pytest.approx(wanted, abs=0.004)
    page.get_by_role("button", name=re.compile("^What is left of the picture")).press("ArrowRight")
    (crop,) = kept_steps(page)
    assert crop["settings"]["place"][0] == pytest.approx(wanted[0] + 0.01, abs=0.004)


def test_a_crop_s_corner_sizes_it_and_the_one_across_stays(page):
    open_look(page)
    settled_picture(page)
    add_step(page, "Crop")
    before = window_of(page)
    drag(page, "left upper corner", before["width"] / 4, before["height"] / 4)
    idle(page)
    after = window_of(page)
    assert after["width"] == pytest.approx(0.75 * before["width"], abs=2)
    right = before["x"] + before["width"]
    assert after["x"] + after["width"] == pytest.approx(right, abs=2)
    (crop,) = kept_steps(page)
    assert crop["settings"]["size"] == pytest.approx(0.75, abs=0.01)


def test_a_vignette_is_an_opening_on_the_frame_that_is_left(page):
    open_look(page)
    add_step(page, "Vignette")
    add_step(page, "Crop")
    page.keyboard.press(",")
    before, canvas = settled_picture(page), canvas_of(page).bounding_box()
    frame = canvas["height"]  # a square one
    left = canvas["x"] + (canvas["width"] - frame) / 2
    across = page.get_by_role("button", name=re.compile("^Size across")).bounding_box()
    edge = across["x"] + across["width"] / 2 - left
    assert edge / frame == pytest.approx(0.5 + 0.425, abs=0.01)
    drag(page, "Size across", -0.2 * frame, 0)
    smaller = changed_picture(page, before)
    drag(page, "Centre", 0.1 * frame, 0)
    moved = changed_picture(page, smaller)
    drag(page, "Softness", 30, 30)  # its inner line, since the outer one is out of the frame
    changed_picture(page, moved)
    vignette = kept_steps(page)[0]["settings"]
    assert vignette["size"] == pytest.approx([0.225, 0.425], abs=0.01)
    assert vignette["centre"] == pytest.approx([0.6, 0.5], abs=0.01)
    assert vignette["softness"] < 0.9


def test_a_plate_is_moved_sized_and_turned_on_the_picture(page):
    open_look(page, look_of("plate"))
    page.get_by_label("Plate", exact=True).select_option("make:paper")
    expect(page.locator("[data-plate]")).to_be_visible(timeout=LONG)
    settled_picture(page)
    canvas = canvas_of(page).bounding_box()
    before = page.locator("[data-plate]").bounding_box()
    assert before["width"] >= canvas["width"] - 2
    drag(page, "Scale", -80, -45)
    idle(page)
    small = page.locator("[data-plate]").bounding_box()
    drag(page, "The plate's middle", 0.2 * canvas["width"], -0.1 * canvas["height"])
    idle(page)
    moved = page.locator("[data-plate]").bounding_box()
    assert moved["x"] - small["x"] == pytest.approx(0.2 * canvas["width"], abs=2)
    drag(page, "Turn", 60, 0)
    idle(page)
    (plate,) = kept_steps(page)
    assert plate["settings"]["scale"] == pytest.approx(small["width"] / before["width"], abs=0.02)
    assert plate["settings"]["scale"] < 0.9
    assert plate["settings"]["place"] == pytest.approx([0.7, 0.4], abs=0.01)
    assert 5 < plate["settings"]["turn"] < 60


def test_what_a_step_lays_is_seen_alone_and_blended_as_is_chosen(page):
    open_look(page, look_of("lines"))
    before = settled_picture(page)
    ask(page, "Mixed")
    expect(page.get_by_label("Lays")).to_have_count(0)  # as made there is no choice
    page.get_by_label("Blend").select_option("soft light")
    soft = changed_picture(page, before)
    page.get_by_role("button", name="See layer").click()
    layer = changed_picture(page, soft)
    assert np.ptp(layer, axis=2).max() <= 1  # grey lines, nothing of the picture
    expect(page.get_by_text("the layer of Lines alone")).to_be_visible()
    page.keyboard.press("Escape")
    np.testing.assert_array_equal(changed_picture(page, layer), soft)
    page.get_by_label("Lays").select_option("the whole treated picture")
    treated = changed_picture(page, soft)
    page.get_by_label("Below black, above white").select_option("keep")
    np.testing.assert_array_equal(settled_picture(page), treated)  # nothing lies beyond here
    (lines,) = kept_steps(page)
    assert (lines["mix"]["layer"], lines["mix"]["out_of_range"]) == ("treated", "keep")


def test_a_leak_is_set_by_a_line_that_goes_all_around_the_frame(page):
    open_look(page, look_of("leak"))
    before = settled_picture(page)
    canvas = canvas_of(page).bounding_box()
    drag(page, "Light comes in", 30, 0.25 * canvas["height"])
    moved = changed_picture(page, before)
    drag(page, "Length", 0.3 * canvas["height"], 40)
    changed_picture(page, moved)
    (leak,) = kept_steps(page)
    assert leak["settings"]["position"] == pytest.approx(0.65, abs=0.01)
    assert leak["settings"]["reach"] == pytest.approx(0.75, abs=0.01)
    moved = settled_picture(page)
    drag(page, "Light comes in", 0.4 * canvas["width"], canvas["height"])
    changed_picture(page, moved)
    (leak,) = kept_steps(page)
    assert leak["settings"]["from_edge"] == "bottom"
    assert leak["settings"]["position"] == pytest.approx(0.4, abs=0.01)


def test_a_leak_s_lobes_are_placed_one_by_one(page):
    open_look(page, look_of("leak"))
    before = settled_picture(page)
    page.get_by_label("Patches", exact=True).select_option("placed")
    before = changed_picture(page, before)
    for _ in range(2):
        page.get_by_role("button", name="Add a lobe").click()
        before = changed_picture(page, before)
    canvas = canvas_of(page).bounding_box()
    drag(page, "Lobe 2 comes in", canvas["width"], -canvas["height"])
    before = changed_picture(page, before)
    strength = page.get_by_label("Lobe 2: light, in %")
    strength.fill("180")
    strength.press("Enter")
    before = changed_picture(page, before)
    page.get_by_role("button", name=re.compile("^Lobe 1 comes in: left")).press("Delete")
    changed_picture(page, before)
    (leak,) = kept_steps(page)
    (lobe,) = leak["settings"]["placed"]
    assert (lobe["from_edge"], lobe["light"]) == ("top right", 1.8)
    assert faults(page) == []


def test_a_line_is_bent_on_the_picture_by_its_middle_and_by_its_corner(page):
    open_look(page, look_of("bend"))
    before = settled_picture(page)
    high = canvas_of(page).bounding_box()["height"]
    middle = page.get_by_role("button", name=re.compile("^Barrel: 0.12")).bounding_box()
    drag(page, "Barrel", 0, -0.02 * high)
    moved = changed_picture(page, before)
    (bend,) = kept_steps(page)
    # where a line shows that ran at 0.84 of the half height, by Brown's model
    unit = np.hypot(16 / 9, 1) * high / 2
    shown = canvas_of(page).bounding_box()["y"] + high / 2 - middle["y"] - middle["height"] / 2
    r = (shown + 0.02 * high) / unit
    wanted = (0.84 * high / 2 / unit / r - 1) / r**2
    assert bend["settings"]["barrel"] == pytest.approx(wanted, abs=0.02)
    drag(page, "Edge barrel", -20, 12)
    changed_picture(page, moved)
    (bend,) = kept_steps(page)
    assert bend["settings"]["edge_barrel"] > 0.03


def test_a_speck_is_taken_out_by_a_click_and_brought_back(page):
    open_look(page, look_of("dust"))
    for name, value in (("Specks, in /s", "200"), ("Size, in ×", "3")):
        page.get_by_role("textbox", name=name).fill(value)
        page.keyboard.press("Enter")
    speck = page.get_by_role("button", name=re.compile(r"^Remove speck 0\.")).first
    name = speck.get_attribute("aria-label").removeprefix("Remove ")
    before = settled_picture(page)
    speck.click()
    without = changed_picture(page, before)
    expect(page.get_by_role("button", name=f"Remove {name}")).to_have_count(0)
    (dust,) = kept_steps(page)
    assert dust["settings"]["removed"] == [name]
    page.get_by_role("textbox", name="Specks, in /s").fill("900")
    page.keyboard.press("Enter")
    changed_picture(page, without)
    expect(page.get_by_role("button", name=f"Remove {name}")).to_have_count(0)
    page.get_by_role("button", name=f"Bring back {name}").click()
    expect(page.get_by_role("button", name=f"Remove {name}")).to_be_visible()


def test_what_is_set_on_the_picture_is_dragged_moved_by_keys_and_keyed(page):
    open_look(page, look_of("focus"))
    before = settled_picture(page)
    drag(page, "Centre", -90, 30)
    moved = changed_picture(page, before)
    canvas = canvas_of(page).bounding_box()
    wanted = [0.5 - 90 / canvas["width"], 0.5 + 30 / canvas["height"]]
    (focus,) = kept_steps(page)
    assert focus["settings"]["centre"] == pytest.approx(wanted, abs=0.01)
    page.get_by_role("button", name=re.compile("^Size down")).focus()
    page.keyboard.press("Shift+ArrowUp")
    changed_picture(page, moved)
    page.keyboard.press("k")
    idle(page)
    (focus,) = kept_steps(page)
    assert focus["settings"]["size"] == pytest.approx([0.16, 0.3])
    assert list(focus["keys"]) == ["size"]
    page.keyboard.press("ArrowLeft")  # it moves the handle, not the play head
    expect(page.get_by_text("0 of 192", exact=True)).to_be_visible()
