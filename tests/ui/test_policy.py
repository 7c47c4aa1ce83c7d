"""The page under its own Content Security Policy, which the other tests leave out: their waiting is
by expressions that it forbids."""

import re

from playwright.sync_api import expect

from tests.ui.acting import idle
from tests.ui.serving import VIEW

COUNT = """() => {
    window.refused = [];
    addEventListener("securitypolicyviolation", (event) =>
        window.refused.push(`${event.violatedDirective}: ${event.blockedURI}`));
}"""


def test_nothing_that_the_page_does_is_refused(browser, address):
    context = browser.new_context(viewport=VIEW, base_url=address)
    page = context.new_page()
    page.set_default_timeout(30_000)
    page.add_init_script(f"({COUNT})()")
    page.goto("/")
    page.get_by_role("img", name=re.compile("^Frame ")).wait_for()
    page.get_by_role("button", name="Play", exact=False).first.click()
    page.get_by_role("button", name="Pause").wait_for()
    head = page.get_by_role("slider", name="Frame", exact=True)
    expect(head).to_have_attribute("aria-valuenow", re.compile(r"\d\d"))
    page.get_by_role("button", name="Pause").click()
    page.get_by_role("button", name="Manual").click()
    page.get_by_role("button", name=re.compile("^Add (a|the first) step$")).click()
    page.get_by_role("listbox", name="Treatments").wait_for()
    page.keyboard.press("Escape")
    for place in ("Steadiness", "Output", "Bench"):
        page.get_by_role("link", name=re.compile(f"^{place}")).click()
        idle(page)
    assert page.evaluate("window.refused") == []
    page.evaluate("""() => {
        const script = document.createElement("script");
        script.textContent = "window.wasRun = true";
        document.head.append(script);
    }""")
    assert page.evaluate("window.wasRun") is None  # scripts of others are
    assert page.evaluate("window.refused.length") == 1
    context.close()


def test_the_page_of_the_api_is_drawn_and_asks_no_other_server(browser, address):
    context = browser.new_context(viewport=VIEW, base_url=address)
    page = context.new_page()
    page.set_default_timeout(30_000)
    page.add_init_script(f"({COUNT})()")
    asked = []
    page.on("request", lambda request: asked.append(request.url))
    page.goto("/api/v1/docs")
    page.get_by_role("link", name="in-use").wait_for()
    page.get_by_role("heading", name="renders").get_by_role("button").first.click()
    page.get_by_text("/api/v1/renders/{render_id}/repeat").first.wait_for()
    assert page.evaluate("window.refused") == []
    assert [url for url in asked if not url.startswith((address, "data:"))] == []
    context.close()
