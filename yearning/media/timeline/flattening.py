"""A timeline's picture as one row of clips and gaps: what lies on top is seen."""

from collections.abc import Iterator
from typing import Any, NamedTuple

import opentimelineio as otio

MAX_NESTED = 16


class Placed(NamedTuple):
    """A clip or a gap of the row, and where it stood in the timeline."""

    place: str
    item: Any


NO_LENGTH = "says neither its range nor how long its media is"


def has_length(item: Any) -> bool:
    """Whether an item says how long it is."""
    try:
        item.duration()
    except (otio.exceptions.OTIOError, NotImplementedError, AttributeError):
        return False  # the last two are of schemas that others are made of, as Item
    return True


def flatten_timeline(timeline: Any, notes: list[str]) -> list[Placed]:
    """The clips and gaps that are seen, in their order.

    Args:
        timeline: of OpenTimelineIO; it is changed.
        notes: gets a line for each thing that is not taken as it is.
    """
    tracks = [track for track in timeline.video_tracks() if track.enabled]
    for number, track in enumerate(tracks, start=1):
        _unwrap(track, track.name or f"V{number}", notes)
    hidden = sum(not track.enabled for track in timeline.video_tracks())
    if hidden:
        notes.append(f"{hidden} tracks are switched off; they are left out")
    if len(tracks) > 1:
        notes.append(f"{len(tracks)} tracks of picture: where one lies over another it is seen")
        row = otio.algorithms.flatten_stack(tracks)
    elif tracks:
        row = tracks[0]
    else:
        return []
    where = "V1" if len(tracks) > 1 else (tracks[0].name or "V1")
    return list(_place_items(row, where))


def _place_items(row: Any, where: str) -> Iterator[Placed]:
    for number, item in enumerate(row, start=1):
        named = f" '{item.name}'" if item.name else ""
        yield Placed(f"{where}, item {number}{named}", item)


def _unwrap(track: Any, where: str, notes: list[str], depth: int = 0) -> None:
    """Have a track hold clips and gaps alone."""
    at = 0
    cuts = 0
    while at < len(track):
        item = track[at]
        if isinstance(item, otio.schema.Transition):
            del track[at]
            cuts += 1
            continue
        if not has_length(item):
            notes.append(f"{where}, item {at + 1} '{item.name}': {NO_LENGTH}; it is left out")
            del track[at]
            continue
        if not isinstance(item, otio.schema.Gap) and not item.enabled:
            notes.append(f"{where}, item {at + 1} '{item.name}': switched off; a gap stands for it")
            track[at] = otio.schema.Gap(duration=item.duration())
        elif isinstance(item, otio.schema.Stack | otio.schema.Track):
            inner = _nested_items(item, f"{where}, item {at + 1} '{item.name}'", notes, depth)
            del track[at]
            for more, each in enumerate(inner):
                track.insert(at + more, each)
            at += len(inner)
            continue
        at += 1
    if cuts:
        notes.append(f"{where}: {cuts} transitions are taken as cuts")


def _nested_items(item: Any, where: str, notes: list[str], depth: int) -> list[Any]:
    """The clips and gaps of a composition that is nested in a track."""
    if depth >= MAX_NESTED:
        notes.append(f"{where}: nested more than {MAX_NESTED} deep; a gap stands for it")
        return [otio.schema.Gap(duration=item.duration())]
    notes.append(f"{where}: what is nested is taken apart")
    wanted = item.trimmed_range()
    layers = [item] if isinstance(item, otio.schema.Track) else list(item)
    tracks = []
    for layer in layers:
        track = layer if isinstance(layer, otio.schema.Track) else _as_track(layer)
        if track.enabled and track.kind != otio.schema.TrackKind.Audio:
            track = track.deepcopy()
            track.source_range = None
            _unwrap(track, where, notes, depth + 1)
            tracks.append(track)
    if not tracks:
        return [otio.schema.Gap(duration=wanted.duration)]
    row = otio.algorithms.flatten_stack(tracks) if len(tracks) > 1 else tracks[0]
    row = otio.algorithms.track_trimmed_to_range(row, wanted)
    return [each.deepcopy() for each in row]


def _as_track(item: Any) -> Any:
    track = otio.schema.Track(kind=otio.schema.TrackKind.Video)
    track.append(item.deepcopy())
    return track
