"""The place Reel: shots put together by hand or from a timeline, seen, heard, rendered."""

import re
from pathlib import Path

import numpy as np
import opentimelineio as otio
import pytest
from playwright.sync_api import expect

from tests.api.test_reels import EDIT_LIST
from tests.conftest import encode, encode_grey
from tests.media.making import CUT_AT, moving_clip
from tests.media.timeline.making import cut_clip, save_timeline, span, timeline
from tests.ui.acting import (
    LONG,
    bring_in,
    canvas_of,
    idle,
    labels_of,
    leave_page,
    open_look,
    reload,
    seen_pixels,
    send,
    with_frames_ahead,
)
from tests.ui.test_standards import faults
from yearning.core.picture import Size
from yearning.media.decode.clip import open_clip

BRIGHT = {
    "format": "yearning-look/3",
    "name": "Brighter",
    "steps": [{"id": "e", "treatment": "exposure", "settings": {"stops": 2}}],
}
NAMES = ("alder.mp4", "birch.mp4")
SIZE = Size(160, 96)
"""No other test's: a clip of the same bytes would be here under its name."""


@pytest.fixture
def reel(page, make_clip):
    """The page at a new reel; two clips of 40 and 30 frames are there, and a look."""
    for name, frames in zip(NAMES, (40, 30), strict=True):
        bring_in(page, make_clip(name, "libx264", frames=frames, size=SIZE, tone=True))
    send(page, "/api/v1/reels", {"name": "By hand"})
    open_look(page, BRIGHT)
    page.get_by_role("link", name="Reel").click()
    expect(page.get_by_label("Name of the reel")).to_have_value("By hand")
    expect(page.get_by_text("Nothing in this reel yet")).to_be_visible()
    return page


def shots(page):
    """What the strip says of each shot, without its number."""
    idle(page)
    cells = page.get_by_role("listbox", name="Shots").get_by_role("option")
    said = labels_of(cells)
    return [words.partition(": ")[2] for words in said]


def cell(page, number):
    return page.get_by_role("option", name=re.compile(f"^Shot {number}:"))


def put_in(page, *names):
    for name in names:
        page.get_by_role("button", name=f"Put in {name}").click()
        idle(page)


def brighter(page):
    """The look on the shelf: the last one, of those that every test adds."""
    return page.get_by_role("button", name="Give Brighter").first


def head(page):
    found = page.get_by_role("slider", name="Frame of the reel")
    return int(found.get_attribute("aria-valuenow"))


def test_a_reel_is_put_together_cut_and_taken_back(reel):
    put_in(reel, "alder", "birch")
    assert shots(reel) == ["alder as shot, 40 frames", "birch as shot, 30 frames"]
    cell(reel, 2).click()
    assert head(reel) == 40
    for _ in range(12):
        reel.keyboard.press("ArrowRight")
    reel.keyboard.press("c")
    after_cut = ["alder as shot, 40 frames", "birch as shot, 12 frames",
                 "birch as shot, 18 frames"]  # fmt: skip
    assert shots(reel) == after_cut
    reel.get_by_role("slider", name="Where it ends").focus()
    reel.keyboard.press("ArrowLeft")
    assert shots(reel)[1] == "birch as shot, 11 frames"
    reel.get_by_role("button", name="Earlier").click()
    assert shots(reel)[0] == "birch as shot, 11 frames"
    brighter(reel).click()
    assert shots(reel)[0] == "birch Brighter, 11 frames"
    for _ in range(3):
        reel.keyboard.press("Control+z")
        idle(reel)
    assert shots(reel) == after_cut
    named = reel.get_by_label("Name of the shot")
    named.fill("the one by the wall")
    named.press("Enter")
    assert "the one by the wall as shot, 12 frames" in shots(reel)
    reel.keyboard.press("Control+z")
    assert shots(reel) == after_cut
    reel.keyboard.press("Control+Shift+z")
    reload(reel)
    expect(cell(reel, 2)).to_be_visible()
    assert "the one by the wall as shot, 12 frames" in shots(reel)


