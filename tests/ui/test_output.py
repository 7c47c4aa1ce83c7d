"""Output, used as an editor uses it: one look on many clips, and what becomes of them."""

import re
import zipfile

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    LONG,
    add_step,
    bring_in,
    idle,
    open_look,
    reload,
    settled_picture,
    show_beside,
)
from tests.ui.conftest import SCHEDULER
from yearning.media.decode.probe import probe_file
from yearning.media.plates.plates import OpenPlate
from yearning.media.stills.stills import write_still


@pytest.fixture
def output(page, make_clip):
    """The page at Output, with two short clips in the project."""
    for name, frames in (("first.mp4", 30), ("second.mp4", 40)):
        bring_in(page, make_clip(name, "libx264", frames=frames, tone=True))
    open_look(page, clip="second")
    page.get_by_role("link", name=re.compile("^Output")).click()
    expect(page.get_by_role("heading", name="Render clips")).to_be_visible()
    choose(page, "first", "second")
    return page


def choose(page, *names):
    """Have these clips rendered, and no other."""
    for name in ("Lantern barge", "Glasshouse", "first", "second"):
        choice = page.get_by_role("checkbox", name=name)
        if (choice.get_attribute("aria-checked") == "true") != (name in names):
            choice.click()


def ended_renders(page, clip, count=1):
    """The lines of a clip's renders that have ended."""
    lines = page.get_by_role("region", name="Rendered", exact=True).get_by_role("listitem")
    found = lines.filter(has_text=re.compile(f"{clip}-"))
    expect(found.nth(count - 1)).to_be_visible(timeout=LONG)
    return found


def test_one_look_on_two_clips_and_the_results_are_taken(output, tmp_path):
    output.get_by_label("Render as").select_option("AV1")
    output.get_by_label("Quality", exact=True).select_option("draft")
    output.get_by_role("button", name="Render 2 clips").click()
    for clip, frames in (("first", 30), ("second", 40)):
        line = ended_renders(output, clip).first
        expect(line).to_contain_text("AV1 draft, CRF 46")
        expect(line).to_contain_text("frames/s")
        expect(line.get_by_role("img", name="As rendered")).to_be_visible()
        with output.expect_download(timeout=LONG) as download:
            line.get_by_role("link", name="Download").click()
        path = tmp_path / f"{clip}.webm"
        download.value.save_as(path)
        assert probe_file(path).frames == frames
        line.get_by_role("button", name="Location").click()
        expect(line.get_by_text(re.compile(f"/renders/{clip}-.*webm$")).last).to_be_visible()
    # again, and the page is opened anew meanwhile
    before = ended_renders(output, "first").count()
    ended_renders(output, "first").first.get_by_role("button", name="Again").click()
    reload(output)
    ended_renders(output, "first", before + 1)


def test_stills_are_taken_as_an_archive(output, tmp_path):
    output.get_by_role("checkbox", name="second").click()
    output.get_by_label("Render as").select_option("PNG")
    output.get_by_label("Bits").select_option("8")
    output.get_by_label("Size of the result").select_option("")
    output.get_by_role("button", name="Render clip").click()
    line = ended_renders(output, "first").filter(has_text="PNG stills, 8 bit").first
    expect(line).to_be_visible(timeout=LONG)
    with output.expect_download() as download:
        line.get_by_role("link", name="Download").click()
    download.value.save_as(tmp_path / "stills.zip")
    assert len(zipfile.ZipFile(tmp_path / "stills.zip").namelist()) == 30


def test_what_a_look_lays_over_a_clip_is_taken_alone_with_alpha(output, tmp_path):
    output.get_by_role("link", name=re.compile("^Bench")).click()
    add_step(output, "Vignette")
    output.get_by_role("link", name=re.compile("^Output")).click()
    choose(output, "first")
    assert output.get_by_label("Picture", exact=True).count() == 0  # H.264 holds no alpha
    output.get_by_label("Render as").select_option("FFV1")
    output.get_by_label("Picture", exact=True).select_option("look alone, with alpha")
    output.get_by_role("button", name="Render clip").click()
    line = ended_renders(output, "first").filter(has_text="overlay with alpha").first
    expect(line).to_be_visible(timeout=LONG)
    with output.expect_download() as download:
        line.get_by_role("link", name="Download").click()
    download.value.save_as(tmp_path / "over.mkv")
    plate = OpenPlate(tmp_path / "over.mkv")
    alpha = plate.matte(3, plate.size)
    assert alpha.max() > 0.2 > 0.01 > alpha.min()
    output.get_by_label("Render as").select_option("AV1")
    output.get_by_label("Render as").select_option("FFV1")
    expect(output.get_by_label("Picture", exact=True)).to_have_value("clip")


