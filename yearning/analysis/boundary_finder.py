"""Boundaries between a clip's shots, found in the background."""

import math
import threading
from contextlib import closing
from dataclasses import dataclass, field
from functools import partial

from yearning.analysis.background import LatestWork, Progress
from yearning.core.measure.shot_boundaries import Boundary, ShotBoundaries
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.disk import reason_of
from yearning.media.errors import MediaError
from yearning.store.clips import Clip
from yearning.store.errors import ClipLost
from yearning.store.project import Project


@dataclass
class BoundaryStatus(Progress):
    """How far it is, and what is found by now."""

    boundaries: list[Boundary] = field(default_factory=list)
    """In frames of the clip at its speed."""


class BoundaryFinder(LatestWork[BoundaryStatus]):
    """Looks through one clip at a time: what was asked for last. `close` it at the end.

    Args:
        project: whose clips they are.
        preview_lock: a lock; between two frames it waits while another holds it.
    """

    def __init__(self, project: Project, preview_lock: threading.Lock) -> None:
        super().__init__("boundaries")
        self._project = project
        self._preview_lock = preview_lock

    def find(self, clip: Clip, frames: range) -> BoundaryStatus:
        """Begin to look through a part of a clip, in place of what is being looked through.

        Args:
            clip: as it is read.
            frames: counted at the clip's speed.
        """
        status = BoundaryStatus(clip.id, clip.name, total=len(frames))
        return self.start(status, partial(self._find, clip, frames))

    def _find(
        self, clip: Clip, frames: range, status: BoundaryStatus, cancelled: threading.Event
    ) -> None:
        try:
            self._project.clips.check(clip)
            reading = InputOverrides.of(clip.reading)
            with open_clip(clip.path, reading.as_shot, clip.digest) as footage:
                first, last = (
                    math.floor(frame * reading.pace) for frame in (frames[0], frames[-1])
                )
                search = ShotBoundaries(footage, range(first, min(last + 1, footage.frames)))
                status.total = search.total
                with closing(search.run()) as steps:
                    status.track_progress(steps, cancelled, self._preview_lock)
                status.boundaries = [
                    each._replace(frame=math.ceil(each.frame / reading.pace))
                    for each in search.boundaries()
                ]
        except (MediaError, ClipLost, OSError, IndexError) as error:
            status.error = reason_of(error)
        finally:
            status.running = False
