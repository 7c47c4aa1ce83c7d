"""Over HTTP: a clip brought near another picture."""

import json

import pytest

import yearning as yn
from tests.api.conftest import problem
from tests.api.test_plates import add
from tests.conftest import THREE_STEPS

EMPTY = {"format": "yearning-look/3", "name": "Nothing yet", "steps": []}
WARM = EMPTY | {
    "steps": [
        {
            "id": "warm",
            "treatment": "balance",
            "settings": {"mode": "cdl", "slope": [1, 0.8, 0.5], "offset": [0.1, 0, 0]},
        }
    ]
}


def ask(clip_id, **more):
    like = {"kind": "frame", "clip": clip_id, "frame": 5, "look": WARM}
    return {"clip": clip_id, "look": EMPTY, "after": "footage", "like": like} | more


def lines(client, request):
    answer = client.post("/api/v1/matches", json=request)
    assert answer.status_code == 200, answer.text
    return [json.loads(line) for line in answer.text.splitlines()]


def test_it_says_how_far_it_is_and_finds_what_the_library_finds(client, clip_id, clip):
    *before, last = lines(client, ask(clip_id, held=["greys"], name="Like dusk"))
    assert [line["done"] for line in before] == list(range(len(before)))
    assert all("match" not in line for line in before)
    assert last["done"] == last["total"] == len(before)
    match = last["match"]
    assert match["after"] < 0.5 * match["before"]
    assert match["step"]["name"] == "Like dusk"
    with yn.open_clip(clip) as opened:
        warm = yn.Look([yn.Step(yn.Balance(**WARM["steps"][0]["settings"]))])
        like = warm.picture(opened, 5, height=min(90, opened.size.height))
        found = yn.match(opened, like, held=["greys"])
    assert (found.before, found.after) == (match["before"], match["after"])
    assert found.held == {"greys": match["held"][0]["off"]}
    theirs = [step["settings"] for step in match["step"]["settings"]["steps"]]
    ours = [step.treatment.model_dump(mode="json") for step in found.step.treatment.steps]
    assert theirs == ours


def test_it_is_graded_after_a_step_and_comes_near_a_plate(client, clip_id):
    plate = add(client).json()["file"]
    look = EMPTY | {"steps": THREE_STEPS}
    [*_, last] = lines(
        client, ask(clip_id, look=look, after="g", like={"kind": "plate", "file": plate})
    )
    assert last["match"]["after"] < 0.2 * last["match"]["before"]
    [*_, shot] = lines(client, ask(clip_id, like={"kind": "plate", "file": plate}))
    assert shot["match"]["before"] != last["match"]["before"]


def frame_like(**change):
    return {"like": {"kind": "frame", "clip": 1, "frame": 5, "look": EMPTY} | change}


@pytest.mark.parametrize(
    ("change", "status", "says"),
    [
        ({"clip": 99}, 404, "number 99"),
        (frame_like(clip=99), 404, "number 99"),
        (frame_like(frame=10_000), 422, "frame 10000"),
        (frame_like(after="gone"), 422, "gone"),
        ({"after": "gone"}, 422, "gone"),
        ({"like": {"kind": "plate", "file": "gone.png"}}, 422, "gone.png"),
        ({"held": ["hats"]}, 422, "held"),
        ({"held": ["skin"] * 3}, 422, "held"),
    ],
)
def test_what_can_not_be_is_told_in_a_line(change, status, says, client, clip_id):
    answer = client.post("/api/v1/matches", json=ask(clip_id, **change))
    assert says in problem(answer, status)
