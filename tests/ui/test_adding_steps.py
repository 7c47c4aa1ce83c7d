"""The sheet for adding, and what is done with steps as a whole."""

import json

from playwright.sync_api import expect

from tests.ui.acting import (
    add_step,
    idle,
    kept_steps,
    new_look,
    open_look,
    treatments_of,
    with_glow,
)


def card(page, name):
    return page.get_by_role("button", name=f"After {name.lower()} ")


def test_a_dragged_step_lands_where_the_line_shows(page):
    open_look(page)
    for name in ("Glow", "Exposure", "Grain"):
        add_step(page, name)
    page.get_by_role("button", name="Close step").click()
    first, last = card(page, "glow").bounding_box(), card(page, "grain").bounding_box()
    middle = [first["x"] + first["width"] / 2, first["y"] + 40]
    page.mouse.move(*middle)
    page.mouse.down()
    page.mouse.move(middle[0] + 20, middle[1], steps=3)
    assert card(page, "exposure").bounding_box()["x"] < last["x"]  # the others stay
    page.mouse.move(last["x"] + last["width"] / 2, last["y"] + 40, steps=6)
    line = page.locator("[data-lands]")
    grain = kept_steps(page)[2]["id"]
    expect(line).to_have_attribute("data-lands", f"after {grain}")
    assert line.bounding_box()["x"] > last["x"] + last["width"] - 2
    page.mouse.up()
    expect(line).to_have_count(0)
    assert treatments_of(page) == ["exposure", "grain", "glow"]


def test_tiles_are_gone_through_by_the_arrows(page):
    open_look(page)
    page.keyboard.press("n")
    chosen = page.locator("[role=option][aria-selected=true]")
    seen = [chosen.get_attribute("data-kind")]
    for key in ("ArrowRight", "ArrowDown", "ArrowLeft", "ArrowUp"):
        page.keyboard.press(key)
        seen.append(chosen.get_attribute("data-kind"))
    assert seen == ["bend", "focus", "curve", "balance", "bend"]
    pictures = page.locator("[role=option] img")
    tiles = page.get_by_role("listbox", name="Treatments").get_by_role("option")
    expect(pictures).to_have_count(tiles.count())  # of the frame at hand
    page.keyboard.press("Escape")


def test_a_step_is_kept_under_a_name_and_added_again_in_another_look(page):
    spread = with_glow(page)
    spread.focus()
    page.keyboard.press("Shift+ArrowUp")
    page.get_by_role("button", name="Keep the step").click()
    expect(page.get_by_role("alert").get_by_text("Kept as “Glow, 62 px”")).to_be_visible()
    page.get_by_role("button", name="I have read this").click()
    new_look(page)
    page.keyboard.press("n")
    mine = page.get_by_role("region", name="My steps")
    mine.get_by_role("button", name="Glow, 62 px", exact=True).click()
    assert [s["settings"]["spread"] for s in kept_steps(page)] == [62]
    page.keyboard.press("n")
    mine.get_by_role("button", name="Let Glow, 62 px go").click()
    expect(mine).to_have_count(0)
    page.keyboard.press("Escape")


def paste(page, text):
    """What the browser does when text is pasted on the page."""
    page.evaluate(
        """text => {
          const data = new DataTransfer();
          data.setData("text/plain", text);
          document.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data }));
        }""",
        text,
    )
    idle(page)


def test_steps_are_copied_as_a_look_and_pasted_into_another(page):
    open_look(page)
    for name in ("Glow", "Tone", "Grain"):
        add_step(page, name)
    page.get_by_role("button", name="Close step").click()
    for name in ("glow", "tone"):
        card(page, name).click(modifiers=["Control"])
    text = page.evaluate(
        """() => {
          const data = new DataTransfer();
          const copy = new ClipboardEvent("copy", { clipboardData: data, cancelable: true });
          document.dispatchEvent(copy);
          return data.getData("text/plain");
        }"""
    )
    copied = json.loads(text)
    assert copied["format"].startswith("yearning-look/")
    assert [step["treatment"] for step in copied["steps"]] == ["glow", "tone"]
    new_look(page)
    paste(page, "just some words")
    assert treatments_of(page) == []
    paste(page, text)
    assert treatments_of(page) == ["glow", "tone"]
    paste(page, text)  # once more: ids of their own
    assert [s["id"] for s in kept_steps(page)] == ["glow-1", "tone-1", "glow-2", "tone-2"]
    paste(page, text.replace('"glow"', '"gleam"'))
    expect(page.get_by_role("alert").get_by_text("gleam")).to_be_visible()
    assert len(treatments_of(page)) == 4
