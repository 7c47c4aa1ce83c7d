"""A project's reel measured in the background: its flashes, and the steadiness of its shots."""

import threading
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, closing, contextmanager
from dataclasses import dataclass, field
from functools import partial
from typing import Any

from yearning.analysis.background import LatestWork, Progress
from yearning.core.measure.reel_analysis import ReelSteadiness, SeenShot, Segment
from yearning.core.treatment.assets import Assets
from yearning.library.reel_renders import clip_of, look_of
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.disk import reason_of
from yearning.media.errors import MediaError
from yearning.store.errors import ClipLost
from yearning.store.project import Project
from yearning.store.reel_body import ReelBody, ReelShot
from yearning.store.reels import CurrentReel


@dataclass
class MeasuringStatus(Progress):
    """How far a reel is gone through, and what was found once it has ended."""

    reel: int = 0
    revision: int = 0
    notes: list[str] = field(default_factory=list)
    """What is taken as black."""
    report: dict[str, Any] | None = None


class ReelMeasurer(LatestWork[MeasuringStatus]):
    """Measures one reel at a time: what was asked for last. `close` it at the end.

    Args:
        project: whose reels they are.
        assets: finds look-up tables and plates.
        preview_lock: a lock; between two frames it waits while another holds it.
    """

    def __init__(self, project: Project, assets: Assets, preview_lock: threading.Lock) -> None:
        super().__init__("reel")
        self._project = project
        self._assets = assets
        self._preview_lock = preview_lock

    def measure(self, reel: CurrentReel) -> MeasuringStatus:
        """Begin to measure a reel as it is, in place of what is being measured.

        Raises:
            MediaError: no shot of it can be seen.
        """
        body = reel.body
        notes: list[str] = []
        segments = list(self._segments(body, notes))
        if not any(segment.opened for segment in segments):
            raise MediaError(f"{body.name}: has no shot to look at")
        analysis = ReelSteadiness(segments, body.rate.numerator / body.rate.denominator)
        status = MeasuringStatus(
            None,
            body.name,
            total=analysis.total,
            reel=reel.id,
            revision=reel.revision,
            notes=notes,
        )
        return self.start(status, partial(self._measure, analysis))

    def _segments(self, body: ReelBody, notes: list[str]) -> Iterator[Segment]:
        """Its items; shots that can't be seen are black, and so is what lies beyond their clips."""
        for begins, item in body.placed_items():
            if not isinstance(item, ReelShot):
                yield Segment(begins, item.frames, None, None)
            elif item.clip is None:
                yield Segment(begins, item.frames, item.id, None)
            else:
                try:
                    seen, opening = self._opener_of(item)
                except MediaError as error:
                    notes.append(f"{error}; taken as black")
                    yield Segment(begins, item.frames, item.id, None)
                    continue
                yield Segment(begins, seen, item.id, opening)
                if seen < item.frames:
                    notes.append(f"{item.name}: ends beyond its clip; that is taken as black")
                    yield Segment(begins + seen, item.frames - seen, item.id, None)

    def _opener_of(
        self, shot: ReelShot
    ) -> tuple[int, Callable[[], AbstractContextManager[SeenShot]]]:
        """How many frames of a shot there are, and what opens it.

        Raises:
            MediaError: its clip or its look is gone, or it begins beyond its clip.
        """
        clip, look = clip_of(self._project, shot), look_of(self._project, shot)
        seen = min(shot.frames, round(clip.probe["frames"] / shot.speed) - shot.begins)
        if seen <= 0:
            raise MediaError(f"{shot.name}: begins beyond its clip")

        @contextmanager
        def open_shot() -> Iterator[SeenShot]:
            self._project.clips.check(clip)
            with open_clip(clip.path, InputOverrides.of(clip.reading), clip.digest) as footage:
                yield SeenShot(look, footage, self._assets, shot.begins)

        return seen, open_shot

    def _measure(
        self, analysis: ReelSteadiness, status: MeasuringStatus, cancelled: threading.Event
    ) -> None:
        try:
            with closing(analysis.run()) as steps:
                status.track_progress(steps, cancelled, self._preview_lock)
            if not cancelled.is_set():
                status.report = analysis.report()
        except (MediaError, ClipLost, OSError, LookupError) as error:
            status.error = reason_of(error)
        finally:
            status.running = False