def test_cuts_within_a_shot_are_found_corrected_and_made(reel, tmp_path):
    take = moving_clip(tmp_path / "take.mp4", 30)
    send(reel, "/api/v1/clips?name=take.mp4", take.read_bytes())
    reload(reel)
    put_in(reel, "alder", "take")
    cell(reel, 2).click()
    find = reel.get_by_role("button", name="Find cuts")
    find.click()
    found = reel.get_by_role("region", name="Cuts found")
    expect(found).to_contain_text("1 possible cut in take", timeout=LONG)
    place = found.get_by_role("button", name=re.compile(f"^frame {CUT_AT} "))
    expect(place).to_have_attribute("aria-pressed", "true")
    assert faults(reel) == []
    place.click()
    assert head(reel) == 40 + CUT_AT
    expect(place).to_have_attribute("aria-pressed", "false")
    expect(found.get_by_role("button", name="Cut at 0 places")).to_be_disabled()
    place.click()
    found.get_by_role("button", name="Cut at 1 place").click()
    expect(found).to_have_count(0)
    assert shots(reel)[1:] == ["take as shot, 14 frames", "take as shot, 16 frames"]
    cell(reel, 3).click()
    find.click()
    expect(found).to_contain_text("No cut in take", timeout=LONG)
    found.get_by_role("button", name="Close").click()
    expect(found).to_have_count(0)
    reel.keyboard.press("Control+z")
    assert shots(reel)[1:] == ["take as shot, 30 frames"]


def test_clips_and_looks_are_dragged_in_and_an_end_is_dragged(reel):
    put_in(reel, "alder")
    clip = reel.get_by_title("Drag birch into the reel")
    clip.drag_to(cell(reel, 1), target_position={"x": 40, "y": 30})
    assert [words.partition(" ")[0] for words in shots(reel)] == ["birch", "alder"]
    brighter(reel).drag_to(cell(reel, 2))
    assert "Brighter" in shots(reel)[1]
    cell(reel, 2).click()
    end = reel.get_by_role("slider", name="Where it begins").bounding_box()
    wide = cell(reel, 2).bounding_box()["width"]
    reel.mouse.move(end["x"] + 4, end["y"] + 10)
    reel.mouse.down()
    reel.mouse.move(end["x"] + 4 + wide / 4, end["y"] + 10, steps=4)
    reel.mouse.up()
    assert shots(reel)[1] == "alder Brighter, 30 frames"


def test_shots_are_seen_through_their_looks_beside_their_neighbours(reel):
    put_in(reel, "alder", "birch")
    cell(reel, 1).click()
    idle(reel)
    dark = seen_pixels(reel)
    brighter(reel).click()
    idle(reel)
    assert seen_pixels(reel).mean() > dark.mean() + 20
    reel.keyboard.down("b")
    idle(reel)
    assert np.abs(seen_pixels(reel) - dark).mean() < 1
    reel.keyboard.up("b")
    beside = reel.get_by_role("button", name="The shot after: birch")
    beside.click()
    assert head(reel) == 40
    reel.keyboard.press("ArrowUp")
    assert head(reel) == 0
    expect(reel.get_by_text("alder, frame 0 · Brighter")).to_be_visible()
    assert faults(reel) == []


def test_the_shots_stand_over_the_filmstrip_while_one_is_worked_on(reel):
    put_in(reel, "alder", "birch")
    cell(reel, 2).click()
    brighter(reel).click()
    reel.keyboard.press("Shift+ArrowRight")
    reel.get_by_role("button", name="Open on the Bench").click()
    strip = reel.get_by_role("region", name="Shots of the reel")
    expect(strip).to_contain_text("2 of 2")
    frame = reel.get_by_role("slider", name="Frame", exact=True)
    expect(frame).to_have_attribute("aria-valuenow", "10")
    expect(frame).to_have_attribute("aria-valuemax", "29")
    expect(reel.locator("[data-open-step], [data-step]").first).to_be_visible()
    idle(reel)
    assert faults(reel) == []
    expect(strip.get_by_role("button", name="The next shot")).to_be_disabled()
    expect(strip.get_by_role("button", name="Use look")).to_have_count(0)  # it has it
    strip.get_by_role("button", name="1 alder").click()
    expect(strip).to_contain_text("1 of 2")
    expect(frame).to_have_attribute("aria-valuemax", "39")
    strip.get_by_role("button", name="Use look").click()
    expect(strip.get_by_role("button", name="Use look")).to_have_count(0)
    reel.keyboard.press("Control+z")  # at once, while it is on its way
    expect(reel.get_by_label("Name of the reel")).to_have_value("By hand")
    assert [words.split()[1] for words in shots(reel)] == ["as", "Brighter,"]
    cell(reel, 1).click()
    reel.get_by_role("button", name="Open on the Bench").click()
    expect(strip).to_contain_text("1 of 2")
    reel.get_by_role("button", name=re.compile("^Look Brighter")).drag_to(
        strip.get_by_role("button", name="1 alder")
    )
    expect(strip.get_by_role("button", name="Use look")).to_have_count(0)
    strip.get_by_role("button", name="The next shot").click()
    expect(strip).to_contain_text("2 of 2")
    expect(frame).to_have_attribute("aria-valuenow", "0")
    strip.get_by_role("button", name="Reel", exact=True).click()
    expect(reel.get_by_label("Name of the reel")).to_have_value("By hand")
    assert head(reel) == 40
    reel.get_by_role("button", name="Open on the Bench").click()
    strip.get_by_role("button", name="Hide").click()
    expect(strip).to_have_count(0)


