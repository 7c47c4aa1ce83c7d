"""How the page was left, and looks that are checked, deleted and brought back, over HTTP."""

import pytest

from tests.api.conftest import problem
from yearning.core.treatments import TREATMENTS

LOOK = {"format": "yearning-look/3", "name": "Dusk", "steps": [{"id": "g", "treatment": "glow"}]}


def test_a_page_that_was_never_left_is_as_it_is_made(client):
    found = client.get("/api/v1/page").json()
    assert (found["clip"], found["clips"], found["open"]) == (None, {}, None)
    assert (found["question"], found["panel"], found["zoom"]) == ("what", "readings", None)


def test_how_the_page_was_left_is_kept_with_the_project(make_client):
    left = {
        "clip": 3,
        "clips": {"3": {"look": 2, "frame": 17, "played": [4, 40], "rendered": [None, 90]}},
        "open": "glow-1",
        "question": "when",
        "panel": "footage",
        "zoom": 2.5,
        "path_height": 240,
        "side_width": None,
        "history": {
            "done": [
                {
                    "kind": "played",
                    "clip": 3,
                    "before": None,
                    "after": [4, 40],
                    "words": "what of it is played",
                    "revision": 2,
                    "at": 1.5,
                }
            ],
            "undone": [],
        },
    }
    with make_client() as client:
        assert client.put("/api/v1/page", json=left).json() == left
    with make_client() as client:  # after a restart, in whatever browser
        assert client.get("/api/v1/page").json() == left


@pytest.mark.parametrize(
    "wrong",
    [
        {"zoom": 9},
        {"zoom": 0.01},
        {"panel": "tools"},
        {"question": "why"},
        {"clips": {"1": {"frame": -1}}},
        {"clips": {"first": {}}},
        {"path_height": -4},
        {"open": "x" * 201},
        {"colour": "red"},
    ],
)
def test_what_no_page_can_be_is_refused_and_the_last_stays(wrong, client):
    kept = client.put("/api/v1/page", json={"clip": 1}).json()
    problem(client.put("/api/v1/page", json=wrong), 422)
    assert client.get("/api/v1/page").json() == kept


def test_a_deleted_look_is_gone_until_it_is_brought_back_as_it_was(client):
    first, second = (client.post("/api/v1/looks", json=LOOK).json() for _ in range(2))
    changed = client.put(
        f"/api/v1/looks/{first['id']}",
        json={"revision": first["revision"], "look": LOOK | {"name": "Dawn"}},
    ).json()
    assert client.delete(f"/api/v1/looks/{first['id']}").status_code == 204
    assert [look["id"] for look in client.get("/api/v1/looks").json()] == [second["id"]]
    for ask in (client.get, client.delete):
        assert "no look has the number" in problem(ask(f"/api/v1/looks/{first['id']}"), 404)
    assert client.post(f"/api/v1/looks/{first['id']}/restore").json() == changed
    assert client.post(f"/api/v1/looks/{first['id']}/undo").json()["name"] == "Dusk"
    assert len(client.get("/api/v1/looks").json()) == 2


def test_a_look_that_never_was_is_not_brought_back(client):
    assert "no look has the number 9" in problem(client.post("/api/v1/looks/9/restore"), 404)


def test_a_look_file_is_checked_and_given_back_with_every_setting(client):
    found = client.post("/api/v1/looks/check", json=LOOK).json()["look"]
    made = client.post("/api/v1/looks", json=LOOK).json()
    assert found == made["look"]
    assert found["steps"][0]["settings"]["spread"] == TREATMENTS["glow"]().spread
    assert len(client.get("/api/v1/looks").json()) == 1  # checking keeps nothing


@pytest.mark.parametrize(
    ("given", "says"),
    [
        ({"format": "yearning-look/3", "steps": [{"id": "a", "treatment": "gleam"}]}, "gleam"),
        ({"format": "yearning-look/9", "steps": []}, "of a later version of this program"),
        ([], "look"),
    ],
)
def test_what_is_no_look_is_said_when_it_is_checked(given, says, client):
    assert says in problem(client.post("/api/v1/looks/check", json=given), 422)


def test_every_treatment_is_found_by_words_of_its_own(client):
    found = {t["kind"]: t["keywords"] for t in client.get("/api/v1/catalogue").json()["treatments"]}
    assert found.keys() == TREATMENTS.keys()
    for kind, keywords in found.items():
        assert len(keywords) >= 3, kind
        assert len(set(keywords)) == len(keywords), kind
        assert all(word == word.lower().strip() for word in keywords), kind


@pytest.mark.parametrize(
    ("word", "kinds"),
    [
        ("texture", {"plate", "grain"}),
        ("snow", {"flurry", "static"}),
        ("saturation", {"tone", "hue"}),
        ("jitter", {"weave", "flicker", "tape"}),
        ("double exposure", {"plate"}),
        ("black and white", {"mono"}),
    ],
)
def test_what_people_ask_for_is_found(word, kinds):
    """The words of the design, and of practitioners (common practice, no source)."""
    assert {kind for kind, t in TREATMENTS.items() if word in t.keywords} == kinds


GLOW = {"id": "glow-1", "treatment": "glow", "settings": {"spread": 80}}


def test_steps_are_kept_under_names_and_let_go(make_client):
    kept = [{"name": "Wide haze", "step": GLOW}, {"name": "Plain grain", "step": GRAIN}]
    with make_client() as client:
        assert client.get("/api/v1/kept-steps").json() == []
        assert client.put("/api/v1/kept-steps", json=kept).json() == kept
    with make_client() as client:
        assert client.get("/api/v1/kept-steps").json() == kept
        client.put("/api/v1/kept-steps", json=kept[1:])
        assert client.get("/api/v1/kept-steps").json() == kept[1:]


GRAIN = {"id": "grain-1", "treatment": "grain"}


def test_a_step_kept_by_an_older_version_is_given_in_the_newest_format(client):
    old = {"id": "grain-1", "treatment": "grain", "mix": {"blend": "overlay"}}
    project = client.app.state.preview.project
    project.set_setting("kept steps", {"kept": [{"name": "Overlaid", "step": old}]})
    (kept,) = client.get("/api/v1/kept-steps").json()
    assert kept["step"]["mix"] == {"layer": "treated", "out_of_range": "keep", "blend": "overlay"}
    client.put("/api/v1/kept-steps", json=[{"name": "New", "step": old}])
    assert client.get("/api/v1/kept-steps").json()[0]["step"]["mix"] == {"blend": "overlay"}


@pytest.mark.parametrize(
    ("kept", "says"),
    [
        ([{"name": "a", "step": GLOW | {"treatment": "gleam"}}], "gleam"),
        ([{"name": "a", "step": GLOW | {"settings": {"spread": -1}}}], "spread"),
        ([{"name": "a", "step": GLOW}, {"name": "a", "step": GRAIN}], "two kept steps"),
        ([{"name": f"{n}", "step": GRAIN} for n in range(101)], "at most 100"),
        ([{"name": "", "step": GLOW}], "name"),
    ],
)
def test_what_is_no_step_is_not_kept(kept, says, client):
    assert says in problem(client.put("/api/v1/kept-steps", json=kept), 422)
    assert client.get("/api/v1/kept-steps").json() == []
