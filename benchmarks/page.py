"""The page in Chromium at 1280x800.

By the page's own counters, the browser on the same processors as the server.
"""

import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from playwright.sync_api import Page

from benchmarks.report import Effort, Row, Target
from tests.ui.serving import VIEW, browsing, serving

SECONDS = 6
"""How long it plays: most of the demo's clip of eight seconds."""

PRESSES = 30

CANVAS = "main canvas[aria-label^=Frame]"

PLAYED = """async (seconds) => {
  const words = () => document.querySelector("[data-speed]").innerText;
  const left = () => Number(/(\\d+) left out/.exec(words())?.[1] ?? 0);
  const slider = document.querySelector("[role=slider][aria-label=Frame]");
  const frames = new Set();
  const [began, before] = [performance.now(), left()];
  while (performance.now() < began + 1000 * seconds) {
    frames.add(slider.getAttribute("aria-valuenow"));
    await new Promise(requestAnimationFrame);
  }
  const lost = left() - before;
  return [frames.size / seconds, lost / (frames.size + lost)];
}"""
"""Frames shown a second, and the share that was left out."""

KEPT = """() => {
  const kept = [...document.querySelectorAll("[data-kept]")];
  const width = kept.reduce((sum, each) => sum + each.getBoundingClientRect().width, 0);
  return kept.length && width > 0.99 * kept[0].parentElement.getBoundingClientRect().width;
}"""
"""Whether every frame of the clip is kept."""

CHANGED = """async (canvas) => {
  const drawing = canvas.getContext("2d");
  const middle = () => drawing.getImageData(0, canvas.height >> 1, canvas.width, 2).data.join();
  const before = middle();
  const began = performance.now();
  const key = new KeyboardEvent("keydown", { key: "ArrowRight", bubbles: true, cancelable: true });
  document.activeElement.dispatchEvent(key);
  while (middle() === before) await new Promise(requestAnimationFrame);
  return performance.now() - began;
}"""
"""Milliseconds from a key on the control in focus to the first changed pixels of two rows."""


def _play(page: Page, seconds: float, what: str) -> Iterator[Row]:
    page.keyboard.press("Home")
    page.wait_for_timeout(300)
    page.get_by_role("button", name="Play", exact=True).click()
    page.wait_for_function("document.querySelector('[data-speed]').innerText.includes('fps')")
    rate, left_out = page.evaluate(PLAYED, seconds)
    page.get_by_role("button", name="Pause").click()
    yield Row(what, rate, "frames/s", target=Target("at least", 23.5, "found"))
    yield Row(f"{what}, left out", 100 * left_out, "%", target=Target("at most", 5, "found"))


def _changes(page: Page, presses: int) -> list[float]:
    page.get_by_role("slider", name="Spread").focus()
    canvas = page.locator(CANVAS)
    times = []
    for _ in range(presses):
        times.append(canvas.evaluate(CHANGED))
        page.wait_for_function("document.querySelector('main').ariaBusy === 'false'")
    return times[3:]


def run(effort: Effort) -> Iterator[Row]:
    """Play of the demo's look, first pass and again, and how fast an edit shows."""
    seconds = SECONDS / min(6, effort.divisor)
    with (
        tempfile.TemporaryDirectory() as folder,
        serving(Path(folder) / "Tidewater Lamps", "--demo") as address,
        browsing() as browser,
    ):
        page = browser.new_page(viewport=VIEW, bypass_csp=True)
        page.goto(address)
        page.wait_for_function("document.querySelector('main')?.ariaBusy === 'false'")
        box = page.locator(CANVAS).bounding_box() or {"width": 0, "height": 0}
        wanted = Target("at least", 868, "found")
        yield Row("the picture's width", box["width"], "px", target=wanted)
        yield from _play(page, seconds, "play, first pass")
        if not effort.is_smoke:
            page.keyboard.press("Home")
            began = time.perf_counter()
            page.wait_for_function(KEPT, timeout=300_000)
            yield Row("rest until all of the clip is kept", time.perf_counter() - began, "s")
            yield from _play(page, seconds, "play of what is kept")
        times = _changes(page, max(5, effort.rounds(PRESSES)))
        what = "a key on a slider to changed pixels"
        yield Row(what, statistics.median(times), target=Target("at most", 60, "found"))
        yield Row(f"{what}, the slowest", max(times))