WATCH_WHAT_SOUNDS = """
window.heard = new Map();
window.together = 0;
const watch = () => {
    const slider = document.querySelector('[aria-label="Frame of the reel"]');
    if (!slider) return; // the Reel is left
    const head = +slider.ariaValueNow;
    const playing = [...document.querySelectorAll("audio")].filter((a) => !a.paused);
    window.together = Math.max(window.together, playing.length);
    const shot = head > 5 && head < 35 ? 1 : head > 45 && head < 65 ? 2 : 0;
    const known = window.heard.get(shot) ?? new Set();
    for (const { src } of playing) if (shot) window.heard.set(shot, known.add(src));
    requestAnimationFrame(watch);
};
requestAnimationFrame(watch);
"""
"""Note, at each picture, how many sounds play at once, and which when well within a shot."""


def test_it_plays_through_its_cuts_with_sound(reel):
    put_in(reel, "alder", "birch")
    cell(reel, 2).click()
    for _ in range(2):
        reel.keyboard.press("Shift+ArrowLeft")
    assert head(reel) == 20
    reel.evaluate(WATCH_WHAT_SOUNDS)
    reel.keyboard.press(" ")
    # Head and sound are read in one step: the reel goes round, and its second shot lasts 1.2 s.
    reel.wait_for_function("[...window.heard.values()].length === 2", timeout=LONG)
    assert reel.evaluate("window.together") == 1
    first, second = (reel.evaluate(f"[...window.heard.get({n})]") for n in (1, 2))
    assert len(first) == len(second) == 1
    assert first != second
    reel.get_by_role("button", name="Pause").click()
    expect(reel.get_by_role("button", name="Play", exact=True)).to_be_visible()
    assert canvas_of(reel).get_attribute("aria-label") == f"Frame {head(reel)} of the reel"
    reel.get_by_role("link", name="Bench").click()
    assert reel.evaluate("[...document.querySelectorAll('audio')].every((a) => a.paused)")


def test_at_rest_the_frames_of_all_its_shots_are_made(reel):
    put_in(reel, "alder", "birch")
    with_frames_ahead(reel)
    reel.wait_for_function(
        """() => {
            const kept = document.querySelectorAll("[data-kept]");
            const strip = document.querySelector('[role="listbox"][aria-label="Shots"]');
            return kept.length === 1 && Math.abs(kept[0].offsetWidth - strip.offsetWidth) <= 1;
        }""",
        timeout=LONG,
    )
    cell(reel, 2).click()
    brighter(reel).click()
    expect(reel.locator("[data-kept]")).to_have_count(0)  # those were of another cut


def test_shots_are_rendered_and_the_cut_goes_out_as_a_timeline(reel, tmp_path):
    put_in(reel, "alder", "birch")
    cell(reel, 2).click()
    reel.get_by_role("button", name="Render…").click()
    reel.get_by_label("Render as").select_option("FFV1")
    handles = reel.get_by_label("Frames more before and after each shot")
    handles.fill("3")
    handles.press("Enter")
    reel.get_by_role("button", name="Only the 1 chosen").click()
    expect(reel.get_by_text("1 shot on the way")).to_be_visible()
    reel.get_by_role("button", name="Render…").click()
    reel.get_by_role("button", name="Render…").click()
    expect(reel.get_by_text("Rendered as they are now: 1 of 2")).to_be_visible(timeout=LONG)
    with reel.expect_download() as download:
        reel.get_by_role("link", name="Timeline .otio").click()
    download.value.save_as(tmp_path / "out.otio")
    track = otio.adapters.read_from_file(str(tmp_path / "out.otio")).video_tracks()[0]
    assert [each.name for each in track] == ["alder", "birch"]
    clip = track[0].media_reference  # its own: it is not rendered
    assert Path(clip.target_url).parent.name == "media"
    assert clip.available_range.duration.value == 40
    assert track[1].media_reference.target_url.endswith(".mkv")
    assert track[1].trimmed_range().duration.value == 30


