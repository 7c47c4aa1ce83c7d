"""Reels: cuts of many shots, read from timelines, rendered shot by shot, and given back."""

import hashlib
import json
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

from yearning.core.errors import YearningError
from yearning.core.look import reel as documents
from yearning.core.look.document import named_files
from yearning.core.look.former_names import former_steps
from yearning.core.look.reel import Gap, ReelError, Shot, parse_reel, reel_json
from yearning.core.look.upgrades import SECOND_FORMAT
from yearning.farm.job import Job
from yearning.library.clips import RequestError
from yearning.library.look import Look, read_fitting, read_look
from yearning.library.rendering import job_of
from yearning.media.atomic_write import atomic_write
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import AS_TAGGED, InputOverrides
from yearning.media.decode.probe import Probe
from yearning.media.encode.results import AS_FOOTAGE, Output
from yearning.media.errors import MediaError
from yearning.media.timecode import Timecode

RENDERED = ".rendered.json"
"""In the folder of results: what each was made of, so that what is the same is not made again."""

NUMBER, NAME = "{number}", "{name}"


@dataclass(frozen=True)
class Reel:
    """Shots in their order.

    Args:
        document: as its file has it.
        folder: that its files are named from.
        notes: what of a timeline is not as it was there.
        missing: shots of a timeline without media, and why.
        row: OpenTimelineIO's items of the timeline that it was read from.
        timeline: that timeline.
    """

    document: documents.Reel
    folder: Path = Path()
    notes: Sequence[str] = ()
    missing: Sequence[str] = ()
    row: Sequence[Any] | None = None
    timeline: Any = None


def read_reel(
    path: str | Path, *, media: Sequence[str | Path] = (), rate: Fraction | str = "24"
) -> Reel:
    """Read a reel: a timeline, .otio or .edl, or a file of the format `yearning-reel/1`.

    Tracks of picture are flattened, transitions are cuts, speeds of clips are kept; what else can't
    be taken is told by its place, and the rest is there.

    Args:
        path: of the file.
        media: folders in which a timeline's media are looked for by name.
        rate: frames a second of an edit list, which does not say its own.

    Raises:
        MediaError: it can't be read, or is no reel.
    """
    path = Path(path)
    if path.suffix.lower() == ".json":
        return _read_file(path)
    from yearning.media.timeline.media_search import MediaSearch
    from yearning.media.timeline.reading import read_timeline

    search = MediaSearch(path.resolve().parent, [Path(folder) for folder in media])
    found = read_timeline(path, search, Fraction(rate))
    document = found.reel.model_copy(update={"timeline": path.name})
    missing = [each.why for each in found.missing]
    return Reel(document, path.parent, found.notes, missing, found.row, found.timeline)


def _read_file(path: Path) -> Reel:
    try:
        document = parse_reel(path.read_bytes())
    except OSError as error:
        raise MediaError(f"{path}: {error.strerror or error}") from None
    except ReelError as error:
        raise MediaError(f"{path.name}: {error}") from None
    if not document.timeline:
        return Reel(document, path.parent)
    from yearning.media.timeline.reading import timeline_row

    try:
        timeline, row = timeline_row(path.parent / document.timeline, Fraction(*document.rate))
    except MediaError as error:
        return Reel(document, path.parent, [f"{error}; what is given back is made anew"])
    if len(row) != len(document.items):
        note = f"{document.timeline}: has other items than the reel; it is given back made anew"
        return Reel(document, path.parent, [note])
    return Reel(document, path.parent, (), (), row, timeline)


def write_reel(reel: Reel, path: str | Path) -> None:
    """Write a reel as a file of the format `yearning-reel/1`; its shots may be given looks there.

    Args:
        reel: as it was read.
        path: of the file, .json.

    Raises:
        RequestError: the name does not end in .json.
    """
    path = Path(path)
    if path.suffix.lower() != ".json":
        raise RequestError(f"{path}: a reel ends in .json")
    document = reel.document
    if document.timeline:
        named = (reel.folder / document.timeline).resolve()
        document = document.model_copy(update={"timeline": str(named)})
    with atomic_write(path) as place:
        place.write_text(reel_json(document))


class ShotJob(NamedTuple):
    """How a shot is rendered."""

    item: int
    """Its number among the reel's items."""
    shot: Shot
    job: Job
    before: int
    """Frames before it."""
    seen: int
    """Frames of the shot itself."""
    digest: str
    """Of all that its pictures depend on."""


def shot_jobs(
    reel: Reel,
    out: Path,
    *,
    look: Look | None = None,
    handles: int = 0,
    output: Output = AS_FOOTAGE,
    on_note: Callable[[str], object] = lambda note: None,
) -> Iterator[ShotJob | str]:
    """Each shot's render, or why it can't be rendered.

    Args:
        reel: whose shots they are.
        out: like `DIR/{number}_{name}.mp4`.
        look: of shots that have none of their own.
        handles: frames more before and after, as far as the clip has them.
        output: how it is written.
        on_note: called with what does not hold on a shot.
    """
    looks: dict[str, Look] = {}
    number = 0
    for item, shot in enumerate(reel.document.items):
        if not isinstance(shot, Shot):
            continue
        number += 1
        where = f"shot {number} '{shot.name}'"
        try:
            if shot.look and shot.look not in looks:
                looks[shot.look] = read_look(reel.folder / shot.look)
            own = looks[shot.look] if shot.look else look or Look()
            target = out.with_name(
                out.name.replace(NUMBER, f"{number:03}").replace(NAME, _file_name(shot.name))
            )
            yield _shot_job(reel, item, shot, own, target, handles, output, where, on_note)
        except (YearningError, IndexError, OSError) as error:
            yield f"{where}: {error}"


