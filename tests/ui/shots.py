"""Refresh the screenshots: `python -m tests.ui.shots DIR`. The demo, at 1280x800."""

import json
import os
import re
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page

from tests.ui.acting import idle, let_frames_pass, new_look, open_look, settled_picture, show_beside
from tests.ui.serving import VIEW, browsing, serving
from tests.ui.test_lifting import lifting, stroke
from tests.ui.test_proofs import full
from yearning.store.project import DATABASE

LIFTED = [
    [(0.19, 0.98), (0.208, 0.7), (0.281, 0.093), (0.51, 0.056), (0.615, 0.278), (0.599, 0.574),
     (0.693, 0.741), (0.719, 0.98)],
    [(0.406, 0.185), (0.385, 0.444), (0.365, 0.556), (0.375, 0.972)],
]  # fmt: skip
"""Around the lamplighter, and on him."""


def _shoot(page: Page, folder: Path, name: str) -> None:
    settled_picture(page)
    page.wait_for_function("[...document.images].every((image) => image.complete)")
    page.screenshot(path=folder / f"{name}.png")
    print(folder / f"{name}.png")


def _shoot_output(page: Page, folder: Path) -> None:
    """Output with renders in every state that is often seen."""
    page.get_by_role("link", name=re.compile("^Output")).click()
    page.get_by_role("button", name="Stop").click()
    page.get_by_label("Size of the result").select_option("360")
    page.get_by_role("button", name="Render clip").click()
    page.get_by_role("link", name="Download").wait_for(timeout=120_000)
    page.get_by_role("button", name="All").click()
    page.get_by_label("Size of the result").select_option("720")
    page.get_by_role("button", name=re.compile("^Render . clips")).click()
    page.locator("[data-cell=done]").nth(8).wait_for(timeout=120_000)
    let_frames_pass(page, 30)
    page.screenshot(path=folder / "output.png")
    print(folder / "output.png")


def _shoot_fitting_and_proofs(page: Page, folder: Path) -> None:
    """What of a look is one clip's own, and values of a setting on three clips."""
    page.get_by_role("radio", name="This clip").click()
    page.get_by_role("slider", name="Spread").focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowLeft")
    page.get_by_role("button", name="1 own").click()
    _shoot(page, folder, "bench-fitting")
    page.get_by_role("button", name="Reset all to the look").click()
    page.get_by_role("radio", name="Every clip").click()
    page.get_by_role("slider", name="Spread").focus()
    page.keyboard.press("s")
    page.get_by_label("How many").fill("3")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Change shots…").click()
    for clip in ("Glasshouse", "Reed walker"):
        page.get_by_role("checkbox", name=clip).click()
    page.get_by_role("button", name="Change shots…").click()
    full(page)
    page.screenshot(path=folder / "proofs.png")
    print(folder / "proofs.png")
    page.get_by_role("link", name="Bench").click()