def test_flashes_that_cuts_make_are_found_and_gone_to(page, tmp_path):
    numbers = []
    for name, grey in (("coal", 40), ("chalk", 210)):
        encode_grey(tmp_path / f"{name}.mkv", [grey] * 31)
        data = (tmp_path / f"{name}.mkv").read_bytes()
        numbers.append(send(page, f"/api/v1/clips?name={name}.mkv", data).json()["id"])
    items = [
        {"kind": "shot", "id": f"s{n}", "name": f"s{n}", "clip": numbers[n % 2], "first": 0,
         "last": 29 if n in (0, 11) else 2}
        for n in range(12)
    ]  # fmt: skip
    send(page, "/api/v1/reels", {"name": "Strobe", "items": items})
    leave_page(page)
    page.goto("/#reel")
    expect(page.get_by_label("Name of the reel")).to_have_value("Strobe")
    page.get_by_role("button", name="Measure").click()
    found = page.get_by_role("region", name="Steadiness and flashes")
    expect(found).to_contain_text("1 finding in Strobe", timeout=LONG)
    found.get_by_role("button", name="Flashes from 00:00:01:06").click()
    assert head(page) == 30
    expect(found).to_contain_text("The cuts cause it")
    assert faults(page) == []
    found.get_by_role("button", name="Close").click()
    expect(found).to_have_count(0)


def test_the_whole_cut_is_made_one_movie(reel, tmp_path):
    put_in(reel, "alder", "birch")
    reel.get_by_role("button", name="Render…").click()
    reel.get_by_label("Render as").select_option("FFV1")
    reel.get_by_role("button", name="Make one movie").click()
    taken = reel.get_by_role("link", name="Download By hand")
    expect(taken).to_be_visible(timeout=LONG)
    assert faults(reel) == []
    with reel.expect_download() as download:
        taken.first.click()
    download.value.save_as(tmp_path / "all.mkv")
    with open_clip(tmp_path / "all.mkv") as movie:
        assert movie.frames == 70
    cell(reel, 2).click()
    reel.get_by_role("button", name="Remove").click()
    reel.get_by_role("button", name="Render…").click()
    reel.get_by_role("button", name="Make one movie").click()
    second = reel.get_by_role("link", name=re.compile("Download By hand \\d"))
    expect(second).to_be_visible(timeout=LONG)
    reload(reel)  # they are the reel's, whoever made them
    reel.get_by_role("button", name="Render…").click()
    expect(second).to_be_visible()
    expect(reel.get_by_role("link", name=re.compile("Download By hand"))).to_have_count(2)


def test_an_edit_list_is_read_anew_at_another_rate(reel, tmp_path):
    (tmp_path / "list.edl").write_text(EDIT_LIST)
    reel.get_by_label("Files to bring in").set_input_files(tmp_path / "list.edl")
    told = reel.get_by_role("region", name="Told of the timeline")
    expect(told).to_contain_text("1 shot without media")
    rate = told.get_by_label("Frames a second")
    rate.select_option("30")
    expect(reel.get_by_text("1 shot · 00:00:02:00 · 30 fps")).to_be_visible()
    rate.select_option("29.97")
    expect(reel.get_by_text("· 29.97 fps")).to_be_visible()
    idle(reel)
    counted = "fetch('/api/v1/reels').then(async (a) => (await a.json()).map((r) => r.name))"
    assert reel.evaluate(counted).count(reel.get_by_label("Name of the reel").input_value()) == 1
    expect(rate).to_have_value("29.97")
    cell(reel, 1).click()
    reel.get_by_role("button", name="Add a gap").click()
    expect(rate).to_have_count(0)  # what was changed is not read anew


def test_a_timeline_is_dropped_and_its_missing_media_after_it(reel, tmp_path):
    made = timeline([cut_clip("alder", 5, 10, available=span(0, 40)), cut_clip("cedar.mov", 0, 8)])
    picker = reel.get_by_label("Files to bring in")
    picker.set_input_files(save_timeline(made, tmp_path / "Dropped.otio"))
    expect(reel.get_by_label("Name of the reel")).to_have_value("Cut")
    assert shots(reel)[0] == "alder as shot, 10 frames"
    told = reel.get_by_role("region", name="Told of the timeline")
    expect(told).to_contain_text("1 shot without media")
    told.get_by_role("button", name="Which").click()
    expect(told).to_contain_text("cedar.mov: V1, item 2 'cedar.mov': no media found")
    encode(tmp_path / "cedar.mp4", "libx264", frames=20, size=SIZE)
    picker.set_input_files(tmp_path / "cedar.mp4")
    expect(told).to_have_count(0, timeout=LONG)
    assert shots(reel)[1] == "cedar.mov as shot, 8 frames"


def test_a_reel_is_deleted_and_brought_back(reel):
    put_in(reel, "alder")
    reel.get_by_role("button", name="Delete By hand").click()
    reel.get_by_role("button", name="Bring back By hand").click()
    assert shots(reel) == ["alder as shot, 40 frames"]


def test_a_file_that_is_no_timeline_is_told(reel, tmp_path):
    (tmp_path / "bad.edl").write_text("nothing of the kind\n")
    reel.get_by_label("Files to bring in").set_input_files(tmp_path / "bad.edl")
    expect(reel.get_by_text("not an edit decision list that can be read")).to_be_visible()