def _shot_job(
    reel: Reel,
    item: int,
    shot: Shot,
    look: Look,
    target: Path,
    handles: int,
    output: Output,
    where: str,
    on_note: Callable[[str], object],
) -> ShotJob:
    reading = AS_TAGGED if shot.speed == 1 else InputOverrides(speed=shot.speed)
    with open_clip(reel.folder / shot.media, reading) as clip:
        if shot.fitting:
            fitting = read_fitting(reel.folder / shot.fitting)
            look = look.with_fitting(fitting, lambda note: on_note(f"{where}: fitting: {note}"))
        begin = round(shot.first / shot.speed)
        count = max(1, round((shot.last - shot.first + 1) / shot.speed))
        last = min(begin + count, clip.frames) - 1
        first = max(begin - handles, 0)
        frames = first, min(last + handles, clip.frames - 1)
        job = job_of(clip, look, target, frames, output)
    return ShotJob(item, shot, job, begin - first, last - begin + 1, _digest(job))


def _digest(job: Job) -> str:
    """What a job's pictures depend on: footage, range, look, its files, size, codec."""
    return _digest_of(job, job.model_dump(mode="json", exclude={"out", "chunk"}))


def _former_digest(job: Job) -> str:
    """What the digest was where the look was written in `yearning-look/2`."""
    written = job.model_dump(mode="json", exclude={"out", "chunk"})
    steps = former_steps(written["look"]["steps"])
    written["look"] = {**written["look"], "format": SECOND_FORMAT, "steps": steps}
    return _digest_of(job, written)


def _digest_of(job: Job, written: dict[str, Any]) -> str:
    made_of: list[Any] = [written]
    for named in named_files(job.look):
        try:
            found = (job.assets / named.name).stat()
            made_of.append((named.name, found.st_size, found.st_mtime_ns))
        except OSError:
            made_of.append(named.name)
    return hashlib.sha256(json.dumps(made_of, sort_keys=True).encode()).hexdigest()


def _file_name(name: str) -> str:
    plain = "".join(c if c.isalnum() or c in "-_. " else "-" for c in name).strip(". ")
    stem = plain.rpartition(".")[0] if "." in plain[-5:] else plain
    return stem[:100] or "shot"


class Rendered:
    """What results in a folder were made of; kept there."""

    def __init__(self, folder: Path) -> None:
        self._file = folder / RENDERED
        try:
            known = json.loads(self._file.read_bytes())
        except (OSError, ValueError):
            known = {}
        self._digests: dict[str, str] = known if isinstance(known, dict) else {}

    def has(self, job: ShotJob) -> bool:
        """Whether a shot's result is there, as it is to be."""
        out = job.job.out
        known = self._digests.get(out.name)
        return out.is_file() and known in (job.digest, _former_digest(job.job))

    def add(self, job: ShotJob) -> None:
        """A shot's result is there."""
        self._digests[job.job.out.name] = job.digest
        with atomic_write(self._file) as place:
            place.write_text(json.dumps(self._digests, indent=1))


def _begins(probe: Probe) -> int:
    """The frame of its own time that a clip begins at."""
    return 0 if probe.timecode is None else Timecode.parse(probe.timecode, probe.rate).frame


def write_results(reel: Reel, jobs: Sequence[ShotJob], path: Path) -> None:
    """Write a timeline, .otio or .edl, whose media are the results, ranges as they came.

    Shots without one have their own clip.

    Args:
        reel: as it came in.
        jobs: of its shots, in their order.
        path: ends in .otio or .edl.

    Raises:
        MediaError: it can't be written so.
    """
    from yearning.media.timeline.writing import Original, Result, write_timeline

    by_item = {job.item: job for job in jobs}
    results: list[Result | Original | None] = []
    for item, each in enumerate(reel.document.items):
        if isinstance(each, Gap):
            results.append(None)
            continue
        job = by_item.get(item)
        if job is None:
            try:
                with open_clip(reel.folder / each.media) as clip:
                    probe = clip.probe
                    results.append(Original(clip.path, clip.frames, probe.rate, _begins(probe)))
            except (YearningError, OSError):
                results.append(None)  # what is missing was told
            continue
        with job.job.open() as clip:
            begins = job.job.first + job.before + _begins(clip.probe)
            results.append(
                Result(
                    *(job.job.out, job.before, job.seen, job.job.frames), clip.probe.rate, begins
                )
            )
    write_timeline(path, reel.document, results, row=reel.row, timeline=reel.timeline)
