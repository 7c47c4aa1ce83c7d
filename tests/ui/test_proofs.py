"""Proof sheets: one thing changed many ways, side by side, taken by a click."""

import re

import pypdf
import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    LONG,
    ask,
    idle,
    kept_steps,
    labels_of,
    new_look,
    open_look,
    reload,
    send,
)
from tests.ui.test_standards import faults

GLOW = {"id": "g", "treatment": "glow", "settings": {"spread": 60}}
GRAIN = {"id": "n", "treatment": "grain"}
LOOK = {"format": "yearning-look/3", "name": "Tried", "steps": [GLOW, GRAIN]}


@pytest.fixture
def bench(page):
    open_look(page, LOOK)
    return page


def cells(page):
    return page.get_by_role("button", name=re.compile("^Take (?!.*for every clip)"))


def proofs_of(page, control):
    page.get_by_role("slider", name=control).focus()
    page.keyboard.press("s")
    full(page)


def full(page):
    """Wait until every cell has its picture."""
    idle(page)
    page.wait_for_function(
        """() => {
          const cells = [...document.querySelectorAll("[data-proofs] .proof")];
          return cells.length && cells.every((cell) => cell.querySelector("img")?.complete);
        }"""
    )


def spread(page):
    return kept_steps(page)[0]["settings"]["spread"]


def shots(page, *names):
    page.get_by_role("button", name="Change shots…").click()
    for name in names:
        page.get_by_role("checkbox", name=name).click()
    page.get_by_role("button", name="Change shots…").click()
    full(page)


def test_values_of_the_control_in_focus_are_seen_and_one_is_taken(bench):
    proofs_of(bench, "Spread")
    expect(cells(bench)).to_have_count(10)  # nine, and as it is now
    expect(bench.locator("[data-stands]")).to_contain_text("60 px · now")
    assert faults(bench) == []
    assert shows_the_benchs_picture(bench, "27 px", 26.75)
    bench.get_by_role("button", name="Take 101 px").click()
    assert spread(bench) == 101
    expect(bench.locator("[data-stands]")).to_contain_text("101 px · now")
    bench.get_by_role("button", name="Undo", exact=True).click()
    assert spread(bench) == 60
    bench.get_by_role("link", name="Bench").click()
    expect(bench.get_by_role("slider", name="Spread")).to_have_attribute("aria-valuenow", "60")


def shows_the_benchs_picture(page, cell, value):
    """Whether a cell is, byte for byte, the picture that the Bench has of that spread."""
    return page.evaluate(
        """async ([cell, value]) => {
          const image = document.querySelector(`[alt='${cell}']`);
          const bytes = async (answer) => new Uint8Array(await (await answer).arrayBuffer());
          const shown = await bytes(fetch(image.src));
          const height = 2 * Math.round(image.getBoundingClientRect().height / 2);
          const [look] = await (await fetch("/api/v1/looks")).json();
          look.look.steps[0].settings.spread = value;
          const body = JSON.stringify({
            clip: Number(document.querySelector("[aria-label=Clip]").value),
            frame: 0, look: look.look, height,
          });
          const headers = { "Content-Type": "application/json" };
          const asked = await bytes(fetch("/api/v1/pictures", { method: "POST", headers, body }));
          return shown.length === asked.length && shown.every((byte, i) => byte === asked[i]);
        }""",
        [cell, value],
    )


def test_rows_are_taken_for_every_clip_and_cells_for_their_own(bench):
    proofs_of(bench, "Spread")
    bench.get_by_label("How many").fill("3")
    bench.keyboard.press("Enter")
    shots(bench, "Glasshouse")
    expect(cells(bench)).to_have_count(2 * 4)
    cells(bench).and_(bench.get_by_role("button", name=re.compile("^Take 101 px, Glass"))).click()
    idle(bench)
    assert spread(bench) == 60  # of the barge, which is on the bench
    look = bench.evaluate("fetch('/api/v1/looks').then(r => r.json())")[0]
    (own,) = look["fittings"].values()
    assert own["steps"]["g"]["settings"] == {"spread": 101}
    bench.get_by_role("button", name="Take 200 px for every clip").click()
    assert spread(bench) == 200
    look = bench.evaluate("fetch('/api/v1/looks').then(r => r.json())")[0]
    assert look["fittings"] == {}
    expect(bench.get_by_role("button", name="Take 200 px for every clip")).to_have_text("Taken")
    bench.keyboard.press("Control+z")
    idle(bench)
    look = bench.evaluate("fetch('/api/v1/looks').then(r => r.json())")[0]
    assert len(look["fittings"]) == 1
    bench.get_by_label("How many").fill("40")
    bench.keyboard.press("Enter")  # a sheet has no more cells than it says
    expect(cells(bench)).to_have_count(64)
    expect(bench.get_by_text("the last 9 of 41 are left out")).to_be_visible()


