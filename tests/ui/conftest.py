"""A server of its own for each process of tests, and a tab for each file, empty for each test.

A test that fails leaves its picture, the page's console and the server's log in `FAILURES`.
"""

import re
import shutil
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.openapi import PATHS
from tests.ui.acting import EMPTY, get, leave_page, send
from tests.ui.counting import start_counting
from tests.ui.serving import VIEW, serving

PATIENT = 60_000
"""Milliseconds in which the page does what is asked; it takes one or two where it is alone."""

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

FAILURES = Path(__file__).parents[2] / ".failures"
HAS_FAILED = pytest.StashKey[bool]()

expect.set_options(timeout=PATIENT)


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item):
    report = yield
    item.stash[HAS_FAILED] = item.stash.get(HAS_FAILED, False) or report.failed
    return report


@pytest.fixture(scope="session")
def server_log(tmp_path_factory):
    return tmp_path_factory.mktemp("server") / "server.log"


@pytest.fixture(scope="session")
def address(tmp_path_factory, server_log):
    folder = tmp_path_factory.mktemp("ui") / "Tidewater Lamps"
    with (
        server_log.open("wb") as log,
        serving(folder, "--demo", "--cluster", SCHEDULER, stderr=log) as started,
    ):
        yield started


@pytest.fixture(scope="module")
def one_tab(browser, address):
    """Kept for a file's tests: the program is read and compiled once."""
    context = browser.new_context(
        viewport=VIEW, accept_downloads=True, bypass_csp=True, base_url=address
    )
    context.set_default_timeout(PATIENT)
    context.add_init_script(NOTHING_AHEAD)
    tab = context.new_page()
    start_counting(tab)
    send(tab, "/api/v1/farm", {"workers": 1}, "PUT")  # each takes seconds to start
    before = {(kind, each["id"]) for kind, each in _rows(tab)}
    yield tab
    leave_page(tab)
    for kind, each in _rows(tab):
        if (kind, each["id"]) not in before:
            tab.request.delete(f"/api/v1/{kind}/{each['id']}")
    context.close()


def _rows(tab):
    """The looks, reels and clips of the project."""
    for kind in ("looks", "reels", "clips"):
        for each in get(tab, f"/api/v1/{kind}"):
            yield kind, each


IN_BACKGROUND = [path for path in PATHS if path.endswith("/stop") and "{" not in path]


def stop_work(tab):
    """Stop what a test left the server at work on: it would take the next ones' time."""
    for path in IN_BACKGROUND:
        assert tab.request.post(path).ok
    for render in get(tab, "/api/v1/renders"):
        if render["state"] in ("waiting", "running", "paused"):
            own = f"/api/v1/renders/{render['id']}"
            stopped = tab.request.post(f"{own}/stop").ok
            assert stopped or get(tab, own)["state"] not in ("waiting", "running", "paused")


@pytest.fixture
def page(one_tab, server_log, request):
    """The tab with nothing in it, as if it had never been at the server's; see `open_look`."""
    errors, console = [], []
    hear = lambda error: errors.append(str(error))  # noqa: E731  (as it is taken off again)
    note = lambda line: console.append(f"{line.type}: {line.text}")  # noqa: E731
    leave_page(one_tab)
    stop_work(one_tab)
    one_tab.evaluate("(sessionStorage.clear(), localStorage.clear())")
    one_tab.set_viewport_size(VIEW)
    one_tab.mouse.move(0, 0)
    one_tab.context.clear_permissions()
    send(one_tab, "/api/v1/page", {}, "PUT")  # as no test before left it
    one_tab.on("pageerror", hear)
    one_tab.on("console", note)
    yield one_tab
    if request.node.stash.get(HAS_FAILED, False):
        left = FAILURES / re.sub(r"[^\w.-]+", "-", request.node.nodeid)[:150]
        left.mkdir(parents=True, exist_ok=True)
        one_tab.screenshot(path=left / "page.png")
        (left / "console.txt").write_text("\n".join([*console, *errors]))
        shutil.copy(server_log, left)
        one_tab.goto(EMPTY)  # what it waits for may never come
    one_tab.unroute_all(behavior="ignoreErrors")
    one_tab.remove_listener("pageerror", hear)
    one_tab.remove_listener("console", note)
    assert errors == []
