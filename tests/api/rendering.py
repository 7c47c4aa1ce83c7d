"""Renders over HTTP: asked for and awaited."""

from tests.conftest import THREE_STEPS
from tests.waiting import wait_for

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": THREE_STEPS}
SLOW = LOOK | {"steps": [{"id": f"n{n}", "treatment": "grain"} for n in range(60)]}


def ask_for_render(client, clip_id, look=LOOK, **result):
    ask = {"clip": clip_id, "look": look, "result": result}
    answer = client.post("/api/v1/renders", json=ask)
    assert answer.status_code == 201, answer.text
    return answer.json()


def render_once(client, render_id, reached):
    """The render once `reached` says yes of it."""
    return wait_for(lambda: client.get(f"/api/v1/renders/{render_id}").json(), reached)
