"""A figure lifted out of a clip on the page, from strokes on the picture."""

import re

import pytest
from playwright.sync_api import expect

from tests.media.making import moving_clip, small_copy
from tests.ui.acting import (
    ask,
    bring_in,
    canvas_of,
    idle,
    look_of,
    open_look,
    reload,
    settled_picture,
)
from tests.ui.test_tracks import at_frame
from tests.ui.test_where import shapes
from tests.waiting import wait_for
from yearning.core.picture import Size
from yearning.demo import MEDIA

AROUND = [(0.26, 0.27), (0.4, 0.27), (0.4, 0.8), (0.3, 0.8)]
ON_IT = [(0.335, 0.4), (0.335, 0.6)]


def stroke(page, places):
    """Draw a stroke through places in fractions of the picture."""
    box = canvas_of(page).bounding_box()
    points = [(box["x"] + x * box["width"], box["y"] + y * box["height"]) for x, y in places]
    page.mouse.move(*points[0])
    page.mouse.down()
    for point in points[1:]:
        page.mouse.move(*point, steps=6)
    page.mouse.up()
    idle(page)


WALKER = "Small walker"


@pytest.fixture(scope="module")
def walker(tmp_path_factory):
    """The demo's walker, small enough that a matte is found while one waits."""
    path = tmp_path_factory.mktemp("walker") / f"{WALKER}.mp4"
    return small_copy(MEDIA / "reed-walker.mp4", path, 80, Size(640, 360))


def lifting(page, clip, frame=40):
    """A mono step, with strokes about to be drawn for a figure of its own."""
    open_look(page, look_of("mono"), clip, frame)
    ask(page, "Where")
    page.get_by_role("button", name="Lift out a figure…").click()
    page.locator("[data-lifted]").wait_for()
    idle(page)


def brightness(page, x, y):
    """Of the picture that is drawn over, at a place in fractions: 0 to 255."""
    return page.locator("[data-lifted]").evaluate(
        """async (image, [x, y]) => {
            const picture = new Image();
            picture.src = image.href.baseVal;
            await picture.decode();
            const canvas = new OffscreenCanvas(picture.width, picture.height);
            const pen = canvas.getContext("2d");
            pen.drawImage(picture, 0, 0);
            const [r, g, b] = pen.getImageData(x * picture.width, y * picture.height, 1, 1).data;
            return (r + g + b) / 3;
        }""",
        [x, y],
    )


def tools(page):
    return page.get_by_role("group", name="Lift out a figure")


def test_what_is_lifted_out_is_seen_as_strokes_are_drawn(page, walker):
    bring_in(page, walker)
    lifting(page, WALKER)
    sky = brightness(page, 0.6, 0.2)
    find = tools(page).get_by_role("button", name="Find it in all frames")
    expect(find).to_be_disabled()
    stroke(page, AROUND)
    expect(page.get_by_role("button", name="It", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    assert brightness(page, 0.6, 0.2) < 0.5 * sky
    stroke(page, ON_IT)
    expect(page.locator("[data-stroke='this']")).to_have_count(1)
    page.keyboard.down("Alt")
    stroke(page, [(0.28, 0.78), (0.39, 0.78)])
    page.keyboard.up("Alt")
    expect(page.locator("[data-stroke='not this']")).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-stroke='not this']")).to_have_count(0)
    expect(find).to_be_enabled()
    dots = page.get_by_role("group", name="Strokes of figure").get_by_role("button")
    expect(dots).to_have_count(1)
    at_frame(page, 60)
    expect(page.locator("[data-stroke]")).to_have_count(0)
    dots.click()
    idle(page)
    expect(page.get_by_role("slider", name="Frame")).to_have_attribute("aria-valuenow", "40")
    tools(page).get_by_role("button", name="Clear frame").click()
    idle(page)
    expect(dots).to_have_count(0)
    assert brightness(page, 0.6, 0.2) == pytest.approx(sky, abs=3)


def test_strokes_are_there_after_the_page_is_opened_anew(page, walker):
    bring_in(page, walker)
    lifting(page, WALKER)
    stroke(page, AROUND)
    stroke(page, ON_IT)
    reload(page)
    settled_picture(page)
    page.get_by_role("button", name="Lift out of this clip…").click()
    page.locator("[data-lifted]").wait_for()
    expect(page.locator("[data-stroke='this']")).to_have_count(1)
    page.keyboard.press("Escape")
    expect(page.locator("[data-strokes]")).to_have_count(0)


def test_it_is_found_in_the_background_and_can_be_stopped(page, walker):
    bring_in(page, walker)
    lifting(page, WALKER, frame=60)
    stroke(page, [(0.33, 0.27), (0.5, 0.27), (0.5, 0.8), (0.36, 0.8)])
    stroke(page, [(0.4, 0.4), (0.4, 0.6)])
    page.keyboard.press("Enter")
    bar = page.get_by_role("progressbar", name="Lifting out figure")
    tools(page).get_by_role("button", name="Done").click()
    expect(bar).to_be_visible()  # the page can be used meanwhile
    expect(page.get_by_text(re.compile(r"^Step [3-9]"))).to_be_visible()
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(bar).to_have_count(0)
    page.get_by_role("button", name="Lift out of this clip…").click()
    expect(page.get_by_text("Stopped; found again, it goes on from there")).to_be_visible()
    assert not shapes(page)[0]["file"]


def test_its_matte_is_found_in_all_frames_and_anew_where_it_was_wrong(page, tmp_path):
    bring_in(page, moving_clip(tmp_path / "Rolling disc.mp4", frames=8))
    lifting(page, "Rolling disc", 2)
    stroke(page, [(0.1, 0.13), (0.42, 0.13), (0.42, 0.72), (0.1, 0.72)])
    stroke(page, [(0.2, 0.4), (0.34, 0.45)])
    page.keyboard.press("Enter")
    expect(page.get_by_text("Found in all frames")).to_be_visible()
    idle(page)
    (shape,) = shapes(page)
    assert re.fullmatch(r"figure\.\w+\.mkv", shape["file"])
    at_frame(page, 6)
    inside, outside = brightness(page, 0.32, 0.44), brightness(page, 0.85, 0.85)
    stroke(page, [(0.8, 0.85), (0.9, 0.85)])  # says that it is the figure, too
    assert brightness(page, 0.85, 0.85) > 1.5 * outside
    assert brightness(page, 0.32, 0.44) == pytest.approx(inside, abs=12)
    page.get_by_role("button", name="Find it again").click()
    wait_for(lambda: shapes(page)[0]["file"] != shape["file"])
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="More strokes…").click()
    expect(page.locator("[data-stroke='this']")).to_have_count(1)  # those of the frame at hand
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")  # the matte as it was found first
    idle(page)
    assert shapes(page) == [shape]
    page.locator("[data-whose=this]").click()  # every clip has it from now on
    page.get_by_label("Clip", exact=True).select_option("Reed walker")
    settled_picture(page)
    expect(page.get_by_role("button", name="Lift out of this clip…")).to_be_visible()
