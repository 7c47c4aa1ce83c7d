"""Colour and the mix on the Bench, as an editor uses them."""

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
    reload,
    send,
    settled_picture,
    show_beside,
    with_glow,
)
from tests.waiting import wait_for
from yearning.core.treatments import TREATMENTS
from yearning.starters import starters


def drag(page, box, start, end):
    """Drag within a box, places in parts of it."""
    (x0, y0), (x1, y1) = start, end
    page.mouse.move(box["x"] + x0 * box["width"], box["y"] + y0 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + x1 * box["width"], box["y"] + y1 * box["height"], steps=6)
    page.mouse.up()


def test_a_step_is_limited_to_tones_and_its_weight_is_seen(page):
    with_glow(page)
    whole = settled_picture(page)
    ask(page, "Where")
    window = page.get_by_role("group", name="Shows in tones")
    drag(page, window.bounding_box(), (0.5, 0.5), (0.5, 0.85))
    limited = changed_picture(page, whole)
    tones = kept_steps(page)[0]["mix"]["tones"]
    assert len(tones) == 3
    assert tones[1][0] == pytest.approx(0.5, abs=0.02)
    assert tones[1][1] == pytest.approx(0.06, abs=0.06)
    page.get_by_role("button", name="See weight").click()
    weight = changed_picture(page, limited)
    assert np.abs(weight - weight.mean(axis=2, keepdims=True)).max() <= 1  # a grey picture
    page.get_by_role("button", name="See weight").click()
    page.get_by_role("button", name="All", exact=True).click()
    np.testing.assert_array_equal(changed_picture(page, weight), whole)
    assert kept_steps(page)[0]["mix"]["tones"] is None


def test_one_drag_after_another_is_taken(page):
    """What an earlier drag left selected does not become what the next one drags."""
    with_glow(page)
    ask(page, "Where")
    box = page.get_by_role("group", name="Shows in tones").bounding_box()
    for x, y in ((0.03, 0.9), (0.97, 0.9), (0.35, 0.12), (0.65, 0.12), (0.5, 0.5)):
        drag(page, box, (x, 0.12 if x in (0.03, 0.97) else 0.6), (x, y))
    tones = kept_steps(page)[0]["mix"]["tones"]
    assert [round(weight, 1) for _, weight in tones] == [0, 1, 0.5, 1, 0]


def test_a_step_reads_the_footage_or_a_step_before_it(page):
    open_look(page)
    add_step(page, "Ramp")
    add_step(page, "Tone")
    so_far = settled_picture(page)
    ask(page, "Mixed")
    page.get_by_label("Input", exact=True).select_option("footage")
    plain = changed_picture(page, so_far)
    assert kept_steps(page)[1]["mix"]["input"] == "footage"
    choices = page.get_by_label("Input", exact=True).locator("option").all_inner_texts()
    assert choices == ["the step before", "the footage", "after Ramp (ramp-1)"]
    page.get_by_label("Input", exact=True).select_option("ramp-1")
    np.testing.assert_array_equal(changed_picture(page, plain), so_far)
    page.get_by_role("button", name="After ramp ").click()
    page.get_by_role("button", name="Remove step").click()
    assert [step["mix"]["input"] for step in kept_steps(page)] == ["previous"]


def test_chosen_steps_are_bundled_opened_in_place_and_unbundled(page):
    open_look(page)
    for name in ("Exposure", "Tone", "Ramp"):
        add_step(page, name)
    plain = settled_picture(page)
    for name in ("exposure", "tone"):
        page.get_by_role("button", name=f"After {name} ").click(modifiers=["Control"])
    page.get_by_role("button", name="Bundle 2 steps").click()
    np.testing.assert_array_equal(settled_picture(page), plain)
    page.get_by_label("Name of the bundle").fill("Dusk")
    page.get_by_label("Name of the bundle").press("Enter")
    ask(page, "Mixed")
    page.get_by_role("slider", name="Amount").focus()
    page.keyboard.press("Shift+ArrowDown")
    bundle, _ = kept_steps(page)
    assert (bundle["name"], bundle["mix"]["amount"]) == ("Dusk", 0.9)
    assert [s["treatment"] for s in bundle["settings"]["steps"]] == ["exposure", "tone"]
    ask(page, "What")
    page.get_by_role("button", name="After Tone ").click()
    expect(page.get_by_role("region", name="Within Dusk")).to_be_visible()
    page.get_by_role("slider", name="Contrast").focus()
    page.keyboard.press("Shift+ArrowUp")
    inner = kept_steps(page)[0]["settings"]["steps"][1]
    assert inner["settings"]["contrast"] == pytest.approx(0.1)
    page.get_by_role("button", name="Its mix").click()
    page.get_by_role("button", name="Unbundle").click()
    assert [s["treatment"] for s in kept_steps(page)] == ["exposure", "tone", "ramp"]
    page.keyboard.press("Control+z")
    assert kept_steps(page)[0]["name"] == "Dusk"


