"""One Undo over looks, how footage is read, and ranges."""

import numpy as np
from playwright.sync_api import expect

from tests.ui.acting import (
    add_step,
    changed_picture,
    idle,
    open_look,
    reload,
    settled_picture,
    show_beside,
    treatments_of,
)


def undo(page):
    return page.get_by_role("button", name="Undo", exact=True)


def redo(page):
    return page.get_by_role("button", name="Redo", exact=True)


def played_note(page):
    return page.get_by_role("note", name="Played: frames")


def test_how_footage_is_read_is_taken_back_and_made_again(page):
    open_look(page)
    show_beside(page, "Footage")
    before = settled_picture(page)
    page.get_by_label("Input range").select_option("full")
    full = changed_picture(page, before)
    expect(undo(page)).to_be_enabled()
    assert "how Lantern barge is read" in undo(page).get_attribute("title")
    undo(page).click()
    np.testing.assert_array_equal(changed_picture(page, full), before)
    expect(page.get_by_label("Input range")).to_have_value("")
    redo(page).click()
    np.testing.assert_array_equal(changed_picture(page, before), full)
    page.keyboard.press("Control+z")
    np.testing.assert_array_equal(changed_picture(page, full), before)


def test_ranges_and_changes_of_the_look_are_one_history_in_their_order(page):
    open_look(page)
    add_step(page, "Exposure")
    page.get_by_role("button", name="Close step").click()
    strip = page.get_by_role("slider", name="Frame").bounding_box()
    page.keyboard.down("Shift")
    page.mouse.move(strip["x"] + 0.25 * strip["width"], strip["y"] + 20)
    page.mouse.down()
    page.mouse.move(strip["x"] + 0.5 * strip["width"], strip["y"] + 20, steps=5)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(played_note(page)).to_be_visible()
    add_step(page, "Grain")
    idle(page)
    undo(page).click()  # the grain
    idle(page)
    assert treatments_of(page) == ["exposure"]
    expect(played_note(page)).to_be_visible()
    undo(page).click()  # the range
    expect(played_note(page)).to_have_count(0)
    assert treatments_of(page) == ["exposure"]
    redo(page).click()
    expect(played_note(page)).to_be_visible()
    undo(page).click()
    undo(page).click()  # the exposure
    idle(page)
    assert treatments_of(page) == []


def test_what_a_render_is_to_have_is_taken_back_after_the_page_is_opened_again(page):
    open_look(page)
    show_beside(page, "Renders")
    first = page.get_by_label("First frame")
    first.fill("12")
    page.keyboard.press("Tab")
    reload(page)
    expect(first).to_have_value("12")
    assert "what of Lantern barge is rendered" in undo(page).get_attribute("title")
    undo(page).click()
    expect(first).to_have_value("")
