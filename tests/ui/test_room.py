"""Room for the picture: its share of the window, dividers, zoom, and two beside each other."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    ask,
    canvas_of,
    changed_picture,
    close_step,
    ends_of,
    idle,
    kept_steps,
    look_of,
    open_look,
    reload,
    settled_picture,
    with_glow,
    zoom_of,
)
from tests.ui.test_standards import faults


def share(page):
    """The picture's part of the window."""
    box, view = canvas_of(page).bounding_box(), page.viewport_size
    return box["width"] * box["height"] / (view["width"] * view["height"])


def test_the_picture_has_the_room_that_was_promised(page):
    """The shares of the window that the interface's design asks for, at 1280x800."""
    with_glow(page)
    settled_picture(page)
    assert share(page) >= 0.40
    ask(page, "When")  # with both lanes
    settled_picture(page)
    assert share(page) >= 0.40
    close_step(page)
    assert share(page) >= 0.50
    page.keyboard.press("f")
    expect(page.get_by_role("region", name="Path")).to_have_count(0)
    settled_picture(page)
    assert share(page) >= 0.85
    page.keyboard.press("Escape")
    expect(page.get_by_role("region", name="Path")).to_be_visible()


@pytest.mark.parametrize(("width", "height"), [(1024, 700), (1920, 1080), (2560, 1440)])
def test_nothing_is_off_the_screen(width, height, page):
    page.set_viewport_size({"width": width, "height": height})
    open_look(page, look_of("glow", "curve"))
    for question in ("What", "When"):
        ask(page, question)
        settled_picture(page)
        for kind in ("button", "link", "tab", "combobox"):
            for left, right, bottom, html in ends_of(page.get_by_role(kind)):
                assert left >= 0, html
                assert right <= width + 0.5, html
                assert bottom <= height + 0.5, html
        assert share(page) >= 0.36


def test_the_sheet_and_the_pages_meet_wcag_aa(page):
    with_glow(page)
    for width, dim in ((1024, False), (1920, False), (1280, True), (1024, True)):
        page.set_viewport_size({"width": width, "height": 800})
        if dim and width == 1280:
            page.get_by_role("button", name="Dim room").click()
        for question in ("Where", "Mixed", "When"):
            ask(page, question)
            idle(page)
            assert faults(page) == []
        page.keyboard.press("n")
        page.get_by_role("listbox", name="Treatments").wait_for()
        idle(page)
        assert faults(page) == []
        page.keyboard.press("Escape")


def test_parts_of_the_page_are_dragged_stay_so_and_are_put_back(page):
    with_glow(page)
    settled_picture(page)
    plain = canvas_of(page).bounding_box()["height"]
    bar = page.get_by_role("separator", name="Height of the path")
    box = bar.bounding_box()
    page.mouse.move(box["x"] + 300, box["y"] + 3)
    page.mouse.down()
    page.mouse.move(box["x"] + 300, box["y"] - 97, steps=5)
    page.mouse.up()
    settled_picture(page)
    low = canvas_of(page).bounding_box()["height"]
    assert plain - 110 < low < plain - 40
    side = page.get_by_role("separator", name="Width beside the picture")
    side.focus()
    wide = int(side.get_attribute("aria-valuenow"))
    page.keyboard.press("Shift+ArrowLeft")
    expect(side).to_have_attribute("aria-valuenow", str(wide + 80))
    idle(page)
    reload(page)
    settled_picture(page)
    expect(side).to_have_attribute("aria-valuenow", str(wide + 80))
    bar.dblclick()
    side.dblclick()
    settled_picture(page)
    assert canvas_of(page).bounding_box()["height"] == pytest.approx(plain, abs=1)


def test_zoom_goes_about_the_pointer_and_is_dragged(page):
    open_look(page)
    fitted = settled_picture(page)
    box = canvas_of(page).bounding_box()
    at = (round(box["x"] + 0.25 * box["width"]), round(box["y"] + 0.75 * box["height"]))
    page.mouse.move(*at)
    for _ in range(2):
        page.mouse.wheel(0, -100)
    assert zoom_of(page) == 1
    near = changed_picture(page, fitted)
    view = canvas_of(page).bounding_box()
    # what was under the pointer is under it still: the colours around are those of the fitted one
    y, x = at[1] - round(view["y"]), at[0] - round(view["x"])
    fy, fx = round(0.75 * fitted.shape[0]), round(0.25 * fitted.shape[1])
    around = near[y - 6 : y + 7, x - 6 : x + 7].mean(axis=(0, 1))
    np.testing.assert_allclose(
        around, fitted[fy - 3 : fy + 4, fx - 3 : fx + 4].mean((0, 1)), atol=9
    )
    page.mouse.down()
    page.mouse.move(at[0] + 40, at[1] - 30, steps=4)
    page.mouse.up()
    moved = changed_picture(page, near)
    np.testing.assert_array_equal(moved[:-30, 40:], near[30:, :-40])
    page.keyboard.press("z")
    np.testing.assert_array_equal(changed_picture(page, moved), fitted)


def test_zoom_ends_at_eight_to_one_and_an_eighth(page):
    open_look(page)
    for press, zoom in (("+", 8), ("-", 0.12)):
        page.keyboard.press("z")
        for _ in range(12):
            page.keyboard.press(press)
        settled_picture(page)
        assert zoom_of(page) == pytest.approx(zoom)
        page.get_by_role("button", name="Fit").click()
        settled_picture(page)
        assert 0.4 < zoom_of(page) < 0.6


def test_handles_keep_to_the_picture_at_every_zoom(page):
    open_look(page, look_of("focus"))
    grip = page.get_by_role("button", name=re.compile("^Centre: "))
    for presses in ((), ("z", "+", "+"), ("z", "z", "-", "-")):  # fit, near, far
        for press in presses:
            page.keyboard.press(press)
        settled_picture(page)
        scale = zoom_of(page)
        box = grip.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        before = kept_steps(page)[0]["settings"]["centre"]
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 60, y - 36, steps=4)
        page.mouse.up()
        across, down = kept_steps(page)[0]["settings"]["centre"]
        assert across == pytest.approx(before[0] + 60 / (1920 * scale), abs=0.004)
        assert down == pytest.approx(before[1] - 36 / (1080 * scale), abs=0.004)
        page.keyboard.press("Control+z")


def test_beside_shows_two_pictures_as_large_as_the_wall_takes_them(page):
    with_glow(page)
    settled_picture(page)
    page.get_by_role("button", name="Beside").click()
    pair = settled_picture(page)
    assert pair.shape[1] > 960  # two of 480 and more; in the fitted picture's room they had 290
    assert pair.shape[1] / pair.shape[0] == pytest.approx(32 / 9, rel=0.02)
