"""Frames that are unlike those about them: marks of known places on footage of known motion."""

import numpy as np
import pytest

from yearning.core.measure.odd_frames import odd_frames

HIGH, WIDE, COUNT = 36, 64, 120


def still_picture(n, rng):
    return np.full((HIGH, WIDE), 0.4)


def noisy(n, rng):
    return 0.4 + 0.06 * rng.standard_normal((HIGH, WIDE))


def drifting(n, rng):
    y, x = np.mgrid[:HIGH, :WIDE]
    return 0.5 + 0.3 * np.sin((x + 0.8 * n) / 9) * np.cos(y / 7)


def flickering(n, rng):
    return np.full((HIGH, WIDE), 0.4 + 0.05 * rng.standard_normal())


def dusty(n, rng):
    plane = np.full((HIGH, WIDE), 0.1)
    for _ in range(6):
        y, x = rng.integers(HIGH - 2), rng.integers(WIDE - 2)
        plane[y : y + 2, x : x + 2] = 0.9
    return plane


def cut(n, rng):
    return np.full((HIGH, WIDE), 0.2 if n < 60 else 0.8)


def clip(kind, marks=()):
    rng = np.random.default_rng(1)
    for n in range(COUNT):
        plane = kind(n, rng)
        if any(a <= n <= b for a, b in marks):
            plane[4:14, 44:56] = 1.0
        yield np.broadcast_to(plane.astype(np.float32), (3, HIGH, WIDE))


@pytest.mark.parametrize("kind", [still_picture, noisy, drifting, flickering, dusty])
def test_marks_are_found_where_they_are_and_nothing_else(kind):
    marks = [(0, 0), (17, 17), (40, 43), (119, 119)]
    assert odd_frames(clip(kind, marks)) == marks
    assert odd_frames(clip(kind)) == []


def test_a_cut_is_no_odd_frame():
    assert odd_frames(clip(cut)) == []


def test_what_lasts_is_not_odd():
    assert odd_frames(clip(still_picture, [(30, 49)])) == []


@pytest.mark.parametrize("count", [1, 2])
def test_too_few_frames_have_none(count):
    assert odd_frames(list(clip(still_picture, [(0, 0)]))[:count]) == []
