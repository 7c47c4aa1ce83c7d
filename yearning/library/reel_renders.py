"""Renders of a project's reel: one for each shot, asked for only where it would be another."""

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any, NamedTuple

from yearning.core.look.document import Look
from yearning.core.look.fitting import apply_fitting
from yearning.farm.settings import ResultSpec
from yearning.farm.state import UNENDED, State
from yearning.library.project_reels import as_document, is_as_it_came
from yearning.media.errors import MediaError
from yearning.media.timecode import Timecode
from yearning.store.clips import Clip
from yearning.store.errors import NotThere
from yearning.store.project import Project
from yearning.store.reel_body import ReelBody, ReelShot
from yearning.store.renders import Render, result_digest

FOUND = (*UNENDED, State.DONE)
"""States of renders that stand for a shot's result."""


def clip_of(project: Project, shot: ReelShot) -> Clip:
    """Return the clip of a shot, read at the shot's speed.

    Args:
        project: that has the clip.
        shot: of a reel.

    Raises:
        MediaError: it has none.
    """
    if shot.clip is None:
        raise MediaError(f"{shot.name}: its media is missing; drop it on the page")
    try:
        clip = project.clips.get(shot.clip)
    except NotThere:
        raise MediaError(f"{shot.name}: its clip is gone; bring it in again") from None
    if shot.speed == 1:
        return clip
    speed = clip.reading.get("speed", 1) * shot.speed
    return clip._replace(reading={**clip.reading, "speed": speed})


def look_of(project: Project, shot: ReelShot) -> Look:
    """Return a shot's look with its overrides applied; the empty look where it has none.

    Args:
        project: that has the look.
        shot: of a reel; its own fitting goes before its clip's.

    Raises:
        MediaError: the look is gone.
    """
    if shot.look is None:
        return Look(name="As shot")
    try:
        current = project.looks.get(shot.look)
    except NotThere:
        raise MediaError(f"{shot.name}: its look is gone; give it another") from None
    if shot.fitting is not None:
        return apply_fitting(current.look, shot.fitting).look
    return current.look_on(shot.clip or 0)


class ShotRender(NamedTuple):
    """What a shot's render is to be."""

    clip: Clip
    look: Look
    request: dict[str, Any]
    frames: int


def shot_render(
    project: Project, shot: ReelShot, result: ResultSpec, handles: int = 0
) -> ShotRender:
    """How a shot is rendered.

    Args:
        project: whose it is.
        shot: of a reel.
        result: as what; its frames are left aside.
        handles: frames more before and after, as far as the clip has them.

    Raises:
        MediaError: its media or its look is gone, or it lies beyond its clip.
    """
    clip, look = clip_of(project, shot), look_of(project, shot)
    count = round(clip.probe["frames"] / shot.speed)
    if shot.begins >= count:
        raise MediaError(f"{shot.name}: begins at frame {shot.first}, beyond the end of its clip")
    end = min(shot.begins + shot.frames, count)
    first, last = max(shot.begins - handles, 0), min(end + handles, count) - 1
    wanted = result.model_copy(update={"first": first, "last": last})
    request = {
        "result": wanted.model_dump(exclude_defaults=True),
        "reading": clip.reading,
        "look": shot.look,
        "before": shot.begins - first,
        "seen": end - shot.begins,
        "handles": handles,
    }
    request["made_of"] = result_digest(clip.digest, look.model_dump(mode="json"), request)
    return ShotRender(clip, look, request, last - first + 1)


