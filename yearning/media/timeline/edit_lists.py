"""Edit decision lists (.edl), of which lines that can't be read are left out and told."""

import re
from contextlib import suppress
from fractions import Fraction
from typing import Any

import opentimelineio as otio

from yearning.media.errors import MediaError

ADAPTER = "cmx_3600"

EVENT = re.compile(r"^\s*\d{3,6}\s+\S")


def read_edit_list(text: str, name: str, rate: Fraction, notes: list[str]) -> Any:
    """Return the timeline of an edit list.

    Args:
        text: the list.
        name: of the file.
        rate: frames a second, since lists don't say theirs.
        notes: takes what is left out.

    Raises:
        MediaError: nothing of it can be read.
    """
    with suppress(Exception):  # the adapter raises what its parts raise; then events are tried
        return _parse_edit_list(text, rate)
    head, events = _events(text)
    good = []
    for line, event in events:
        try:
            _parse_edit_list(head + event, rate)
        except Exception as error:
            notes.append(f"{name}, line {line}: {_one_line(error)}; this event is left out")
        else:
            good.append(event)
    if not good:
        raise MediaError(f"{name}: not an edit decision list that can be read; none of its events")
    try:
        return _parse_edit_list(head + "".join(good), rate)
    except Exception as error:
        raise MediaError(f"{name}: {_one_line(error)}") from None


def _parse_edit_list(text: str, rate: Fraction) -> Any:
    timeline = otio.adapters.read_from_string(
        text, ADAPTER, rate=float(rate), ignore_timecode_mismatch=True
    )
    _align_sound(timeline)
    return timeline


def _align_sound(timeline: Any) -> None:
    """Have tracks of sound begin with the picture, by a gap.

    The adapter has each begin with its own first event, and its range at minus that event's time.
    """
    pictures = [track for track in timeline.video_tracks() if track.source_range is not None]
    if not pictures:
        return
    begins = max(track.source_range.start_time for track in pictures)
    for track in timeline.audio_tracks():
        if track.source_range is None:
            continue
        late = begins - track.source_range.start_time
        if late.value > 0:
            track.insert(0, otio.schema.Gap(duration=late))
        track.source_range = None


def _events(text: str) -> tuple[str, list[tuple[int, str]]]:
    """What stands before the first event, and each event with the number of its first line."""
    head: list[str] = []
    events: list[tuple[int, list[str]]] = []
    for number, line in enumerate(text.splitlines(keepends=True), start=1):
        if EVENT.match(line):
            events.append((number, [line]))
        elif events:
            events[-1][1].append(line)
        else:
            head.append(line)
    return "".join(head), [(number, "".join(lines)) for number, lines in events]


def _one_line(error: Exception) -> str:
    return " ".join(str(error).split())[:200] or type(error).__name__
