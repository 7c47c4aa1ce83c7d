"""Over HTTP: amounts with which a step does alike on several clips."""

import json

import pytest

from tests.api.conftest import clip_added, problem


def look(**settings):
    step = {"id": "e", "treatment": "exposure", "settings": {"stops": 0.5} | settings}
    return {"format": "yearning-look/3", "name": "Even", "steps": [step]}


@pytest.fixture
def ids(client, clip, make_clip):
    other = make_clip("other.mkv", "ffv1", frames=10)
    return [clip_added(client, clip), clip_added(client, other)]


def ask(ids, **more):
    return {
        "step": "e",
        "amount": 0.4,
        "clips": [{"clip": id, "look": look()} for id in ids],
    } | more


def lines(client, request):
    answer = client.post("/api/v1/even-amounts", json=request)
    assert answer.status_code == 200, answer.text
    return [json.loads(line) for line in answer.text.splitlines()]


def test_it_says_how_far_it_is_and_the_first_clip_keeps_its_amount(client, ids):
    *before, last = lines(client, ask(ids))
    assert [line["done"] for line in before] == list(range(len(before)))
    assert last["done"] == last["total"] == len(before)
    amounts = last["amounts"]
    assert amounts["effect"] == "mid-tones"
    assert 0 < amounts["wanted"] < 0.2
    assert [each["clip"] for each in amounts["clips"]] == ids
    assert amounts["clips"][0] == {"clip": ids[0], "amount": 0.4, "reached": 1.0}
    assert lines(client, ask(ids)) == [last]  # measured once


def test_where_a_step_does_less_it_has_more_of_it_and_at_most_all(client, ids):
    first = {"clip": ids[0], "look": look()}
    for stops, wanted in ((0.25, 0.8), (0.01, 1.0), (0.0, None)):
        [*_, last] = lines(
            client, ask(ids, clips=[first, {"clip": ids[0], "look": look(stops=stops)}])
        )
        [_, other] = last["amounts"]["clips"]
        assert other["amount"] == (None if wanted is None else pytest.approx(wanted, abs=0.04))
        assert (other["reached"] < 1) == (stops < 0.1)


@pytest.mark.parametrize(
    ("change", "status", "says"),
    [
        ({"step": "gone"}, 422, "gone"),
        ({"clips": [{"clip": 1, "look": look()}]}, 422, "clips"),
        ({"clips": [{"clip": 99, "look": look()}] * 2}, 404, "number 99"),
        ({"amount": 1.5}, 422, "amount"),
    ],
)
def test_what_can_not_be_is_told_in_a_line(change, status, says, client, ids):
    answer = client.post("/api/v1/even-amounts", json=ask(ids, **change))
    assert says in problem(answer, status)
