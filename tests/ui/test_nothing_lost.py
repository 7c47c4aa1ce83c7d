"""Edits that the server can't keep at once: shown as such, kept here, and sent again."""

import re

import pytest
from playwright.sync_api import expect

from tests.ui.acting import get, idle, kept_steps, look_of, open_look, reload, send, settled_picture

NO_ROOM = {"title": "No room", "status": 507, "detail": "the disk is full: make room on it"}


def set_exposure(page, stops):
    box = page.get_by_role("textbox", name=re.compile("^Stops, in")).first
    box.fill(str(stops))
    box.press("Enter")


def kept_stops(page):
    return kept_steps(page)[0]["settings"]["stops"]


@pytest.fixture
def edited_look(page):
    """A look of one step, which the server has."""
    open_look(page, look_of("exposure"))
    set_exposure(page, 1)
    settled_picture(page)
    assert kept_stops(page) == 1
    return page


@pytest.mark.parametrize("away", [True, False])
def test_an_edit_is_kept_while_the_server_can_not_keep_it_and_sent_when_it_can(edited_look, away):
    page = edited_look

    def refuse(route):
        if route.request.method != "PUT":
            return route.continue_()
        if away:
            return route.abort()
        return route.fulfill(status=507, json=NO_ROOM, content_type="application/problem+json")

    page.route("**/api/v1/looks/*", refuse)
    set_exposure(page, 2)
    mark = page.get_by_text(re.compile("^Not kept yet: "))
    expect(mark).to_be_visible()
    if not away:
        expect(mark).to_contain_text("the disk is full")
    set_exposure(page, 3)
    assert kept_stops(page) == 1
    page.unroute("**/api/v1/looks/*")
    expect(mark).to_have_count(0)
    assert kept_stops(page) == 3
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")  # the edits made meanwhile are one
    idle(page)
    assert kept_stops(page) == 1


def test_it_is_there_after_the_page_is_opened_anew(edited_look):
    page = edited_look
    page.route("**/api/v1/looks/*", lambda route: route.abort())
    set_exposure(page, 2)
    expect(page.get_by_text(re.compile("^Not kept yet: "))).to_be_visible()
    page.unroute("**/api/v1/looks/*")
    reload(page)
    settled_picture(page)
    expect(page.get_by_text(re.compile("^Not kept yet: "))).to_have_count(0)
    assert kept_stops(page) == 2


def elsewhere(page, stops):
    """Change the look as another page would."""
    current = page.evaluate("fetch('/api/v1/looks').then(r => r.json())")[0]
    current["look"]["steps"][0]["settings"]["stops"] = stops
    body = {"revision": current["revision"], "look": current["look"]}
    send(page, f"/api/v1/looks/{current['id']}", body, "PUT")
    return current["id"]


def stops_of(page, look_id):
    return get(page, f"/api/v1/looks/{look_id}")["look"]["steps"][0]["settings"]["stops"]


def test_an_edit_of_what_was_changed_elsewhere_is_kept_beside_it(edited_look):
    page = edited_look
    number = elsewhere(page, -2)
    set_exposure(page, 3)
    expect(page.get_by_text(re.compile("was changed elsewhere meanwhile"))).to_be_visible()
    idle(page)
    assert stops_of(page, number) == -2
    expect(page.get_by_role("textbox", name=re.compile("^Stops, in")).first).to_have_value("-2.00")
    looks = page.evaluate("fetch('/api/v1/looks').then(r => r.json())")
    mine = [each for each in looks if "my edit" in each["name"]]
    assert mine[0]["look"]["steps"][0]["settings"]["stops"] == 3


def test_undo_does_not_take_back_what_was_done_elsewhere(edited_look):
    page = edited_look
    number = elsewhere(page, -2)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    expect(page.get_by_text(re.compile("the look has changed elsewhere"))).to_be_visible()
    idle(page)
    assert stops_of(page, number) == -2
