"""The manual beside the picture: how the open step works, notes, and how-tos walked through."""

import re

import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    idle,
    kept_steps,
    look_of,
    open_look,
    reload,
    show_beside,
    treatments_of,
)
from yearning.core.treatments import TREATMENTS
from yearning.starters import starters


def test_the_open_step_is_explained_with_a_line_for_each_setting(page):
    open_look(page, look_of("vignette"))
    page.get_by_role("button", name="How it works").click()
    manual = page.get_by_role("article", name="Manual: Vignette")
    expect(manual).to_contain_text("Outside an opening the picture is darker, or lighter.")
    for name, field in TREATMENTS["vignette"].model_fields.items():
        term = manual.locator("dt").filter(has_text=re.compile(f"^{field.title}$"))
        expect(term, name).to_have_count(1)
        expect(manual).to_contain_text(field.description)
    expect(manual).to_contain_text("-3 to 3 stops")


def test_a_note_is_kept_in_the_look_and_said_on_the_tile(page):
    open_look(page, look_of("glow"))
    show_beside(page, "Manual")
    page.get_by_label("Note on Glow").fill("Only the lamps.")
    page.get_by_role("button", name="Close step").click()
    idle(page)
    assert kept_steps(page)[0]["note"] == "Only the lamps."
    tile = page.get_by_role("button", name="After glow ")
    assert tile.get_attribute("title").startswith("Only the lamps.")
    page.get_by_role("button", name="Undo").click()
    idle(page)
    assert kept_steps(page)[0]["note"] == ""


@pytest.mark.parametrize("name", ["Soft mist", "Three-way split hits"])
def test_a_how_to_is_walked_through_step_by_step(name, page):
    open_look(page)
    starter = next(s for s in starters() if s.look.name == name)
    show_beside(page, "Manual")
    if page.get_by_role("button", name="Close step").count():
        page.get_by_role("button", name="Close step").click()
    page.get_by_role("button", name=f"Walk through {name}").click()
    walk = page.get_by_role("region", name=f"Walk through {name}")
    expect(walk).to_contain_text(starter.summary)
    for number, step in enumerate(starter.look.steps, start=1):
        walk.get_by_role("button", name=f": {step.treatment.title()}").click()
        expect(walk).to_contain_text(f"step {number} of {len(starter.look.steps)}")
        expect(walk).to_contain_text(step.note)
        expect(page.get_by_role("region", name=f"{step.treatment.title()}, open")).to_be_visible()
    expect(walk).to_contain_text("That is all of it")
    assert treatments_of(page) == [step.treatment for step in starter.look.steps]
    if starter.bursts:
        assert kept_steps(page)[-1]["bursts"]  # made for the clip
    walk.get_by_role("button", name="Done").click()
    expect(walk).to_have_count(0)


def test_a_page_that_was_left_at_the_manual_opens_there(page):
    open_look(page)
    show_beside(page, "Manual")
    idle(page)
    reload(page)
    expect(page.get_by_role("region", name="How-tos")).to_be_visible()


def test_treatments_are_read_about_without_a_step(page):
    open_look(page)
    show_beside(page, "Manual")
    page.get_by_role("region", name="Treatments").get_by_role("button", name="Halftone").click()
    expect(page.get_by_role("article", name="Manual: Halftone")).to_be_visible()
    page.get_by_role("button", name="All treatments").click()
    expect(page.get_by_role("region", name="How-tos")).to_be_visible()
