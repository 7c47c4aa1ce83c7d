"""Steadiness and flashes of a look on a clip, found in the background and kept with the project."""

import threading
import time
from dataclasses import dataclass
from functools import partial

from yearning.analysis.background import BackgroundWork
from yearning.analysis.report import SteadinessReport, report_of
from yearning.core.look.document import Look
from yearning.core.measure.sampled_steadiness import EVERY, SampledSteadiness
from yearning.core.measure.steadiness import SteadinessAnalysis
from yearning.core.treatment.assets import Assets
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.disk import reason_of
from yearning.media.errors import MediaError
from yearning.store.clips import Clip
from yearning.store.errors import ClipLost
from yearning.store.project import Project


@dataclass
class AnalysisStatus:
    """How far an analysis is, and what it found once it is done."""

    done: int
    total: int
    rate: float = 0.0
    """Frames a second."""
    report: SteadinessReport | None = None
    error: str | None = None
    stopped: bool = False
    """Given up before it was done, because it was asked to."""


EXACT_FRAMES = 480
"""Up to which the motion of every frame is estimated; of longer clips that of some."""


@dataclass
class _Task:
    """The analysis in hand, or the last one."""

    clip: Clip
    look: Look
    status: AnalysisStatus


class Analyzer:
    """Analyses one look on one clip at a time: what was asked for last. `close` it at the end.

    Args:
        project: where reports are kept.
        assets: finds look-up tables and plates.
        preview_lock: a lock; between two frames the analysis waits while another holds it.
    """

    def __init__(self, project: Project, assets: Assets, preview_lock: threading.Lock) -> None:
        self._project = project
        self._assets = assets
        self._preview_lock = preview_lock
        self._task: _Task | None = None
        self._work: BackgroundWork | None = None
        self._lock = threading.Lock()

    def status_of(self, clip: Clip, look: Look) -> AnalysisStatus:
        """Return what was already found for a look on a clip, without starting an analysis.

        Args:
            clip: of the project.
            look: as it is on the clip.
        """
        kept = self._project.steadiness.of(clip, look)
        if kept is None:
            return AnalysisStatus(0, clip.probe["frames"])
        report = SteadinessReport.model_validate(kept)
        return AnalysisStatus(len(report.added), len(report.added), report=report)

    def request(self, clip: Clip, look: Look, *, again: bool = False) -> AnalysisStatus:
        """Return what was found for a look on a clip, or start finding it in place of what runs.

        Args:
            clip: of the project.
            look: as it is on the clip.
            again: begin anew what was stopped.
        """
        known = self.status_of(clip, look)
        if known.report is not None:
            return known
        with self._lock:
            task = self._task
            another = task is None or (task.clip, task.look.steps) != (clip, look.steps)
            if task is None or another or (again and task.status.stopped):
                self._cancel()
                task = self._task = _Task(clip, look, known)
                self._work = BackgroundWork("steadiness", partial(self._analyse, task))
            return task.status

    def stop(self) -> None:
        """Give up the analysis that runs; what it saw is not kept."""
        with self._lock:
            self._cancel()
            if self._task is not None and self._task.status.report is None:
                self._task.status.stopped = True

    def close(self) -> None:
        """Cancel the analysis that runs, and wait until its thread has ended."""
        with self._lock:
            self._cancel()

    def _cancel(self) -> None:
        if self._work is not None:
            self._work.cancel()

    def _analyse(self, task: _Task, cancelled: threading.Event) -> None:
        clip, look, status = task.clip, task.look, task.status
        try:
            self._project.clips.check(clip)
            with open_clip(clip.path, InputOverrides.of(clip.reading), clip.digest) as footage:
                rate, is_long = float(footage.probe.rate), footage.frames > EXACT_FRAMES
                if is_long:
                    footage.reserve_cache(2 * EVERY)
                kind = SampledSteadiness if is_long else SteadinessAnalysis
                analysis = kind(look, footage, rate, assets=self._assets)
                began = time.monotonic()
                for done in analysis.run():
                    status.done = done
                    status.rate = done / max(time.monotonic() - began, 1e-6)
                    if cancelled.is_set():
                        return
                    with self._preview_lock:
                        pass
            report = report_of(analysis)
            self._project.steadiness.keep(clip, look, report.model_dump(mode="json"))
            status.report = report
        except (MediaError, ClipLost, OSError, LookupError) as error:
            status.error = reason_of(error)