class Results:
    """The renders of a project by what they were made of, the newest of each."""

    def __init__(self, project: Project) -> None:
        self._project = project
        self._by_digest: dict[str, Render] = {}
        self._kinds: dict[str, tuple[ResultSpec, int]] = {}
        """Results that shots were asked for as, the newest first, with their handles."""
        for render in project.renders.all(tuple(FOUND)):
            digest = render.request.get("made_of")
            if digest is None or (render.state == State.DONE and not _is_there(render)):
                continue
            self._by_digest.setdefault(digest, render)
            result = ResultSpec(**render.request.get("result", {}))
            kind = result.model_copy(update={"first": 0, "last": None})
            handles = render.request.get("handles", 0)
            self._kinds.setdefault(f"{kind.model_dump_json()} {handles}", (kind, handles))

    def same(self, wanted: ShotRender) -> Render | None:
        """The render that is, or is to be, just what is wanted."""
        return self._by_digest.get(wanted.request["made_of"])

    def of(self, shot: ReelShot) -> Render | None:
        """The newest result of a shot as it is now, as whatever it was rendered."""
        for result, handles in self._kinds.values():
            try:
                found = self.same(shot_render(self._project, shot, result, handles))
            except MediaError:
                return None
            if found is not None:
                return found
        return None


def _is_there(render: Render) -> bool:
    path = render.path
    return path.parent.is_dir() if "%" in path.name else path.is_file()


def add_renders(
    project: Project,
    body: ReelBody,
    result: ResultSpec,
    handles: int = 0,
    only: set[str] | None = None,
) -> Iterator[Render | str | None]:
    """Ask for the renders of a reel's shots.

    Args:
        project: whose it is.
        body: the reel.
        result: as what; its frames are each shot's own.
        handles: frames more before and after each shot.
        only: ids of the shots; None for all.

    Yields:
        For each shot the render that was added, None where there is one, or why there can't be.
    """
    known = Results(project)
    shots = [item for item in body.items if isinstance(item, ReelShot)]
    for number, shot in enumerate(shots, start=1):
        if only is not None and shot.id not in only:
            continue
        try:
            wanted = shot_render(project, shot, result, handles)
        except MediaError as error:
            yield f"shot {number}, {error}"
            continue
        if known.same(wanted) is not None:
            yield None
            continue
        yield project.renders.new(
            wanted.clip,
            wanted.look,
            wanted.frames,
            result.ending,
            wanted.request,
            result.is_stills,
            name=f"{body.name}-{number:03}-{shot.name}",
        )


def write_reel_timeline(project: Project, body: ReelBody, path: Path) -> int:
    """Write a reel as a timeline, .otio or .edl, whose media are the results that there are.

    Shots without one have their own clip.

    Args:
        project: that has the results.
        body: the reel.
        path: ends in .otio or .edl.

    Returns:
        How many shots have none yet.

    Raises:
        MediaError: it can't be written so.
    """
    from yearning.media.timeline.reading import timeline_row
    from yearning.media.timeline.writing import Original, Result, write_timeline

    results, without = Results(project), 0
    clips = {clip.id: clip for clip in project.clips.all()}
    found: list[Result | Original | None] = []
    for item in body.items:
        clip = clips.get(item.clip or 0) if isinstance(item, ReelShot) else None
        if clip is None or not isinstance(item, ReelShot):
            without += isinstance(item, ReelShot)
            found.append(None)
            continue
        render, probe = results.of(item), clip.probe
        rate = Fraction(probe["rate_exact"])
        begins = Timecode.parse(probe["timecode"], rate).frame if probe.get("timecode") else 0
        if render is None or render.state != State.DONE:
            without += 1
            found.append(Original(clip.path, probe["frames"], rate, begins))
            continue
        begins += item.begins
        before, seen = render.request["before"], render.request["seen"]
        found.append(Result(render.path, before, seen, render.total, rate, begins))
    row, timeline = None, None
    if is_as_it_came(body):
        kept = project.folder / "timelines" / body.timeline
        rate = Fraction(body.rate.numerator, body.rate.denominator)
        timeline, row = timeline_row(kept, rate)
        if len(row) != len(body.items):  # its last ones were taken out
            row, timeline = None, None
    write_timeline(path, as_document(project, body), found, row=row, timeline=timeline)
    return without
