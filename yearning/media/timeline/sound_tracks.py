"""A timeline's tracks of sound: which shots are heard, and what is heard besides."""

from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

import opentimelineio as otio

from yearning.core.look.reel import MAX_ITEMS
from yearning.core.validation import plain_text
from yearning.media.errors import MediaError
from yearning.media.timeline.flattening import NO_LENGTH, has_length

QUIETEST = -60.0
"""Decibels, as a reel has them."""


class SoundPart(NamedTuple):
    """A part of a file's sound."""

    media: Path
    start: float
    """Seconds of the file."""


class ReadSound(NamedTuple):
    """A clip of a track of sound that is no shot's own sound."""

    number: int
    """Its place among all of them, from 0."""
    name: str
    at: int
    frames: int
    level: float
    part: SoundPart | None
    """None where its media is missing."""


class ShotSound(NamedTuple):
    """Where a shot stands, and what would be heard with it."""

    begins: int
    frames: int
    part: SoundPart


def read_sounds(
    timeline: Any,
    shots: Sequence[ShotSound | None],
    rate: Fraction,
    part_of: Callable[[Any, str], SoundPart],
    notes: list[str],
) -> tuple[list[ReadSound], list[bool]]:
    """What is heard in a timeline.

    A clip of a track of sound that lies under a shot from its beginning to its end, and is the same
    time of the same media, is the shot's own sound. What stands on several tracks, as editors write
    the channels of one file, is heard once.

    Args:
        timeline: of OpenTimelineIO.
        shots: of each item of the reel; None of a gap.
        rate: frames a second of the reel.
        part_of: the media of a clip, at a place that notes name; it raises MediaError.
        notes: gets a line for each thing that is not taken as it is.

    Returns:
        What is heard besides the shots, and of each item whether it is heard itself: all are, where
        the timeline has no sound.
    """
    heard = [False] * len(shots)
    by_frame = {shot.begins: n for n, shot in enumerate(shots) if shot is not None}
    found: list[ReadSound] = []
    known: set[tuple[SoundPart, int, int]] = set()
    number = -1
    for number, (place, at, clip) in enumerate(_clips(timeline, rate, notes)):
        if number >= MAX_ITEMS:
            notes.append(f"{place}: a reel has {MAX_ITEMS} sounds at the most; the rest is left")
            break
        frames = max(1, round(clip.duration().to_seconds() * rate))
        part = None
        try:
            part = part_of(clip, place)
        except MediaError as error:
            notes.append(f"{place}: {error}; it is not heard")
        own = next((n for f in (at, at - 1, at + 1) if (n := by_frame.get(f)) is not None), None)
        shot = None if own is None else shots[own]
        if own is not None and shot and part and _is_own(shot, at, frames, part, rate):
            heard[own] = True
            continue
        if part and (part, at, frames) in known:  # channels of one sound, each on its own track
            continue
        if part:
            known.add((part, at, frames))
        for effect in clip.effects:
            said = effect.effect_name or effect.name or type(effect).__name__
            notes.append(f"{place}: {said} is left out; it is heard as it was recorded")
        name = plain_text(clip.name or "")[:200] or (part.media.stem if part else "Sound")
        found.append(ReadSound(number, name, at, frames, _level(clip), part))
    return found, heard if number >= 0 else [True] * len(shots)


def _is_own(shot: ShotSound, at: int, frames: int, part: SoundPart, rate: Fraction) -> bool:
    """Whether a sound is what would be heard with a shot anyway."""
    return (
        part.media == shot.part.media
        and abs(at - shot.begins) <= 1
        and abs(at + frames - shot.begins - shot.frames) <= 1
        and abs((part.start - at / rate) - (shot.part.start - shot.begins / rate)) < 1 / rate
    )


def _clips(timeline: Any, rate: Fraction, notes: list[str]) -> Iterator[tuple[str, int, Any]]:
    """The clips of sound, each with its place and the frame of the reel that it begins at."""
    for n, track in enumerate(timeline.audio_tracks(), start=1):
        named = track.name or f"A{n}"
        if not track.enabled:
            notes.append(f"{named}: is switched off; it is not heard")
            continue
        seconds = 0.0
        for k, item in enumerate(track, start=1):
            place = f"{named}, item {k}" + (f" '{item.name}'" if item.name else "")
            if isinstance(item, otio.schema.Transition):
                notes.append(f"{place}: a transition of sound is taken as a cut")
                continue
            if not has_length(item):
                notes.append(f"{place}: {NO_LENGTH}; it is left out")
                continue
            at = round(seconds * rate)
            seconds += item.duration().to_seconds()
            if isinstance(item, otio.schema.Gap):
                continue
            if not isinstance(item, otio.schema.Clip):
                notes.append(f"{place}: what is nested in sound is left out; it is not heard")
            elif not item.enabled:
                notes.append(f"{place}: is switched off; it is not heard")
            else:
                yield place, at, item


def _level(clip: Any) -> float:
    """Decibels, as a timeline may have them: `metadata["yearning"]["level"]`."""
    own = clip.metadata.get("yearning", {})
    level = own.get("level", 0.0) if hasattr(own, "get") else 0.0
    usable = isinstance(level, int | float) and QUIETEST <= level <= 0
    return float(level) if usable else 0.0