def test_blend_modes_are_judged_at_once_and_one_seen_large(bench):
    bench.get_by_role("link", name="Proofs").click()
    bench.get_by_role("button", name="All blend modes of Glow").click()
    full(bench)
    expect(cells(bench)).to_have_count(21)
    cell = bench.get_by_role("button", name="Take soft light")
    cell.hover()
    bench.keyboard.down("f")
    expect(bench.locator("[data-enlarged] img")).to_have_count(2)
    bench.keyboard.up("f")
    expect(bench.locator("[data-enlarged]")).to_have_count(0)
    cell.click()
    assert kept_steps(bench)[0]["mix"]["blend"] == "soft light"


def test_closer_halves_the_span_about_a_cell(bench):
    proofs_of(bench, "Spread")
    cell = bench.get_by_role("button", name="Take 101 px")
    cell.hover()
    bench.get_by_role("button", name="Closer to 101 px").click()
    full(bench)
    expect(bench.get_by_label("From", exact=True)).to_have_value("52")
    expect(bench.get_by_label("To", exact=True)).to_have_value("151")
    bench.get_by_label("How they follow each other").select_option("by ratio")
    full(bench)
    expect(bench.get_by_role("button", name="Take 52 px")).to_be_visible()


def test_two_settings_are_rows_and_columns_and_both_are_taken(bench):
    proofs_of(bench, "Spread")
    bench.get_by_label("Across the sheet").select_option("Amount")
    full(bench)
    bench.get_by_label("How many", exact=True).fill("3")
    bench.keyboard.press("Enter")
    full(bench)
    expect(bench.get_by_role("heading", name="Glow · spread by amount")).to_be_visible()
    assert faults(bench) == []
    bench.get_by_role("button", name="Take 200 px · 33 %").click()
    glow = kept_steps(bench)[0]
    assert glow["settings"]["spread"] == 200
    assert glow["mix"]["amount"] == pytest.approx(1 / 3, abs=1e-3)
    bench.get_by_label("Across: from").fill("50")
    bench.keyboard.press("Enter")
    full(bench)
    expect(bench.get_by_role("button", name="Take 200 px · 50 %")).to_be_visible()
    bench.get_by_label("Across the sheet").select_option("shots")
    expect(bench.get_by_role("heading", name="Glow · spread", exact=True)).to_be_visible()


def kept_aside(page):
    button = page.get_by_role("button", name="Keep or save…")
    if button.get_attribute("aria-expanded") == "false":
        button.click()
    return page.get_by_role("dialog", name="Keep or save the sheet")


def test_a_sheet_is_kept_opened_again_and_marked_where_the_look_has_changed(bench):
    proofs_of(bench, "Spread")
    bench.get_by_label("How many").fill("5")
    bench.keyboard.press("Enter")
    kept_aside(bench).get_by_label("Name of the sheet").fill("How soft")
    bench.keyboard.press("Enter")
    row = bench.get_by_role("list", name="Kept sheets").get_by_role("button", name="How soft").first
    expect(row).to_have_text("How soft")
    bench.get_by_role("button", name="All blend modes").click()
    full(bench)
    bench.get_by_role("button", name="Take add", exact=True).click()
    idle(bench)
    kept_aside(bench)
    expect(row).to_contain_text("look changed since")
    reload(bench)
    bench.get_by_role("link", name="Proofs").click()
    row.click()
    full(bench)
    expect(bench.get_by_label("How many")).to_have_value("5")
    kept_aside(bench).get_by_role("button", name="Let How soft go").click()
    expect(bench.get_by_role("list", name="Kept sheets").get_by_role("listitem")).to_have_count(0)


