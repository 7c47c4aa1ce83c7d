"""Reels of a project: timelines read with its clips as media, and given back with results."""

import secrets
import shutil
from collections import Counter
from collections.abc import Mapping, Sequence
from contextlib import suppress
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

from yearning.core.look import reel as documents
from yearning.core.look.reel import Gap, Shot
from yearning.media.decode.probe import SOUND_SUFFIXES, probe_file
from yearning.media.errors import MediaError
from yearning.media.timeline.media_search import MediaSearch
from yearning.media.timeline.rates import exact_rate
from yearning.media.timeline.sound_tracks import ReadSound
from yearning.store.assets import keep, title_of
from yearning.store.clips import Clip
from yearning.store.content_store import file_digest
from yearning.store.errors import NotThere
from yearning.store.project import Project
from yearning.store.reel_body import ReelBody, ReelGap, ReelRate, ReelShot, ReelSound


def new_id() -> str:
    """An id for an item."""
    return secrets.token_urlsafe(6)


class TimelineReel(NamedTuple):
    """A timeline as a reel of the project."""

    body: ReelBody
    notes: Sequence[str]
    """What is not as it was in the timeline."""
    missing: Mapping[int, str]
    """Why shots have no media, by the number of their item."""


def project_sounds(project: Project) -> list[Path]:
    """The project's files of sound."""
    found = project.assets.iterdir() if project.assets.is_dir() else ()
    return sorted(path for path in found if path.suffix in SOUND_SUFFIXES)


def keep_sound(project: Project, path: Path, title: str) -> Path:
    """Move a file of sound into the project and return where it is; the same again is kept once.

    Args:
        project: takes the file.
        path: the file.
        title: what it is called.
    """
    return keep(path, project.assets, title)


class _ProjectMedia:
    """Finds the project's clips and sounds by the names that media have, then files in folders."""

    def __init__(self, project: Project, folders: Sequence[Path], beside: Path) -> None:
        self._named = [(clip.name, clip.path) for clip in project.clips.all()]
        for path in project_sounds(project):
            self._named += [(title_of(path.name), path), (path.stem, path)]
        self._elsewhere = MediaSearch(beside, folders) if folders else None

    def find_at(self, url: str) -> Path | None:
        """None: paths in a file that was sent say nothing of this machine."""
        return None

    def find_by_name(self, name: str) -> list[Path]:
        """Files of clips and sounds that are called so, or of such a name."""
        file = name.replace("\\", "/").rpartition("/")[2]
        keys = {_key(file), _key(file.rpartition(".")[0])}
        found = [path for title, path in self._named if _key(title) in keys]
        return found or (self._elsewhere.find_by_name(file) if self._elsewhere else [])


def _key(name: str) -> str:
    """A name without what files and titles join words by."""
    return "".join(c for c in name.casefold() if c.isalnum())


def read_project_timeline(
    project: Project, path: Path, folders: Sequence[Path] = (), rate: Fraction | None = None
) -> TimelineReel:
    """Read a timeline with the project's clips as its media.

    Files that are found in a folder are brought in. Shots without media stay, to have theirs when
    it comes. A shot has the look that its metadata name, if the project has one so called.

    Args:
        project: whose clips they are.
        path: of the timeline, .otio or .edl.
        folders: in which media are looked for that no clip is called like.
        rate: of an edit list, which does not say its own; None takes that of most of the clips.

    Raises:
        MediaError: the file can't be read, or is no timeline.
    """
    from yearning.media.timeline.reading import read_timeline

    clips = project.clips.all()
    usual = rate or _usual_rate(clips)
    found = read_timeline(path, _ProjectMedia(project, folders, path.parent), usual)
    by_path = {str(clip.path): clip for clip in clips}
    missing = {each.item: each for each in found.missing}
    looks = {each.look.name.casefold(): each.id for each in reversed(project.looks.all())}
    notes = list(found.notes)
    if rate is None and path.suffix.lower() == ".edl":
        notes.append(
            f"edit lists do not say their frames a second: read at {float(usual):.6g}, as most "
            "clips here have them"
        )
    items: list[ReelShot | ReelGap] = []
    for n, item in enumerate(found.reel.items):
        named = _look_name(found.row[n])
        if named and named.casefold() not in looks:
            notes.append(f"item {n + 1}: no look here is called '{named}'; it is as shot")
        look = looks.get(named.casefold())
        if isinstance(item, Shot):
            clip = by_path.get(item.media) or _brought_in(project, Path(item.media))
            by_path[item.media] = clip
            items.append(
                ReelShot(
                    id=new_id(),
                    name=item.name,
                    clip=clip.id,
                    first=item.first,
                    last=item.last,
                    speed=item.speed,
                    look=look,
                    heard=item.heard,
                    item=n,
                )
            )
        elif n in missing:
            last = item.gap - 1
            items.append(
                ReelShot(
                    id=new_id(),
                    name=missing[n].name,
                    clip=None,
                    first=0,
                    last=last,
                    look=look,
                    item=n,
                )
            )
        else:
            items.append(ReelGap(id=new_id(), frames=item.gap, item=n))
    numerator, denominator = found.reel.rate
    body = ReelBody(
        name=found.reel.name,
        rate=ReelRate(numerator=numerator, denominator=denominator),
        timeline=path.name,
        items=tuple(items),
        sounds=tuple(_sound(project, each, by_path) for each in found.sounds),
    )
    return TimelineReel(body, notes, {n: each.why for n, each in missing.items()})


