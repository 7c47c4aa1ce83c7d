"""The filmstrip and the lanes, enlarged about the play head."""

import pytest
from playwright.sync_api import expect

from tests.ui.acting import ask, idle, kept_steps, look_of, open_look


def zoom(page):
    return float(page.locator("[data-time-zoom]").get_attribute("data-time-zoom"))


def head(page):
    """Where the play head is on the page."""
    strip = page.get_by_role("slider", name="Frame").bounding_box()
    frame = int(page.get_by_role("slider", name="Frame").get_attribute("aria-valuenow"))
    return strip["x"] + strip["width"] * (frame + 0.5) / 192


def test_time_is_enlarged_about_the_play_head_and_shown_whole_again(page):
    open_look(page)
    strip = page.get_by_role("slider", name="Frame")
    whole = strip.bounding_box()
    page.mouse.click(whole["x"] + 0.3 * whole["width"], whole["y"] + 20)
    idle(page)
    before = head(page)
    page.get_by_role("button", name="Time enlarged", exact=True).click()
    page.get_by_role("button", name="Time enlarged", exact=True).click()
    assert zoom(page) == 4
    assert strip.bounding_box()["width"] == pytest.approx(4 * whole["width"], rel=0.01)
    assert head(page) == pytest.approx(before, abs=1.5)
    page.mouse.move(whole["x"] + 0.5 * whole["width"], whole["y"] + 20)
    page.mouse.wheel(0, -100)
    assert zoom(page) == 6
    assert head(page) == pytest.approx(before, abs=1.5)
    page.keyboard.press("End")  # the play head stays in view
    expect(strip).to_have_attribute("aria-valuenow", "191")
    assert whole["x"] <= head(page) <= whole["x"] + whole["width"]
    page.get_by_role("button", name="All", exact=True).click()
    assert zoom(page) == 1
    assert strip.bounding_box()["x"] == pytest.approx(whole["x"], abs=1)


def test_a_burst_is_drawn_to_the_frame_in_enlarged_time(page):
    open_look(page, look_of("exposure"))
    ask(page, "When")
    for _ in range(3):
        page.get_by_role("button", name="Time enlarged", exact=True).click()
    lane = page.get_by_label("Bursts", exact=True).bounding_box()
    a_frame = lane["width"] / 192
    assert a_frame > 30
    y = lane["y"] + lane["height"] / 2
    page.mouse.move(lane["x"] + 3.5 * a_frame, y)
    page.mouse.down()
    page.mouse.move(lane["x"] + 5.5 * a_frame, y, steps=4)
    page.mouse.up()
    (step,) = kept_steps(page)
    assert [(burst["from"], burst["to"]) for burst in step["bursts"]] == [(3, 5)]
