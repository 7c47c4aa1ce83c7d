"""The page on a project that is open for looking, beside the server that has it."""

import pytest
from playwright.sync_api import expect

from tests.ui.acting import add_step, reload, settled_picture
from tests.ui.serving import VIEW, serving
from tests.ui.test_nothing_lost import set_exposure
from yearning.demo.seed import seed
from yearning.store.project import Project


@pytest.fixture
def folder(tmp_path):
    project = Project(tmp_path / "Looked at")
    seed(project)
    return project.folder


def test_what_is_tried_in_a_project_for_looking_is_seen_and_not_kept(browser, folder):
    before = Project(folder, read_only=True).looks.all()
    with serving(folder, "--read-only") as address:
        context = browser.new_context(viewport=VIEW, bypass_csp=True)
        page = context.new_page()
        errors = []
        page.on("pageerror", lambda error: errors.append(str(error)))
        page.on("response", lambda answer: errors.extend([answer.url] * (answer.status >= 400)))
        page.goto(address)
        page.get_by_role("img", name="Frame 0").wait_for()
        expect(page.get_by_text("Open for looking")).to_be_visible()
        expect(page.get_by_role("button", name="Render clip")).to_be_disabled()
        seen = settled_picture(page)
        add_step(page, "Exposure")
        set_exposure(page, 2)
        assert (settled_picture(page) != seen).any()
        assert page.get_by_role("alert").all_inner_texts() == [""] * 3  # nothing is told
        reload(page)
        page.get_by_role("img", name="Frame 0").wait_for()
        expect(page.get_by_role("button", name="Exposure")).to_have_count(0)
        context.close()
    assert errors == []
    assert Project(folder, read_only=True).looks.all() == before
