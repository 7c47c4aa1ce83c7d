"""Timelines written with results in the place of their media."""

from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

import opentimelineio as otio

from yearning.core.look.reel import Gap, Reel, Shot
from yearning.media.atomic_write import atomic_write
from yearning.media.errors import MediaError
from yearning.media.timeline.edit_lists import ADAPTER

SUFFIXES = (".otio", ".edl")


class Result(NamedTuple):
    """What was rendered of a shot."""

    path: Path
    before: int
    """Frames of it before the shot begins."""
    seen: int
    """Frames of the shot."""
    frames: int
    """All of its frames."""
    rate: Fraction
    begins: int
    """The frame of the media's time that the shot begins at."""


class Original(NamedTuple):
    """The clip of a shot of which nothing was rendered."""

    path: Path
    frames: int
    rate: Fraction
    begins: int
    """The frame of its own time that it begins at."""


def write_timeline(
    path: Path,
    reel: Reel,
    results: Sequence[Result | Original | None],
    *,
    row: Sequence[Any] | None = None,
    timeline: Any = None,
) -> None:
    """Write a reel as a timeline whose media are results, and the clips where there is none.

    Args:
        path: .otio or .edl.
        reel: whose items it has.
        results: one for each item, or a shot's clip; None for gaps, and for shots without either.
        row: OpenTimelineIO's clips and gaps, one for each item, whose ranges, names and metadata
            stay; made anew, if left out.
        timeline: OpenTimelineIO's, whose sound, beginning and metadata stay.

    Raises:
        MediaError: it can't be written so.
    """
    if path.suffix.lower() not in SUFFIXES:
        raise MediaError(f"{path.name}: timelines end in {' or '.join(SUFFIXES)}")
    written = otio.schema.Timeline(reel.name) if timeline is None else timeline.deepcopy()
    sound = [track.deepcopy() for track in written.audio_tracks()]
    tracks = otio.schema.Stack(written.tracks.name)
    track = otio.schema.Track("V1", kind=otio.schema.TrackKind.Video)
    tracks.append(track)
    items = [None] * len(reel.items) if row is None else row
    for item, result, known in zip(reel.items, results, items, strict=True):
        track.append(_write_item(item, result, known, Fraction(*reel.rate), path.parent))
    for each in sound:
        tracks.append(each)
    if timeline is None and path.suffix.lower() != ".edl":
        for each in _sound_tracks(reel):
            tracks.append(each)
    tracks.metadata.update(dict(written.tracks.metadata))
    written.tracks = tracks
    try:
        with atomic_write(path) as place:
            if path.suffix.lower() == ".edl":
                rate = float(Fraction(*reel.rate))
                text = otio.adapters.write_to_string(written, ADAPTER, rate=rate)
            else:
                text = otio.adapters.write_to_string(written, "otio_json")
            place.write_text(text)
    except OSError:
        raise
    except Exception as error:
        said = " ".join(str(error).split())[:200]
        raise MediaError(f"{path.name}: can't be written so: {said}") from None


def _sound_tracks(reel: Reel) -> list[Any]:
    """Tracks of what is heard besides the shots, as few as have room for all."""
    rate = Fraction(*reel.rate)
    tracks: list[Any] = []
    ends: list[int] = []
    for sound in sorted(reel.sounds, key=lambda each: each.at):
        n = next((n for n, end in enumerate(ends) if end <= sound.at), len(tracks))
        if n == len(tracks):
            tracks.append(otio.schema.Track(f"A{n + 1}", kind=otio.schema.TrackKind.Audio))
            ends.append(0)
        if sound.at > ends[n]:
            tracks[n].append(otio.schema.Gap(duration=_time(sound.at - ends[n], rate)))
        start = otio.opentime.RationalTime(sound.start * float(rate), float(rate))
        made = otio.schema.Clip(
            sound.name,
            otio.schema.ExternalReference(target_url=Path(sound.media).resolve().as_uri()),
            otio.opentime.TimeRange(start, _time(sound.frames, rate)),
            metadata={"yearning": {"level": sound.level}} if sound.level else {},
        )
        tracks[n].append(made)
        ends[n] = sound.at + sound.frames
    return tracks


def _write_item(
    item: Any, result: Result | Original | None, known: Any, shown_at: Fraction, folder: Path
) -> Any:
    """An item of the reel as OpenTimelineIO has it."""
    if known is not None:
        made = known.deepcopy()
    elif isinstance(item, Gap):
        return otio.schema.Gap(duration=_time(item.gap, shown_at))
    else:
        made = otio.schema.Clip(item.name)
    if not isinstance(result, Result):
        return made if known is not None else _as_shot(item, result, shown_at, folder)
    if known is None:
        made.source_range = otio.opentime.TimeRange(
            _time(result.begins, result.rate), _time(result.seen, result.rate)
        )
    wanted = made.trimmed_range()
    made.source_range = wanted
    start = wanted.start_time - _time(result.before, result.rate)
    made.media_reference = otio.schema.ExternalReference(
        target_url=_url(result.path, folder),
        available_range=otio.opentime.TimeRange(start, _time(result.frames, result.rate)),
    )
    rest = [each for each in made.effects if not isinstance(each, otio.schema.TimeEffect)]
    made.effects[:] = rest
    return made


def _as_shot(shot: Shot, original: Original | None, shown_at: Fraction, folder: Path) -> Any:
    """A shot that has no result, of its own clip; or of what is missing."""
    media, begins, rate = otio.schema.MissingReference(), 0, shown_at
    if original is not None:
        begins, rate = original.begins, original.rate
        media = otio.schema.ExternalReference(
            target_url=_url(original.path, folder),
            available_range=otio.opentime.TimeRange(
                _time(begins, rate), _time(original.frames, rate)
            ),
        )
    seen = max(1, round((shot.last - shot.first + 1) / shot.speed))
    made = otio.schema.Clip(
        shot.name,
        media,
        otio.opentime.TimeRange(_time(begins + shot.first, rate), _time(seen, rate)),
    )
    if shot.speed != 1:
        made.effects.append(otio.schema.LinearTimeWarp(time_scalar=shot.speed))
    return made


def _url(target: Path, folder: Path) -> str:
    """Where a file is, from the timeline's folder if it lies below that."""
    try:
        return target.resolve().relative_to(folder.resolve()).as_posix()
    except ValueError:
        return target.resolve().as_uri()


def _time(frames: int, rate: Fraction) -> Any:
    return otio.opentime.RationalTime(frames, float(rate))
