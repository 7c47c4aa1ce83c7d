"""Timing that holds on noisy machines: medians, and two things in turn."""

import time
from collections.abc import Callable
from statistics import median, quantiles


def seconds(work: Callable[[], object]) -> float:
    """How long one call takes."""
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def in_turn(
    a: Callable[[], object], b: Callable[[], object], rounds: int
) -> tuple[float, float, float]:
    """Return medians of `a` and of `b`, and of a/b pair by pair, the two called by turns.

    Args:
        a: is called first in each round.
        b: is called next.
        rounds: how many.
    """
    a(), b()
    pairs = [(seconds(a), seconds(b)) for _ in range(rounds)]
    return (
        median(p[0] for p in pairs),
        median(p[1] for p in pairs),
        median(p[0] / p[1] for p in pairs),
    )


def late(times: list[float]) -> float:
    """The 95th percentile."""
    return quantiles(times, n=20)[-1] if len(times) > 1 else times[0]
