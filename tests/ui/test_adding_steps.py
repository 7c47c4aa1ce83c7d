"""The sheet for adding, and what is done with steps as a whole."""

import json

import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    add_step,
    ask,
    idle,
    kept_steps,
    new_look,
    open_look,
    tile,
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


CALLED = {"snow": "flurry", "satur": "hue", "jitter": "flicker", "texture": "plate"}


def test_a_treatment_is_found_by_what_people_call_it(page):
    open_look(page)
    for typed, added in CALLED.items():
        page.keyboard.press("n")
        page.keyboard.type(typed)
        expect(tile(page, added.title())).to_be_visible()
        chosen = page.locator("[role=option][aria-selected=true]")
        for _ in range(8):
            if chosen.get_attribute("data-kind") == added:
                break
            page.keyboard.press("ArrowRight")
        assert page.get_by_role("option").count() > 1
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name=f"{added.title()}, open")).to_be_visible()
        assert treatments_of(page) == [added]
        page.keyboard.press("Control+z")
        idle(page)


def test_in_the_sheet_letters_are_typed_and_no_shortcut_works(page):
    with_glow(page)
    renders = page.evaluate("fetch('/api/v1/renders').then(r => r.json())")
    page.keyboard.press("n")
    page.keyboard.type("rxk?")
    expect(page.get_by_text("Nothing is called that here")).to_be_visible()
    page.get_by_role("button", name="Not now").focus()
    page.keyboard.press("x")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")  # the button's own key, not the tile's
    expect(page.get_by_role("listbox", name="Treatments")).to_have_count(0)
    assert kept_steps(page)[0]["on"]
    assert page.evaluate("fetch('/api/v1/renders').then(r => r.json())") == renders
    expect(page.get_by_text("0 of 192", exact=True)).to_be_visible()
    expect(page.get_by_role("dialog", name="Keys")).to_have_count(0)


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


def test_a_step_is_made_twice_and_the_two_are_apart(page):
    spread = with_glow(page)
    spread.focus()
    page.keyboard.press("Shift+ArrowUp")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("d")
    first, second = kept_steps(page)
    assert (first["id"], second["id"]) == ("glow-1", "glow-2")
    assert first["settings"] == second["settings"]
    spread.focus()
    page.keyboard.press("Shift+ArrowUp")
    assert [s["settings"]["spread"] for s in kept_steps(page)] == [62, 72]
    page.get_by_role("button", name="Undo").click()
    page.get_by_role("button", name="Undo").click()
    assert treatments_of(page) == ["glow"]


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


def pasted(page, text):
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
    pasted(page, "just some words")
    assert treatments_of(page) == []
    pasted(page, text)
    assert treatments_of(page) == ["glow", "tone"]
    pasted(page, text)  # once more: ids of their own
    assert [s["id"] for s in kept_steps(page)] == ["glow-1", "tone-1", "glow-2", "tone-2"]
    pasted(page, text.replace('"glow"', '"gleam"'))
    expect(page.get_by_role("alert").get_by_text("gleam")).to_be_visible()
    assert len(treatments_of(page)) == 4


def test_chosen_steps_are_moved_and_taken_out_together(page):
    open_look(page)
    for name in ("Exposure", "Tone", "Hue"):
        add_step(page, name)
    page.get_by_role("button", name="Close step").click()
    for name in ("tone", "hue"):
        card(page, name).click(modifiers=["Control"])
    page.get_by_role("button", name="Move them earlier").click()
    assert treatments_of(page) == ["tone", "hue", "exposure"]
    page.get_by_role("button", name="Take them out").click()
    assert treatments_of(page) == ["exposure"]
    page.keyboard.press("Control+z")
    assert treatments_of(page) == ["tone", "hue", "exposure"]


def test_an_unusual_order_is_said_and_mended_by_a_click(page):
    open_look(page)
    for name in ("Sharpen", "Grain"):
        add_step(page, name)
    hint = page.get_by_role("button", name="It sharpens the grain. Move it before that")
    expect(hint).to_have_count(0)
    page.get_by_role("button", name="Move earlier").click()
    hint.click()
    expect(hint).to_have_count(0)
    assert treatments_of(page) == ["sharpen", "grain"]


def test_a_number_beyond_its_limit_says_the_limit_and_gives_the_keyboard_back(page):
    with_glow(page)
    ask(page, "Mixed")
    typed = page.get_by_role("textbox", name="Amount, in %")
    typed.fill("140")
    typed.press("Enter")
    expect(page.get_by_role("alert").get_by_text("at most 100 %")).to_be_visible()
    assert kept_steps(page)[0]["mix"]["amount"] == 1
    page.keyboard.press("ArrowRight")  # the field has let the keyboard go
    expect(page.get_by_text("1 of 192", exact=True)).to_be_visible()


def test_a_drag_with_shift_is_ten_times_finer(page):
    spread = with_glow(page)
    box = spread.bounding_box()
    y = box["y"] + 10
    page.mouse.move(box["x"] + 52 / 200 * box["width"], y)
    page.keyboard.down("Shift")
    page.mouse.down()
    page.mouse.move(box["x"] + 52 / 200 * box["width"] + 50, y, steps=5)
    page.mouse.up()
    page.keyboard.up("Shift")
    fine = kept_steps(page)[0]["settings"]["spread"] - 52
    assert 0 < fine == pytest.approx(50 / box["width"] * 200 / 10, rel=0.25)
