"""Looks deleted and brought back, how the page was left, and a server that is gone."""

import re

from playwright.sync_api import expect

from tests.ui.acting import (
    LONG,
    ask,
    idle,
    look_of,
    open_look,
    reload,
    settled_picture,
    treatments_of,
    with_frames_ahead,
    with_glow,
    zoom_of,
)


def test_looks_are_searched_deleted_and_brought_back_by_undo(page):
    open_look(page, look_of("glow"))
    page.get_by_role("button", name=re.compile("^Look ")).click()
    page.get_by_label("Name of the look").fill("Thrown away")
    page.get_by_label("Name of the look").press("Enter")
    idle(page)
    page.get_by_role("button", name="Delete Thrown away").click()
    idle(page)
    expect(page.get_by_role("button", name="Delete Thrown away")).to_have_count(0)
    expect(page.get_by_text("Thrown away is deleted.")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Looks")).to_have_count(0)
    expect(page.get_by_role("button", name="Look Thrown away")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Look Thrown away")).to_be_visible()
    assert treatments_of(page) == ["glow"]


def test_escape_closes_the_looks_whatever_was_pressed_in_it(page):
    open_look(page)
    looks = page.get_by_role("button", name=re.compile("^Look "))
    looks.click()
    page.get_by_label("Name of the look").fill("Renamed")
    page.get_by_role("button", name="Rename").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Looks")).to_have_count(0)
    looks.click()
    page.get_by_role("button", name="New look", exact=True).click()
    looks.click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Looks")).to_have_count(0)


def test_the_page_opens_where_it_was_left_and_each_clip_as_it_was(page):
    with_glow(page)
    ask(page, "Where")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+Home")  # what is played begins here
    page.get_by_role("button", name="1 : 1").click()
    settled_picture(page)
    page.get_by_label("Clip", exact=True).select_option("Glasshouse")
    expect(page.get_by_text(re.compile("^10 of "))).to_be_visible()
    page.keyboard.press("End")
    settled_picture(page)
    page.get_by_label("Clip", exact=True).select_option("Lantern barge")
    expect(page.get_by_text("10 of 192", exact=True)).to_be_visible()
    expect(page.get_by_label("Played: frames 10 to 191")).to_be_visible()
    settled_picture(page)
    reload(page)
    page.get_by_role("img", name="Frame 10").wait_for()
    expect(page.get_by_label("Played: frames 10 to 191")).to_be_visible()
    expect(page.get_by_role("tab", name="Where")).to_have_attribute("aria-selected", "true")
    settled_picture(page)
    assert zoom_of(page) == 1


def test_a_server_that_is_gone_is_said_until_it_is_back(page):
    open_look(page)
    page.route("**/api/v1/renders/events", lambda route: route.abort())
    reload(page)
    gone = page.get_by_role("alert").get_by_text("The server does not answer")
    expect(gone).to_be_visible()
    page.route("**/api/v1/pictures", lambda route: route.abort())
    expect(page.get_by_text("0 of 192", exact=True)).to_be_visible()
    page.keyboard.press("ArrowRight")
    asked = page.get_by_role("alert").get_by_text("The server did not answer; is it still running?")
    expect(asked).to_be_visible()
    page.unroute("**/api/v1/pictures")
    page.unroute("**/api/v1/renders/events")
    expect(gone).to_have_count(0)  # nobody has to load the page again
    expect(asked).to_have_count(0)
    expect(page.get_by_text("1 of 192", exact=True)).to_be_visible()
    assert settled_picture(page).std() > 10  # the picture that could not be had has come


def test_at_rest_frames_are_made_so_that_play_finds_them(page):
    with_glow(page)
    with_frames_ahead(page)
    settled_picture(page)
    page.wait_for_function("document.querySelectorAll('[data-kept]').length > 0", timeout=LONG)
    reached = page.locator("[data-kept]").last.bounding_box()["width"]
    page.wait_for_function(
        "wide => document.querySelector('[data-kept]').getBoundingClientRect().width > wide",
        arg=reached,
        timeout=LONG,
    )
    page.get_by_role("slider", name="Spread").press("Shift+ArrowRight")
    expect(page.locator("[data-kept]")).to_have_count(0)  # those were of another look
