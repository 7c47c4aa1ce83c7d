"""Refresh the screenshots: `python -m tests.ui.shots DIR`. The demo, at 1280x800."""

import re
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page

from tests.ui.serving import VIEW, browsing, serving


def _rest(page: Page) -> None:
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(2500)
    page.wait_for_load_state("networkidle")


def _shoot(page: Page, folder: Path, name: str) -> None:
    _rest(page)
    page.screenshot(path=folder / f"{name}.png")
    print(folder / f"{name}.png")


def shoot(folder: Path) -> None:
    """One picture of each main view."""
    with (
        tempfile.TemporaryDirectory() as place,
        browsing() as browser,
        serving(Path(place) / "Tidewater Lamps", "--demo") as address,
    ):
        page = browser.new_page(viewport=VIEW)
        page.goto(address)
        page.get_by_role("img", name="Frame 0").wait_for()
        page.get_by_role("slider", name="Frame").click()
        page.get_by_role("button", name="Wipe").click()
        page.get_by_role("img", name="After grain").first.wait_for()
        _shoot(page, folder, "bench")
        page.get_by_role("button", name=re.compile("After curve ")).click()
        page.get_by_role("button", name="Beside").click()
        _shoot(page, folder, "bench-curve")
        page.get_by_role("button", name=re.compile("After grain ")).click()
        page.get_by_role("button", name="Plain").click()
        page.get_by_role("button", name="1 : 1").click()
        _shoot(page, folder, "bench-true-pixels")
        page.get_by_role("button", name="Fit").click()
        page.get_by_label("Clip", exact=True).select_option("Glasshouse")
        page.get_by_role("button", name="Dim room").click()
        page.get_by_role("button", name="Render clip").click()
        page.get_by_text("frames/s").wait_for(timeout=30000)
        _shoot(page, folder, "bench-dim-render")


if __name__ == "__main__":
    shoot(Path(sys.argv[1]))
