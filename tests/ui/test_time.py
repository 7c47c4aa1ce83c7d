"""Keys and bursts on the Bench, and play."""

import re
from itertools import pairwise

import numpy as np
from playwright.sync_api import expect

from tests.ui.acting import (
    LONG,
    changed_picture,
    close_step,
    idle,
    kept_steps,
    look_of,
    open_look,
    played_to,
    settled_picture,
    with_glow,
)


def at_frame(page, frame):
    """Put the play head there."""
    page.keyboard.press("Home")
    for _ in range(frame // 10):
        page.keyboard.press("Shift+ArrowRight")
    for _ in range(frame % 10):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text(f"{frame} of 192", exact=True)).to_be_visible()


def take_focus_away(page):
    """Take the focus from a control, so that arrows move the play head."""
    page.evaluate("document.activeElement.blur()")


def lane(page, name):
    return page.get_by_role("group", name=name, exact=True)


def keyed_glow(page):
    """Open the page on a glow that grows from frame 0 to 48, at 48; the control of its spread."""
    keys = [{"frame": 0, "value": 52}, {"frame": 48, "value": 120}]
    glow = {"id": "glow-1", "treatment": "glow", "settings": {"spread": 52}}
    open_look(page, look_of(glow | {"keys": {"spread": keys}}), frame=48)
    return page.get_by_role("slider", name="Spread")


def key_by_hand(page):
    """The same, as an editor does it."""
    spread = with_glow(page)
    take_focus_away(page)
    page.keyboard.press("Home")
    spread.focus()
    page.keyboard.press("k")
    take_focus_away(page)
    at_frame(page, 48)
    idle(page)
    page.get_by_role("textbox", name="Spread, in px").fill("120")
    page.keyboard.press("Enter")
    take_focus_away(page)
    return spread


def test_a_keyed_control_makes_a_key_where_it_is_moved_and_shows_what_is_between(page):
    spread = key_by_hand(page)
    keys = kept_steps(page)[0]["keys"]["spread"]
    assert [(key["frame"], key["value"]) for key in keys] == [(0, 52), (48, 120)]
    mark = page.get_by_role("button", name="Key of Spread here")
    assert mark.get_attribute("data-key-mark") == "full"
    at_frame(page, 24)
    expect(spread).to_have_attribute("aria-valuenow", "86")
    assert mark.get_attribute("data-key-mark") == "ring"
    expect(lane(page, "Keys").get_by_role("button")).to_have_count(2)


def test_the_picture_follows_the_keys(page):
    keyed_glow(page)
    before = settled_picture(page)
    page.get_by_role("button", name=re.compile("^Key at frame 48")).click()
    page.keyboard.press("Delete")
    changed_picture(page, before)
    expect(lane(page, "Keys").get_by_role("button")).to_have_count(1)


def test_what_is_worth_checking_is_named(page):
    keyed_glow(page)
    idle(page)
    page.get_by_role("button", name=re.compile("^Key at frame 0")).click()
    page.get_by_role("button", name="Check frame 191").click()
    settled_picture(page)
    page.get_by_role("button", name="Check frame 119").click()
    expect(page.get_by_text("119 of 192", exact=True)).to_be_visible()


def test_holding_u_while_playing_marks_a_burst(page):
    with_glow(page)
    take_focus_away(page)
    page.keyboard.press("Home")
    settled_picture(page)
    page.get_by_role("button", name="Play").click()
    begun = played_to(page, 10)
    page.keyboard.down("u")
    played_to(page, begun + 20)
    page.keyboard.up("u")
    page.get_by_role("button", name="Pause").click()
    ended = played_to(page, 0)
    (burst,) = kept_steps(page)[0]["bursts"]
    assert begun <= burst["from"] < begun + 20 <= burst["to"] <= ended


