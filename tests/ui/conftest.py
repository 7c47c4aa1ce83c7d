"""One server and browser for all, and one tab for a file's tests, each as at a first visit."""

import pytest
from playwright.sync_api import TimeoutError, expect

from tests.ui.acting import LONG, put
from tests.ui.serving import VIEW, browsing, serving

PATIENT = 30_000
"""Milliseconds in which the page does what is asked; it takes one or two."""

SCHEDULER = "tcp://127.0.0.1:9"
"""Named at the server's start; none is there."""

NOTHING_AHEAD = """(() => {
  const send = WebSocket.prototype.send;
  WebSocket.prototype.send = function (data) {
    const isAhead = String(data).startsWith('{"type":"ahead"');
    if (!isAhead || sessionStorage.getItem("ahead")) send.call(this, data);
  };
})()"""
"""No frames are made ahead while a test waits: that takes both cores. `with_frames_ahead` does."""

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


@pytest.fixture(scope="module")
def one_tab(browser):
    """Kept for a file's tests: the program is read and compiled once."""
    context = browser.new_context(viewport=VIEW, accept_downloads=True, bypass_csp=True)
    context.set_default_timeout(PATIENT)
    context.add_init_script(NOTHING_AHEAD)
    yield context.new_page()
    context.close()


@pytest.fixture
def tab(one_tab, address):
    """The tab with nothing in it, as if it had never been at the server's."""
    errors = []
    hear = lambda error: errors.append(str(error))  # noqa: E731  (as it is taken off again)
    if one_tab.url.startswith(address):
        one_tab.evaluate("sessionStorage.clear()")
    one_tab.goto("about:blank")
    one_tab.set_viewport_size(VIEW)
    one_tab.mouse.move(0, 0)
    one_tab.context.clear_permissions()
    devtools = one_tab.context.new_cdp_session(one_tab)
    devtools.send("Storage.clearDataForOrigin", {"origin": address, "storageTypes": "all"})
    devtools.detach()
    put(address, "/api/v1/page", {})  # as no test before left it
    one_tab.on("pageerror", hear)
    yield one_tab
    one_tab.unroute_all(behavior="wait")
    one_tab.remove_listener("pageerror", hear)
    assert errors == []


@pytest.fixture
def page(tab, address):
    """The page on the look that was changed last, at the first frame."""
    tab.goto(address)
    try:
        tab.get_by_role("img", name="Frame 0").wait_for(timeout=LONG)
    except TimeoutError:
        pytest.fail(f"no first frame is seen; the page says:\n{tab.locator('body').inner_text()}")
    return tab
