"""The jobs of the Bench by keyboard alone: what is wanted is reached by Tab."""

import json
import re

import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    canvas_of,
    changed_picture,
    idle,
    kept_steps,
    look_of,
    open_look,
    settled_picture,
    stop_renders,
    treatments_of,
)

MOST_TABS = 120
"""How many presses of Tab may lie between two things on the page."""

NAME = """() => {
  const e = document.activeElement;
  const labels = [...(e.labels ?? [])].map((l) => l.innerText).join(" ");
  return [e.getAttribute("role") ?? e.tagName.toLowerCase(),
          e.getAttribute("aria-label") ?? (labels || e.innerText || "")];
}"""


def begin(page, *kinds):
    steps = [{"id": kind, "treatment": kind} for kind in kinds]
    open_look(page, look_of(*steps, name="By keyboard"))
    settled_picture(page)


def keys(page, *presses):
    for press in presses:
        page.keyboard.press(press)


def reach(page, name, role=None, back=False):
    """Press Tab until what is called so has the focus."""
    met = []
    for _ in range(MOST_TABS):
        has_role, label = page.evaluate(NAME)
        if label.strip().startswith(name) and role in (None, has_role):
            return
        met.append(label.strip()[:24])
        keys(page, "Shift+Tab" if back else "Tab")
    raise AssertionError(f"{name} is not reached by Tab; what is: {met}")


def test_a_step_is_found_added_set_mixed_and_timed(page):
    begin(page)
    before = settled_picture(page)
    keys(page, "n", *"bloom", "Enter")
    expect(page.get_by_role("region", name="Glow, open")).to_be_visible()
    reach(page, "Spread", "slider")
    keys(page, "Shift+ArrowRight", "Shift+ArrowRight")
    changed_picture(page, before)
    reach(page, "What", "tab", back=True)
    keys(page, "ArrowRight", "ArrowRight")
    reach(page, "Blend", "select")
    keys(page, *"multiply")
    reach(page, "Amount", "slider")
    keys(page, "Shift+ArrowLeft")
    idle(page)
    keys(page, "k", "u")
    (glow,) = kept_steps(page)
    assert glow["settings"]["spread"] > 60
    assert glow["mix"]["blend"] == "multiply"
    assert [key["frame"] for key in glow["keys"]["mix.amount"]] == [0]
    assert len(glow["bursts"]) == 1
    keys(page, "x", "Escape")
    expect(page.get_by_role("region", name="Glow, open")).to_have_count(0)
    assert not kept_steps(page)[0]["on"]


def test_steps_are_chosen_bundled_moved_taken_out_and_brought_back(page):
    begin(page, "glow", "curve", "grain")
    keys(page, "o")
    reach(page, "light", "button")  # the first card of the path: its stage comes first
    keys(page, "m")
    expect(page.get_by_text("Glow would stand at place 1 of 3.")).to_be_attached()
    keys(page, "ArrowRight")
    expect(page.get_by_text("Glow would stand at place 2 of 3.")).to_be_attached()
    keys(page, "m")
    expect(page.get_by_text("Glow is put down at place 2 of 3.")).to_be_attached()
    assert treatments_of(page) == ["curve", "glow", "grain"]
    reach(page, "film", "button")
    keys(page, "Control+Enter")
    reach(page, "light", "button", back=True)
    keys(page, "Control+Enter")
    reach(page, "Bundle 2 steps")
    keys(page, "Enter")
    assert treatments_of(page) == ["curve", "bundle"]
    keys(page, "Control+z")
    assert treatments_of(page) == ["curve", "glow", "grain"]
    expect(page.get_by_role("status").filter(has_text="bundling 2 steps")).to_be_visible()
    reach(page, "colour", "button")
    keys(page, "Enter", "d")
    assert treatments_of(page) == ["curve", "curve", "glow", "grain"]
    keys(page, "Control+z", "Control+Shift+z")
    expect(page.get_by_role("status").filter(has_text="Made again: adding Curve")).to_be_visible()


@pytest.mark.parametrize(
    ("kind", "name", "presses", "field"),
    [
        ("curve", "Point 1 of 2", ["Enter", "ArrowUp"], "luma"),
        ("ramp", "Stop 1 of 3", ["Enter", "ArrowRight"], "stops"),
        ("focus", "Centre", ["ArrowRight", "ArrowDown"], "centre"),
        ("crop", "Place", ["Shift+ArrowDown"], "place"),
        ("balance", "Shadows", ["ArrowUp", "ArrowRight"], "shadows_strength"),
        ("dust", "Remove", ["Enter"], "removed"),
    ],
)
def test_what_is_drawn_is_moved_by_keys(kind, name, presses, field, page):
    begin(page, kind)
    before = kept_steps(page)[0]["settings"][field]
    reach(page, name)
    keys(page, *presses)
    assert kept_steps(page)[0]["settings"][field] != before


def test_time_and_comparing(page):
    begin(page, "glow")
    keys(page, "Shift+ArrowRight", "ArrowRight")
    expect(canvas_of(page)).to_have_attribute("aria-label", re.compile("Frame 11"))
    keys(page, "Shift+Home", "Shift+ArrowRight", "Shift+End")
    expect(page.get_by_label("Played: frames 11 to 21")).to_be_visible()
    keys(page, "v")
    reach(page, "Wipe", "slider")
    was = page.evaluate("document.activeElement.getAttribute('aria-valuenow')")
    keys(page, "ArrowRight")
    assert page.evaluate("document.activeElement.getAttribute('aria-valuenow')") != was


def test_a_look_is_renamed_and_deleted_and_comes_back(page):
    begin(page, "glow")
    reach(page, "Look\nBy keyboard")
    keys(page, "Enter")
    reach(page, "Name of the look", "input")
    keys(page, "Control+a", *"Dusk", "Enter")
    expect(page.get_by_role("button", name="Look Dusk")).to_be_visible()
    reach(page, "Delete Dusk")
    keys(page, "Enter")
    expect(page.get_by_role("button", name="Look Dusk")).to_have_count(0)
    keys(page, "Escape", "Control+z")
    expect(page.get_by_role("button", name="Look Dusk")).to_be_visible()


def test_a_clip_is_rendered_and_the_places_are_walked(page):
    begin(page)
    keys(page, "r")
    reach(page, "Output", "a")
    keys(page, "Enter")
    expect(page.get_by_role("heading", name="Rendering now")).to_be_visible()
    stop_renders(page)
    reach(page, "Steadiness", "a", back=True)
    keys(page, "Enter")
    words = re.compile("Looking through|Change from frame to frame")
    expect(page.get_by_role("main").get_by_text(words).first).to_be_visible()


def test_a_look_goes_through_the_clipboard(page):
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    begin(page, "glow")
    keys(page, "Control+c")
    text = json.loads(page.evaluate("navigator.clipboard.readText()"))
    assert [step["treatment"] for step in text["steps"]] == ["glow"]
    keys(page, "Control+v")
    assert treatments_of(page) == ["glow", "glow"]
