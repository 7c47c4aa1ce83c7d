"""Mattes solved in the background, and kept with the project."""

import tempfile
import threading
from collections import deque
from contextlib import closing
from functools import partial
from pathlib import Path

from yearning.analysis.background import LatestWork, Progress
from yearning.analysis.mattes import MatteJob
from yearning.core.motion.hard_mattes import Solved
from yearning.core.motion.matting import Matting
from yearning.core.motion.strokes import Strokes
from yearning.core.picture import Plane, Size
from yearning.media.decode.clip import OpenClip, open_clip
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.disk import reason_of
from yearning.media.errors import MediaError
from yearning.media.plates.assets import asset_path
from yearning.media.plates.lifted import read_lifted
from yearning.store.assets import keep
from yearning.store.clips import Clip
from yearning.store.errors import ClipLost
from yearning.store.project import Project

REMEMBERED = 4
"""How many mattes that were begun are kept in mind."""


class MatteFinder(LatestWork[Progress]):
    """Solves one matte at a time: what was asked for last. `close` it at the end.

    What was solved of a matte that was stopped is kept in mind: asked for again, with more strokes
    perhaps, it goes on from there.

    Args:
        project: where mattes are kept.
        preview_lock: a lock; between two frames it waits while another holds it.
    """

    def __init__(self, project: Project, preview_lock: threading.Lock) -> None:
        super().__init__("matte")
        self._project = project
        self._preview_lock = preview_lock
        self._solved: deque[tuple[str, Solved]] = deque(maxlen=REMEMBERED)

    def find(self, clip: Clip, title: str, strokes: Strokes, known: str | None) -> Progress:
        """Begin to solve a matte, in place of one that is being solved.

        Args:
            clip: which the figure is lifted out of.
            title: what the plate is called.
            strokes: what is to be lifted out.
            known: an earlier matte of the project's: what the strokes do not change is taken from
                there.

        Raises:
            ValueError: a stroke lies on no frame of the clip.
            MediaError: there is no such matte.
        """
        path = None if known is None else asset_path(self._project.assets, known)
        if path is not None:
            read_lifted(path)
        last = clip.probe["frames"] - 1
        for stroke in strokes.strokes:
            if stroke.frame > last:
                raise ValueError(f"a stroke is on frame {stroke.frame}; the clip ends at {last}")
        return self.start(Progress(clip.id, title), partial(self._find, clip, strokes, path))

    def glimpse(
        self,
        clip: Clip,
        footage: OpenClip,
        strokes: Strokes,
        known: str | None,
        frame: int,
        size: Size,
    ) -> Plane | None:
        """Return the matte of one frame, from what is solved and its strokes; None where unknown.

        Args:
            clip: of the project.
            footage: the same, opened.
            strokes: on the clip, as they are now.
            known: name of an earlier matte of the project.
            frame: of the clip.
            size: of the matte.

        Raises:
            ValueError: a stroke lies on no frame of the clip.
            MediaError: the matte can't be read, or the frame.
        """
        solved = self._solved_of(clip)
        lifted = known and read_lifted(asset_path(self._project.assets, known))
        if lifted and lifted.clip == clip.digest:
            solved = (*solved, lifted.solved)
        matting = Matting(strokes, footage.picture, footage.size, footage.frames, solved)
        return matting.glimpse(frame, size)

    def _solved_of(self, clip: Clip) -> tuple[Solved, ...]:
        return tuple(solved for digest, solved in self._solved if digest == clip.digest)

    def _find(
        self,
        clip: Clip,
        strokes: Strokes,
        known: Path | None,
        status: Progress,
        cancelled: threading.Event,
    ) -> None:
        try:
            self._project.clips.check(clip)
            with (
                open_clip(clip.path, InputOverrides.of(clip.reading), clip.digest) as footage,
                tempfile.TemporaryDirectory(dir=self._project.assets) as folder,
            ):
                place = Path(folder) / "matte.mkv"
                before = self._solved_of(clip)
                job = MatteJob(footage, clip.digest, strokes, place, known, before)
                self._solved.appendleft((clip.digest, job.solved_frames))
                status.total = job.total
                with closing(job.run()) as steps:
                    status.track_progress(steps, cancelled, self._preview_lock)
                if not cancelled.is_set():
                    status.file = keep(place, self._project.assets, status.title).name
        except (MediaError, ClipLost, OSError, ValueError) as error:
            status.error = reason_of(error)
        finally:
            status.running = False
