"""Boundaries between shots, on made cuts with known places (`benchmarks.boundaries` makes them)."""

from typing import get_args

import numpy as np
import pytest

from benchmarks.boundaries import Kind, count, made_cuts
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.measure.shot_boundaries import MIN_THRESHOLD, NEARBY, ShotBoundaries

CUTS, FRAMES = 8, 48
"""In `benchmarks.boundaries` there are hundreds of each kind."""


def boundaries(frames, part=None):
    search = ShotBoundaries(ArrayClip(frames, channel_axis=-1), part)
    done = list(search.run())
    assert done == list(range(1, search.total + 1))
    return search.boundaries()


def cut_frames(frames, part=None):
    return [each.frame for each in boundaries(frames, part)]


@pytest.fixture(scope="module")
def three():
    """Three shots."""
    return made_cuts("still", 2, 4, FRAMES)


@pytest.mark.parametrize("kind", get_args(Kind))
def test_made_cuts_are_found_and_no_others(kind):
    found, false = count(made_cuts(kind, CUTS, 1, FRAMES))
    assert (found, false) == (CUTS, 0)


def test_a_part_of_a_clip_has_the_cuts_of_that_part_in_the_clips_frames(three):
    first, second = three.cuts
    whole = boundaries(three.frames)
    assert [each.frame for each in whole] == [first, second]
    assert all(MIN_THRESHOLD <= each.jump <= 1 for each in whole)
    assert cut_frames(three.frames, range(first - 6, second)) == [first]
    assert cut_frames(three.frames, range(first, second)) == []


@pytest.mark.parametrize("lit", range(1, NEARBY))
def test_light_that_flashes_ends_no_shot(three, lit):
    frames = three.frames[: three.cuts[0]].copy()
    frames[6 : 6 + lit] = 255
    assert cut_frames(frames) == []


def test_a_shot_of_three_frames_is_one(three):
    first, second = three.cuts
    kept = np.delete(three.frames, slice(first + 3, second), axis=0)
    assert cut_frames(kept) == [first, first + 3]


def test_light_that_comes_and_goes_slowly_ends_no_shot(three):
    frames = three.frames[: three.cuts[0]]
    gains = 0.6 + 0.4 * np.cos(np.linspace(0, 3 * np.pi, len(frames)))
    assert cut_frames((frames * gains[:, None, None, None]).astype(np.uint8)) == []


def test_pictures_without_anything_in_them_have_no_cuts():
    assert cut_frames(np.zeros((12, 36, 64, 3), np.uint8)) == []


def test_noise_that_is_another_at_every_frame_has_no_cuts():
    rng = np.random.default_rng(2)
    assert cut_frames(rng.integers(0, 256, (30, 72, 128, 3), dtype=np.uint8)) == []


@pytest.mark.parametrize("frames", [1, 2, 3])
def test_clips_of_a_few_frames_can_be_looked_through(three, frames):
    assert cut_frames(three.frames[:frames]) == []


@pytest.mark.parametrize("size", [(9, 16), (1, 1), (200, 40)])
def test_clips_of_any_size_can_be_looked_through(size):
    frames = np.zeros((10, *size, 3), np.uint8)
    frames[5:] = 200
    assert cut_frames(frames) in ([5], [])


@pytest.mark.parametrize("part", [range(-1, 4), range(5, 4000), range(3, 3)])
def test_frames_that_a_clip_has_not_are_refused(three, part):
    with pytest.raises(IndexError, match="the clip has frames 0 to"):
        ShotBoundaries(ArrayClip(three.frames, channel_axis=-1), part)
