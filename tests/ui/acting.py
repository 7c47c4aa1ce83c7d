"""What a user does and sees on the Bench, by its words."""

import base64
import json
import re
import urllib.request

import cv2
import numpy as np
from playwright.sync_api import expect

LONG = 120_000
"""Milliseconds for a render, an analysis or a plate that is made."""


def post_data(address, data):
    request = urllib.request.Request(address, data, method="POST")
    return urllib.request.urlopen(request).read()


def post_json(address, path, body):
    data = json.dumps(body).encode()
    headers = {"Content-Type": "application/json"}
    request = urllib.request.Request(address + path, data, headers, method="POST")
    return urllib.request.urlopen(request).read()


def put(address, path, body):
    headers = {"Content-Type": "application/json"}
    data = json.dumps(body).encode()
    request = urllib.request.Request(address + path, data, headers, method="PUT")
    return json.loads(urllib.request.urlopen(request).read())


def open_look(page, address, look):
    """Add a look and open the page on it, at the first frame, as if no visit had left it."""
    is_open = page.url.startswith(address)
    if is_open:
        idle(page)
    post_json(address, "/api/v1/looks", look)
    put(address, "/api/v1/page", {})
    if is_open:
        page.reload()
    else:
        page.goto(address)


def with_frames_ahead(page):
    """Open the page anew, with frames made ahead of play while it is at rest."""
    page.evaluate("sessionStorage.setItem('ahead', 'made')")
    page.reload()


def zoom_of(page):
    """Screen pixels for one of the footage."""
    return float(canvas_of(page).get_attribute("data-zoom"))


def treatments_of(page):
    """The kinds of the look's steps, as the server has them."""
    return [step["treatment"] for step in kept_steps(page)]


def canvas_of(page):
    return page.locator("main canvas[aria-label^=Frame]")


def ends_of(found):
    """Where elements end: left, right, bottom, and their HTML; in one call, as each call looks
    through the whole page."""
    ends = """nodes => nodes.map((node) => {
      const { left, right, bottom } = node.getBoundingClientRect();
      return [left, right, bottom, node.outerHTML];
    })"""
    return found.evaluate_all(ends)


def labels_of(found):
    """The accessible labels that elements have, in one call."""
    return found.evaluate_all("nodes => nodes.map((node) => node.ariaLabel)")


def seen_pixels(page):
    """The canvas's pixels, R first, by way of a lossless PNG."""
    address = canvas_of(page).evaluate("canvas => canvas.toDataURL('image/png')")
    data = np.frombuffer(base64.b64decode(address.partition(",")[2]), np.uint8)
    return cv2.imdecode(data, cv2.IMREAD_COLOR)[..., ::-1].astype(int)


def idle(page):
    """Wait until nothing is on its way to or from the server."""
    page.wait_for_function("document.querySelector('main').ariaBusy === 'false'", timeout=LONG)


def kept_steps(page):
    """The steps of the look, as it stands on the clip, as the server has them after all edits."""
    idle(page)
    return page.evaluate(
        """async () => {
          const ask = async (path) => (await fetch(`/api/v1/${path}`)).json();
          const [look] = await ask("looks");
          const clip = document.querySelector("[aria-label=Clip]")?.value;
          return (await ask(`looks/${look.id}/file${clip ? `?clip=${clip}` : ""}`)).steps;
        }"""
    )


def beside(page, face):
    """Have Readings, Footage or Renders stand beside the picture."""
    page.get_by_role("group", name="Beside the picture").get_by_role("button", name=face).click()


def stop_renders(page):
    """Stop what is rendered or waits, for the next test's sake."""
    page.evaluate(
        """async () => {
          for (const r of await (await fetch("/api/v1/renders")).json())
            if (["waiting", "running", "paused"].includes(r.state))
              await fetch(`/api/v1/renders/${r.id}/stop`, { method: "POST" });
        }"""
    )


def settled(page):
    """The picture once nothing is on its way and it no longer changes."""
    before = None
    for _ in range(100):
        idle(page)
        now = seen_pixels(page)
        if before is not None and now.std() > 0 and np.array_equal(now, before):
            return now
        before = now
        page.wait_for_timeout(120)
    raise AssertionError("the picture did not come to rest")


def changed(page, before):
    """The picture once it has become another than `before`, and no longer changes."""
    for _ in range(60):
        now = settled(page)
        if now.shape != before.shape or not np.array_equal(now, before):
            return now
    raise AssertionError("the picture stayed as it was")


def new_look(page):
    page.get_by_role("button", name=re.compile("^Look ")).click()
    page.get_by_role("button", name="New look", exact=True).click()
    idle(page)  # the look that was open may have had no steps either
    expect(page.get_by_text("This look has no steps yet")).to_be_visible()


def tile(page, name):
    """A treatment's tile in the sheet for adding: its name, then what it does."""
    tiles = page.get_by_role("listbox", name="Treatments").get_by_role("option")
    return tiles.and_(page.get_by_role("option", name=re.compile(f"^{name} ")))


def add_step(page, name):
    page.get_by_role("button", name=re.compile("^Add (a|the first) step$")).click()
    tile(page, name).click()
    expect(page.get_by_role("region", name=f"{name}, open")).to_be_visible()


def ask(page, question):
    """Have the open step's page shown: What, Where, Mixed or When."""
    page.get_by_role("tab", name=question).click()


def closed(page):
    """Close the open step: the picture is larger then."""
    page.get_by_role("button", name="Close step").click()
    return settled(page)


def with_glow(page):
    new_look(page)
    add_step(page, "Glow")
    return page.get_by_role("slider", name="Spread")


def opened_alone(page, name):
    """Open a new look's one step, of a treatment by its name; the picture that it makes."""
    new_look(page)
    before = settled(page)
    add_step(page, name)
    return changed(page, before)
