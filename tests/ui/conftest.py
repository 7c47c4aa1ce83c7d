"""One server and browser for all; a fresh page, without errors, for each test."""

import pytest
from playwright.sync_api import expect

from tests.ui.acting import LONG, put
from tests.ui.serving import VIEW, browsing, serving

PATIENT = 30_000
"""Milliseconds in which the page does what is asked; it takes one or two."""

SCHEDULER = "tcp://127.0.0.1:9"
"""Named at the server's start; none is there."""

expect.set_options(timeout=PATIENT)


@pytest.fixture(scope="session")
def address(tmp_path_factory):
    folder = tmp_path_factory.mktemp("ui") / "Tidewater Lamps"
    with serving(folder, "--demo", "--cluster", SCHEDULER) as started:
        yield started


@pytest.fixture(scope="session")
def browser():
    with browsing() as started:
        yield started


@pytest.fixture
def page(browser, address):
    context = browser.new_context(viewport=VIEW, accept_downloads=True, bypass_csp=True)
    context.set_default_timeout(PATIENT)
    opened = context.new_page()
    errors = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    put(address, "/api/v1/page", {})  # as no test before left it
    opened.goto(address)
    opened.get_by_role("img", name="Frame 0").wait_for(timeout=LONG)
    yield opened
    opened.unroute_all(behavior="wait")
    context.close()
    assert errors == []
