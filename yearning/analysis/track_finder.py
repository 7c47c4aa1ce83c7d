"""Tracks found in the background, and kept with the project."""

import tempfile
import threading
from contextlib import closing
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

from yearning.analysis.background import LatestWork, Progress
from yearning.analysis.tracks import Tracking, Wanted
from yearning.core.motion.tracks import Track, track_json
from yearning.media.decode.clip import open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.disk import reason_of
from yearning.media.errors import MediaError
from yearning.store.assets import keep
from yearning.store.clips import Clip
from yearning.store.errors import ClipLost
from yearning.store.project import Project


@dataclass
class TrackingStatus(Progress):
    """How far a track is; one that is stopped keeps what was found till then."""

    losses: list[tuple[int, int, str]] = field(default_factory=list)
    """Where the part is lost: the first and last frame, and why."""


def keep_track(project: Project, track: Track, title: str) -> str:
    """Keep a track in the project; return the name that looks have for it.

    Args:
        project: takes the track.
        track: as it was found.
        title: what it is called.
    """
    with tempfile.TemporaryDirectory(dir=project.assets) as folder:
        place = Path(folder) / "track.json"
        place.write_text(track_json(track))
        return keep(place, project.assets, title).name


class TrackFinder(LatestWork[TrackingStatus]):
    """Finds one track at a time: what was asked for last. `close` it at the end.

    Args:
        project: where tracks are kept.
        preview_lock: a lock; between two frames it waits while another holds it.
    """

    def __init__(self, project: Project, preview_lock: threading.Lock) -> None:
        super().__init__("track")
        self._project = project
        self._preview_lock = preview_lock

    def find(self, clip: Clip, title: str, wanted: Wanted) -> TrackingStatus:
        """Begin to find a track, in place of one that is being found.

        Args:
            clip: of the project.
            title: what the track is called.
            wanted: the part that is followed, and how.
        """
        return self.start(TrackingStatus(clip.id, title), partial(self._find, clip, wanted))

    def _find(
        self, clip: Clip, wanted: Wanted, status: TrackingStatus, cancelled: threading.Event
    ) -> None:
        try:
            self._project.clips.check(clip)
            reading = InputOverrides.of(clip.reading).as_shot
            with open_clip(clip.path, reading, clip.digest) as footage:
                tracking = Tracking(footage, clip.digest, wanted)
                status.total = tracking.total
                with closing(tracking.run()) as steps:
                    status.track_progress(steps, cancelled, self._preview_lock)
                if cancelled.is_set() and not status.stopped:
                    return
                track = tracking.track()
                status.losses = tracking.losses()
            if len(track.frames) > 1:
                status.file = keep_track(self._project, track, status.title)
            elif not status.stopped:
                status.error = (
                    "Nothing in it can be followed: draw it about something with corners, or "
                    "begin at another frame."
                )
        except (MediaError, ClipLost, OSError, IndexError) as error:
            status.error = reason_of(error)
        finally:
            status.running = False