def test_a_sheet_is_saved_as_a_page_with_its_captions(bench, tmp_path):
    proofs_of(bench, "Spread")
    shots(bench, "Glasshouse")
    with bench.expect_download() as download:
        kept_aside(bench).get_by_role("button", name="As a PDF page").click()
    download.value.save_as(tmp_path / "sheet.pdf")
    assert download.value.suggested_filename == "Tried-Glow-spread.pdf"
    [page] = pypdf.PdfReader(tmp_path / "sheet.pdf").pages
    words = page.extract_text()
    assert all(said in words for said in ("Tried: Glow · spread", "Glasshouse · 00", "101 px"))
    assert len(page.images) == 2 * 10


def test_a_row_is_played_in_step(bench):
    proofs_of(bench, "Spread")
    bench.get_by_label("How many").fill("3")
    bench.keyboard.press("Enter")
    shots(bench, "Glasshouse")
    bench.get_by_role("button", name="Play 101 px").click()
    seen = bench.evaluate(
        """async () => {
          const of = (name) => document.querySelectorAll(`[aria-label^="Take ${name}"] img`);
          const now = (name) => [...of(name)].map((image) => image.src);
          const [moving, still] = [now("101 px"), now("200 px")];
          const seen = new Set();
          const end = performance.now() + 30000;
          while (seen.size < 4 && performance.now() < end) {
            await new Promise(requestAnimationFrame);
            const next = now("101 px");
            if (next.some((source) => moving.includes(source))) continue;
            seen.add(next.join());
          }
          const together = new Set([...seen].flatMap((pair) => pair.split(",")));
          return [seen.size, together.size, now("200 px").join() === still.join()];
        }"""
    )
    assert seen == [4, 8, True]  # both of the row another picture each time, the other row still
    bench.get_by_role("button", name="Play 101 px").click()
    expect(bench.get_by_role("button", name="Play 101 px")).to_have_text("Play")


def test_all_clips_are_on_one_sheet_as_they_were_left_and_a_click_opens_one(bench):
    bench.get_by_label("Clip", exact=True).select_option(label="Glasshouse")
    new_look(bench)
    new = bench.get_by_role("button", name=re.compile("^Look ")).inner_text()
    bench.get_by_label("Clip", exact=True).select_option(label="Lantern barge")
    expect(bench.get_by_role("button", name="Look Tried")).to_be_visible()
    bench.get_by_role("link", name="Proofs").click()
    bench.get_by_role("button", name="All clips as they look now").click()
    full(bench)
    left = new.replace("Look", "", 1).strip(" \n▾")
    names = labels_of(cells(bench))
    assert [name.endswith(f", {left}") for name in names] == ["Glasshouse" in n for n in names]
    bench.get_by_role("button", name=re.compile("^Take Glasshouse")).click()
    expect(bench.get_by_role("link", name="Bench")).to_have_attribute("aria-current", "page")
    expect(bench.get_by_role("button", name=f"Look {left}")).to_be_visible()
    expect(bench.get_by_label("Clip", exact=True)).to_have_value(
        bench.get_by_label("Clip", exact=True).evaluate(
            "s => [...s.options].find(o => o.label === 'Glasshouse').value"
        )
    )


def test_the_shots_of_a_reel_are_columns(bench):
    clips = bench.evaluate("fetch('/api/v1/clips').then((answer) => answer.json())")
    first, second, *_ = [clip["id"] for clip in clips if clip["frames"] > 60]
    items = [
        {"kind": "shot", "id": id, "name": id, "clip": clip, "first": begin, "last": begin + 10}
        for id, clip, begin in (("a", first, 0), ("b", second, 20), ("c", first, 40))
    ]
    gap = {"kind": "gap", "id": "g", "frames": 5}
    send(bench, "/api/v1/reels", {"name": "Three shots", "items": [*items, gap]})
    proofs_of(bench, "Spread")
    bench.get_by_role("button", name="Change shots…").click()
    expect(bench.get_by_text("Shots of Three shots")).to_be_visible()
    bench.get_by_role("button", name="all 3").click()
    bench.get_by_role("button", name="Change shots…").click()
    expect(cells(bench)).to_have_count(30)  # nine values, and as it is now, on each
    full(bench)
    names = labels_of(cells(bench))
    ends = ["00:00:00:05", "00:00:01:01", "00:00:01:21"]
    assert [name[-11:] for name in names[:3]] == ends


