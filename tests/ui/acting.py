"""What a user does and sees on the Bench, by its words."""

import base64
import re
from urllib.parse import quote

import cv2
import numpy as np
from playwright.sync_api import expect

from tests.ui.counting import write_counts
from tests.waiting import wait_for

LONG = 120_000
"""Milliseconds for a render, an analysis or a plate that is made."""

EMPTY = "/api/v1/memory"
"""An address of the server's with no program at it."""


def look_of(*steps, name="Test"):
    """A look of some steps: each a kind with its settings as made, or a whole step."""
    whole = [{"id": f"{s}-1", "treatment": s} if isinstance(s, str) else s for s in steps]
    return {"format": "yearning-look/3", "name": name, "steps": whole}


def get(page, path):
    """What the server answers, parsed."""
    answer = page.request.get(path)
    assert answer.ok, answer.text()
    return answer.json()


def send(page, path, data, method="POST"):
    """What the server answers to JSON, or to bytes as a file."""
    answer = page.request.fetch(path, method=method, data=data, timeout=0)
    assert answer.ok, answer.text()
    return answer


def bring_in(page, path):
    """Have a clip of a file in the project, by the file's name; once for all tests that ask."""
    if path.stem not in [each["name"] for each in get(page, "/api/v1/clips")]:
        send(page, f"/api/v1/clips?name={quote(path.name)}", path.read_bytes())


def open_look(page, look=None, clip=None, frame=0):
    """Open the page on a new look, as if no visit had left it.

    Args:
        look: without steps if none is given; the first of its steps is open.
        clip: its name; the first clip if none is given.
        frame: at which the play head stands.
    """
    look = look or look_of()
    number = send(page, "/api/v1/looks", look).json()["id"]
    memory = {}
    if clip or frame:
        clips = get(page, "/api/v1/clips")
        of = next(each["id"] for each in clips if each["name"] == (clip or each["name"]))
        opens = look["steps"][0]["id"] if look["steps"] else None
        memory = {"clip": of, "clips": {of: {"frame": frame, "look": number}}, "open": opens}
    leave_page(page)
    send(page, "/api/v1/page", memory, "PUT")
    page.goto("/")
    canvas_of(page).wait_for()
    idle(page)


def leave_page(page):
    """Leave the page, once it has sent what it has to send, for an address of no interest."""
    wait_until_sent(page)
    write_counts(page)
    page.goto(EMPTY)


def reload(page):
    """Open the page again, once all that it keeps is with the server."""
    wait_until_sent(page)
    write_counts(page)
    page.reload()


def with_frames_ahead(page):
    """Open the page anew, with frames made ahead of play while it is at rest."""
    page.evaluate("sessionStorage.setItem('ahead', 'made')")
    reload(page)


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


def played_to(page, frame):
    """Wait until play has reached a frame; returns the one that is shown then."""
    head = "Number(document.querySelector('[role=slider][aria-label=Frame]').ariaValueNow)"
    page.wait_for_function(f"{head} >= {frame}", polling=50)  # a frame may be late to be drawn
    return page.evaluate(head)


def seen_pixels(page):
    """The canvas's pixels, R first, by way of a lossless PNG."""
    address = canvas_of(page).evaluate("canvas => canvas.toDataURL('image/png')")
    data = np.frombuffer(base64.b64decode(address.partition(",")[2]), np.uint8)
    return cv2.imdecode(data, cv2.IMREAD_COLOR)[..., ::-1].astype(int)


CALM = """async (unsent) => {
  const isCalm = () => {
    const main = document.querySelector("main");
    return main?.ariaBusy === "false" && !(unsent && main.dataset.unsent);
  };
  const began = performance.now();
  for (let frames = 0; frames < 2; frames = isCalm() ? frames + 1 : 0) {
    if (performance.now() - began > 120_000) throw Error("The page has been busy for two minutes");
    await new Promise(requestAnimationFrame);
  }
}"""
"""A size that changes is seen in the next frame, and may ask for another picture."""


def let_frames_pass(page, count):
    """Have the page draw some frames, in which what comes late would show."""
    waits = "async (n) => { while (n--) await new Promise(requestAnimationFrame); }"
    page.evaluate(waits, count)


def idle(page):
    """Wait until nothing is on its way to or from the server."""
    page.evaluate(CALM, False)


def wait_until_sent(page):
    """Wait until nothing is on its way, nor waits to be."""
    if page.locator("main").count():
        page.evaluate(CALM, True)


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


def show_beside(page, face):
    """Have Scopes, Footage or Renders stand beside the picture."""
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


def settled_picture(page):
    """The picture once nothing is on its way."""

    def picture():
        idle(page)
        return seen_pixels(page)

    return wait_for(picture, lambda seen: seen.std() > 0)  # there is one


def changed_picture(page, before):
    """The picture once it has become another than `before`, and nothing is on its way."""

    def is_another(now):
        return now.shape != before.shape or not np.array_equal(now, before)

    return wait_for(lambda: settled_picture(page), is_another)


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


def close_step(page):
    """Close the open step: the picture is larger then."""
    page.get_by_role("button", name="Close step").click()
    return settled_picture(page)


def with_glow(page):
    """Open the page on a glow as made; the control of its spread."""
    open_look(page, look_of("glow"))
    return page.get_by_role("slider", name="Spread")


def opened_alone(page, name, clip=None):
    """Open a look of one step, as made, by its treatment's name; the picture that it makes."""
    open_look(page, look_of(name.lower()), clip)
    return settled_picture(page)
