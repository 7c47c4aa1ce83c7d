"""Parts of a clip followed on the page: shapes and treatments ride on tracks, and are put right."""

import re

import pytest
from playwright.sync_api import expect

from tests.ui.acting import add_step, ask, canvas_of, idle, kept_steps, open_look, settled_picture
from tests.ui.test_where import drag, grip, masked_look, shapes


def at_frame(page, frame):
    strip = page.get_by_role("slider", name="Frame")
    strip.press("Home")
    for _ in range(frame // 10):
        strip.press("Shift+ArrowRight")
    for _ in range(frame % 10):
        strip.press("ArrowRight")
    settled_picture(page)  # grips move with what they ride on


def middle(page, name="Centre"):
    """Where a grip is, in fractions of the picture."""
    box, canvas = grip(page, name).bounding_box(), canvas_of(page).bounding_box()
    return (
        (box["x"] + box["width"] / 2 - canvas["x"]) / canvas["width"],
        (box["y"] + box["height"] / 2 - canvas["y"]) / canvas["height"],
    )


def put(page, name, x, y):
    """Drag a grip to a place in fractions of the picture."""
    canvas, (was_x, was_y) = canvas_of(page).bounding_box(), middle(page, name)
    drag(page, grip(page, name), (x - was_x) * canvas["width"], (y - was_y) * canvas["height"])


def mono_in_ellipse(page, clip, frame, size, centre):
    """A mono step in an ellipse about a part of a clip."""
    masked_look(page, "Ellipse", clip=clip, frame=frame)
    put(page, "Size across", 0.5 + size[0], 0.5)
    put(page, "Size down", 0.5, 0.5 + size[1])
    put(page, "Centre", *centre)
    return shapes(page)[0]


def track(page):
    page.get_by_role("button", name=re.compile("^Track")).click()
    expect(page.get_by_role("progressbar", name="Tracking ellipse")).to_be_visible()


def track_shape(page):
    lane = page.get_by_role("group", name="Track of ellipse")
    lane.wait_for(timeout=90_000)
    idle(page)
    settled_picture(page)
    return lane


def test_a_shape_follows_what_lies_in_it_and_a_treatment_rides_with_it(page):
    drawn = mono_in_ellipse(page, "Reed walker", 50, (0.04, 0.06), (0.38, 0.385))
    track(page)
    lane = track_shape(page)
    (shape,) = shapes(page)
    assert shape["track"].startswith("ellipse.")
    assert shape["centre"] == drawn["centre"]
    expect(lane.get_by_role("button", name="Followed from frame 50")).to_be_visible()
    expect(lane.get_by_role("note").first).to_have_attribute("aria-label", re.compile("^Sure"))
    expect(page.locator("[data-track-line]")).to_be_attached()
    at_frame(page, 110)  # the walker is some 250 of 1920 pixels further
    x, y = middle(page)
    assert 0.45 < x < 0.6
    assert y == pytest.approx(0.385, abs=0.03)

    add_step(page, "Focus")
    page.get_by_label("Follows").select_option(value=shape["track"])
    settled_picture(page)
    there = middle(page)
    assert there[0] > drawn["centre"][0] + 0.08
    put(page, "Centre", there[0] - 0.1, there[1])
    focus = next(s for s in kept_steps(page) if s["treatment"] == "focus")["settings"]
    assert focus["track"] == shape["track"]
    at_frame(page, 50)
    assert middle(page)[0] == pytest.approx(focus["centre"][0], abs=0.01)
    assert page.get_by_role("group", name="Track of ellipse").is_visible()


def test_one_that_is_stopped_keeps_what_was_found(page):
    mono_in_ellipse(page, "Reed walker", 20, (0.04, 0.06), (0.24, 0.385))
    track(page)
    expect(page.get_by_text(re.compile(r"^Tracking [1-9]"))).to_be_visible(timeout=30_000)
    page.get_by_role("button", name="Stop", exact=True).click()
    track_shape(page)
    expect(page.get_by_text(re.compile(r"^Lost at frames \d+ to 191"))).to_be_visible()
    page.get_by_role("button", name="Go there").last.click()
    idle(page)
    expect(page.get_by_role("slider", name="Frame")).not_to_have_attribute("aria-valuenow", "20")


def test_a_track_is_put_right_by_hand_and_found_anew_from_there(page):
    mono_in_ellipse(page, "Signal tower", 20, (0.05, 0.12), (0.545, 0.45))
    track(page)
    lane = track_shape(page)
    first = shapes(page)[0]["track"]
    at_frame(page, 30)
    x, y = middle(page)
    put(page, "Centre", x + 0.03, y + 0.02)
    lane.get_by_role("button", name=re.compile("^Put right by hand at frame 30")).wait_for()
    idle(page)
    settled_picture(page)
    assert middle(page) == pytest.approx((x + 0.03, y + 0.02), abs=0.003)
    (shape,) = shapes(page)
    assert shape["track"] != first
    assert shape["centre"] == pytest.approx([0.545, 0.45], abs=0.003)  # as it was followed
    at_frame(page, 25)
    near = middle(page)
    assert x < near[0] < x + 0.03  # it comes there little by little
    lane.get_by_role("button", name=re.compile("^Put right by hand")).press("Delete")
    expect(lane.get_by_role("button", name=re.compile("^Put right"))).to_have_count(0)
    idle(page)
    page.keyboard.press("Control+z")
    lane.get_by_role("button", name=re.compile("^Put right by hand at frame 30")).wait_for()
    at_frame(page, 30)
    page.get_by_role("button", name="Track anew").click()
    lane.get_by_role("button", name="Followed from frame 30").wait_for(timeout=90_000)
    idle(page)
    assert shapes(page)[0]["centre"] == pytest.approx([x + 0.03, y + 0.02], abs=0.004)
    assert middle(page) == pytest.approx((x + 0.03, y + 0.02), abs=0.004)


def test_a_track_is_smoothed_and_on_another_clip_tracked_anew_with_one_click(page):
    mono_in_ellipse(page, "Signal tower", 20, (0.05, 0.12), (0.545, 0.45))
    track(page)
    track_shape(page)
    first = shapes(page)[0]["track"]
    smooth = page.get_by_role("textbox", name="Smooth")
    smooth.fill("6")
    smooth.press("Enter")
    page.wait_for_function("() => document.body.innerText.includes('smooth')")
    expect(page.get_by_label("Follows")).not_to_have_value(first)
    idle(page)
    (shape,) = shapes(page)
    assert shape["track"] != first
    ask(page, "What")
    expect(page.get_by_role("group", name="Track of ellipse")).to_have_count(0)

    step = {"id": "m", "treatment": "mono", "mix": {"mask": [shape]}}
    open_look(page, {"format": "yearning-look/3", "name": "Moved", "steps": [step]})
    settled_picture(page)
    shown = page.get_by_label("Clip", exact=True).evaluate("e => e.selectedOptions[0].label")
    assert shown != "Signal tower"
    page.keyboard.press(".")
    ask(page, "Where")
    expect(page.get_by_text("That track is of another clip")).to_be_visible()
    expect(page.get_by_role("group", name="Track of ellipse")).to_have_count(0)
    page.get_by_role("button", name="Track it").click()
    track_shape(page)
    assert shapes(page)[0]["track"] != shape["track"]