def test_without_a_control_in_focus_it_is_said_how(bench):
    bench.keyboard.press("s")
    expect(bench.get_by_text("Put the focus on a control first; S opens")).to_be_visible()


def test_looks_are_seen_side_by_side_and_one_is_opened(bench):
    send(bench, "/api/v1/looks", LOOK | {"name": "Another one"})
    bench.get_by_role("link", name="Proofs").click()
    bench.get_by_role("button", name="All looks").click()
    full(bench)
    bench.get_by_role("button", name="Take Another one").click()
    expect(bench.get_by_role("button", name="Look Another one")).to_be_visible()


def test_a_clip_comes_near_another_picture_and_others_stay(bench):
    bench.get_by_role("button", name=re.compile("^Look ")).click()
    bench.get_by_role("button", name="Like a picture…").click()
    near = bench.get_by_role("region", name="Bring the clip near another picture")
    near.get_by_role("button", name="Like Glasshouse").click()
    near.get_by_role("slider", name="Frame").fill("30")
    near.get_by_label("Hold greys").check()
    assert faults(bench) == []
    near.get_by_role("button", name="Find the grade").click()
    expect(cells(bench)).to_have_count(4)
    full(bench)
    expect(
        bench.get_by_text(re.compile(r"of white away, .* % with all of it · greys .* off"))
    ).to_be_visible()
    cells(bench).nth(1).click()
    expect(bench.locator("[data-stands]")).to_contain_text("50 % · now")
    assert faults(bench) == []
    match, *others = kept_steps(bench)
    assert [step["treatment"] for step in others] == ["glow", "grain"]
    assert (match["id"], match["mix"]["amount"]) == ("match", 0.5)
    assert [step["treatment"] for step in match["settings"]["steps"]] == [
        "balance",
        "curve",
        "tone",
    ]
    bench.get_by_label("Clip").select_option(label="Reed walker")
    assert kept_steps(bench)[0]["mix"]["amount"] == 0


def test_a_clip_comes_near_a_plate_after_the_look(bench):
    bench.get_by_role("link", name="Proofs").click()
    near = bench.get_by_role("region", name="Bring the clip near another picture")
    near.get_by_role("button", name="Like light burn").click()
    near.get_by_label("Graded").select_option("after the look")
    near.get_by_role("button", name="Find the grade").click()
    expect(cells(bench)).to_have_count(4)
    cells(bench).nth(3).click()
    assert [step["id"] for step in kept_steps(bench)] == ["g", "n", "match"]
    bench.get_by_role("button", name="‹ Sheets").click()
    expect(near).to_be_visible()


def test_a_step_is_fitted_to_each_clip_and_its_amounts_are_taken_at_once(bench):
    ask(bench, "Mixed")
    bench.get_by_role("button", name="Fit to each clip…").click()
    alike = bench.get_by_role("button", name="Take alike for every clip")
    alike.wait_for(timeout=LONG)
    full(bench)
    expect(bench.get_by_role("heading", name="Glow alike on each clip")).to_be_visible()
    clips = bench.locator("[data-proofs] .proof").count() // 2
    assert clips >= 5
    expect(cells(bench)).to_have_count(clips)  # each clip as it is can't be taken
    assert faults(bench) == []
    alike.click()
    expect(bench.locator("[data-stands]")).to_have_count(clips)
    before = kept_steps(bench)[0]["mix"]["amount"]
    bench.get_by_label("Clip", exact=True).select_option(label="Reed walker")
    idle(bench)
    assert kept_steps(bench)[0]["mix"]["amount"] < before
