"""Ink and signal on the page: channels in their tints, blocks drawn by hand, bursts tapped."""

import re

import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    ask,
    changed_picture,
    kept_steps,
    new_look,
    open_look,
    opened_alone,
    played_to,
    settled_picture,
)
from tests.ui.test_standards import faults


def test_a_channel_is_moved_and_its_tint_leaves_the_rest_of_white_to_the_others(page):
    before = opened_alone(page, "Split")
    red = page.get_by_role("group", name="Red", exact=True)
    red.get_by_label("Red in, as #rrggbb").fill("#ff8000")
    page.keyboard.press("Enter")
    before = changed_picture(page, before)
    red.get_by_role("slider", name="Across").focus()
    page.keyboard.press("Shift+ArrowRight")
    changed_picture(page, before)
    settings = kept_steps(page)[0]["settings"]
    assert settings["tints"] == ["#ff8000", "#007f00", "#0000ff"]
    assert settings["red_x"] == pytest.approx(18)
    assert faults(page) == []


def drawing(page):
    return page.locator("[data-drawing]").bounding_box()


def test_a_block_is_drawn_on_the_picture_thrown_further_and_taken_out(page):
    before = opened_alone(page, "Slices")
    box = drawing(page)

    def at(x, y):
        return box["x"] + x * box["width"], box["y"] + y * box["height"]

    page.mouse.click(*at(0.7, 0.7))  # a click draws none
    page.mouse.move(*at(0.3, 0.4))
    page.mouse.down()
    page.mouse.move(*at(0.4, 0.5), steps=3)
    page.mouse.move(*at(0.6, 0.6), steps=3)
    page.mouse.up()
    before = changed_picture(page, before)
    (block,) = kept_steps(page)[0]["settings"]["placed"]
    assert [block[k] for k in ("left", "top", "width", "height")] == pytest.approx(
        [0.3, 0.4, 0.3, 0.2], abs=0.01
    )
    page.get_by_role("button", name="Throw of block 1").focus()
    page.keyboard.press("Shift+ArrowRight")
    before = changed_picture(page, before)
    (thrown,) = kept_steps(page)[0]["settings"]["placed"]
    assert thrown == block | {"throw": pytest.approx(block["throw"] + 192, abs=2)}
    expect(page.get_by_label("Throw of block 1").last).to_have_value(str(thrown["throw"]))
    assert faults(page) == []
    page.get_by_role("button", name=re.compile("^Block 1: ")).focus()
    page.keyboard.press("Delete")
    changed_picture(page, before)
    assert kept_steps(page)[0]["settings"]["placed"] == []


def test_a_block_is_added_moved_and_enlarged_by_keyboard(page):
    before = opened_alone(page, "Slices")
    page.get_by_role("button", name="Add a block").focus()
    page.keyboard.press("Enter")
    before = changed_picture(page, before)
    for name, keys in (("Block 1: ", "Shift+ArrowUp"), ("Size of block 1: ", "Shift+ArrowRight")):
        page.get_by_role("button", name=re.compile(f"^{name}")).focus()
        page.keyboard.press(keys)
        before = changed_picture(page, before)
    (block,) = kept_steps(page)[0]["settings"]["placed"]
    wanted = {"left": 0.4, "top": 0.35, "width": 0.3, "height": 0.1, "throw": 120}
    assert block == pytest.approx(wanted)


def test_a_burst_is_tapped_while_the_clip_plays_and_held_for_a_longer_one(page):
    opened_alone(page, "Split")
    ask(page, "When")
    tap = page.get_by_role("button", name="Tap a burst")
    page.get_by_role("button", name="Play", exact=True).click()
    tapped = played_to(page, 4)
    tap.click()
    played_to(page, tapped + 16)
    tap.click()
    page.keyboard.press("Space")
    first, second = kept_steps(page)[0]["bursts"]
    assert first["to"] - first["from"] == second["to"] - second["from"] == 5
    assert second["from"] > first["to"]
    expect(page.get_by_role("button", name=re.compile("^Burst 2: "))).to_be_visible()


def test_a_starter_that_hits_does_so_where_the_clips_sound_begins(page):
    open_look(page, clip="Signal tower")
    settled_picture(page)
    page.get_by_role("button", name="Or begin with a starter look").click()
    page.get_by_role("button", name=re.compile("Three-way split hits")).click()
    made = page.get_by_role("button", name=re.compile("After split "))
    expect(made).to_be_visible()
    hits = next(step for step in kept_steps(page) if step["id"] == "hits")
    clip = next(
        c["id"]
        for c in page.evaluate("fetch('/api/v1/clips').then(r => r.json())")
        if c["name"].startswith("Signal")
    )
    heard = page.evaluate(
        """id => fetch(`/api/v1/clips/${id}/bursts`, {
          method: "POST", headers: {"Content-Type": "application/json"},
          body: JSON.stringify({way: "sound", length: 4, ramp: 1, threshold: 4})})
          .then(r => r.json())""",
        clip,
    )
    assert len(heard) > 3
    assert [(b["from"], b["to"]) for b in hits["bursts"]] == [(b["from"], b["to"]) for b in heard]
    new_look(page)  # the next test's clips are shorter than these bursts
