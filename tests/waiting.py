"""Waiting for what goes on elsewhere: the only place in the tests that sleeps.

No wait is bounded in seconds: what never comes is ended by the runner's time-out, which shows where
it waited. `make check` holds that no test sleeps otherwise.
"""

import time
from collections.abc import Callable
from typing import Any

POLL_SECONDS = 0.02


def wait_for(read: Callable[[], Any], is_reached: Callable[[Any], bool] = bool) -> Any:
    """Return what `read` gives as soon as `is_reached` is true of it."""
    while not is_reached(found := read()):
        time.sleep(POLL_SECONDS)
    return found


def let_pass(seconds: float) -> None:
    """Let time pass where it is itself what is tried: when a server is killed, how slowly a file
    arrives. Never to wait for something."""
    time.sleep(seconds)