def shoot(folder: Path) -> None:
    """One picture of each main view."""
    with (
        tempfile.TemporaryDirectory() as place,
        browsing() as browser,
        serving(Path(place) / "Tidewater Lamps", "--demo") as address,
    ):
        page = browser.new_page(viewport=VIEW, bypass_csp=True, base_url=address)
        page.goto(address)
        page.get_by_role("img", name="Frame 0").wait_for()
        page.get_by_role("slider", name="Frame").click()
        page.get_by_role("button", name="Wipe").click()
        page.get_by_role("img", name="After grain").first.wait_for()
        _shoot(page, folder, "bench")
        page.keyboard.press("n")
        page.get_by_role("listbox", name="Treatments").wait_for()
        page.wait_for_function(
            """() => [...document.querySelectorAll("[aria-label=Treatments] [role=option]")]
              .every((tile) => tile.querySelector("img")?.naturalWidth)""",
            timeout=60_000,
        )
        page.screenshot(path=folder / "bench-adding.png")
        print(folder / "bench-adding.png")
        page.keyboard.press("Escape")
        _shoot_reel(page, folder)
        _shoot_fitting_and_proofs(page, folder)
        page.get_by_role("button", name=re.compile("^Look ")).click()
        page.get_by_role("button", name="Starter looks").click()
        page.get_by_role("img", name=re.compile("This frame as")).nth(4).wait_for()
        page.get_by_role("button", name="Plain").click()
        _shoot(page, folder, "bench-starters")
        page.get_by_role("button", name=re.compile("Cold shadows")).click()
        page.get_by_role("button", name=re.compile("After balance ")).click()
        page.get_by_role("button", name="R G B").click()
        _shoot(page, folder, "bench-balance")
        page.keyboard.press("Control+z")
        page.get_by_label("Clip", exact=True).select_option("Glasshouse")
        page.get_by_role("button", name="Dim room").click()
        page.get_by_role("button", name="Render clip").click()
        page.get_by_text("frames/s").wait_for(timeout=120000)
        _shoot(page, folder, "bench-dim-render")
        page.get_by_role("button", name="Light room").click()
        _shoot_output(page, folder)
        page.goto(f"{address}/#bench")
        open_look(page, MASKED)
        page.get_by_role("tab", name="Where").click()
        page.get_by_role("button", name=re.compile("^figure ")).click()
        page.get_by_role("button", name=re.compile("^Feather: ")).wait_for()
        page.get_by_role("button", name="Track it").click()
        page.get_by_role("group", name="Track of figure").wait_for(timeout=120_000)
        page.locator("div[data-page=where]").evaluate("(shown) => { shown.scrollTop = 0; }")
        _shoot(page, folder, "bench-where")
        page.get_by_role("tab", name="What").click()
        lifting(page, "Lamplighter", 0)
        for places in LIFTED:
            stroke(page, places)
        page.mouse.move(640, 700)
        _shoot(page, folder, "bench-lift")
        new_look(page)
        page.get_by_role("button", name="Manual").click()
        page.get_by_role("button", name="Walk through Soft mist").click()
        for step in ("First: Soften", "Next: Curve"):
            page.get_by_role("button", name=step).click()
        page.get_by_role("article", name="Manual: Curve").wait_for()
        _shoot(page, folder, "bench-manual")
        page.get_by_role("button", name="Leave it").click()
        page.get_by_role("button", name="Scopes").click()
        open_look(page, DIRTY)
        page.get_by_role("button", name=re.compile("^Remove hair")).first.wait_for()
        _shoot(page, folder, "bench-dust")
        open_look(page, {"format": "yearning-look/3", "steps": [LAID]})
        page.get_by_label("Plate", exact=True).select_option(label="dust and hairs, 72 frames")
        page.get_by_label("Frames to skip").fill("31, 60-71")
        page.keyboard.press("Enter")
        page.get_by_text("59 of 72 frames used").wait_for()
        show_beside(page, "Footage")
        page.get_by_role("list", name="Files of the project").wait_for()
        let_frames_pass(page, 30)
        _shoot(page, folder, "bench-plate")
        open_look(page, {"format": "yearning-look/3", "steps": [PRINTED]})
        page.get_by_label("Clip", exact=True).select_option("Glasshouse")
        page.get_by_role("region", name="Halftone, open").wait_for()
        page.get_by_role("slider", name="Frame").click()
        _shoot(page, folder, "bench-print")
        page.set_viewport_size({"width": 1920, "height": 1080})
        open_look(page, ON_THE_PICTURE)
        page.get_by_role("button", name=re.compile("^Turn: ")).wait_for()
        _shoot(page, folder, "bench-wide")
        page.set_viewport_size(VIEW)
        open_look(page, TIMED)
        page.get_by_role("img", name=re.compile("^Frame ")).wait_for()
        page.get_by_role("button", name=re.compile("^Key at frame 96")).click()
        _shoot(page, folder, "bench-time")
        page.get_by_label("Places").get_by_role("link", name="Steadiness").click()
        page.get_by_role("region", name="By step").wait_for(timeout=240_000)
        let_frames_pass(page, 30)
        page.wait_for_load_state("networkidle")  # its strips ask for one picture after another
        page.screenshot(path=folder / "steadiness.png")
        print(folder / "steadiness.png")


def _wait_for_pictures(page: Page) -> None:
    """Wait until every picture of the page that is in view has come."""
    page.wait_for_function(
        """[...document.images].every((image) => {
          const { left, right } = image.getBoundingClientRect();
          return right <= 0 || left >= innerWidth || image.naturalWidth;
        })"""
    )


def _shoot_reel(page: Page, folder: Path) -> None:
    """The demo's reel at its fifth shot."""
    page.get_by_label("Places").get_by_role("link", name="Reel").click()
    page.get_by_role("option", name=re.compile("^Shot 5:")).click()
    _wait_for_pictures(page)
    idle(page)
    page.screenshot(path=folder / "reel.png")
    print(folder / "reel.png")
    page.get_by_label("Places").get_by_role("link", name="Bench").click()