def test_a_render_is_stopped_goes_on_and_others_are_put_before_it(output):
    output.get_by_label("With look").select_option("Lamps at dusk")  # it takes a while
    output.get_by_role("checkbox", name="second").click()
    output.get_by_role("checkbox", name="first").click()
    output.get_by_role("checkbox", name="Glasshouse").click()
    output.get_by_label("Quality", exact=True).select_option("draft")
    output.get_by_role("button", name="Render clip").click()
    now = output.get_by_role("region", name="Rendering now").get_by_role("listitem")
    glasshouse = now.filter(has_text="Glasshouse")
    expect(glasshouse.get_by_text("frames/s")).to_be_visible(timeout=LONG)
    expect(glasshouse.locator("[data-cell='in hand']").first).to_be_visible()
    output.get_by_role("checkbox", name="Glasshouse").click()
    output.get_by_role("checkbox", name="first").click()
    output.get_by_role("button", name="Render clip").click()
    waiting = now.filter(has_text="first")
    expect(waiting).to_contain_text("waits")
    expect(output.get_by_role("link", name="Output 2")).to_be_visible()
    glasshouse.get_by_role("button", name="Stop").click()
    stopped = ended_renders(output, "glasshouse").filter(has_text="Stopped").first
    expect(stopped.get_by_role("button", name="Go on")).to_be_visible()
    stopped.get_by_role("button", name="Go on").click()
    expect(glasshouse).to_be_visible()
    glasshouse.get_by_role("button", name="Stop").click()
    ended_renders(output, "first")


def test_what_was_rendered_with_an_older_look_is_rendered_anew(output):
    """And the one of the old look is hidden, and shown again."""
    output.get_by_role("checkbox", name="second").click()
    output.get_by_label("First frame").fill("2")
    output.get_by_label("Last frame").fill("4")
    expect(output.get_by_text("3 frames", exact=True)).to_be_visible()
    output.get_by_label("Bits").select_option("10")
    output.get_by_role("button", name="Render clip").click()
    old = ended_renders(output, "first").filter(has_text="10 bit").first
    expect(old).to_be_visible(timeout=LONG)
    expect(output.get_by_role("button", name=re.compile("^Render what changed"))).to_have_count(0)
    output.get_by_role("link", name="Bench").click()
    add_step(output, "Exposure")
    idle(output)
    output.get_by_role("link", name=re.compile("^Output")).click()
    expect(old).to_contain_text("which has changed since")
    before = ended_renders(output, "first").count()
    output.get_by_role("button", name="Render what changed: 1 clip").click()
    newer = ended_renders(output, "first", before + 1).first
    expect(newer).not_to_contain_text("which has changed since")
    expect(output.get_by_role("button", name=re.compile("^Render what changed"))).to_have_count(0)
    old = ended_renders(output, "first").filter(has_text="which has changed since").first
    old.get_by_role("button", name="Again…").click()
    expect(old.get_by_role("button", name="With the look as it was")).to_be_visible()
    output.keyboard.press("Escape")
    expect(old.get_by_role("button", name="With the look as it was")).to_have_count(0)
    old.get_by_role("button", name=re.compile("^Hide ")).click()
    hidden = output.get_by_role("button", name=re.compile("renders? hidden"))
    expect(ended_renders(output, "first")).to_have_count(before)
    hidden.click()
    output.get_by_role("button", name="Show again").first.click()
    expect(ended_renders(output, "first")).to_have_count(before + 1)


def test_several_clips_each_have_their_own_frames(output):
    output.get_by_role("checkbox", name="second").click()
    output.get_by_label("First frame").fill("5")
    output.get_by_role("checkbox", name="second").click()
    expect(output.get_by_text("whole clips, but first 5 to 29")).to_be_visible()
    output.get_by_role("checkbox", name="second").click()
    output.get_by_label("First frame").fill("")
    expect(output.get_by_text("all", exact=True)).to_be_visible()


def test_where_renders_are_made_is_chosen_among_what_was_named_at_the_start(output):
    for value in (SCHEDULER, "1"):
        output.get_by_label("Where renders are made").select_option(value)
        idle(output)
        reload(output)
        expect(output.get_by_label("Where renders are made")).to_have_value(value)
    output.get_by_label("Where renders are made").select_option("")
    idle(output)


def test_numbered_stills_are_brought_in_as_one_clip(page, tmp_path):
    open_look(page)
    paths = [tmp_path / f"dusk_{n}.png" for n in (8, 9, 10)]
    for n, path in enumerate(paths):
        write_still(np.full((3, 54, 96), n / 4, np.float32), path, 8)
    page.get_by_label("Files to bring in").set_input_files(paths)
    asked = page.get_by_role("group", name="What these stills are")
    expect(asked).to_contain_text("3 stills: dusk_8.png, dusk_9.png, dusk_10.png")
    asked.get_by_role("button", name="One clip of 3 frames").click()
    expect(page.get_by_label("Clip", exact=True).locator("option:checked")).to_have_text(
        "dusk", timeout=LONG
    )
    show_beside(page, "Footage")
    expect(page.get_by_text("stills, png")).to_be_visible()
    expect(page.get_by_label("Input matrix")).to_have_count(0)
    page.keyboard.press("End")
    np.testing.assert_allclose(settled_picture(page).mean(), 255 * 2 / 4, atol=2)
