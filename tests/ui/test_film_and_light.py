"""Film and light on the page: highlights by a key, a gauge's softness and sway, scans that live."""

import cv2
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.conftest import encode
from tests.ui.acting import (
    bring_in,
    changed_picture,
    kept_steps,
    opened_alone,
    send,
    settled_picture,
)
from tests.ui.test_standards import faults
from yearning.core.picture import Size


def test_the_highlights_of_a_glow_are_seen_by_a_key_and_what_it_holds_is_told(page):
    before = opened_alone(page, "Glow")
    expect(page.get_by_text("Keep mid-tones takes")).to_be_visible()
    page.keyboard.press("h")
    before = changed_picture(page, before)
    expect(page.get_by_text("the highlights that Glow starts from")).to_be_visible()
    assert faults(page) == []
    page.get_by_role("button", name="See highlights").click()
    changed_picture(page, before)
    expect(page.get_by_text("the highlights that Glow starts from")).to_have_count(0)


def test_h_says_what_to_open_where_nothing_starts_from_highlights(page):
    opened_alone(page, "Grain")
    page.keyboard.press("h")
    expect(page.get_by_text("H shows highlights: open a step")).to_be_visible()


def test_what_belongs_to_a_gauge_is_added_where_it_stands_in_the_path(page):
    before = opened_alone(page, "Grain")
    for word in ("Softness", "Sway"):
        page.get_by_role("button", name=word, exact=True).click()
        before = changed_picture(page, before)
    assert faults(page) == []
    steps = kept_steps(page)
    assert [step["treatment"] for step in steps] == ["soften", "grain", "weave"]
    assert steps[0]["settings"] | {"shape": "film", "gauge": 16} == steps[0]["settings"]
    expect(page.get_by_role("button", name="Softness", exact=True)).to_have_count(0)
    expect(page.get_by_role("button", name="4:3 frame")).to_be_visible()


def test_a_scan_is_thrown_anew_and_its_base_made_mid_grey(page):
    codes = np.random.default_rng(1).normal(0.36, 0.03, (270, 480))
    data = cv2.imencode(".png", np.clip(255 * codes, 0, 255).astype(np.uint8))[1].tobytes()
    send(page, "/api/v1/plates?name=livingscan.png", data)
    opened_alone(page, "Plate")
    page.get_by_label("Plate", exact=True).select_option(label="livingscan, a picture")
    page.get_by_role("button", name="Base to mid-grey").click()
    expect(page.get_by_role("slider", name="Place across")).to_be_visible()
    page.get_by_role("slider", name="New position every").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("slider", name="Place across")).to_have_count(0)
    settled_picture(page)
    settings = kept_steps(page)[0]["settings"]
    assert settings["reposition_every"] == 1
    assert (settings["black"] + settings["white"]) / 2 == pytest.approx(0.36, abs=0.02)
    assert faults(page) == []


def test_grain_is_measured_on_a_scan_of_even_film(page):
    codes = np.random.default_rng(1).normal(0.5, 0.06, (270, 480, 3))
    data = cv2.imencode(".png", np.clip(65535 * codes, 0, 65535).astype(np.uint16))[1].tobytes()
    flat = cv2.imencode(".png", np.full((270, 480), 128, np.uint8))[1].tobytes()
    send(page, "/api/v1/plates?name=greyfilm.png", data)
    send(page, "/api/v1/plates?name=blankfilm.png", flat)
    before = opened_alone(page, "Grain")
    page.get_by_label("Gauge", exact=True).select_option("scan")
    expect(page.get_by_role("slider", name="Clumping")).to_have_count(0)
    scan = page.get_by_label("Scan", exact=True)
    scan.select_option(label="blankfilm")
    expect(page.get_by_text("there is no grain on this scan")).to_be_visible()
    page.get_by_role("button", name="Close", exact=True).click()
    scan.select_option(label="greyfilm")
    expect(page.get_by_text("6.0 % of white in a tone of 50.0 %")).to_be_visible()
    changed_picture(page, before)
    assert faults(page) == []
    made = kept_steps(page)[0]["settings"]
    assert made["gauge"] == "scan"
    with page.expect_download() as given:
        page.get_by_role("link", name="Save").click()
    assert given.value.suggested_filename == made["scan"]


def test_dots_that_are_too_fine_for_a_small_clip_are_told_and_enlarged(page, tmp_path):
    small = encode(tmp_path / "tinyreeds.mp4", "libx264", frames=8, size=Size(480, 270))
    bring_in(page, small)
    before = opened_alone(page, "Halftone", clip="tinyreeds")
    expect(page.get_by_text("2.0 of this clip’s pixels: too fine to be seen")).to_be_visible()
    page.get_by_role("button", name="Make it 16 px").click()
    changed_picture(page, before)
    assert kept_steps(page)[0]["settings"]["pitch"] == 16
    expect(page.get_by_text("too fine to be seen")).to_have_count(0)
