"""Renders over HTTP: made again, older than their looks, put away, and starting."""

import threading
from functools import partial

import pytest

from tests.api.conftest import problem
from tests.api.rendering import LOOK, SLOW, ask_for_render, render_once
from tests.conftest import THREE_STEPS
from yearning.farm.cluster import Cluster

pytestmark = pytest.mark.usefixtures("short_chunks")


def made_with(client, clip_id, look):
    """A look of the project, and a render of a clip with it that has ended."""
    known = client.post("/api/v1/looks", json=look).json()
    ask = {"clip": clip_id, "look": look, "look_id": known["id"], "result": {"last": 1}}
    render = client.post("/api/v1/renders", json=ask).json()
    return known, render_once(client, render["id"], lambda r: r["state"] == "done")


def test_a_render_knows_its_look_and_whether_that_has_changed_since(client, clip_id):
    known, render = made_with(client, clip_id, LOOK)
    assert render["look_id"] == known["id"]
    assert render["look_digest"] == known["digest"]
    renamed = {"revision": known["revision"], "look": known["look"] | {"name": "Else"}}
    known = client.put(f"/api/v1/looks/{known['id']}", json=renamed).json()
    assert render["look_digest"] == known["digest"]  # of the same steps
    fewer = {"revision": known["revision"], "look": LOOK | {"steps": THREE_STEPS[:1]}}
    known = client.put(f"/api/v1/looks/{known['id']}", json=fewer).json()
    assert render["look_digest"] != known["digest"]


def test_a_render_is_made_again_with_its_look_as_it_was_or_as_it_is(client, clip_id):
    known, render = made_with(client, clip_id, LOOK)
    fewer = {"revision": known["revision"], "look": LOOK | {"steps": THREE_STEPS[:1]}}
    now = client.put(f"/api/v1/looks/{known['id']}", json=fewer).json()
    address = f"/api/v1/renders/{render['id']}/repeat"
    then = client.post(address).json()
    assert (then["look_digest"], then["total"]) == (render["look_digest"], 2)
    again = client.post(address, params={"look": "now"}).json()
    assert (again["look_digest"], again["look_id"]) == (now["digest"], known["id"])
    late = {"id": "e", "treatment": "exposure", "bursts": [{"from": 500, "to": 510}]}
    change = {"revision": now["revision"], "look": LOOK | {"steps": [late]}}
    client.put(f"/api/v1/looks/{known['id']}", json=change)
    beyond = client.post(address, params={"look": "now"}).json()
    assert "names frame 510" in beyond["notes"][0]
    client.delete(f"/api/v1/looks/{known['id']}")
    problem(client.post(address, params={"look": "now"}), 404)
    nameless = ask_for_render(client, clip_id, last=1)
    said = problem(
        client.post(f"/api/v1/renders/{nameless['id']}/repeat", params={"look": "now"}), 422
    )
    assert "not known" in said


def test_a_render_is_put_away_and_back_and_its_files_stay(client, clip_id):
    _, render = made_with(client, clip_id, LOOK)
    address = f"/api/v1/renders/{render['id']}"
    assert client.delete(address).json()["put_away"]
    assert client.get(address).json()["put_away"]
    assert client.get(f"{address}/file").status_code == 200
    assert not client.post(f"{address}/restore").json()["put_away"]
    problem(client.delete("/api/v1/renders/99"), 404)
    problem(client.post("/api/v1/renders/99/restore"), 404)


def test_what_is_on_its_way_is_not_put_away(client, clip_id):
    render = ask_for_render(client, clip_id, look=SLOW)
    assert "stop it first" in problem(client.delete(f"/api/v1/renders/{render['id']}"), 409)
    client.post(f"/api/v1/renders/{render['id']}/stop")
    render_once(client, render["id"], lambda r: r["state"] == "stopped")
    assert client.delete(f"/api/v1/renders/{render['id']}").json()["put_away"]


def test_starting_workers_is_said_until_the_first_frames_come(client, clip_id, monkeypatch):
    begun = threading.Event()

    class Late(Cluster):
        """Workers that are long in coming."""

        def __init__(self, *given, **how):
            begun.wait(20)
            super().__init__(*given, **how)

    monkeypatch.setattr("yearning.farm.cluster.Cluster", partial(Late, processes=False))
    render = ask_for_render(client, clip_id, last=1)
    found = render_once(client, render["id"], lambda r: r["starting"])
    assert (found["done"], found["state"]) == (0, "running")
    begun.set()
    done = render_once(client, render["id"], lambda r: r["state"] == "done")
    assert not done["starting"]