def test_readings_follow_the_picture_and_the_pointer(page):
    open_look(page)
    settled_picture(page)
    wave = page.get_by_role("img", name="Reading: waveform")

    def pixels_lit():
        return wave.evaluate(
            """canvas => {
              const { width, height } = canvas;
              const data = canvas.getContext("2d").getImageData(0, 0, width, height).data;
              let sum = 0, all = 0;
              for (let i = 0; i < width * height; i++) {
                sum += data[4 * i + 3] * Math.floor(i / width); all += data[4 * i + 3];
              }
              return all && sum / all / height;
            }"""
        )

    before = wait_for(pixels_lit)
    assert 0.2 < before < 0.95
    add_step(page, "Exposure")
    page.get_by_role("slider", name="Stops").focus()
    for _ in range(4):
        page.keyboard.press("Shift+ArrowUp")
    wait_for(lambda: pixels_lit() < before - 0.05)  # brighter is higher
    box = canvas_of(page).bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 3)
    told = page.get_by_role("status", name="Under the pointer")
    expect(told).to_have_text(re.compile(r"\d+ \d+ \d+ %.*luma \d+ %.*code \d+.*#[0-9a-f]{6}"))
    red = int(told.inner_text().split("#")[1][:2], 16)
    pixel = settled_picture(page)[round(box["height"] / 3), round(box["width"] / 2), 0]
    assert abs(red - pixel) < 12
    page.get_by_role("button", name="R G B").click()
    expect(page.get_by_role("img", name="Reading: parade")).to_be_visible()
    page.get_by_role("button", name="counts").click()
    expect(page.locator("[data-histogram=red]").first).to_be_attached()
    plain = settled_picture(page)
    page.get_by_role("button", name="Clipping").click()
    assert (changed_picture(page, plain) != plain).any()


def test_a_starter_look_is_one_click_and_one_undo(page):
    look = {"format": "yearning-look/3", "name": "Mine"}
    for kind in ("glow", "grain", "glow"):  # own looks of one name, of several stages
        step = {"id": kind, "treatment": kind}
        send(page, "/api/v1/looks", look | {"steps": [step]})
    with_glow(page)
    before = kept_steps(page)
    page.get_by_role("button", name=re.compile("^Look ")).click()
    page.get_by_role("button", name="Starter looks").click()
    seen = page.get_by_role("img", name=re.compile("^This frame as "))
    looks = page.evaluate("fetch('/api/v1/looks').then(r => r.json())")[1:]  # the first is open
    own = [[step["treatment"] for step in look["look"]["steps"]] for look in looks]
    made = [[step.treatment for step in starter.look.steps] for starter in starters()]
    offered = made + [kinds for kinds in own if kinds]
    expect(seen).to_have_count(len(offered), timeout=LONG)
    which = page.get_by_role("group", name="With steps of")
    which.get_by_role("button", name="ink & signal").click()
    inks = {kind for kind, treatment in TREATMENTS.items() if treatment.stage == "ink & signal"}
    expect(seen).to_have_count(sum(bool(inks & set(kinds)) for kinds in offered))
    which.get_by_role("button", name="all").click()
    chosen = starters()[2].look
    expect(page.get_by_role("img", name=f"This frame as {chosen.name}")).to_be_visible()
    page.get_by_role("button", name=re.compile(chosen.name)).click()
    assert [s["treatment"] for s in kept_steps(page)] == [s.treatment for s in chosen.steps]
    page.keyboard.press("Control+z")
    assert kept_steps(page) == before


def test_a_state_is_kept_compared_with_and_gone_back_to(page):
    spread = with_glow(page)
    page.get_by_role("button", name="Snapshot").click()
    kept = close_step(page)
    page.get_by_role("button", name="After glow ").click()
    page.get_by_role("button", name="Remove step").click()
    bare = changed_picture(page, kept)
    reload(page)
    page.get_by_role("button", name="Blink").click()
    page.get_by_label("Compare with").select_option("Snapshot 1")
    expect(page.get_by_role("img", name=re.compile("Snapshot 1"))).to_be_visible()
    page.get_by_role("button", name="Change", exact=True).click()
    expect(page.get_by_text("change from Snapshot 1")).to_be_visible()
    page.get_by_role("button", name="Go back").click()
    page.get_by_role("button", name="Plain").click()
    np.testing.assert_array_equal(changed_picture(page, bare), kept)
    page.get_by_role("button", name="After glow ").click()
    expect(spread).to_have_attribute("aria-valuenow", "52")
    page.get_by_role("button", name="Wipe").click()
    page.get_by_label("Compare with").select_option("Snapshot 1")
    page.get_by_role("button", name="Let Snapshot 1 go").click()
    compared = page.get_by_label("Compare with")
    expect(compared).to_have_value("footage")
    expect(compared.get_by_role("option", name="Snapshot 1")).to_have_count(0)


CUBE = b"LUT_1D_SIZE 2\n1 1 1\n0 0 0\n"


