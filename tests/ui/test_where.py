"""Where a step shows: shapes made and moved on the picture, joined, shared, and brought back."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.ui.acting import (
    ask,
    canvas_of,
    changed_picture,
    close_step,
    idle,
    kept_steps,
    look_of,
    open_look,
    settled_picture,
)


def masked_look(page, *kinds, clip=None, frame=0):
    """A new look of a mono step that shows in shapes of those kinds."""
    open_look(page, look_of("mono"), clip, frame)
    ask(page, "Where")
    for kind in kinds:
        page.get_by_role("button", name=kind, exact=True).click()
        idle(page)


def shapes(page, step=0):
    return kept_steps(page)[step]["mix"]["mask"]


def drag(page, grip, dx, dy):
    box = grip.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx / 2, y + dy / 2)
    page.mouse.move(x + dx, y + dy)
    page.mouse.up()
    idle(page)


def grip(page, name):
    return page.locator("[data-overlay]").get_by_role("button", name=re.compile(f"^{name}"))


def colour(pixels):
    """How far a picture is from grey, at each pixel."""
    return np.ptp(pixels[..., :3].astype(int), axis=-1)


def test_a_step_shows_in_an_ellipse_alone(page):
    masked_look(page, "Ellipse")
    shown = settled_picture(page)
    height, width = shown.shape[:2]
    inside = colour(shown)[
        int(0.45 * height) : int(0.55 * height), int(0.45 * width) : int(0.55 * width)
    ]
    assert inside.max() <= 3  # but for what JPEG adds
    assert colour(shown)[: height // 6].mean() > 10
    expect(page.get_by_text("Shows everywhere")).not_to_be_visible()


def test_shapes_are_moved_sized_and_feathered_on_the_picture(page):
    masked_look(page, "Ellipse")
    canvas = canvas_of(page).bounding_box()
    drag(page, grip(page, "Centre"), 0.2 * canvas["width"], -0.1 * canvas["height"])
    (moved,) = shapes(page)
    assert moved["centre"] == pytest.approx([0.7, 0.4], abs=0.01)
    drag(page, grip(page, "Size down"), 0, 0.1 * canvas["height"])
    (sized,) = shapes(page)
    assert sized["size"] == pytest.approx([0.15, 0.3], abs=0.01)
    drag(page, grip(page, "Feather"), 30, -30)
    (soft,) = shapes(page)
    assert 40 < soft["feather"] < 300
    page.keyboard.press("Control+z")
    idle(page)
    assert shapes(page)[0]["feather"] == 0


def test_handles_follow_at_every_zoom(page):
    masked_look(page, "Box")
    page.get_by_role("button", name="1 : 1").click()
    for way in ("Further", "Further", "Nearer", "Nearer", "Nearer", "Nearer"):
        page.get_by_role("button", name=way).click()
        settled_picture(page)
        before = shapes(page)[0]["centre"][0]
        centre = grip(page, "Centre").bounding_box()
        x = centre["x"] + centre["width"] / 2
        drag(page, grip(page, "Centre"), 40, 0)
        moved = grip(page, "Centre").bounding_box()
        assert moved["x"] + moved["width"] / 2 == pytest.approx(x + 40, abs=1.5)
        assert shapes(page)[0]["centre"][0] > before
        page.keyboard.press("Control+z")


def test_a_path_is_drawn_pointwise_and_changed(page):
    masked_look(page)
    page.get_by_role("button", name="Draw", exact=True).click()
    canvas = canvas_of(page).bounding_box()

    def at(x, y):
        return canvas["x"] + x * canvas["width"], canvas["y"] + y * canvas["height"]

    for place in ((0.3, 0.3), (0.7, 0.3), (0.6, 0.7)):
        page.mouse.click(*at(*place))
    page.mouse.click(*at(0.3, 0.3))  # the first one closes it
    idle(page)
    (drawn,) = shapes(page)
    assert drawn["kind"] == "drawn"
    places = [point[:2] for point in drawn["points"]]
    np.testing.assert_allclose(places, [(0.3, 0.3), (0.7, 0.3), (0.6, 0.7)], atol=0.005)
    page.mouse.click(*at(0.5, 0.3))  # on the line
    idle(page)
    assert len(shapes(page)[0]["points"]) == 4
    grip(page, "Point 2").focus()
    page.keyboard.press("Delete")
    idle(page)
    assert len(shapes(page)[0]["points"]) == 3
    grip(page, "Point 1").focus()
    page.keyboard.press("Shift+ArrowLeft")
    idle(page)
    assert shapes(page)[0]["points"][0][0] == pytest.approx(0.2, abs=0.01)
    grip(page, "Move the path").focus()
    page.keyboard.press("Shift+ArrowDown")
    idle(page)
    assert shapes(page)[0]["points"][0][1] == pytest.approx(0.4, abs=0.01)


def test_drawing_is_left_by_escape(page):
    masked_look(page)
    page.get_by_role("button", name="Draw", exact=True).click()
    page.mouse.click(*[v + 200 for v in (canvas_of(page).bounding_box()[k] for k in "xy")])
    page.keyboard.press("Escape")
    expect(page.locator("[data-new-path]")).to_have_count(0)
    expect(page.get_by_role("region", name="Mono, open")).to_be_visible()
    assert shapes(page) == []


def test_shapes_are_joined_in_their_order(page):
    masked_look(page, "Ellipse", "Wash")
    page.get_by_label("How wash joins").select_option("take away")
    idle(page)
    assert [s["join"] for s in shapes(page)] == ["add", "take away"]
    page.get_by_role("button", name="Join wash earlier").click()
    idle(page)
    assert [s["id"] for s in shapes(page)] == ["wash", "ellipse"]
    page.get_by_role("button", name="Remove wash").click()
    idle(page)
    assert [s["id"] for s in shapes(page)] == ["ellipse"]


def test_a_shape_is_dragged_to_another_place_in_the_order(page):
    masked_look(page, "Ellipse", "Box", "Wash")
    rows = page.get_by_role("list", name="Shapes").get_by_role("listitem")
    first, last = rows.nth(0).bounding_box(), rows.nth(2).bounding_box()
    page.mouse.move(first["x"] + 40, first["y"] + 14)
    page.mouse.down()
    for part in (0.3, 0.7, 1.05):
        page.mouse.move(first["x"] + 40, first["y"] + 14 + part * (last["y"] - first["y"]))
    page.wait_for_function(
        """([row, top]) => row.getBoundingClientRect().top < top - 10""",
        arg=[rows.nth(2).element_handle(), last["y"]],
    )  # the others have made room
    page.mouse.up()
    idle(page)
    assert [s["id"] for s in shapes(page)] == ["box", "wash", "ellipse"]
    page.keyboard.press("Control+z")
    idle(page)
    assert [s["id"] for s in shapes(page)] == ["ellipse", "box", "wash"]


def test_the_weight_is_seen_as_a_picture(page):
    masked_look(page, "Ellipse")
    shown = settled_picture(page)
    page.get_by_role("button", name="See weight").click()
    weight = changed_picture(page, shown)
    height, width = weight.shape[:2]
    assert weight[height // 2, width // 2, :3].min() > 250
    assert weight[5, 5, :3].max() < 5


def test_tones_are_found_in_the_picture_that_is_chosen(page):
    masked_look(page, "Tones")
    page.get_by_label("Found in").select_option("footage")
    idle(page)
    (found,) = shapes(page)
    assert found["of"] == "footage"
    expect(page.get_by_role("button", name=re.compile("^tones .* of the footage"))).to_be_visible()


def test_a_matte_is_a_plate_of_the_project(page):
    masked_look(page, "Matte")
    expect(page.get_by_role("button", name="matte no plate yet")).to_be_visible()
    plates = page.get_by_label("Plate", exact=True)
    plates.select_option(label="dust and hairs, 72 frames")
    idle(page)
    (matte,) = shapes(page)
    assert matte["file"]
    said = "The matte has 72 frames and the clip 192: after its last, that stays."
    expect(page.get_by_text(said)).to_be_visible()


def test_a_shape_is_keyed_where_it_is_moved(page):
    masked_look(page, "Ellipse")
    grip(page, "Centre").focus()
    page.keyboard.press("k")
    idle(page)
    page.keyboard.press("End")
    idle(page)
    grip(page, "Centre").focus()
    page.keyboard.press("Shift+ArrowRight")
    idle(page)
    keys = kept_steps(page)[0]["keys"]["mix.mask.ellipse.centre"]
    assert [key["value"][0] for key in keys] == pytest.approx([0.5, 0.6])
    ask(page, "When")
    expect(page.get_by_text("keyed: ellipse, centre")).to_be_visible()
    ask(page, "Where")
    page.keyboard.press("Home")
    expect(grip(page, "Centre")).to_have_attribute("aria-label", "Centre: 50 % across, 50 % down")


def test_the_footage_is_brought_back_in_one_click(page):
    masked_look(page)
    grey = settled_picture(page)
    page.get_by_role("switch", name="Step").click()
    footage = changed_picture(page, grey)
    page.get_by_role("switch", name="Step").click()
    page.get_by_role("button", name="Ellipse", exact=True).click()
    page.get_by_role("button", name="Bring back the footage here").click()
    idle(page)
    mono, back = kept_steps(page)
    assert back["mix"]["input"] == "footage"
    assert back["mix"]["mask"][0]["same_as"] == f"{mono['id']}.ellipse"
    expect(page.get_by_text("One with Mono's: both change.")).to_be_visible()
    shown = close_step(page)
    assert shown.shape[0] >= grey.shape[0]
    middle = shown[shown.shape[0] // 2, shown.shape[1] // 2, :3].astype(int)
    was = footage[footage.shape[0] // 2, footage.shape[1] // 2, :3].astype(int)
    assert np.abs(middle - was).max() < 25


def test_a_shared_shape_changes_in_both_until_it_is_parted(page):
    masked_look(page, "Ellipse")
    page.get_by_role("button", name="Bring back the footage here").click()
    idle(page)
    drag(page, grip(page, "Centre"), 80, 0)
    assert shapes(page, 0)[0]["centre"][0] > 0.52
    page.get_by_role("button", name="Part from Mono").click()
    idle(page)
    own = shapes(page, 1)[0]
    assert "same_as" not in own
    assert own["centre"] == shapes(page, 0)[0]["centre"]
    drag(page, grip(page, "Centre"), -80, 0)
    assert shapes(page, 1)[0]["centre"][0] < shapes(page, 0)[0]["centre"][0]


def test_a_step_taken_out_leaves_its_shape_to_those_that_share_it(page):
    masked_look(page, "Ellipse")
    page.get_by_role("button", name="Bring back the footage here").click()
    idle(page)
    page.keyboard.press(",")  # the step before
    expect(page.get_by_role("region", name="Mono, open")).to_be_visible()
    page.get_by_role("button", name="Remove step").click()
    idle(page)
    (left,) = shapes(page)
    assert left["kind"] == "ellipse"


GEOMETRY = [
    {"id": "b", "treatment": "bend", "settings": {"barrel": 0.5, "fringe": 0}},
    {
        "id": "o",
        "treatment": "border",
        "settings": {"opening": 0.7, "roughness": 0, "shape": "oval"},
    },
]


def test_shapes_are_held_where_bends_and_borders_have_moved_them(page):
    """Grips lie about what the step changes; a drag leads to where the hand is."""
    open_look(page)
    shape = {"id": "s", "kind": "ellipse", "centre": [0.65, 0.35], "size": [0.06, 0.06]}
    light = {"id": "m", "treatment": "exposure", "settings": {"stops": 2}}
    light["mix"] = {"mask": [shape]}
    look = {"format": "yearning-look/3", "name": "Moved", "steps": [light, *GEOMETRY]}
    open_look(page, look)
    ask(page, "Where")
    for by in ((0, 0), (-110, 60)):
        before = middle(grip(page, "Centre"))
        drag(page, grip(page, "Centre"), *by)
        held = middle(grip(page, "Centre"))
        assert held == pytest.approx(np.add(before, by), abs=2.5)
        left, right, top, bottom = lightened_edges(page)
        assert held == pytest.approx([(left + right) / 2, (top + bottom) / 2], abs=4)
        assert middle(grip(page, "Size across"))[0] == pytest.approx(right, abs=5)
        assert middle(grip(page, "Size down"))[1] == pytest.approx(bottom, abs=5)
    (kept,) = shapes(page)
    assert kept["size"] == [0.06, 0.06]


def middle(found):
    box = found.bounding_box()
    return np.array([box["x"] + box["width"] / 2, box["y"] + box["height"] / 2])


def lightened_edges(page):
    """Where what the open step changes ends on screen: left, right, top, bottom."""
    shown = settled_picture(page)
    page.get_by_role("switch", name="Step").click()
    plain = changed_picture(page, shown)
    page.get_by_role("switch", name="Step").click()
    changed_picture(page, plain)
    differs = np.abs(shown - plain).max(axis=-1) > 24
    down, across = (np.flatnonzero(differs.mean(axis=k) > 0.01) for k in (1, 0))
    canvas = canvas_of(page).bounding_box()
    scale = canvas["width"] / shown.shape[1]
    return np.array([across[0], across[-1] + 1, down[0], down[-1] + 1]) * scale + (
        [canvas["x"]] * 2 + [canvas["y"]] * 2
    )