def _usual_rate(clips: Sequence[Clip]) -> Fraction:
    """That of most clips; film's where there are none."""
    rates = Counter(exact_rate(clip.probe["rate"]) for clip in clips)
    return max(rates, key=rates.__getitem__, default=Fraction(24))


def _look_name(item: Any) -> str:
    """The name of a shot's look, as a timeline may have it: `metadata["yearning"]["look"]`."""
    own = item.metadata.get("yearning", {})
    name = own.get("look", "") if hasattr(own, "get") else ""
    return name if isinstance(name, str) else ""


def _sound(project: Project, sound: ReadSound, clips: Mapping[str, Clip]) -> ReelSound:
    """A sound of a timeline; a file from elsewhere is copied into the project."""
    file, clip = None, None
    if sound.part is not None:
        path = sound.part.media
        known = clips.get(str(path))
        if known is not None:
            clip = known.id
        elif path.parent == project.assets:
            file = path.name
        else:
            arriving = project.incoming(path.name)
            shutil.copyfile(path, arriving)
            file = keep_sound(project, arriving, path.stem).name
    return ReelSound(
        id=new_id(),
        name=sound.name,
        file=file,
        clip=clip,
        at=sound.at,
        start=0.0 if sound.part is None else sound.part.start,
        frames=sound.frames,
        level=sound.level,
        item=sound.number,
    )


def _brought_in(project: Project, path: Path) -> Clip:
    title = " ".join(path.stem.replace("_", " ").replace("-", " ").split()) or path.stem
    return project.clips.add(path, title, file_digest(path), probe_file(path).as_json())


def with_media_found(body: ReelBody, anew: ReelBody) -> ReelBody:
    """Return a reel with missing shots and sounds filled in from its timeline.

    Args:
        body: the reel.
        anew: its timeline, read again.
    """
    heard = {sound.item: sound for sound in anew.sounds}
    sounds = []
    for sound in body.sounds:
        if sound.file is None and sound.clip is None and sound.item is not None:
            new_sound = heard.get(sound.item)
            if new_sound is None:  # by now it is a shot's own
                continue
            part = {name: getattr(new_sound, name) for name in ("file", "clip", "start")}
            sound = sound.model_copy(update=part)
        sounds.append(sound)
    known = {item.item: item for item in anew.items if isinstance(item, ReelShot)}

    def find_media(item: ReelShot | ReelGap) -> ReelShot | ReelGap:
        if isinstance(item, ReelGap) or item.clip is not None or item.item is None:
            return item
        new = known.get(item.item)
        if new is None or new.clip is None:
            return item
        names = ("clip", "first", "last", "speed", "heard")
        return item.model_copy(update={name: getattr(new, name) for name in names})

    changed = {"items": tuple(map(find_media, body.items)), "sounds": tuple(sounds)}
    return body.model_copy(update=changed)


def sound_path(project: Project, sound: ReelSound) -> Path:
    """Return the file of a sound of a reel.

    Args:
        project: that has the reel.
        sound: of the reel.

    Raises:
        MediaError: it has none, or it is gone.
    """
    if sound.clip is not None:
        try:
            return project.clips.get(sound.clip).path
        except NotThere:
            raise MediaError(f"{sound.name}: its clip is gone; bring it in again") from None
    if sound.file is None:
        raise MediaError(f"{sound.name}: its media is missing; drop it on the page")
    path = project.assets / Path(sound.file).name
    if not path.is_file():
        raise MediaError(f"{sound.name}: its file is gone; drop it on the page")
    return path


def as_document(project: Project, body: ReelBody) -> documents.Reel:
    """Return a reel as `yearning-reel/1` has it, without looks and what has no media.

    Args:
        project: that has the clips.
        body: the reel.
    """
    clips = {clip.id: clip for clip in project.clips.all()}

    def of(item: ReelShot | ReelGap) -> Shot | Gap:
        clip = None if isinstance(item, ReelGap) else clips.get(item.clip or 0)
        if clip is None or isinstance(item, ReelGap):
            return Gap(gap=item.frames)
        return Shot(
            name=item.name,
            media=str(clip.path),
            first=item.first,
            last=item.last,
            speed=item.speed,
            heard=item.heard,
        )

    sounds = []
    for sound in body.sounds:
        with suppress(MediaError):
            fields = sound.model_dump(include={"name", "at", "start", "frames", "level"})
            sounds.append(documents.SoundClip(media=str(sound_path(project, sound)), **fields))
    return documents.Reel(
        name=body.name,
        rate=(body.rate.numerator, body.rate.denominator),
        items=tuple(map(of, body.items)),
        sounds=tuple(sounds),
    )


def is_as_it_came(body: ReelBody) -> bool:
    """Whether a reel has the items of its timeline, all and in their order."""
    return bool(body.timeline) and [item.item for item in body.items] == list(
        range(len(body.items))
    )
