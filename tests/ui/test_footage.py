"""The Footage card, as an editor uses it."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    LONG,
    changed_picture,
    idle,
    new_look,
    open_look,
    reload,
    send,
    settled_picture,
    show_beside,
)
from yearning.media.stills.stills import write_still


def test_the_footage_is_read_as_said(page):
    open_look(page)
    show_beside(page, "Footage")
    plain = settled_picture(page)
    page.get_by_label("Input range").select_option("full")
    full = changed_picture(page, plain)
    assert np.abs(full - plain).mean() > 2
    page.get_by_label("Input rate").select_option("25")
    expect(page.get_by_text("0 of 200", exact=True)).to_be_visible()
    idle(page)
    reload(page)
    expect(page.get_by_label("Input range")).to_have_value("full")
    page.get_by_label("Input range").select_option("")
    page.get_by_label("Input rate").select_option("")
    expect(page.get_by_text("0 of 192", exact=True)).to_be_visible()
    np.testing.assert_array_equal(changed_picture(page, full), plain)


def test_pumping_exposure_is_evened_from_the_footage_card(page, tmp_path):
    open_look(page)
    paths = [tmp_path / f"pump_{n:03d}.png" for n in range(16)]
    for n, path in enumerate(paths):
        grey = np.linspace(0.5, 1, 96, dtype=np.float32) * np.float32(0.8 + 0.16 * (-1) ** n)
        write_still(np.ascontiguousarray(np.broadcast_to(grey, (3, 54, 96))), path, 8)
    new_look(page)
    page.get_by_label("Files to bring in").set_input_files(paths)
    page.get_by_role("button", name=f"One clip of {len(paths)} frames").click()
    expect(page.get_by_label("Clip", exact=True).locator("option:checked")).to_have_text(
        "pump", timeout=LONG
    )
    show_beside(page, "Footage")
    bright = settled_picture(page)
    assert bright.mean() / 255 == pytest.approx(0.72, abs=0.01)
    page.get_by_label("Input deflicker").select_option("6")
    even = changed_picture(page, bright)
    assert even.mean() / 255 == pytest.approx(0.59, abs=0.03)
    page.keyboard.press("ArrowRight")
    assert changed_picture(page, even).mean() == pytest.approx(even.mean(), abs=6)
    page.keyboard.press("ArrowLeft")
    page.get_by_label("Input deflicker").select_option("")
    np.testing.assert_array_equal(changed_picture(page, even), bright)


def test_a_clip_is_slowed_on_its_card(page):
    open_look(page)
    show_beside(page, "Footage")
    plain = settled_picture(page)
    page.get_by_label("Input speed").fill("50")
    page.get_by_label("Input speed").blur()
    expect(page.get_by_text("0 of 384", exact=True)).to_be_visible()
    page.get_by_label("Input between").select_option("dissolve")
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text("2 of 384", exact=True)).to_be_visible()
    assert settled_picture(page).shape == plain.shape
    heard = page.get_by_text("sound", exact=True).locator("xpath=following-sibling::*").first
    expect(heard).to_have_text("none")
    page.get_by_label("Input sound then").select_option("stretched")
    expect(heard).to_contain_text("aac")
    page.get_by_label("Input speed").fill("100")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("^. of 192$"))).to_be_visible()
    expect(page.get_by_label("Input between")).to_have_count(0)


TABLE = b"LUT_1D_SIZE 2\n0 0 0\n"


def test_files_that_no_look_has_are_deleted_and_brought_back(page):
    send(page, "/api/v1/tables?name=half%20light.cube", TABLE + b"0.5 0.5 0.5")
    open_look(page)
    show_beside(page, "Footage")
    files = page.get_by_role("list", name="Files of the project")
    expect(files.get_by_text("half light")).to_be_visible()
    page.get_by_role("button", name="Delete the table half light").click()
    expect(page.get_by_text("half light is deleted.")).to_be_visible()
    expect(files.get_by_text("half light")).to_have_count(0)
    page.get_by_role("button", name="Bring it back").click()
    expect(files.get_by_text("half light")).to_be_visible()


def test_a_file_that_a_look_has_stays_and_says_which(page):
    sent = send(page, "/api/v1/tables?name=in%20use.cube", TABLE + b"0.25 0.25 0.25")
    found = sent.json()
    step = {"id": "t", "treatment": "table", "settings": {"file": found["file"]}}
    open_look(page, {"format": "yearning-look/3", "name": "Tabled", "steps": [step]})
    settled_picture(page)
    show_beside(page, "Footage")
    page.get_by_role("button", name="Delete the table in use").click()
    expect(page.get_by_text(re.compile("is used by .*Tabled"))).to_be_visible()
    expect(
        page.get_by_role("list", name="Files of the project").get_by_text("in use")
    ).to_be_visible()
