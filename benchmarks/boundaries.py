"""Boundaries between shots: how many of made cuts are found, how many are false, and how fast.

The cuts are made of the demo's clips, from shots of 12 to 35 frames that are framed anew: standing
still, panning fast, with flashes, or dark and noisy.
"""

from collections.abc import Iterator
from functools import cache
from typing import Literal, NamedTuple, get_args

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.report import Effort, Row, Target, against
from benchmarks.timing import seconds
from yearning.core.engine.array_clip import ArrayClip
from yearning.core.measure.shot_boundaries import THRESHOLD, ShotBoundaries
from yearning.demo import MEDIA
from yearning.media.decode.clip import open_clip

Kind = Literal["still", "panning", "flashing", "dark"]
Frames = NDArray[np.uint8]
"""Shape `(frames, height, width, 3)`."""

LINES = 180
WIDTH, HEIGHT = 128, 72

CUTS = 300
"""Of each kind, at full effort."""


class MadeCuts(NamedTuple):
    """Frames of many shots, and with which frame each but the first begins."""

    frames: Frames
    cuts: list[int]


class Found(NamedTuple):
    """How many of the cuts are found, and how many that are found are none."""

    found: int
    false: int


@cache
def sources(most: int | None = None) -> list[Frames]:
    """The frames of the demo's clips, small; of each the first so many, or all."""
    out = []
    for path in sorted(MEDIA.glob("*.mp4")):
        with open_clip(path) as clip:
            size = clip.size.with_height(LINES)
            pictures = (clip.picture(frame, size) for frame in range(clip.frames)[:most])
            codes = [np.rint(picture * 255).clip(0, 255).astype(np.uint8) for picture in pictures]
            out.append(np.stack(codes).transpose(0, 2, 3, 1))
    return out


def made_cuts(kind: Kind, cuts: int, seed: int, most: int | None = None) -> MadeCuts:
    """Return cuts between shots of different clips.

    Args:
        kind: of the cuts.
        cuts: how many.
        seed: another gives other shots.
        most: frames of each clip that shots are taken from; None for all.
    """
    rng = np.random.default_rng(seed)
    shots, last = [], -1
    for _ in range(cuts + 1):
        others = [n for n in range(len(sources(most))) if n != last]
        last = int(rng.choice(others))
        shots.append(_shot(sources(most)[last], kind, int(rng.integers(12, 36)), rng))
    begins = np.cumsum([len(shot) for shot in shots])
    return MadeCuts(np.concatenate(shots), [int(frame) for frame in begins[:-1]])


def _shot(source: Frames, kind: Kind, frames: int, rng: np.random.Generator) -> Frames:
    begin = int(rng.integers(0, len(source) - frames + 1))
    taken = _frame_window(source[begin : begin + frames], kind == "panning", rng)
    if kind == "flashing":
        _flash(taken, rng)
    if kind == "dark":
        taken *= rng.uniform(0.06, 0.15)
        taken += rng.normal(0, 0.8, taken.shape).astype(np.float32)
    return np.rint(taken).clip(0, 255).astype(np.uint8)


def _frame_window(source: Frames, pans: bool, rng: np.random.Generator) -> NDArray[np.float32]:
    """Part of the picture; panning, at up to 12 % of its width a frame, it turns at the edges."""
    height, width = source.shape[1:3]
    part = float(rng.uniform(0.4, 0.75) if pans else rng.choice([1, rng.uniform(0.4, 0.9)]))
    room = np.array([width, height]) * (1 - part)
    at = rng.uniform(0, 1, 2) * room
    angle, speed = rng.uniform(0, 2 * np.pi), rng.uniform(0.005, 0.05) * width * pans
    by = speed * np.array([np.cos(angle), np.sin(angle) / 2])
    scale = WIDTH / (part * width)
    out = []
    for picture in source:
        place = np.array([[scale, 0, -at[0] * scale], [0, scale, -at[1] * scale]])
        part_of_it = cv2.warpAffine(picture, place, (WIDTH, HEIGHT), borderMode=cv2.BORDER_REFLECT)
        out.append(np.asarray(part_of_it, np.float32))
        by = np.where((at + by < 0) | (at + by > room), -by, by)
        at = (at + by).clip(0, room)
    return np.stack(out)


def _flash(frames: NDArray[np.float32], rng: np.random.Generator) -> None:
    """Flashes of one to three frames, up to white, and back within the shot."""
    at = int(rng.integers(3, 6))
    while at < len(frames) - 5:
        length, gain, light = int(rng.integers(1, 4)), rng.uniform(1.5, 5), rng.uniform(0, 120)
        for n in range(length):
            frames[at + n] = frames[at + n] * (gain * (1 - 0.2 * n)) + light
        at += length + int(rng.integers(2, 9))


def count(made: MadeCuts) -> Found:
    """What is found of made cuts, at the usual threshold."""
    search = ShotBoundaries(ArrayClip(made.frames, channel_axis=-1))
    for _ in search.run():
        pass
    found = {each.frame for each in search.boundaries() if each.jump >= THRESHOLD}
    return Found(len(found & set(made.cuts)), len(found - set(made.cuts)))


def run(effort: Effort) -> Iterator[Row]:
    """Of each kind the part that is found, and of what is found the part that is false."""
    cuts = max(effort.rounds(CUTS), 2)
    all_of, none_of = Target("at least", 99, "found"), Target("at most", 1, "found")
    for kind in get_args(Kind):
        made = made_cuts(kind, cuts, 0)
        right, false = count(made)
        yield Row(f"cuts that are found, {kind}", 100 * right / cuts, "%", target=all_of)
        part = 100 * false / max(right + false, 1)
        yield Row(f"false among what is found, {kind}", part, "%", target=none_of)
    path = MEDIA / "signal-tower.mp4"
    with open_clip(path) as clip:
        frames = range(min(clip.frames, max(effort.rounds(clip.frames), 8)))
        search = ShotBoundaries(clip, frames)
        spent = seconds(lambda: list(search.run()))
    with open_clip(path) as clip:
        decoded = seconds(lambda: [clip.prefetch(frame) for frame in frames])
    each = 1e3 / len(frames)
    yield against("looking through a frame", spent * each, "decoding alone", decoded * each)
