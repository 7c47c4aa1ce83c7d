"""Timelines read as reels: OpenTimelineIO (.otio) and edit decision lists (.edl)."""

from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple, Protocol

import opentimelineio as otio

from yearning.core.look.reel import MAX_ITEMS, Gap, Reel, Shot, SoundClip
from yearning.core.validation import plain_text
from yearning.media.decode.probe import SOUND_SUFFIXES, Probe, probe_file
from yearning.media.decode.sound_file import SoundFile, probe_sound
from yearning.media.errors import MediaError
from yearning.media.timecode import Timecode
from yearning.media.timeline.document_check import check_timeline
from yearning.media.timeline.edit_lists import read_edit_list
from yearning.media.timeline.flattening import Placed, flatten_timeline
from yearning.media.timeline.media_search import MediaSearch
from yearning.media.timeline.rates import exact_rate
from yearning.media.timeline.sound_tracks import ReadSound, ShotSound, SoundPart, read_sounds

SUFFIXES = (".otio", ".edl")

MAX_BYTES = 64 << 20

SLOWEST, FASTEST = 0.1, 8.0


class ReadTimeline(NamedTuple):
    """A timeline as a reel, and what of it is not as it was."""

    reel: Reel
    row: list[Any]
    """OpenTimelineIO's clips and gaps, one for each of the reel's items."""
    timeline: Any
    """OpenTimelineIO's, as it was read."""
    notes: list[str]
    missing: list["Missing"]
    sounds: list[ReadSound]
    """What is heard besides the shots; the reel has those of which media were found."""


class Missing(NamedTuple):
    """A shot whose media was not found, or has not its frames."""

    item: int
    """Its number among the reel's items, where a gap stands for it."""
    name: str
    why: str
    """With its place."""


class Search(Protocol):
    """How media are found that a timeline names."""

    def find_at(self, url: str) -> Path | None:
        """The file at a path or `file:` address; None where there is none."""

    def find_by_name(self, name: str) -> Sequence[Path]:
        """Files of a name, with its ending or without."""


def read_timeline(
    path: Path, search: Search | None = None, rate: Fraction = Fraction(24)
) -> ReadTimeline:
    """Read a timeline as a reel.

    What can't be taken as it is stands in the notes; shots without media become gaps. Where it has
    tracks of sound, what they have is heard; else the shots' own.

    Args:
        path: of the timeline.
        search: finds media; those beside it, if left out.
        rate: of an edit list, which does not say its own.

    Raises:
        MediaError: the file can't be read, or is no timeline.
    """
    notes: list[str] = []
    timeline = _open_timeline(path, rate, notes)
    kept = timeline.deepcopy()
    row = flatten_timeline(timeline, notes)
    if len(row) > MAX_ITEMS:
        raise MediaError(f"{path.name}: has {len(row)} items; a reel has {MAX_ITEMS} at the most")
    shown_at = _rate(timeline, row, rate)
    media = _Media(search or MediaSearch(path.resolve().parent, ()))
    missing: list[Missing] = []
    items: list[Shot | Gap] = []
    for placed in row:
        if isinstance(placed.item, otio.schema.Clip):
            try:
                items.append(media.shot(placed, shown_at, notes))
                continue
            except MediaError as error:
                name = plain_text(placed.item.name or "")[:200] or "Untitled shot"
                missing.append(Missing(len(items), name, f"{placed.place}: {error}"))
        items.append(_gap(placed, shown_at))
    if not row:
        raise MediaError(f"{path.name}: has no clips in a track of picture")
    name = plain_text(timeline.name or path.stem)[:120] or "Untitled reel"
    heard_with = _heard_with(items, row, media, shown_at)
    sounds, heard = read_sounds(
        timeline, heard_with, shown_at, lambda clip, place: media.sound(clip, place, notes), notes
    )
    found = Reel(
        name=name,
        rate=(shown_at.numerator, shown_at.denominator),
        items=tuple(
            item.model_copy(update={"heard": is_heard}) if isinstance(item, Shot) else item
            for item, is_heard in zip(items, heard, strict=True)
        ),
        sounds=tuple(
            SoundClip(
                name=each.name,
                media=str(each.part.media),
                at=each.at,
                start=each.part.start,
                frames=each.frames,
                level=each.level,
            )
            for each in sounds
            if each.part is not None
        ),
    )
    return ReadTimeline(found, [each.item for each in row], kept, notes, missing, sounds)