def in_play(page, until="new Set(seen.map(([frame]) => frame)).size > 12", plays="Play"):
    """Frames shown and the sound's seconds, with when, from before it plays until it is paused:
    when an expression over what is `seen` is true."""
    page.evaluate(
        """() => {
          const slider = document.querySelector('[role=slider][aria-label=Frame]');
          const see = () => {
            const sound = document.querySelector('audio'); // none before the first play
            const heard = !sound || sound.paused ? null : sound.currentTime;
            seen.push([Number(slider.ariaValueNow), heard, performance.now() / 1000]);
          };
          window.seen = [];
          window.seeing = setInterval(see, 30);
        }"""
    )
    page.get_by_role("button", name=plays, exact=True).click()
    fps = "document.querySelector('[data-speed]').innerText.includes('fps')"
    page.wait_for_function(fps, polling=50)
    page.wait_for_function(until, polling=50)
    page.get_by_role("button", name="Pause").click()
    return page.evaluate("(clearInterval(seeing), seen)")


def went(seen, frames=192, rate=24):
    """How many frames play went on, round and round, never back and never before its clock."""
    began = seen[0][2]
    gone = 0
    for (a, _, _), (b, _, now) in pairwise(seen):
        gone += (b - a) % frames
        assert gone <= rate * (now - began) + 1
    return gone


def test_picture_and_sound_go_forward_together_and_end_together(page):
    """When each frame is due is a pure function of a clock, tested in `playClock.test.ts`."""
    open_look(page)
    page.keyboard.press("Home")
    settled_picture(page)
    seen = in_play(page, "seen.filter(([, heard]) => heard > 0.2).length > 10")
    heard = [seconds for _, seconds, _ in seen if seconds is not None]
    assert went(seen) > 0
    assert heard[-1] > heard[0]
    assert page.evaluate("document.querySelector('audio').paused")


def test_play_without_sound_is_silent(page):
    open_look(page)
    settled_picture(page)
    page.get_by_role("button", name="Without sound").click()
    assert all(heard is None for _, heard, _ in in_play(page))
    page.get_by_role("button", name="Without sound").click()


def test_a_range_is_played_round_and_round(page):
    open_look(page)
    at_frame(page, 30)
    page.keyboard.press("Shift+Home")
    at_frame(page, 41)
    page.keyboard.press("Shift+End")
    expect(page.get_by_label("Played: frames 30 to 41")).to_be_visible()
    frames = [
        frame
        for frame, _, _ in in_play(page, "seen.some(([frame], n) => n && frame < seen[n - 1][0])")
    ]
    assert set(frames) <= set(range(30, 42))
    assert any(b < a for a, b in pairwise(frames))
    page.get_by_role("button", name="Whole clip").click()
    expect(page.get_by_label("Played: frames 30 to 41")).to_have_count(0)


def test_half_speed_is_half_as_fast(page):
    """No faster than that, by picture and by sound; a busy machine may well be slower."""
    open_look(page)
    page.keyboard.press("Home")
    settled_picture(page)
    page.get_by_role("button", name="Half speed").click()
    seen = in_play(page)
    assert page.evaluate("document.querySelector('audio').playbackRate") == 0.5
    page.get_by_role("button", name="Half speed").click()
    assert went(seen, rate=12) > 0


def test_change_of_the_open_step_alone_is_seen_and_played(page):
    with_glow(page)
    plain = settled_picture(page)
    page.get_by_role("button", name="Change").click()
    page.get_by_label("Compare with").select_option("own")
    grey = changed_picture(page, plain)
    assert abs(float(grey.mean()) - 128) < 40
    in_play(page)
    assert abs(float(settled_picture(page).mean()) - 128) < 40
    page.get_by_role("button", name="Plain").click()


def test_play_that_falls_behind_goes_on_smaller_and_is_whole_again_at_rest(page):
    kinds = ("brush", "halftone", "focus")
    steps = [{"id": kind, "treatment": kind} for kind in kinds]
    open_look(page, {"format": "yearning-look/3", "name": "Slow", "steps": steps})
    whole = close_step(page)
    page.get_by_role("button", name="Play", exact=True).click()
    speed = page.locator("[data-speed]")
    expect(speed).to_contain_text("smaller", timeout=LONG)
    expect(speed).to_contain_text("fps · smaller", timeout=LONG)  # and it plays on
    with page.expect_request("**/api/v1/readings", timeout=LONG) as asked:
        pass
    assert asked.value.post_data_json["height"] < 0.8 * whole.shape[0]  # of what is shown
    page.get_by_role("button", name="Pause").click()
    expect(speed).not_to_contain_text("smaller")
    page.keyboard.press("Home")
    assert np.abs(settled_picture(page) - whole).mean() < 1
