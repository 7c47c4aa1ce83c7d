"""One look on many clips: what is one clip's own is set, seen, given back and copied."""

import json
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.ui.acting import changed_picture, idle, kept_steps, open_look, settled_picture

GLOW = {"id": "g", "treatment": "glow", "settings": {"spread": 60}}
LOOK = {"format": "yearning-look/3", "name": "Fitted", "steps": [GLOW]}


def open_clip(page, name):
    page.get_by_label("Clip", exact=True).select_option(label=name)
    idle(page)


def goes_to(page, whose):
    page.get_by_role("radio", name=whose).click()


def press(page, name, key, times=1):
    page.get_by_role("slider", name=name).focus()
    for _ in range(times):
        page.keyboard.press(key)
    idle(page)


def spread(page):
    return kept_steps(page)[0]["settings"]["spread"]


@pytest.fixture
def glow(page):
    open_look(page, LOOK)
    return page


def test_a_value_is_one_clips_own_and_the_others_keep_theirs(glow):
    goes_to(glow, "This clip")
    press(glow, "Spread", "ArrowRight", 4)
    assert spread(glow) == 64
    expect(glow.locator("[data-own=spread]")).to_be_visible()
    own = settled_picture(glow)
    open_clip(glow, "Glasshouse")
    assert spread(glow) == 60
    expect(glow.locator("[data-own=spread]")).to_have_count(0)
    goes_to(glow, "Every clip")
    press(glow, "Spread", "ArrowLeft", 10)
    assert spread(glow) == 50
    open_clip(glow, "Lantern barge")
    assert spread(glow) == 64
    np.testing.assert_array_equal(settled_picture(glow), own)
    glow.locator("[data-own=spread]").click()  # given back
    assert spread(glow) == 50
    assert not np.array_equal(changed_picture(glow, own), own)
    glow.keyboard.press("Control+z")
    idle(glow)
    assert spread(glow) == 64


def test_what_is_own_is_listed_copied_and_made_everyones(glow, tmp_path):
    goes_to(glow, "This clip")
    press(glow, "Spread", "ArrowLeft", 5)
    press(glow, "Warmth", "ArrowRight")
    glow.get_by_role("button", name="2 own").click()
    sheet = glow.get_by_role("dialog", name="What is Lantern barge's own")
    expect(sheet.get_by_role("listitem").first).to_contain_text("Glow: Spread 55 px")
    with glow.expect_download() as download:
        sheet.get_by_role("link", name="Save as file").click()
    place = tmp_path / download.value.suggested_filename
    download.value.save_as(place)
    assert json.loads(place.read_text())["steps"]["g"]["settings"]["spread"] == 55
    sheet.get_by_role("button", name="Copy to other clips").click()
    sheet.get_by_label("Glasshouse").check()
    sheet.get_by_role("button", name="Copy to 1 clip").click()
    sheet.get_by_role("button", name="Make it everyone's").first.click()
    idle(glow)
    expect(sheet.get_by_role("listitem")).to_have_count(1)
    open_clip(glow, "Reed walker")
    assert spread(glow) == 55
    open_clip(glow, "Glasshouse")
    assert spread(glow) == 55
    glow.get_by_role("button", name="Reset all to the look").click()  # the list is still open
    expect(glow.get_by_role("button", name=re.compile("own ▾"))).to_have_count(0)
    glow.get_by_label("Files to bring in").set_input_files(place)
    expect(glow.get_by_role("button", name="2 own")).to_be_visible()


def test_bursts_are_this_clips_until_they_are_made_every_clips(glow):
    glow.get_by_role("tab", name="When").click()
    glow.get_by_role("button", name="Tap a burst").click()
    idle(glow)
    whose = glow.locator("[data-whose]")
    expect(whose).to_have_text("this clip's")
    open_clip(glow, "Glasshouse")
    assert kept_steps(glow)[0]["bursts"] == []
    open_clip(glow, "Lantern barge")
    whose.click()
    expect(whose).to_have_text("every clip's")
    open_clip(glow, "Glasshouse")
    assert len(kept_steps(glow)[0]["bursts"]) == 1
    whose.click()
    expect(whose).to_have_text("this clip's")
    open_clip(glow, "Lantern barge")
    assert kept_steps(glow)[0]["bursts"] == []


def test_a_mask_is_this_clips_and_says_so(glow):
    glow.get_by_role("tab", name="Where").click()
    glow.get_by_role("button", name="Ellipse", exact=True).click()
    idle(glow)
    expect(glow.locator("[data-whose=this]")).to_be_visible()
    assert len(kept_steps(glow)[0]["mix"]["mask"]) == 1
    open_clip(glow, "Glasshouse")
    assert kept_steps(glow)[0]["mix"]["mask"] == []


def test_a_batch_renders_each_clip_as_it_is_fitted_to(glow):
    goes_to(glow, "This clip")
    press(glow, "Spread", "ArrowLeft", 5)
    glow.get_by_role("link", name=re.compile("^Output")).click()
    glow.get_by_label("Size of the result").select_option("360")
    glow.get_by_role("checkbox", name="Glasshouse").click()
    glow.get_by_role("button", name="Render 2 clips").click()
    idle(glow)
    renders = glow.evaluate("fetch('/api/v1/renders').then(r => r.json())")[:2]
    asked = {render["clip_name"]: render["look_digest"] for render in renders}
    look = glow.evaluate("fetch('/api/v1/looks').then(r => r.json())")[0]
    assert asked == {
        "Lantern barge": next(iter(look["digests"].values())),
        "Glasshouse": look["digest"],
    }
    for render in renders:
        glow.evaluate(f"fetch('/api/v1/renders/{render['id']}/stop', {{method: 'POST'}})")
