"""Timelines, made by OpenTimelineIO itself."""

import opentimelineio as otio


def time(frames, rate=25):
    return otio.opentime.RationalTime(frames, rate)


def span(first, frames, rate=25):
    return otio.opentime.TimeRange(time(first, rate), time(frames, rate))


def cut_clip(name, first, frames, url=None, *, available=None, rate=25, speed=None):
    """A clip of a timeline; its media missing where no address is given."""
    found = otio.schema.MissingReference()
    if url is not None:
        found = otio.schema.ExternalReference(str(url), available)
    made = otio.schema.Clip(name, found, span(first, frames, rate))
    made.metadata["editor"] = {"note": f"of {name}"}
    if speed is not None:
        made.effects.append(otio.schema.LinearTimeWarp(time_scalar=speed))
    return made


def timeline(*tracks, name="Cut", sound=()):
    made = otio.schema.Timeline(name)
    made.metadata["editor"] = {"version": 3}
    for number, items in enumerate(tracks, start=1):
        track = otio.schema.Track(f"V{number}", kind=otio.schema.TrackKind.Video)
        track.extend(items)
        made.tracks.append(track)
    if sound:
        heard = otio.schema.Track("A1", kind=otio.schema.TrackKind.Audio)
        heard.extend(sound)
        made.tracks.append(heard)
    return made


def save_timeline(made, path):
    otio.adapters.write_to_file(made, str(path))
    return path