def _heard_with(
    items: Sequence[Shot | Gap], row: Sequence[Placed], media: "_Media", rate: Fraction
) -> list[ShotSound | None]:
    """Where shots stand in the timeline, and what would be heard with them."""
    found: list[ShotSound | None] = []
    seconds = 0.0
    for item, placed in zip(items, row, strict=True):
        begins = round(seconds * rate)
        lasts = placed.item.duration().to_seconds()
        seconds += lasts
        if isinstance(item, Gap):
            found.append(None)
            continue
        path = Path(item.media)
        part = SoundPart(path, item.first / float(media.probe(path).rate))
        found.append(ShotSound(begins, max(1, round(lasts * rate)), part))
    return found


def timeline_row(path: Path, rate: Fraction) -> tuple[Any, list[Any]]:
    """Return a timeline and its row of clips and gaps, both OpenTimelineIO's.

    Args:
        path: of the file.
        rate: frames a second of an edit list, which says none.

    Raises:
        MediaError: the file can't be read, or is no timeline.
    """
    timeline = _open_timeline(path, rate, [])
    kept = timeline.deepcopy()
    return kept, [each.item for each in flatten_timeline(timeline, [])]


def _open_timeline(path: Path, rate: Fraction, notes: list[str]) -> Any:
    if path.suffix.lower() not in SUFFIXES:
        raise MediaError(f"{path.name}: timelines end in {' or '.join(SUFFIXES)}")
    try:
        if path.stat().st_size > MAX_BYTES:
            raise MediaError(f"{path.name}: is larger than any timeline")
        data = path.read_bytes()
    except OSError as error:
        raise MediaError(f"{path}: can't be read: {error.strerror or error}") from None
    text = data.decode("utf-8", errors="replace")
    if path.suffix.lower() == ".edl":
        found = read_edit_list(text, path.name, rate, notes)
    else:
        check_timeline(data, path.name)
        try:
            found = otio.adapters.read_from_string(text, "otio_json")
        except Exception as error:
            said = " ".join(str(error).split())[:200]
            raise MediaError(f"{path.name}: not a timeline that can be read: {said}") from None
    if isinstance(found, otio.schema.SerializableCollection):
        inside = [each for each in found if isinstance(each, otio.schema.Timeline)]
        if len(inside) > 1:
            notes.append(f"{path.name}: holds {len(inside)} timelines; the first is taken")
        found = inside[0] if inside else None
    if not isinstance(found, otio.schema.Timeline):
        raise MediaError(f"{path.name}: holds no timeline")
    return found


def _rate(timeline: Any, row: list[Placed], given: Fraction) -> Fraction:
    """The timeline's rate: what it begins at, or its first clip's."""
    if timeline.global_start_time is not None and timeline.global_start_time.rate > 0:
        return exact_rate(timeline.global_start_time.rate)
    for placed in row:
        rate = placed.item.duration().rate
        if rate > 0:
            return exact_rate(rate)
    return given


def _gap(placed: Placed, rate: Fraction) -> Gap:
    frames = round(placed.item.duration().to_seconds() * rate)
    return Gap(gap=max(1, frames))


