"""The jobs of the Bench by keyboard alone: what is wanted is reached by Tab."""

import json
import re

import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    canvas_of,
    changed,
    idle,
    kept_steps,
    open_look,
    settled,
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


def look_of(*kinds):
    steps = [{"id": kind, "treatment": kind} for kind in kinds]
    return {"format": "yearning-look/2", "name": "By keyboard", "steps": steps}


def begin(page, address, *kinds):
    open_look(page, address, look_of(*kinds))
    canvas_of(page).wait_for()
    settled(page)


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


def test_a_step_is_found_added_set_mixed_and_timed(tab, address):
    begin(tab, address)
    before = settled(tab)
    keys(tab, "n", *"bloom", "Enter")
    expect(tab.get_by_role("region", name="Glow, open")).to_be_visible()
    reach(tab, "Spread", "slider")
    keys(tab, "Shift+ArrowRight", "Shift+ArrowRight")
    changed(tab, before)
    reach(tab, "What", "tab", back=True)
    keys(tab, "ArrowRight", "ArrowRight")
    reach(tab, "Blend", "select")
    keys(tab, *"multiply")
    reach(tab, "Amount", "slider")
    keys(tab, "Shift+ArrowLeft")
    idle(tab)
    keys(tab, "k", "u")
    (glow,) = kept_steps(tab)
    assert glow["settings"]["spread"] > 60
    assert glow["mix"]["blend"] == "multiply"
    assert [key["frame"] for key in glow["keys"]["mix.amount"]] == [0]
    assert len(glow["bursts"]) == 1
    keys(tab, "x", "Escape")
    expect(tab.get_by_role("region", name="Glow, open")).to_have_count(0)
    assert not kept_steps(tab)[0]["on"]


def test_steps_are_chosen_bundled_moved_taken_out_and_brought_back(tab, address):
    begin(tab, address, "glow", "curve", "grain")
    keys(tab, "o")
    reach(tab, "light", "button")  # the first card of the path: its stage comes first
    keys(tab, "m")
    expect(tab.get_by_text("Glow would stand at place 1 of 3.")).to_be_attached()
    keys(tab, "ArrowRight")
    expect(tab.get_by_text("Glow would stand at place 2 of 3.")).to_be_attached()
    keys(tab, "m")
    expect(tab.get_by_text("Glow is put down at place 2 of 3.")).to_be_attached()
    assert treatments_of(tab) == ["curve", "glow", "grain"]
    reach(tab, "film", "button")
    keys(tab, "Control+Enter")
    reach(tab, "light", "button", back=True)
    keys(tab, "Control+Enter")
    reach(tab, "Bundle 2 steps")
    keys(tab, "Enter")
    assert treatments_of(tab) == ["curve", "bundle"]
    keys(tab, "Control+z")
    assert treatments_of(tab) == ["curve", "glow", "grain"]
    expect(tab.get_by_role("status").filter(has_text="bundling 2 steps")).to_be_visible()
    reach(tab, "colour", "button")
    keys(tab, "Enter", "d")
    assert treatments_of(tab) == ["curve", "curve", "glow", "grain"]
    keys(tab, "Control+z", "Control+Shift+z")
    expect(tab.get_by_role("status").filter(has_text="Made again: adding Curve")).to_be_visible()


@pytest.mark.parametrize(
    ("kind", "name", "presses", "field"),
    [
        ("curve", "Point 1 of 2", ["Enter", "ArrowUp"], "luma"),
        ("ramp", "Stop 1 of 3", ["Enter", "ArrowRight"], "stops"),
        ("focus", "Centre", ["ArrowRight", "ArrowDown"], "centre"),
        ("crop", "Place", ["Shift+ArrowDown"], "place"),
        ("balance", "Shadows", ["ArrowUp", "ArrowRight"], "shadows_strength"),
        ("dust", "Take out", ["Enter"], "removed"),
    ],
)
def test_what_is_drawn_is_moved_by_keys(kind, name, presses, field, tab, address):
    begin(tab, address, kind)
    before = kept_steps(tab)[0]["settings"][field]
    reach(tab, name)
    keys(tab, *presses)
    assert kept_steps(tab)[0]["settings"][field] != before


def test_time_and_comparing(tab, address):
    begin(tab, address, "glow")
    keys(tab, "Shift+ArrowRight", "ArrowRight")
    expect(canvas_of(tab)).to_have_attribute("aria-label", re.compile("Frame 11"))
    keys(tab, "Shift+Home", "Shift+ArrowRight", "Shift+End")
    expect(tab.get_by_label("Played: frames 11 to 21")).to_be_visible()
    keys(tab, "v")
    reach(tab, "Wipe", "slider")
    was = tab.evaluate("document.activeElement.getAttribute('aria-valuenow')")
    keys(tab, "ArrowRight")
    assert tab.evaluate("document.activeElement.getAttribute('aria-valuenow')") != was


def test_a_look_is_renamed_and_deleted_and_comes_back(tab, address):
    begin(tab, address, "glow")
    reach(tab, "Look\nBy keyboard")
    keys(tab, "Enter")
    reach(tab, "Name of the look", "input")
    keys(tab, "Control+a", *"Dusk", "Enter")
    expect(tab.get_by_role("button", name="Look Dusk")).to_be_visible()
    reach(tab, "Delete Dusk")
    keys(tab, "Enter")
    expect(tab.get_by_role("button", name="Look Dusk")).to_have_count(0)
    keys(tab, "Escape", "Control+z")
    expect(tab.get_by_role("button", name="Look Dusk")).to_be_visible()


def test_a_clip_is_rendered_and_the_places_are_walked(tab, address):
    begin(tab, address)
    keys(tab, "r")
    reach(tab, "Output", "a")
    keys(tab, "Enter")
    expect(tab.get_by_role("heading", name="Rendering now")).to_be_visible()
    stop_renders(tab)
    reach(tab, "Steadiness", "a", back=True)
    keys(tab, "Enter")
    words = re.compile("Looking through|Change from frame to frame")
    expect(tab.get_by_role("main").get_by_text(words).first).to_be_visible()


def test_a_look_goes_through_the_clipboard(tab, address):
    tab.context.grant_permissions(["clipboard-read", "clipboard-write"])
    begin(tab, address, "glow")
    keys(tab, "Control+c")
    text = json.loads(tab.evaluate("navigator.clipboard.readText()"))
    assert [step["treatment"] for step in text["steps"]] == ["glow"]
    keys(tab, "Control+v")
    assert treatments_of(tab) == ["glow", "glow"]
