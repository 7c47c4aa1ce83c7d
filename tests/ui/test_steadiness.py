"""The Steadiness place, and the flash check before a render."""

import json
import re
import urllib.request

import pytest
from playwright.sync_api import expect

from tests.ui.acting import LONG, kept_steps, open_look, reload, show_beside
from tests.ui.serving import serving
from tests.ui.test_standards import faults_in_both_rooms

HELD = [{"frame": 0, "value": 0, "ease": "hold"}, {"frame": 90, "value": 0.4}]
UNSTEADY = {
    "format": "yearning-look/3",
    "name": "Unsteady",
    "steps": [
        {"id": "tone", "treatment": "tone", "settings": {"contrast": 0.1}},
        {
            "id": "jump",
            "treatment": "exposure",
            "keys": {
                "stops": [{"frame": 0, "value": 0, "ease": "hold"}, {"frame": 90, "value": 0.4}]
            },
        },
        {
            "id": "strobe",
            "treatment": "levels",
            "settings": {"white": 0.25},
            "bursts": [{"from": n, "to": n + 1} for n in range(130, 170, 4)],
        },
    ],
}


@pytest.fixture(scope="module")
def address(tmp_path_factory, make_clip):
    """A server on a project with one small clip: what is found here takes the whole of it."""
    with serving(tmp_path_factory.mktemp("steadiness") / "Small") as started:
        data = make_clip("small.mp4", "libx264", frames=192).read_bytes()
        request = urllib.request.Request(f"{started}/api/v1/clips?name=small.mp4", data)
        urllib.request.urlopen(request).close()
        yield started


@pytest.fixture
def unsteady(page):
    """The page on Steadiness, once all of an unsteady look is found."""
    open_look(page, UNSTEADY)
    page.get_by_role("img", name=re.compile("^Frame ")).wait_for()
    page.get_by_label("Places").get_by_role("link", name="Steadiness").click()
    expect(page.get_by_role("region", name="By step")).to_be_visible(timeout=LONG)
    return page


def test_what_is_not_steady_is_said_with_its_step_and_shown_on_the_bench(unsteady):
    page = unsteady
    expect(page.get_by_text("frame 90 · flagged")).to_be_visible()
    expect(
        page.get_by_text(re.compile(r"the picture lifts by .* Exposure causes it"))
    ).to_be_visible()
    change = page.get_by_role("img", name=re.compile(r"^change 89 → 90, × (4|2|1|0.5)$"))
    expect(change).to_be_visible()  # magnified no further than it shows
    page.wait_for_function("[...document.images].every((image) => image.complete)")
    mean = change.evaluate(
        """(image) => {
          const canvas = new OffscreenCanvas(image.naturalWidth, image.naturalHeight);
          const pen = canvas.getContext("2d");
          pen.drawImage(image, 0, 0);
          const data = pen.getImageData(0, 0, canvas.width, canvas.height).data;
          return data.reduce((sum, v, i) => sum + (i % 4 < 3 ? v : 0), 0) / data.length / 0.75;
        }"""
    )
    assert 40 < mean < 215  # about grey, neither black nor white
    page.get_by_role("button", name=re.compile("^Flashes from")).click()
    expect(page.get_by_text(re.compile("three are safe.* Levels causes it"))).to_be_visible()
    page.get_by_role("button", name="Go to jump at 90").click()
    expect(page.get_by_text("frame 90 · flagged")).to_be_visible()
    page.get_by_role("button", name="Show on the Bench").click()
    expect(page.get_by_role("region", name="Exposure, open")).to_be_visible()
    expect(page.get_by_text("90 of 192", exact=True)).to_be_visible()
    expect(page.get_by_role("link", name=re.compile(r"^\d+ flags$"))).to_be_visible()


def test_output_warns_before_a_clip_that_fails_is_rendered(unsteady):
    page = unsteady
    page.get_by_role("link", name=re.compile("^Output")).click()
    expect(page.get_by_role("alert").get_by_text("fails the flash check")).to_be_visible()
    expect(page.get_by_text(re.compile("s at fault, by Levels"))).to_be_visible()
    page.get_by_role("link", name="Bench").click()
    show_beside(page, "Renders")
    expect(page.get_by_text("fails the flash check")).to_be_visible()


def test_looking_through_a_clip_can_be_stopped_and_begun_again(page):
    look = {
        "format": "yearning-look/3",
        "name": "Slow",
        "steps": [{"id": "b", "treatment": "brush"}],
    }
    open_look(page, look)
    page.get_by_label("Places").get_by_role("link", name="Steadiness").click()
    expect(page.get_by_text(re.compile("^Looking through .* frames/s"))).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text(re.compile(r"^Stopped at frame \d+ of 192"))).to_be_visible()
    reload(page)
    expect(page.get_by_text(re.compile(r"^Stopped at frame \d+ of 192"))).to_be_visible()
    page.get_by_role("button", name="Look through it").click()
    expect(page.get_by_text(re.compile("^Looking through"))).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text(re.compile(r"^Stopped at frame"))).to_be_visible()


def test_steadiness_meets_wcag_aa(unsteady):
    assert faults_in_both_rooms(unsteady) == []


def test_a_glow_that_jumps_is_settled_with_one_click(page):
    """Its amount is pinned low on a frame, so that what its own settling brings is seen."""
    look = {
        "format": "yearning-look/3",
        "name": "Steady",
        "steps": [{"id": "tone", "treatment": "tone", "settings": {"contrast": 0.1}}],
    }
    open_look(page, look)
    page.get_by_label("Places").get_by_role("link", name="Steadiness").click()
    expect(page.get_by_text("Steady: no frame is flagged")).to_be_visible(timeout=LONG)
    glow = {
        "id": "g",
        "treatment": "glow",
        "settings": {"temporal_smoothing": 0, "knee": 0, "keep_midtones": 0},
        "mix": {"amount": 1},
    }

    def flagged_report(route):
        """As measured, but with the second frame flagged: the demo's footage has no such noise."""
        answer = route.fetch().json()
        if answer["report"]:
            flag = {"frame": 60, "why": "jump", "value": 0.05, "step": "g"}
            answer["report"]["flags"] = [flag]
        route.fulfill(body=json.dumps(answer), content_type="application/json")

    page.route("**/api/v1/analyses", flagged_report)
    open_look(page, look | {"name": "Glowing", "steps": [glow]})
    page.get_by_label("Places").get_by_role("link", name="Steadiness").click()
    settle = page.get_by_role("button", name="Settle Glow over 2 frames")
    expect(settle).to_be_visible(timeout=LONG)
    settle.click()
    assert kept_steps(page)[0]["settings"]["temporal_smoothing"] == 2