class _Media:
    """Clips of a timeline as shots of files; each file is looked at once."""

    def __init__(self, search: Search) -> None:
        self._search = search
        self._probes: dict[Path, Probe | str] = {}
        self._sounds: dict[Path, SoundFile] = {}

    def shot(self, placed: Placed, shown_at: Fraction, notes: list[str]) -> Shot:
        """Return the shot of a clip of a timeline.

        Args:
            placed: the clip, and where it stands.
            shown_at: the reel's frames a second.
            notes: takes what is left out.

        Raises:
            MediaError: its media can't be found or used, or have not such frames.
        """
        clip = placed.item
        speed = _speed(placed, notes)
        path = self._find_media(clip, placed.place, notes)
        probe = self.probe(path)
        if abs(float(probe.rate / shown_at) - 1) > 1e-4:
            notes.append(
                f"{placed.place}: {path.name} has {float(probe.rate):g} frames a second and the "
                f"timeline {float(shown_at):g}; it keeps its own"
            )
        wanted = clip.trimmed_range()
        begin = _first_of(clip, probe)
        start = wanted.start_time.to_seconds() - begin
        first = round(start * probe.rate)
        count = max(1, round(wanted.duration.to_seconds() * speed * probe.rate))
        last = first + count - 1
        if first < 0 or first >= probe.frames:
            raise MediaError(
                f"begins at frame {first} of {path.name}, which has 0 to {probe.frames - 1}"
            )
        if last >= probe.frames:
            notes.append(
                f"{placed.place}: goes on to frame {last} of {path.name}, which ends at "
                f"{probe.frames - 1}; it is cut there"
            )
            last = probe.frames - 1
        name = plain_text(clip.name or path.stem)[:200] or path.stem
        return Shot(name=name, media=str(path), first=first, last=last, speed=speed)

    def sound(self, clip: Any, place: str, notes: list[str]) -> SoundPart:
        """Return the part of a file that is heard of a clip of sound.

        Args:
            clip: OpenTimelineIO's.
            place: what messages begin with.
            notes: takes what is left out.

        Raises:
            MediaError: its media can't be found or used, or have no such time.
        """
        path = self._find_media(clip, place, notes)
        wanted = clip.trimmed_range()
        if path.suffix.lower() in SOUND_SUFFIXES:
            file = self._sound_file(path)
            available = getattr(clip.media_reference, "available_range", None)
            begins = 0.0 if available is None else available.start_time.to_seconds()
            lasts = file.seconds
        else:
            probe = self.probe(path)
            if not probe.sounds:
                raise MediaError(f"{path.name}: it has no sound")
            begins, lasts = _first_of(clip, probe), probe.duration
        start = wanted.start_time.to_seconds() - begins
        if not -1e-3 <= start < lasts:
            raise MediaError(f"begins at {start:.2f} s of {path.name}, which has {lasts:.2f} s")
        return SoundPart(path, max(start, 0.0))

    def _sound_file(self, path: Path) -> SoundFile:
        if path not in self._sounds:
            self._sounds[path] = probe_sound(path)
        return self._sounds[path]

    def _find_media(self, clip: Any, place: str, notes: list[str]) -> Path:
        reference = clip.media_reference
        url = getattr(reference, "target_url", None) or ""
        if url and (there := self._search.find_at(url)) is not None:
            return there
        of_list = clip.metadata.get("cmx_3600", {})
        reel = of_list.get("reel", "") if hasattr(of_list, "get") else ""
        names = [each for each in (url, clip.name, getattr(reference, "name", ""), reel) if each]
        for name in names:
            candidates = self._search.find_by_name(str(name))
            if len(candidates) == 1:
                return candidates[0]
            if candidates:
                fitting = [path for path in candidates if self._holds(clip, path)]
                chosen = (fitting or candidates)[0]
                notes.append(f"{place}: {len(candidates)} files have its name; {chosen} is taken")
                return chosen
        if isinstance(reference, otio.schema.GeneratorReference):
            raise MediaError("is made by the editor, not of a file; render it there first")
        wanted = names[0] if names else "it has no name"
        raise MediaError(f"no media found ({wanted}); say the folder it is in")

    def _holds(self, clip: Any, path: Path) -> bool:
        """Whether a file has the frames that a clip asks for, by its timecode."""
        try:
            probe = self.probe(path)
        except MediaError:
            return False
        wanted = clip.trimmed_range()
        start = wanted.start_time.to_seconds() - _first_of(clip, probe)
        length = float(probe.frames / probe.rate)
        return bool(start >= -1e-3 and start + wanted.duration.to_seconds() <= length + 1e-3)

    def probe(self, path: Path) -> Probe:
        """What a file holds.

        Raises:
            MediaError: it can't be used as a clip.
        """
        if path not in self._probes:
            try:
                self._probes[path] = probe_file(path)
            except MediaError as error:
                self._probes[path] = str(error)
        found = self._probes[path]
        if isinstance(found, str):
            raise MediaError(found)
        return found


def _speed(placed: Placed, notes: list[str]) -> float:
    """How fast a clip runs; what else is done to its time is told."""
    speed = 1.0
    for effect in placed.item.effects:
        if type(effect) is otio.schema.LinearTimeWarp:
            speed *= effect.time_scalar
        elif isinstance(effect, otio.schema.TimeEffect):
            notes.append(f"{placed.place}: {type(effect).__name__} is left out")
        else:
            name = effect.effect_name or effect.name or "an effect"
            notes.append(f"{placed.place}: {name} is left out")
    if not SLOWEST <= speed <= FASTEST:
        notes.append(
            f"{placed.place}: runs {speed:g} times as fast; only {SLOWEST:g} to {FASTEST:g} can "
            "be had, so it runs as it was shot"
        )
        return 1.0
    return float(speed)


def _first_of(clip: Any, probe: Probe) -> float:
    """The time in seconds that the clip's ranges call its media's first frame."""
    reference = clip.media_reference
    available = getattr(reference, "available_range", None)
    if available is not None:
        return float(available.start_time.to_seconds())
    wanted = clip.trimmed_range().start_time
    if probe.timecode is not None:
        try:
            begins = Timecode.parse(probe.timecode, probe.rate).frame / probe.rate
        except ValueError:
            begins = Fraction(0)
        # ranges count from the timecode, or from the first frame, by what fits
        if wanted.to_seconds() >= float(begins) - 1e-3:
            return float(begins)
    return 0.0
