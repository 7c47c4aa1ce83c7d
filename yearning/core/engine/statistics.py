"""What drives an operation: gathered from its own frame, its neighbours, and all over the clip."""

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from yearning.core.buffers import new_array
from yearning.core.engine.graph import Operation
from yearning.core.motion.temporal_filter import link, seen_small
from yearning.core.treatment.base import Drive

if TYPE_CHECKING:
    from yearning.core.engine.evaluator import Path

Array = NDArray[np.float32]

OVERVIEW_FRAMES = 5
"""Frames spread over a clip from which what holds for all of it is told."""


class Driving:
    """What drives an operation at a frame of a path; all of it kept in the path's caches."""

    def __init__(self, path: "Path", frame: int, operation: Operation) -> None:
        self._path = path
        self._frame = frame
        self._reads = operation.reads
        self._settings = operation.settings

    def driven(self, offset: int) -> Array:
        """What drives it that many frames from its own; beyond the clip's ends, at the last."""
        path, reads = self._path, self._reads
        there = min(max(self._frame + offset, 0), path.footage.frames - 1)
        assert self._settings is not None
        drive = self._settings.drive(path.size)

        def gathered() -> Array:
            values = new_array(drive.shape)
            source = path.rows_of(there, reads)

            def gather(top: int, bottom: int) -> None:
                path.check_stop()
                drive.gather(source(top, bottom), top, values)

            path.each_band(gather, drive.rows)
            return values

        return path.cache.once(("drive", path.key_at(there, reads), drive.key), gathered)

    def whole(self, offset: int = 0) -> Array:
        """The whole picture it reads that many frames from its own; beyond the ends, the last."""
        path, reads = self._path, self._reads
        there = min(max(self._frame + offset, 0), path.footage.frames - 1)
        assert self._settings is not None
        if not any(self._settings.neighbours()):
            return path.whole(there, reads)
        key = ("whole", path.key_at(there, reads))
        return path.cache.once(key, lambda: path.whole(there, reads))

    def linked(self, here: int, there: int) -> Array | None:
        """Flow and trust between what drives it at two neighbouring frames, as `link` has them.

        None over a cut, and beyond the clip's ends.
        """
        path = self._path
        if not 0 <= self._frame + there < path.footage.frames:
            return None
        assert self._settings is not None
        drive = self._settings.drive(path.size)
        first, second = sorted((here, there))
        pair = tuple(path.key_at(self._frame + n, self._reads) for n in (first, second))
        both = path.cache.once(
            ("link", pair, drive.key),
            lambda: link(self._small(first, drive), self._small(second, drive)),
        )
        return both[0 if here == first else 1] if both.size else None

    def _small(self, offset: int, drive: Drive) -> Array:
        """What motion is told from, that many frames from its own."""
        assert drive.luma is not None
        luma, key = drive.luma, self._path.key_at(self._frame + offset, self._reads)
        return self._path.cache.once(
            ("small", key, drive.key), lambda: seen_small(self.driven(offset)[luma])
        )

    def told(self) -> Array:
        """What the treatment makes of frames spread evenly over the clip, seen at a small size.

        The same at every frame and size, however the frames are come by.
        """
        small, settings = self._path.overview, self._settings
        assert settings is not None
        frames = small.footage.frames
        count = min(OVERVIEW_FRAMES, frames)
        spread = [(2 * n + 1) * frames // (2 * count) for n in range(count)]

        def tell() -> Array:
            return settings.tell([self._seen(frame) for frame in spread], small.size)

        keys = tuple(small.key_at(frame, self._reads) for frame in spread)
        return small.told.once(("told", keys, settings), tell)

    def _seen(self, frame: int) -> Array:
        small = self._path.overview
        assert self._settings is not None
        drive = self._settings.over_clip(small.size)

        def gathered() -> Array:
            values = new_array(drive.shape)
            drive.gather(small.numbered(frame, self._reads), 0, values)
            return values

        return small.cache.once(("clip", small.key_at(frame, self._reads), drive.key), gathered)
