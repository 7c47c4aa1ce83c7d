"""The states of a render, and what leads from one to another."""

from enum import StrEnum


class State(StrEnum):
    """Where a render stands."""

    WAITING = "waiting"
    RUNNING = "running"
    PAUSED = "paused"
    """The disk is full; it goes on by itself when there is room."""
    STOPPED = "stopped"
    FAILED = "failed"
    DONE = "done"


class Event(StrEnum):
    """What happens to a render."""

    BEGIN = "its turn has come, or there is room again"
    YIELD = "another was put before it, or the server ends"
    NO_ROOM = "the disk is full"
    STOP = "the user stops it"
    FAIL = "it can't be done"
    FINISH = "the result is there"
    RESUME = "the user wants it to go on"
    RESTART = "the server starts"


class InvalidTransition(Exception):
    """That can't happen to a render in that state."""


_LIVE = {
    (State.WAITING, Event.BEGIN): State.RUNNING,
    (State.WAITING, Event.STOP): State.STOPPED,
    (State.RUNNING, Event.YIELD): State.WAITING,
    (State.RUNNING, Event.NO_ROOM): State.PAUSED,
    (State.RUNNING, Event.STOP): State.STOPPED,
    (State.RUNNING, Event.FAIL): State.FAILED,
    (State.RUNNING, Event.FINISH): State.DONE,
    (State.RUNNING, Event.RESTART): State.WAITING,
    (State.PAUSED, Event.BEGIN): State.RUNNING,
    (State.PAUSED, Event.YIELD): State.WAITING,
    (State.PAUSED, Event.STOP): State.STOPPED,
    (State.PAUSED, Event.RESTART): State.WAITING,
    (State.STOPPED, Event.RESUME): State.WAITING,
    (State.FAILED, Event.RESUME): State.WAITING,
}

UNENDED = (State.WAITING, State.RUNNING, State.PAUSED)
"""States that lead on without the user."""


def next_state(state: State, event: Event) -> State:
    """Return the state of a render after an event.

    Args:
        state: as it is.
        event: what happens.

    Raises:
        InvalidTransition: the event can't happen in that state.

    >>> str(next_state(State.RUNNING, Event.STOP))
    'stopped'
    """
    if event is Event.RESTART:
        return _LIVE.get((state, event), state)
    try:
        return _LIVE[state, event]
    except KeyError:
        raise InvalidTransition(f"the render is {state}: {event} does not go with that") from None
