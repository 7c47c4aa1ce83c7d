"""The states of a render."""

import itertools

import pytest

from yearning.farm.state import UNENDED, Event, InvalidTransition, State, next_state

WAYS = [
    (State.WAITING, [Event.BEGIN, Event.FINISH], State.DONE),
    (State.WAITING, [Event.BEGIN, Event.NO_ROOM, Event.BEGIN, Event.FINISH], State.DONE),
    (State.WAITING, [Event.BEGIN, Event.YIELD, Event.BEGIN, Event.FINISH], State.DONE),
    (State.WAITING, [Event.BEGIN, Event.STOP, Event.RESUME, Event.BEGIN], State.RUNNING),
    (State.WAITING, [Event.STOP, Event.RESUME], State.WAITING),
    (State.RUNNING, [Event.FAIL, Event.RESUME], State.WAITING),
    (State.RUNNING, [Event.RESTART], State.WAITING),
    (State.PAUSED, [Event.RESTART], State.WAITING),
    (State.PAUSED, [Event.STOP], State.STOPPED),
]


@pytest.mark.parametrize(("state", "events", "end"), WAYS)
def test_a_renders_way(state, events, end):
    for event in events:
        state = next_state(state, event)
    assert state is end


@pytest.mark.parametrize("state", [State.DONE, State.FAILED, State.STOPPED])
def test_what_has_ended_stays_so_over_a_restart_and_is_not_begun_by_itself(state):
    assert next_state(state, Event.RESTART) is state
    assert state not in UNENDED
    for event in (Event.BEGIN, Event.NO_ROOM, Event.FINISH, Event.STOP):
        with pytest.raises(InvalidTransition, match=str(state)):
            next_state(state, event)


def test_a_render_can_be_stopped_in_every_unended_state_and_resumed():
    for state, then in itertools.product(UNENDED, [Event.RESUME]):
        assert next_state(next_state(state, Event.STOP), then) is State.WAITING