def shoot_package(folder: Path) -> None:
    """A treatment of another package, the example, as it is installed, set on the page, before a
    step of a package that is not."""
    with tempfile.TemporaryDirectory() as place, browsing() as browser:
        site, source = Path(place) / "site", Path(place) / "source"
        shutil.copytree("examples/treatment-package", source)  # where it is, it would be built in
        pip = [sys.executable, "-m", "pip", "install", "-q", "--no-deps", "--no-build-isolation"]
        subprocess.run([*pip, "--target", site, source], check=True)
        env = os.environ | {"PYTHONPATH": str(site)}
        folder_of_demo = Path(place) / "Tidewater Lamps"
        with serving(folder_of_demo, "--demo", env=env) as address:
            page = browser.new_page(viewport=VIEW, bypass_csp=True, base_url=address)
            page.goto(address)
            page.get_by_role("img", name="Frame 0").wait_for()
            open_look(page, {"format": "yearning-look/3", "steps": [GRADUATED]})
            look = page.request.get("/api/v1/looks").json()[0]
            steps = [*look["look"]["steps"], NOT_HERE]
            document = json.dumps(look["look"] | {"steps": steps})
            with sqlite3.connect(folder_of_demo / DATABASE) as database:  # as it was left once
                words = "UPDATE revision SET body = ? WHERE id = ?"
                database.execute(words, (document, look["revision"]))
            page.reload()
            page.get_by_text("not here").wait_for()
            page.get_by_label("Clip", exact=True).select_option("Reed walker")
            page.get_by_role("slider", name="Stops").wait_for()
            _shoot(page, folder, "bench-package")


GRADUATED = {
    "id": "sky",
    "treatment": "darkroom-glass.graduated",
    "settings": {"stops": 2.5, "strength": 0.6, "turn": 12},
}

NOT_HERE = {"id": "dust", "treatment": "film-tools.dust", "settings": {"amount": 0.5}}

PRINTED = {"id": "print", "treatment": "halftone", "settings": {"inks": "four", "pitch": 10}}

LAID = {
    "id": "dirt",
    "treatment": "plate",
    "settings": {"dim_below": 0.15, "loop": "shuffle"},
    "mix": {"amount": 0.9},
}

DIRTY = {
    "format": "yearning-look/3",
    "name": "Found in a tin",
    "steps": [
        {
            "id": "dirt",
            "treatment": "dust",
            "settings": {
                "specks": 140,
                "hairs": 24,
                "scratches": 1.5,
                "size": 1.6,
                "seed": 5,
                "removed": ["speck 0.1", "hair 0.2"],
            },
        },
        {"id": "sway", "treatment": "weave"},
        {"id": "gate", "treatment": "border", "settings": {"ratio": 1.37, "opening": 0.96}},
    ],
}

HAZE = {
    "id": "haze",
    "treatment": "soften",
    "settings": {"radius": 34},
    "mix": {
        "blend": "screen",
        "amount": 0.8,
        "mask": [
            {"id": "lamps", "kind": "tones", "points": [[0, 0], [0.5, 0], [0.75, 1], [1, 1]]},
            {
                "id": "about the mast",
                "kind": "ellipse",
                "centre": [0.5, 0.47],
                "size": [0.2, 0.27],
                "feather": 260,
            },
            {
                "id": "figure",
                "kind": "drawn",
                "join": "take away",
                "feather": 24,
                "points": [
                    [0.545, 0.49, -0.012, 0.03, 0.005, -0.04],
                    [0.56, 0.475, -0.01, 0, 0.01, 0],
                    [0.58, 0.53, -0.005, -0.03, 0.01, 0.04],
                    [0.562, 0.65, 0.012, 0, -0.012, 0],
                ],
            },
        ],
    },
}

MASKED = {"format": "yearning-look/3", "name": "Haze on the lamps", "steps": [HAZE]}

ON_THE_PICTURE = {
    "format": "yearning-look/3",
    "name": "One lamp sharp",
    "steps": [
        {
            "id": "lens",
            "treatment": "focus",
            "settings": {"centre": [0.52, 0.42], "size": [0.18, 0.36], "turn": 12, "blur": 24},
        },
        {"id": "ring", "treatment": "halation", "settings": {"strength": 0.8, "spread": 24}},
        {"id": "leak", "treatment": "leak", "settings": {"from_edge": "top right", "seed": 4}},
        {"id": "bars", "treatment": "letterbox", "settings": {"ratio": 2.39}},
        {"id": "edges", "treatment": "vignette"},
    ],
}

TIMED = {
    "format": "yearning-look/3",
    "name": "Lamps that swell",
    "steps": [
        {
            "id": "bloom",
            "treatment": "glow",
            "settings": {"threshold": 0.5, "spread": 24},
            "keys": {
                "spread": [
                    {"frame": 48, "value": 24, "ease": "ease"},
                    {"frame": 96, "value": 90, "ease": [0.6, 0, 0.2, 1]},
                    {"frame": 150, "value": 40},
                ],
                "warmth": [{"frame": 96, "value": 0.1}, {"frame": 168, "value": 0.6}],
            },
            "bursts": [{"from": 24, "to": 130, "ramp": 12}, {"from": 144, "to": 182, "ramp": 8}],
        },
        {
            "id": "jump",
            "treatment": "exposure",
            "keys": {
                "stops": [{"frame": 0, "value": 0, "ease": "hold"}, {"frame": 120, "value": 0.3}]
            },
        },
        {"id": "grain", "treatment": "grain"},
    ],
}


if __name__ == "__main__":
    shoot(Path(sys.argv[1]))
    shoot_package(Path(sys.argv[1]))
