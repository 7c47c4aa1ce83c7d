"""What is brought in: asked about, shown on its way, stopped, listed where it can't be taken."""

import re

import cv2
import numpy as np
from playwright.sync_api import expect

from tests.ui.acting import LONG, add_step, idle, kept_steps, look_of, open_look

GREY = cv2.imencode(".png", np.full((20, 40, 3), 128, np.uint8))[1].tobytes()


def pictures(*names):
    return [{"name": name, "mimeType": "image/png", "buffer": GREY} for name in names]


def bring(page, files):
    page.get_by_label("Files to bring in").set_input_files(files)


def stills_question(page):
    return page.get_by_role("group", name="What these stills are")


def test_several_pictures_are_plates_or_neither_and_no_step_takes_the_last(page):
    open_look(page)
    bring(page, pictures("moth.png", "lace.png", "rust.png"))
    expect(stills_question(page)).to_contain_text("3 stills: moth.png, lace.png, rust.png")
    expect(stills_question(page).get_by_role("button", name="One clip")).to_have_count(
        0
    )  # no numbers
    stills_question(page).get_by_role("button", name="Neither").click()
    expect(stills_question(page)).to_have_count(0)
    idle(page)
    assert kept_steps(page) == []
    bring(page, pictures("moth.png", "lace.png", "rust.png"))
    stills_question(page).get_by_role("button", name="3 plates").click()
    idle(page)
    assert kept_steps(page) == []  # they are there to be chosen
    add_step(page, "Plate")
    choices = page.get_by_label("Plate", exact=True)
    for name in ("Moth", "Lace", "Rust"):
        expect(
            choices.locator("option", has_text=re.compile(f"^{name},", re.IGNORECASE))
        ).to_have_count(1)


def test_numbered_stills_may_be_plates_too(page):
    open_look(page, look_of("plate"))
    clip = page.get_by_label("Clip", exact=True).locator("option:checked").inner_text()
    bring(page, pictures("scan_01.png", "scan_02.png"))
    expect(stills_question(page).get_by_role("button", name="One clip of 2 frames")).to_be_visible()
    stills_question(page).get_by_role("button", name="2 plates").click()
    idle(page)
    (step,) = kept_steps(page)
    assert step["settings"]["file"].startswith("scan-01")  # the open step waited for one
    expect(page.get_by_label("Clip", exact=True).locator("option:checked")).to_have_text(clip)


def test_what_can_not_be_taken_is_one_list_with_what_is_accepted(page):
    open_look(page)
    broken = [
        {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"not a clip"},
        {"name": "b.cube", "mimeType": "text/plain", "buffer": b"LUT_3D_SIZE 4096\n"},
        {"name": "c.json", "mimeType": "application/json", "buffer": b"{}"},
    ]
    bring(page, broken)
    told = page.get_by_role("alert").filter(has_text="Not taken")
    for name in ("notes.txt", "b.cube: line 1", "c.json: format"):
        expect(told).to_contain_text(name, timeout=LONG)
    expect(told).to_contain_text("tables as .cube or .clf")
    told.get_by_role("button", name="Close").click()
    expect(told).to_have_count(0)
    assert kept_steps(page) == []


def test_a_plate_that_is_made_shows_how_far_it_is_and_is_stopped(page):
    open_look(page, look_of("plate"))
    choice = page.get_by_label("Plate", exact=True)
    choice.select_option("make:light burn")
    stop = page.get_by_role("button", name="Stop light burn")
    expect(page.get_by_role("status").get_by_text("Making light burn: ")).to_be_visible()
    expect(page.get_by_role("status").get_by_text(re.compile(r": [1-9]\d* %"))).to_be_visible(
        timeout=LONG
    )
    stop.click()
    expect(stop).to_have_count(0)
    idle(page)
    expect(choice).to_be_enabled()
    assert kept_steps(page)[0]["settings"]["file"] == ""
    expect(page.get_by_role("alert").filter(has_text="Not taken")).to_have_count(0)
