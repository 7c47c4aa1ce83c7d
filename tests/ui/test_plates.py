"""Plates on the page: brought in, made, skipped in part, and gone."""

import re

import cv2
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.conftest import encode_grey
from tests.ui.acting import (
    LONG,
    changed_picture,
    kept_steps,
    look_of,
    open_look,
    opened_alone,
    send,
    settled_picture,
)
from tests.ui.test_standards import faults

LIGHT = cv2.imencode(".png", np.full((90, 160, 3), 190, np.uint8))[1].tobytes()
COVER = np.where(np.arange(160) < 80, 255, 0) * np.ones((90, 1))
"""Opaque on the left, clear on the right."""
CLEAR = cv2.imencode(".png", np.dstack([np.full((90, 160, 3), 90), COVER]))[1]


def bring_file(page, name, data):
    file = {"name": name, "mimeType": "image/png", "buffer": data}
    page.get_by_label("Files to bring in").set_input_files(file)


def choice(page):
    return page.get_by_label("Plate", exact=True)


def test_a_picture_that_is_brought_in_is_laid_over_as_a_plate(page):
    open_look(page)
    before = settled_picture(page)
    bring_file(page, "Warm light.png", LIGHT)
    changed_picture(page, before)
    expect(choice(page).locator("option:checked")).to_have_text("Warm light, a picture")
    (plate,) = kept_steps(page)
    assert plate["treatment"] == "plate"
    assert plate["mix"]["blend"] == "screen"


def test_a_plate_that_is_clear_in_places_covers_what_is_below(page):
    open_look(page, look_of("plate"))
    page.get_by_label("Plate to bring in").set_input_files(
        {"name": "Mask.png", "mimeType": "image/png", "buffer": CLEAR.tobytes()}
    )
    expect(choice(page).locator("option:checked")).to_contain_text("clear in places")
    choice(page).select_option("")
    plain = settled_picture(page)
    choice(page).select_option(label="Mask, a picture, clear in places")
    seen = changed_picture(page, plain)
    (plate,) = kept_steps(page)
    assert plate["mix"]["blend"] == "normal"
    assert plate["mix"]["amount"] == 1
    third = seen.shape[1] // 3
    np.testing.assert_allclose(seen[:, :third], 90, atol=3)
    np.testing.assert_allclose(seen[:, -third:], plain[:, -third:], atol=1)


def test_odd_frames_are_found_skipped_and_seen_one_by_one(page, tmp_path):
    levels = [60 + n for n in range(60)]
    levels[9] = levels[31] = levels[32] = 220
    data = encode_grey(tmp_path / "cuemarks.mkv", levels).read_bytes()
    send(page, "/api/v1/plates?name=cuemarks.mkv", data)
    before = opened_alone(page, "Plate")
    choice(page).select_option(label="cuemarks, 60 frames")
    before = changed_picture(page, before)
    page.get_by_role("button", name="Find odd frames").click()
    expect(page.get_by_text("odd: 9, 31-32")).to_be_visible()
    page.get_by_role("button", name="Skip them").click()
    expect(page.get_by_label("Frames to skip")).to_have_value("9, 31-32")
    expect(page.get_by_text("odd frames are skipped")).to_be_visible()
    for _ in range(2):
        page.get_by_role("button", name="Closer, to single frames").click()
    numbers = page.locator("[data-odd]").locator("xpath=..").locator("text")
    expect(numbers).to_have_count(8)
    assert faults(page) == []
    first = int(numbers.first.text_content())
    strip = page.locator("svg", has=page.locator("[data-odd]")).bounding_box()
    page.mouse.click(strip["x"] + 2.5 / 8 * strip["width"], strip["y"] + 20)  # the third of eight
    settled_picture(page)
    skipped = {n for a, b in kept_steps(page)[0]["settings"]["exclude"] for n in range(a, b + 1)}
    assert {9, 31, 32} ^ skipped == {first + 2}


def test_a_plate_s_tones_are_redrawn_by_a_curve(page):
    open_look(page)
    bring_file(page, "Curved light.png", LIGHT)
    expect(choice(page).locator("option:checked")).to_have_text("Curved light, a picture")
    before = settled_picture(page)
    curve = page.get_by_role("slider", name="Point 1 of 2")
    curve.focus()
    for _ in range(3):
        curve.press("Shift+ArrowUp")
    changed_picture(page, before)
    assert kept_steps(page)[0]["settings"]["curve"][0][1] > 0.2


def test_a_second_exposure_has_its_frames_marked_on_its_strip(page):
    open_look(page, look_of("plate"))
    before = settled_picture(page)
    choice(page).select_option(label="Reed walker")
    skip = page.get_by_label("Frames to skip")
    expect(skip).to_be_visible()
    changed_picture(page, before)
    skip.fill("31, 40-44")
    page.keyboard.press("Enter")
    expect(page.get_by_text("186 of 192 frames used")).to_be_visible()
    strip = page.locator("svg", has=page.locator("[data-skipped]")).bounding_box()
    page.mouse.move(strip["x"] + 0.5 * strip["width"], strip["y"] + 20)
    page.mouse.down()
    page.mouse.move(strip["x"] + 0.75 * strip["width"], strip["y"] + 20, steps=3)
    page.mouse.up()
    expect(skip).to_have_value(re.compile(r"^31, 40-44, 9\d-14\d$"))
    (plate,) = kept_steps(page)
    (first, last) = plate["settings"]["exclude"][2]
    assert (first, last) == pytest.approx((96, 144), abs=2)
    use = page.get_by_label("Frames to use")
    use.fill("20-10-3")
    assert use.get_attribute("aria-invalid") == "true"
    use.fill("32-39")
    page.keyboard.press("Enter")
    expect(page.get_by_text("8 of 192 frames used")).to_be_visible()
    use.fill("40-44")
    page.keyboard.press("Enter")
    said = page.get_by_role("alert").filter(has_text="all of its frames are left out")
    expect(said).to_be_visible()


def test_a_stand_in_is_made_here(page):
    open_look(page, look_of("plate"))
    before = settled_picture(page)
    choice(page).select_option("make:paper")
    expect(choice(page).locator("option:checked")).to_have_text("paper 1, a picture", timeout=LONG)
    changed_picture(page, before)


def test_a_broken_picture_is_refused_by_name(page):
    open_look(page)
    bring_file(page, "torn.png", LIGHT[:60])
    expect(page.get_by_text("torn.png: is no picture that can be read")).to_be_visible()