def test_a_dropped_table_and_grade_become_steps(page):
    open_look(page)
    plain = settled_picture(page)
    files = page.get_by_label("Files to bring in")
    files.set_input_files({"name": "Turned.cube", "mimeType": "text/plain", "buffer": CUBE})
    turned = changed_picture(page, plain)
    page.get_by_label("Look-up table").select_option("")
    plain = changed_picture(page, turned)
    assert np.abs(turned + plain - 255).mean() < 4
    grade = (
        b"<ColorCorrection><SOPNode><Slope>1.5 1 1</Slope><Offset>0 0 0</Offset>"
        b"<Power>1 1 1</Power></SOPNode></ColorCorrection>"
    )
    files.set_input_files({"name": "a.cc", "mimeType": "text/xml", "buffer": grade})
    red = changed_picture(page, plain)
    assert (red - plain)[..., 0].mean() > 10
    expect(page.get_by_role("slider", name="Slope R")).to_have_attribute("aria-valuenow", "1.5")
    with page.expect_download() as download:
        page.get_by_role("button", name="As .cc").click()
    assert b"1.5 1 1" in download.value.path().read_bytes()
    broken = {"name": "b.cube", "mimeType": "text/plain", "buffer": b"LUT_3D_SIZE 4096\n"}
    files.set_input_files(broken)
    expect(page.get_by_role("alert").get_by_text("b.cube: line 1: a size of 4096")).to_be_visible()


def test_what_should_be_grey_is_picked_from_the_picture(page):
    open_look(page, look_of("neutralize"), clip="Glasshouse")
    before = settled_picture(page)
    page.get_by_role("button", name="Pick grey reference").click()
    box = canvas_of(page).bounding_box()
    canvas_of(page).click(position={"x": box["width"] * 0.6, "y": box["height"] * 0.75})
    after = changed_picture(page, before)
    y, x = round(box["height"] * 0.75), round(box["width"] * 0.6)
    around = (slice(y - 1, y + 2), slice(x - 1, x + 2))
    assert np.ptp(before[around].mean(axis=(0, 1))) > 20
    assert np.ptp(after[around].mean(axis=(0, 1))) < 8


def test_discs_bands_ramps_and_levels_are_drawn_on(page):
    open_look(page, look_of("balance"), clip="Glasshouse")
    disc = page.get_by_role("slider", name="Highlights: hue and strength")
    drag(page, disc.bounding_box(), (0.5, 0.5), (0.9, 0.5))
    found = kept_steps(page)[0]["settings"]
    assert found["highlights_hue"] == pytest.approx(90, abs=2)
    assert found["highlights_strength"] == pytest.approx(0.8, abs=0.03)
    disc.dblclick()
    assert kept_steps(page)[0]["settings"]["highlights_strength"] == 0
    page.get_by_role("button", name="Remove step").click()
    add_step(page, "Hue")
    page.get_by_role("group", name="Hue band").get_by_role("button", name="green").click()
    page.get_by_role("slider", name="Turn").focus()
    page.keyboard.press("Shift+ArrowUp")
    assert kept_steps(page)[0]["settings"]["turn"] == [0, 0, 10, 0, 0, 0]
    page.get_by_role("button", name="Remove step").click()
    add_step(page, "Ramp")
    page.get_by_role("slider", name="Stop 2 of 3").focus()
    page.keyboard.press("Shift+ArrowRight")
    assert kept_steps(page)[0]["settings"]["stops"][1][0] == pytest.approx(0.55)
    page.get_by_label("Stop 2, at 55.0 %, as #rrggbb").fill("#102030")
    page.keyboard.press("Enter")
    assert kept_steps(page)[0]["settings"]["stops"][1][1] == "#102030"
    page.get_by_role("button", name="Remove step").click()
    add_step(page, "Levels")
    page.locator("[data-histogram=luma]").first.wait_for(state="attached")
    box = page.get_by_role("img", name="Histogram of what comes in").bounding_box()
    drag(page, box, (8 / 316, 0.85), (0.25, 0.85))
    assert kept_steps(page)[0]["settings"]["black"] == pytest.approx(0.237, abs=0.02)


def test_the_panel_beside_the_picture_stays_as_it_was_chosen(page):
    open_look(page)
    show_beside(page, "Footage")
    idle(page)
    reload(page)
    expect(page.get_by_label("Input range")).to_be_visible()


def test_a_look_is_baked_or_says_why_not(page):
    with_glow(page)
    page.get_by_role("button", name=re.compile("^Look ")).click()
    expect(page.get_by_text("Glow: glow works on more than")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Remove step").click()
    add_step(page, "Tone")
    page.get_by_role("button", name=re.compile("^Look ")).click()
    expect(page.get_by_text("no channel is off by more than")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="17³").click()
    assert download.value.suggested_filename.endswith(".17.cube")


def test_levels_are_set_from_the_whole_clip_once(page):
    open_look(page, look_of("levels"))
    page.get_by_role("button", name="Set from clip").click()
    expect(page.get_by_role("slider", name="White", exact=True)).not_to_have_attribute(
        "aria-valuenow", "100", timeout=LONG
    )
    found = kept_steps(page)[0]["settings"]
    assert 0 < found["black"] < 0.2 < 0.6 < found["white"] <= 1
    page.keyboard.press("Control+z")
    assert kept_steps(page)[0]["settings"]["white"] == 1
